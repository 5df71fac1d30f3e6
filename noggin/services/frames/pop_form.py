"""A pop as it is entered at the spot: what was dialled, and what came out, from the fields of a page."""

import re
from collections.abc import Iterator, Mapping
from datetime import datetime, timedelta
from typing import Any

from noggin.core.errors import OutOfRange, Refused, Unreadable
from noggin.core.physics.filters import NO_FILTER
from noggin.core.pops.frame import SAID, SHARE_UNCERTAINTY
from noggin.core.setup.scene import ZONES
from noggin.core.typed.parse_quantities import read_power
from noggin.core.units import Stops
from noggin.documents.log import FrameEntry, read_entry
from noggin.documents.pops import read_metered
from noggin.services.clock import Clock
from noggin.services.day.shoots import Mistyped
from noggin.services.frames.entry import taken_now
from noggin.services.frames.frame_import import KNOWN, dialled_of
from noggin.services.frames.measured import MeasuredFile
from noggin.services.frames.take import BARE_LENS, COLD, OpenTake
from noggin.store.store import Store

__all__ = ["SAID", "frame_of_file", "frame_of_form"]

PERCENT = re.compile(r"\s*(\d{1,2}(?:[.,]\d+)?)\s*%?\s*")


def frame_of_file(
    store: Store, clock: Clock, take: OpenTake, measured: MeasuredFile, given: Mapping[str, str]
) -> FrameEntry:
    """A file as a frame of the log: what was dialled as proposed, unless the file says otherwise. Raises
    Refused, Mistyped."""
    problems: dict[str, str] = {}
    dialled = _dialled(take, {}, problems)
    photo = measured.photo
    try:
        if store.frames.known(photo.sha256):
            raise Refused("file", KNOWN)
        seen = measured.seen(take.setup)
    except Refused as error:
        raise Mistyped({"file": f"{photo.name}: {error.problem}"}) from None
    said = dialled_of(photo.exif) or {}
    dialled |= {figure: said[figure] for figure in ("shutter", "aperture", "iso") if figure in said}
    flash = given.get("flash") == "1" if photo.exif.flash is None else photo.exif.flash
    known = {"taken": taken_now(clock, take.setup), "flash": flash, "dialled": dialled, "seen": seen}
    return read_entry({**measured.figures(take.setup), **known})


def frame_of_form(clock: Clock, take: OpenTake, given: Mapping[str, str]) -> FrameEntry:
    """The fields of a page as a frame of the log. Raises Mistyped, BadDocument."""
    problems: dict[str, str] = {}
    flash = given.get("flash") == "1"
    dialled = _dialled(take, given, problems)
    seen = [*_levels(take, given, flash), *_others(take, given, problems)]
    if not seen and not problems:
        problems["seen"] = (
            "Say what came out: tap a word for the face or the background, or type a reading."
        )
    if problems:
        raise Mistyped(problems)
    taken = _waited(clock, take, given.get("at", "")) or taken_now(clock, take.setup)
    return read_entry({"taken": taken, "flash": flash, "dialled": dialled, "seen": seen})


def _waited(clock: Clock, take: OpenTake, at: str) -> str:
    """When a frame that waited in a browser was entered, by the clock of where the set-up is; empty for one
    that did not wait, and where that cannot be."""
    try:
        entered = datetime.fromisoformat(at)
    except ValueError:
        return ""
    if entered.tzinfo is None or not timedelta(0) <= clock() - entered <= COLD:
        return ""
    return taken_now(lambda: entered, take.setup)


def _dialled(take: OpenTake, given: Mapping[str, str], problems: dict[str, str]) -> dict[str, Any]:
    """What was dialled: what is not said is as it was proposed."""
    proposed, settings = take.dialled, take.dialled.settings
    stack = settings.stack
    if given.get("stack"):
        stacks = {BARE_LENS: NO_FILTER, **{one.words: one for one in take.setup.stacks}}
        if given["stack"] in stacks:
            stack = stacks[given["stack"]]
        else:
            problems["stack"] = f"{given['stack']} is not in the bag"
    dialled: dict[str, Any] = {
        "shutter": given.get("shutter") or settings.shutter.label,
        "aperture": _number(given.get("aperture") or settings.aperture.label, "aperture", problems),
        "iso": _number(given.get("iso") or settings.iso.label, "iso", problems),
        "filters": list(stack.names),
        "hss": given.get("hss") == "1" if "hss_asked" in given else proposed.hss,
        "powers": {},
    }
    if stack.variable:
        dialled["nd_stops"] = stack.stops
    if proposed.compensation is not None:
        set_to = given.get("compensation") or f"{proposed.compensation:.4f}"
        dialled["compensation"] = _number(set_to, "compensation", problems)
    by_hand = enumerate(take.setup.lights) if proposed.compensation is None else ()
    for index, light in by_hand:
        power = given.get(f"power-{index}") or take.power(index)
        if power == "off":
            continue
        mark = light.full_mark if light.scale == "decimal" else None
        try:
            read_power(power, mark, light.energy_ws)
        except (Unreadable, OutOfRange) as error:
            problems[f"power-{index}"] = str(error)
        dialled["powers"][light.says] = power
    if proposed.distances:
        dialled["distances"] = {
            take.setup.lights[index].says: far for index, far in proposed.distances.items()
        }
    return dialled


def _number(text: str, field: str, problems: dict[str, str]) -> float:
    try:
        return float(text)
    except ValueError:
        problems[field] = f"{text} is not a figure"
        return 1.0


def _levels(take: OpenTake, given: Mapping[str, str], flash: bool) -> Iterator[dict[str, Any]]:
    against = take.against_of(flash)
    for zone in ZONES:
        said = given.get(f"saw-{zone}", "")
        if said in SAID and zone in against:
            level: Stops = against[zone] + SAID[said]
            yield {"zone": zone, "level": round(level, 3), "by": "words"}
        if given.get(f"clips-{zone}") and zone in against:
            yield {"zone": zone, "clipped": True, "by": "histogram"}
    if given.get("band"):
        yield {"band": "bottom"}


def _others(take: OpenTake, given: Mapping[str, str], problems: dict[str, str]) -> Iterator[dict[str, Any]]:
    for index, light in enumerate(take.setup.lights):
        text = given.get(f"meter-{index}", "").strip()
        if text:
            try:
                read_metered(text)
            except (Unreadable, OutOfRange, Refused) as error:
                problems[f"meter-{index}"] = str(error)
            yield {"light": light.says, "meter": text, "by": "meter"}
    share = given.get("share", "").strip()
    if share:
        read = PERCENT.fullmatch(share)
        part = float(read.group(1).replace(",", ".")) / 100 if read else 0.0
        if not SHARE_UNCERTAINTY / 5 <= part <= 1 - SHARE_UNCERTAINTY / 5:
            problems["share"] = f"{share} is not a share of flash. Type 1 to 99%"
        yield {"flash_share": part, "by": "meter"}
