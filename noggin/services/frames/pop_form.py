"""A pop as it is entered at the spot: what was dialled, and what came out, from the fields of a page."""

import re
from collections.abc import Iterator, Mapping
from typing import Any

from noggin.core.errors import OutOfRange, Refused, Unreadable
from noggin.core.physics.filters import NO_FILTER
from noggin.core.pops.frame import SAID, SHARE_UNCERTAINTY
from noggin.core.setup.scene import ZONES
from noggin.core.typed.parse_quantities import read_aperture, read_power
from noggin.core.units import Stops
from noggin.services.clock import Clock
from noggin.services.day.shoots import Mistyped
from noggin.services.frames.frame_import import dialled_of, seen_in
from noggin.services.frames.spot import add_frame
from noggin.services.frames.take import BARE_LENS, OpenTake, open_take
from noggin.store.store import Store

__all__ = ["SAID", "enter_file", "enter_pop", "frame_of_form"]

PERCENT = re.compile(r"\s*(\d{1,2}(?:[.,]\d+)?)\s*%?\s*")


def enter_pop(store: Store, clock: Clock, setup_id: int, given: Mapping[str, str]) -> OpenTake:
    """A frame as it was entered. Raises NotKept, Mistyped with a word for every field that cannot be
    taken."""
    found = open_take(store, clock, setup_id)
    return add_frame(store, clock, setup_id, frame_of_form(found, given))


def enter_file(
    store: Store, clock: Clock, setup_id: int, name: str, raw: bytes, given: Mapping[str, str]
) -> OpenTake:
    """A frame by its file: what was dialled as proposed, unless the file says otherwise. Raises NotKept,
    Mistyped."""
    found = open_take(store, clock, setup_id)
    problems: dict[str, str] = {}
    dialled = _dialled(found, {}, problems)
    try:
        seen, photo = seen_in(store, found.setup, raw, name)
    except (Unreadable, Refused) as error:
        raise Mistyped({"file": f"{name}: {error.problem}"}) from None
    said = dialled_of(photo.exif) or {}
    dialled |= {figure: said[figure] for figure in ("shutter", "aperture", "iso") if figure in said}
    flash = given.get("flash") == "1"
    frame = {**seen, "flash": flash if photo.exif.flash is None else photo.exif.flash, "dialled": dialled}
    return add_frame(store, clock, setup_id, frame, sha256=photo.sha256, jpeg=photo.jpeg)


def frame_of_form(found: OpenTake, given: Mapping[str, str]) -> dict[str, Any]:
    """The fields of a page as a frame of the log. Raises Mistyped."""
    problems: dict[str, str] = {}
    flash = given.get("flash") == "1"
    dialled = _dialled(found, given, problems)
    seen = [*_levels(found, given, flash), *_others(found, given, problems)]
    if not seen and not problems:
        problems["seen"] = (
            "Say what came out: tap a word for the face or the background, or type a reading."
        )
    if problems:
        raise Mistyped(problems)
    return {"flash": flash, "dialled": dialled, "seen": seen}


def _dialled(found: OpenTake, given: Mapping[str, str], problems: dict[str, str]) -> dict[str, Any]:
    """What was dialled: what is not said is as it was proposed."""
    proposed, settings = found.dialled, found.dialled.settings
    stack = settings.stack
    if given.get("stack"):
        stacks = {BARE_LENS: NO_FILTER, **{one.words: one for one in found.setup.stacks}}
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
    for index, light in enumerate(found.setup.lights):
        power = given.get(f"power-{index}") or found.power(index)
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
            found.setup.lights[index].says: far for index, far in proposed.distances.items()
        }
    return dialled


def _number(text: str, field: str, problems: dict[str, str]) -> float:
    try:
        return float(text)
    except ValueError:
        problems[field] = f"{text} is not a figure"
        return 1.0


def _levels(found: OpenTake, given: Mapping[str, str], flash: bool) -> Iterator[dict[str, Any]]:
    against = found.against_of(flash)
    for zone in ZONES:
        said = given.get(f"saw-{zone}", "")
        if said in SAID and zone in against:
            level: Stops = against[zone] + SAID[said]
            yield {"zone": zone, "level": round(level, 3), "by": "words"}
        if given.get(f"clips-{zone}") and zone in against:
            yield {"zone": zone, "clipped": True, "by": "histogram"}
    if given.get("band"):
        yield {"band": "bottom"}


def _others(
    found: OpenTake, given: Mapping[str, str], problems: dict[str, str]
) -> Iterator[dict[str, Any]]:
    for index, light in enumerate(found.setup.lights):
        text = given.get(f"meter-{index}", "").strip()
        if text:
            try:
                read_aperture(text)
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
