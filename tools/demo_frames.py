"""Shoots the demo: an invented walk-through four weeks before the wedding, with the simulated camera.
Writes `noggin/demo/takes.json` and the small files in `noggin/demo/frames/`. What it hides is in TRUTH."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from hashlib import sha256
from io import BytesIO
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from PIL import Image

from noggin.core.daylight.sun import sun_at
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.pops.actual import light_uncertainty
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.faults import diagnose
from noggin.core.pops.frame import TRUST, BandSeen, Dialled, Frame, LevelSeen
from noggin.core.pops.judging import NEAR, with_flash
from noggin.core.pops.next_change import Advice, advise
from noggin.core.pops.target import meant_subject
from noggin.core.proof.mixture import as_it_came_out
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.demo import FOLDER
from noggin.devices.simulated_camera import Exposure, FileCamera, Light, View
from noggin.devices.simulated_spot import SimulatedSpot
from noggin.documents.json_input import read_object
from noggin.documents.log import read_entry, written_entry
from noggin.documents.pops import dialled_document
from noggin.documents.setup import canonical, setup_of
from noggin.services.setups.proofs import Proofs, recipe_of

DAY = "2027-05-22"
ZONE = ZoneInfo("Europe/Madrid")
SHOOT = "Walk-through at the observatory"

TRUTH = {"Speedlight": -0.7, "Large head, 600 Ws class": 0.1, "Pocket strobe, 200 Ws class": 0.25}
"""By how much each light is really off, in stops; the speedlight gives far less than its brochure says."""


@dataclass(frozen=True)
class PlannedTake:
    """One take: the set-up's file, when, what it is seen by, how many frames, what goes wrong at which
    frame, and what it taught."""

    stem: str
    time: str
    by: str
    frames: int
    fault: Mapping[int, str]
    lesson: str = ""


TAKES = (
    PlannedTake("6-sundial-morning", "09:35", "words", 6, {}),
    PlannedTake(
        "1-orchard-wall", "13:12", "raw", 7, {},
        "The wall throws green light from the grass under chins: half a step to the left, and it is gone.",
    ),
    PlannedTake(
        "2-orchard-wall-speedlight", "13:50", "raw", 7, {3: "no_flash"},
        "The umbrella's receiver falls asleep after a minute: wake it before the couple stands.",
    ),
    PlannedTake("2-orchard-wall-speedlight", "13:57", "raw", 5, {}),
    PlannedTake("2-orchard-wall-speedlight", "14:03", "raw", 5, {}),
    PlannedTake("4-dome-door", "15:35", "words", 6, {}),
    PlannedTake("3-meridian-steps", "17:42", "raw", 7, {}),
    PlannedTake("7-pear-trees", "19:04", "words", 6, {}),
    PlannedTake("5-terrace-dusk", "21:18", "raw", 7, {4: "filter_left_on"}, "ND off when the sun is gone."),
    PlannedTake("8-last-dance", "21:45", "raw", 5, {}),
)  # fmt: skip


def main() -> None:
    """Write takes and files."""
    folder = FOLDER / "frames"
    for old in folder.glob("*.jpg"):  # type: ignore[attr-defined]
        old.unlink()
    folder.mkdir(exist_ok=True)  # type: ignore[attr-defined]
    number, takes = 1, []
    for index, planned in enumerate(TAKES):
        take, files = shot(planned, index, number)
        number += len(files)
        takes.append(take)
        for name, content in files:
            (folder / name).write_bytes(content)  # type: ignore[attr-defined]
    text = json.dumps(takes, indent=1, ensure_ascii=False) + "\n"
    (FOLDER / "takes.json").write_text(text, encoding="utf-8")  # type: ignore[attr-defined]


Files = list[tuple[str, bytes]]


def shot(planned: PlannedTake, seed: int, number: int) -> tuple[dict[str, Any], Files]:
    """One take, and its files."""
    document = canonical(read_object((FOLDER / "setups" / f"{planned.stem}.json").read_bytes()))
    setup = setup_of(document)
    way = plan(setup).shown
    spot = SimulatedSpot(setup, Random(seed + 1))  # noqa: S311 - repeatable, not secret
    for index, light in enumerate(setup.lights):
        spot.truth[f"light {index}"] = TRUTH.get(light.says, 0.0)
    begun = datetime.fromisoformat(f"{DAY}T{planned.time}:00").replace(tzinfo=ZONE)
    frames: list[Frame] = []
    entries, files = [], []
    pops, done = None, False
    dialled = with_flash(setup, way, Dialled(way.settings, {}, way.lighting.hss))
    for index in range(planned.frames):
        minute = 0.7 * index
        fault = planned.fault.get(index, "")
        frame = spot.frame(minute, index > 0, dialled, planned.by, fault)
        if fault:
            frame = Frame(frame.minute, frame.flash, frame.dialled, frame.seen, fault)
        frames.append(frame)
        taken = begun + timedelta(minutes=minute)
        name = f"OBS_{number + index:04}.jpg"
        content = _file(setup, spot, frame, taken, seed * 100 + index)
        files.append((name, content))
        found = diagnose(setup, frames)
        advice = advise(setup, way, found.plain)
        entry = _entry(setup, way, frame, found.estimate, taken, name, content)
        entries.append(written_entry(read_entry({**entry, "lesson": planned.lesson})))
        if advice.done and index and pops is None:
            pops = sum(one.flash for one in frames)
        done = done or advice.done
        dialled = _next(setup, way, dialled, advice, done)
    return {
        "setup": planned.stem,
        "begun": begun.isoformat(),
        "way": way.key,
        "lesson": planned.lesson,
        "pops": pops,
        "learned": _learned(setup, frames),
        "frames": entries,
    }, files


def _next(setup: SetUp, way: Way, dialled: Dialled, advice: Advice, done: bool) -> Dialled:
    if done or advice.change is None:
        return with_flash(setup, way, dialled)
    return advice.change.dialled


def _file(setup: SetUp, spot: SimulatedSpot, frame: Frame, taken: datetime, seed: int) -> bytes:
    """The frame's file, at the size that the demo keeps."""
    levels = {zone: level for zone, level in spot.levels(spot.actual).items() if zone != "rim"}
    settings = frame.dialled.settings
    exposure = Exposure(
        settings.shutter.value, settings.aperture.value, settings.iso.value,
        setup.lens.focal_mm, bool(frame.flash and not spot.actual.off), taken,
    )  # fmt: skip
    proof = _proof(setup, spot, levels, exposure.flash)
    raw = FileCamera(seed, noise=0.012).jpeg(View({**levels}, "medium", proof=proof), exposure)
    with Image.open(BytesIO(raw)) as image:
        out = BytesIO()
        image.resize((360, 240)).save(out, "JPEG", quality=70, exif=image.getexif())
        return out.getvalue()


PROOFS = Proofs()


def _proof(setup: SetUp, spot: SimulatedSpot, levels: Mapping[str, Stops], flash: bool) -> Light:
    """The picture that the frame shows: the set-up's proof with its zones where they really came out."""
    made = recipe_of(setup, plan(setup).shown, (480, 320))
    came = as_it_came_out(
        made.mixture,
        levels["background"],
        levels["subject"],
        spot.daylight(spot.actual),
        levels.get("sky"),
        flash,
    )
    return PROOFS.picture(replace(made, mixture=came)).linear


def _entry(
    setup: SetUp, way: Way, frame: Frame, estimate: Estimate, taken: datetime, name: str, content: bytes
) -> dict[str, Any]:
    levels, moment = way.lighting.levels, setup.scene.moment
    meant = {
        "background": setup.intent.background_level,
        "subject": meant_subject(setup, levels.subject_ambient),
    }
    planned = {
        "background": levels.background,
        "subject": levels.subject,
        "sky": levels.sky,
        "rim": levels.rim,
    }
    powers = frame.dialled.powers if frame.flash else {}
    settings = frame.dialled.settings
    given = {
        "taken": taken.isoformat(timespec="milliseconds"),
        "file": name,
        "sha256": sha256(content).hexdigest(),
        "shoot": SHOOT,
        "setup": setup.name,
        "way": way.key,
        "flash": frame.flash,
        "dialled": dialled_document(setup, frame.dialled),
        "exif": {
            "shutter_s": round(settings.shutter.value, 7),
            "aperture": float(settings.aperture.label),
            "iso": float(settings.iso.label),
            "focal_mm": setup.lens.focal_mm,
            "flash": frame.flash and frame.fault != "no_flash",
            "body": "Simulated camera",
        },
        "levels": {
            one.zone: {"value": round(one.level, 2), "uncertainty": TRUST[one.by].uncertainty, "by": one.by}
            for one in frame.seen
            if isinstance(one, LevelSeen)
        },
        "meant": {zone: round(level, 2) for zone, level in meant.items()},
        "planned": {zone: round(level, 2) for zone, level in planned.items() if level is not None},
        "verdict": _verdict(frame, estimate, meant),
        "seen": [_seen(one) for one in frame.seen],
        "lights": [setup.lights[index].says for index in powers],
        "simulated": True,
    }
    if frame.fault:
        given["fault"] = frame.fault
    if moment is not None:
        given["sun_deg"] = round(sun_at(moment.place.lat, moment.place.lon, taken).height_deg, 1)
    return written_entry(read_entry(given))


def _seen(one: object) -> dict[str, Any]:
    if isinstance(one, BandSeen):
        return {"band": "bottom"}
    assert isinstance(one, LevelSeen)  # noqa: S101 - a simulated camera shows nothing else
    return {"zone": one.zone, "level": round(one.level, 2), "by": one.by}


def _verdict(frame: Frame, estimate: Estimate, meant: Mapping[str, float]) -> str:
    if frame.fault:
        return "fault"
    if not frame.flash:
        return "daylight"
    off = max(abs(estimate.zones[zone][0] - level) for zone, level in meant.items())
    return "right" if off <= NEAR else "off"


def _learned(setup: SetUp, frames: list[Frame]) -> list[dict[str, Any]]:
    estimate = diagnose(setup, frames).estimate
    fired = sorted({index for frame in frames if frame.flash for index in frame.dialled.powers})
    return [
        {
            "light": setup.lights[index].says,
            "modifier": "",
            "value": round(estimate.offset(f"light {index}")[0], 3),
            "uncertainty": round(estimate.offset(f"light {index}")[1], 3),
            "before": round(light_uncertainty(setup.lights[index]), 3),
        }
        for index in fired
    ]


if __name__ == "__main__":
    main()
