"""Use cases at the spot: a picture is taken frame by frame, and the set-up learns from it."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import replace
from datetime import datetime
from secrets import randbelow
from typing import Any

from noggin.core import limits
from noggin.core.daylight.sun import sun_at
from noggin.core.errors import Refused
from noggin.core.planning.way import Way
from noggin.core.pops.actual import light_uncertainty
from noggin.core.pops.corrections import Correction, corrections
from noggin.core.pops.faults import BY_KEY, diagnose
from noggin.core.pops.frame import TRUST
from noggin.core.pops.next_change import COSTS, NEAR
from noggin.core.pops.target import meant_subject
from noggin.core.setup.setup import SetUp
from noggin.documents.log import NOTE_LENGTH, FrameEntry, read_entry, written_entry
from noggin.documents.pops import FRAMES_MOST, core_frame
from noggin.forms.change import with_frames
from noggin.services.clock import Clock
from noggin.services.day.offline_day import BARE
from noggin.services.day.placements import days_of
from noggin.services.frames.frame_tags import put_frame
from noggin.services.frames.take import OpenTake, Shot, open_take, shots_of
from noggin.services.keeping.results import plan_of_text
from noggin.services.setups.setups import change_setup
from noggin.store.frames import KeptTake
from noggin.store.repository import NotKept
from noggin.store.store import Store


def choose_way(store: Store, clock: Clock, setup_id: int, way: str) -> OpenTake:
    """Take the picture another way. Raises Refused where there are frames already."""
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        if found.shots:
            raise Refused("way", "this take has frames. Begin again to take the picture another way")
        limits.check_choice("way", way, found.plan.by_key)
        keep_state(store, clock, replace(found, way=found.plan.way(way)), {})
        return open_take(store, clock, setup_id)


def begin_again(store: Store, clock: Clock, setup_id: int, *, rehearsal: bool = False) -> OpenTake:
    """A fresh take of the set-up as it is now, kept beside those before it. Raises NotKept."""
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        way = found.way.key if not found.shots else found.now.plan.shown.key
        document = blank_take(found.now.document, way)
        if rehearsal:
            document["rehearsal"] = {"seed": randbelow(SEEDS)}
        store.takes.begin(setup_id, document, clock())
        return open_take(store, clock, setup_id)


SEEDS = 1_000_000
"""Simulated spots that there are."""


def blank_take(setup: Mapping[str, Any], way: str) -> dict[str, Any]:
    """The document of a take in which nothing was done yet."""
    return {
        "setup": dict(setup),
        "way": way,
        "ticked": [],
        "left_alone": [],
        "rehearsal": None,
        "lesson": "",
    }


def keep_state(store: Store, clock: Clock, found: OpenTake, change: Mapping[str, Any]) -> KeptTake:
    """The take with something changed in it; begun where it is not yet."""
    if found.take is None:
        return store.takes.begin(
            found.id, blank_take(found.document, found.way.key) | dict(change), clock()
        )
    document = {**found.take.document, "setup": dict(found.document), "way": found.way.key, **change}
    store.takes.write(found.take.id, document)
    return replace(found.take, document=document)


def tick(store: Store, clock: Clock, setup_id: int, key: str, *, on: bool) -> OpenTake:
    """Something was gone through, or was not. Raises NotKept, Refused."""
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        limits.check_choice("check", key, {check.key: check for check in found.checks})
        ticked = found.ticked | {key} if on else found.ticked - {key}
        keep_state(store, clock, found, {"ticked": sorted(ticked)})
        return open_take(store, clock, setup_id)


def leave_alone(store: Store, clock: Clock, setup_id: int, control: str, light: int | None) -> OpenTake:
    """A control stays as it is, and is not proposed again in this take. Raises NotKept, Refused."""
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        limits.check_choice("control", control, COSTS)
        if light is not None and not 0 <= light < len(found.setup.lights):
            raise Refused("light", f"there is no light {light + 1}")
        keep_state(
            store, clock, found, {"left_alone": sorted({*found.left_alone, (control, light)}, key=str)}
        )
        return open_take(store, clock, setup_id)


def keep_lesson(store: Store, clock: Clock, setup_id: int, text: str) -> OpenTake:
    """What this take taught, in words; every frame of it is found by them. Raises NotKept, Refused."""
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        if len(text) > NOTE_LENGTH:
            raise Refused("lesson", f"{len(text):,} characters are more than {NOTE_LENGTH:,}")
        take = keep_state(store, clock, found, {"lesson": text.strip()})
        for kept in store.frames.of_take(take.id):
            put_frame(store, kept, read_entry({**kept.document, "lesson": text.strip()}), take)
        return open_take(store, clock, setup_id)


def add_frame(
    store: Store,
    clock: Clock,
    setup_id: int,
    seen: Mapping[str, Any],
    *,
    sha256: str | None = None,
    jpeg: bytes | None = None,
) -> OpenTake:
    """A frame that was taken: its figures as an entry of the log has them. What it says of the set-up is
    learned at once. Raises NotKept, Refused, BadDocument."""
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        if len(found.shots) >= FRAMES_MOST:
            raise Refused("frames", f"{FRAMES_MOST} frames are the most of one take. Begin again")
        take = keep_state(store, clock, found, {})
        entry = entry_of(store, clock, found, seen)
        frame = entry.frame(0.0)
        if frame is not None:
            core_frame(found.setup, frame)  # refused here, before it is kept
        kept = store.frames.add(
            datetime.fromisoformat(entry.taken),
            written_entry(entry),
            (),
            "",
            take_id=take.id,
            sha256=sha256,
            jpeg=jpeg,
        )
        if kept is None:
            raise Refused("file", "that file is in the log already")
        return _learn(store, clock, setup_id)


def entry_of(store: Store, clock: Clock, found: OpenTake, seen: Mapping[str, Any]) -> FrameEntry:
    """A frame of a take as an entry of the log. Raises BadDocument."""
    now, moment = clock(), found.setup.scene.moment
    if moment is not None:
        now = now.astimezone(moment.time.tzinfo)
    fired = [found.setup.lights[index] for index in _fired(found, seen)]
    taken = seen.get("taken") or now.isoformat(timespec="milliseconds")
    given = {
        "taken": taken,
        "shoot": _day_of(store, clock, found),
        "setup": found.now.setup.name,
        **meant_and_planned(found.setup, found.way),
        "lights": [light.says for light in fired],
        "modifiers": list(_modifiers(found, seen)),
        "simulated": found.is_rehearsal,
        "lesson": found.lesson,
        "levels": {
            one["zone"]: {
                "value": one["level"],
                "uncertainty": TRUST[one["by"]].uncertainty,
                "by": one["by"],
            }
            for one in seen.get("seen", ())
            if one.get("level") is not None
        },
    }
    if moment is not None:
        sun = sun_at(moment.place.lat, moment.place.lon, datetime.fromisoformat(taken))
        given["sun_deg"] = round(sun.height_deg, 1)
    return read_entry({**given, **seen})


def meant_and_planned(setup: SetUp, way: Way) -> dict[str, Any]:
    """The way of a frame, what was meant of its zones and what was planned, as the log keeps it."""
    levels = way.lighting.levels
    planned = {"background": levels.background, "subject": levels.subject, "sky": levels.sky}
    planned["rim"] = levels.rim
    subject = meant_subject(setup, levels.subject_ambient)
    return {
        "way": way.key,
        "meant": {"background": setup.intent.background_level, "subject": round(subject, 3)},
        "planned": {zone: round(level, 3) for zone, level in planned.items() if level is not None},
    }


def _fired(found: OpenTake, seen: Mapping[str, Any]) -> Iterator[int]:
    dialled = seen.get("dialled") or {}
    for index, light in enumerate(found.setup.lights):
        if seen.get("flash", True) and light.says in dialled.get("powers", {}):
            yield index


def _modifiers(found: OpenTake, seen: Mapping[str, Any]) -> Iterator[str]:
    """What is before the lights that fired."""
    return (through for index in _fired(found, seen) if (through := _through(found, index)))


def _through(found: OpenTake, index: int) -> str:
    """What is before a light, as the Bench calls it; empty where it is bare, or gone by now."""
    entry = found.now.entries.get(f"modifier-{index}")
    chosen = entry.text(found.now.document) if entry else ""
    return entry.options(found.now.document)[chosen] if entry and chosen not in ("", BARE) else ""


def _day_of(store: Store, clock: Clock, found: OpenTake) -> str | None:
    """The shoot that the set-up is part of today."""
    today = [
        day.name
        for day in days_of(store, clock, found.id, found.now.setup)
        if day.slot.start.date() == clock().astimezone(day.slot.start.tzinfo).date()
    ]
    return today[0] if today else None


def learned_in(store: Store, take: KeptTake) -> tuple[tuple[Correction, ...], int, datetime]:
    """What the frames of a take say of its set-up, how many they are, and when the last one was taken."""
    begun = plan_of_text(json.dumps(take.document["setup"]))
    shots = tuple(shots_of(begun.setup, store.frames.of_take(take.id)))
    frames = [shot.frame for shot in shots if shot.frame]
    if not frames:
        return (), 0, take.begun_at
    found = diagnose(begun.setup, frames)
    return corrections(found.estimate), len(frames), shots[-1].taken


def remove_frame(store: Store, clock: Clock, setup_id: int, frame_id: int) -> OpenTake:
    """Take a frame out for good; what it said is forgotten. Raises NotKept."""
    with store.write_transaction():
        shot = _shot(open_take(store, clock, setup_id), frame_id)
        store.frames.remove(shot.id)
        return _learn(store, clock, setup_id)


def settle_fault(
    store: Store, clock: Clock, setup_id: int, frame_id: int, fault: str, *, true: bool
) -> OpenTake:
    """A fault was found to have happened to a frame, or not to have. Raises NotKept, Refused."""
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        shot = _shot(found, frame_id)
        limits.check_choice("fault", fault, BY_KEY)
        if true:
            entry = shot.entry.model_copy(update={"fault": fault})
        else:
            ruled_out = sorted({*shot.entry.not_faults, fault})
            entry = shot.entry.model_copy(update={"not_faults": ruled_out, "fault": None})
        frame = entry.frame(0.0)
        if true and frame is not None:
            diagnose(found.setup, [core_frame(found.setup, frame)])  # refused where it cannot have happened
        assert found.take is not None  # noqa: S101 - it has a frame
        put_frame(store, shot.kept, entry, found.take)
        return _learn(store, clock, setup_id, shot.id)


def _shot(found: OpenTake, frame_id: int) -> Shot:
    for shot in found.shots:
        if shot.id == frame_id:
            return shot
    raise NotKept("That frame is no longer there.")


def _learn(store: Store, clock: Clock, setup_id: int, judged: int | None = None) -> OpenTake:
    """Say of a frame (the last one where none is named) what came of it, and correct the set-up by all of
    them."""
    found = open_take(store, clock, setup_id)
    if found.take and found.last:
        _judge(store, found, judged or found.last.id)
        keep_state(store, clock, found, {"learned": list(_learned(found)), "pops": _pops(found)})
    if not found.is_rehearsal:
        teach(store, clock, found)
    return open_take(store, clock, setup_id)


def _learned(found: OpenTake) -> Iterator[dict[str, Any]]:
    """By how much each light that fired was off, for the log's charts."""
    if found.findings is None or found.likely:
        return
    fired = {index for shot in found.shots for index in _fired(found, shot.kept.document)}
    for index in sorted(fired):
        value, uncertainty = found.findings.estimate.offset(f"light {index}")
        before = light_uncertainty(found.setup.lights[index])
        yield {
            "light": found.setup.lights[index].says,
            "modifier": _through(found, index),
            "value": round(value, 3),
            "uncertainty": round(uncertainty, 3),
            "before": round(before, 3),
        }


def _pops(found: OpenTake) -> int | None:
    """With how many pops the picture was right; None while it is not."""
    if not found.done:
        return None
    return sum(frame.flash for frame in found.frames)


def _judge(store: Store, found: OpenTake, frame_id: int) -> None:
    """Keep what came of a frame, as it was known when it was the last one."""
    place, shot = next((place, shot) for place, shot in enumerate(found.shots) if shot.id == frame_id)
    if shot.frame is None:
        return
    entry, findings = shot.entry, found.findings_up_to(place + 1)
    if entry.fault or findings.diagnosis.likely:
        verdict = "fault"
    elif not entry.flash and found.needs_flash:
        verdict = "daylight"
    else:
        zones = findings.estimate.zones
        off = [abs(zones[zone][0] - entry.meant[zone]) for zone in ("background", "subject")]
        verdict = "right" if max(off) <= NEAR else "off"
    put_frame(store, shot.kept, entry.model_copy(update={"verdict": verdict}), found.take)


def teach(store: Store, clock: Clock, found: OpenTake) -> None:
    """Correct the set-up by what its frames say; where something probably went wrong, not before that is
    settled."""
    if found.likely or found.take is None:
        return
    began, count = found.take.document["setup"], len(found.frames)
    said = corrections(found.findings.estimate) if found.findings else ()
    at = found.last.taken if found.last else clock()
    label = f"corrected by {count} frame{'s' if count != 1 else ''}" if count else "frames taken out"
    change_setup(store, clock, found.id, label, lambda it: with_frames(it, began, said, count, at))
