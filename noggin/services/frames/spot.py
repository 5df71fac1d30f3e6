"""Use cases at the spot: a picture is taken frame by frame, and the set-up learns from it.

Each act is given the take as it was opened, within the transaction of whoever opened it, and gives it back
as it then is: a take is opened once for a request.
"""

import json
from collections.abc import Iterator, Mapping
from dataclasses import replace
from datetime import datetime
from random import Random
from typing import Any

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.planning.ways import WAYS
from noggin.core.pops.actual import light_uncertainty
from noggin.core.pops.corrections import Correction, corrections
from noggin.core.pops.faults import BY_KEY, diagnose
from noggin.core.pops.looks import came_out
from noggin.core.pops.prospects import COSTS
from noggin.core.wording import metres
from noggin.documents.log import NOTE_LENGTH, FrameEntry, written_entry
from noggin.documents.pops import FRAMES_MOST, core_frame
from noggin.forms.change import ShotSo, with_frames
from noggin.forms.layout_change import canonical_with_layout
from noggin.services.clock import Clock
from noggin.services.day.placements import days_of
from noggin.services.frames.entry import completed, fired_in, verdict_of
from noggin.services.frames.frame_tags import put_frame
from noggin.services.frames.looks import TakeLooks
from noggin.services.frames.shots import Shot, said_of, shot_of, shots_of
from noggin.services.frames.take import OpenTake
from noggin.services.keeping.results import plan_of_text
from noggin.services.setups.setups import change_setup
from noggin.store.frames import KeptFrame, KeptTake
from noggin.store.repository import NotKept
from noggin.store.store import Store


def choose_way(store: Store, clock: Clock, take: OpenTake, way: str) -> OpenTake:
    """Take the picture another way, from the next frame on; what is known goes along. Raises Refused."""
    limits.check_choice("way", way, take.plan.by_key)
    return _with_state(store, clock, replace(take, way=take.plan.way(way)), {})


def begin_look(store: Store, clock: Clock, take: OpenTake, name: str) -> OpenTake:
    """Take another look of the same people, or go on with one that was begun. Raises Refused."""
    return _with_looks(store, clock, take, take.looks.with_look(name))


def end_look(store: Store, clock: Clock, take: OpenTake, *, ended: bool) -> OpenTake:
    """Call the look that is taken now done, whatever the figures say; or go on with it."""
    return _learned(store, clock, _with_looks(store, clock, take, take.looks.with_end(ended=ended)))


def _with_looks(store: Store, clock: Clock, take: OpenTake, looks: TakeLooks) -> OpenTake:
    return _with_state(store, clock, _as_meant(replace(take, looks=looks)), looks.written())


def _as_meant(take: OpenTake) -> OpenTake:
    """A take whose frames are meant as its looks now say."""
    return replace(take, shots=tuple(shots_of(take.looks, [shot.kept for shot in take.shots])))


def go_on(store: Store, clock: Clock, take: OpenTake) -> OpenTake:
    """Go on from a frame that is close enough: what would bring it nearer is dialled."""
    return _with_state(store, clock, take, {"goes_on": len(take.shots)})


def want(store: Store, clock: Clock, take: OpenTake, frame_id: int, zone: str, *, on: bool) -> OpenTake:
    """A zone is right as it came out in a frame, from then on, or is not. Raises NotKept, Refused."""
    shot = _shot(take, frame_id)
    wanted = {name: level for name, level in shot.entry.wanted.items() if name != zone}
    if on:
        place = take.shots.index(shot) + 1
        if shot.frame is None:
            raise Refused("wanted", "nobody knows how that frame was dialled")
        found = came_out(take.findings_up_to(place).diagnosis.plain, [zone])
        wanted |= {name: round(level, 3) for name, level in found.items()}  # type: ignore[misc]
    changed = _put_again(store, take, shot, {"wanted": wanted})
    return _learned(store, clock, _as_meant(_with_settled(take, changed)))


def begin_again(store: Store, clock: Clock, take: OpenTake, *, rehearsal: Random | None = None) -> OpenTake:
    """A fresh take of the set-up as it is now, kept beside those before it. `rehearsal` is the chance that
    a rehearsal's place comes from (None: frames are fired at the place itself)."""
    way = take.way
    document = blank_take(take.now.document, way.key)
    if rehearsal:
        document["rehearsal"] = {"seed": rehearsal.randrange(SEEDS)}
    kept = store.takes.begin(take.id, document, clock())
    planned = take.now.plan
    looks = TakeLooks(planned.setup)
    return OpenTake(take.now, kept, take.now.document, planned, planned.way(way.key), (), looks)


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


def keep_state(store: Store, clock: Clock, take: OpenTake, change: Mapping[str, Any]) -> KeptTake:
    """The take with something changed in it; begun where it is not yet."""
    if take.kept is None:
        return store.takes.begin(take.id, blank_take(take.document, take.way.key) | dict(change), clock())
    document = {**take.kept.document, "setup": dict(take.document), "way": take.way.key, **change}
    store.takes.write(take.kept.id, document)
    return replace(take.kept, document=document)


def _with_state(store: Store, clock: Clock, take: OpenTake, change: Mapping[str, Any]) -> OpenTake:
    return replace(take, kept=keep_state(store, clock, take, change))


def tick(store: Store, clock: Clock, take: OpenTake, key: str, *, on: bool) -> OpenTake:
    """Something was gone through, or was not. Raises Refused."""
    limits.check_choice("check", key, {check.key: check for check in take.checks})
    ticked = take.ticked | {key} if on else take.ticked - {key}
    return _with_state(store, clock, take, {"ticked": sorted(ticked)})


def leave_alone(store: Store, clock: Clock, take: OpenTake, control: str, light: int | None) -> OpenTake:
    """A control stays as it is, and is not proposed again in this take. Raises Refused."""
    limits.check_choice("control", control, COSTS)
    if light is not None and not 0 <= light < len(take.setup.lights):
        raise Refused("light", f"there is no light {light + 1}")
    left_alone = sorted({*take.left_alone, (control, light)}, key=str)
    return _with_state(store, clock, take, {"left_alone": left_alone})


def keep_lesson(store: Store, clock: Clock, take: OpenTake, text: str) -> OpenTake:
    """What this take taught, in words; every frame of it is found by them. Raises Refused."""
    if len(text) > NOTE_LENGTH:
        raise Refused("lesson", f"{len(text):,} characters are more than {NOTE_LENGTH:,}")
    taught = _with_state(store, clock, take, {"lesson": text.strip()})
    return replace(taught, shots=tuple(_taught(store, taught, text.strip())))


def _taught(store: Store, take: OpenTake, lesson: str) -> Iterator[Shot]:
    for shot in take.shots:
        yield _put_again(store, take, shot, {"lesson": lesson})


def foresee(take: OpenTake) -> None:
    """Work out what the frames of a take say that is not kept so yet, so that nobody waits for it when it
    is: what frames say is remembered. Raises Refused."""
    if take.frames:
        take.findings_up_to(len(take.shots))


def with_entry(take: OpenTake, entry: FrameEntry) -> OpenTake:
    """A take as it will be with one frame more. Raises Refused, BadDocument."""
    first = take.shots[0].taken if take.shots else datetime.fromisoformat(entry.taken)
    shot = shot_of(take.setup, KeptFrame(0, 0, None, "{}"), entry, first, take.meant)
    return replace(take, shots=(*take.shots, shot))


def without_frame(take: OpenTake, frame_id: int) -> OpenTake:
    """A take as it will be with a frame taken out. Raises NotKept."""
    out = _shot(take, frame_id)
    left = [shot.kept for shot in take.shots if shot.id != out.id]
    return replace(take, shots=tuple(shots_of(take.looks, left)))


def with_settled_fault(take: OpenTake, frame_id: int, fault: str, *, true: bool) -> OpenTake:
    """A take as it will be when a fault was found to have happened to a frame, or not to have. Raises
    NotKept, Refused."""
    shot = _shot(take, frame_id)
    limits.check_choice("fault", fault, BY_KEY)
    change: dict[str, Any] = {"fault": fault}
    if not true:
        change = {"not_faults": sorted({*shot.entry.not_faults, fault}), "fault": None}
    settled = _changed(take, shot, change)
    if true and settled.frame is not None:
        diagnose(take.setup, [settled.frame])  # refused where it cannot have happened
    return _with_settled(take, settled)


def add_frame(
    store: Store, clock: Clock, take: OpenTake, entry: FrameEntry, *, jpeg: bytes | None = None
) -> OpenTake:
    """A frame that was taken. What it says of the set-up is learned at once. Raises Refused,
    BadDocument."""
    if len(take.shots) >= FRAMES_MOST:
        raise Refused("frames", f"{FRAMES_MOST} frames are the most of one take. Begin again")
    entry = completed(entry, replace(take.picture, shoot=_day_of(store, clock, take)))
    frame = entry.frame(0.0)
    if frame is not None:
        core_frame(take.setup, frame)  # refused here, before it is kept
    looks = take.looks.with_end(ended=False)
    take = _with_state(store, clock, replace(take, looks=looks), looks.written())
    kept = store.frames.add(
        datetime.fromisoformat(entry.taken),
        written_entry(entry),
        (),
        "",
        take_id=_kept(take).id,
        sha256=entry.sha256,
        jpeg=jpeg,
    )
    if kept is None:
        raise Refused("file", "that file is in the log already")
    return _learned(store, clock, _with_shot(store, take, kept, entry))


def remember_once(store: Store, clock: Clock, take: OpenTake, once: str) -> OpenTake:
    """Know a frame again that was just kept, should it be sent once more."""
    return _with_state(store, clock, take, {"once": [*take.once[-(FRAMES_MOST - 1) :], once]})


def _with_shot(store: Store, take: OpenTake, kept: KeptFrame, entry: FrameEntry) -> OpenTake:
    """A take with one frame more. One that was taken before others moves their minutes: they are read
    again."""
    if take.shots and kept.place < take.shots[-1].kept.place:
        return replace(take, shots=tuple(shots_of(take.looks, store.frames.of_take(_kept(take).id))))
    first = take.shots[0].taken if take.shots else datetime.fromisoformat(entry.taken)
    return replace(take, shots=(*take.shots, shot_of(take.setup, kept, entry, first, take.meant)))


def _day_of(store: Store, clock: Clock, take: OpenTake) -> str | None:
    """The shoot that the set-up is part of today."""
    today = (
        day.name
        for day in days_of(store, clock, take.id, take.now.setup)
        if day.slot.start.date() == clock().astimezone(day.slot.start.tzinfo).date()
    )
    return next(today, None)


def corrections_of_take(store: Store, kept: KeptTake) -> tuple[tuple[Correction, ...], int, datetime]:
    """What the frames of a take say of its set-up, how many they are, and when the last one was taken."""
    begun = plan_of_text(json.dumps(kept.document["setup"]))
    looks = TakeLooks.of(begun.setup, kept.document)
    shots = tuple(shots_of(looks, store.frames.of_take(kept.id)))
    frames = [shot.frame for shot in shots if shot.frame]
    if not frames:
        return (), 0, kept.begun_at
    estimate = diagnose(begun.setup, frames).estimate
    return corrections(estimate), len(frames), shots[-1].taken


def remove_frame(store: Store, clock: Clock, take: OpenTake, frame_id: int) -> OpenTake:
    """Take a frame out for good; what it said is forgotten. Raises NotKept."""
    store.frames.remove(_shot(take, frame_id).id)
    return _learned(store, clock, without_frame(take, frame_id))


def settle_fault(
    store: Store, clock: Clock, take: OpenTake, frame_id: int, fault: str, *, true: bool
) -> OpenTake:
    """A fault was found to have happened to a frame, or not to have. Raises NotKept, Refused."""
    settled = with_settled_fault(take, frame_id, fault, true=true)
    _put_again(store, settled, _shot(settled, frame_id), {})
    return _learned(store, clock, settled, frame_id)


def _with_settled(take: OpenTake, settled: Shot) -> OpenTake:
    return replace(take, shots=tuple(settled if shot.id == settled.id else shot for shot in take.shots))


def _shot(take: OpenTake, frame_id: int) -> Shot:
    for shot in take.shots:
        if shot.id == frame_id:
            return shot
    raise NotKept("That frame is no longer there.")


def _kept(take: OpenTake) -> KeptTake:
    assert take.kept is not None  # noqa: S101 - something was done in it
    return take.kept


def _put_again(store: Store, take: OpenTake, shot: Shot, change: Mapping[str, Any]) -> Shot:
    """A frame of a take with something changed in its entry, as it is kept then."""
    changed = _changed(take, shot, change)
    put_frame(store, shot.kept, changed.entry, _kept(take))
    return changed


def _changed(take: OpenTake, shot: Shot, change: Mapping[str, Any]) -> Shot:
    entry = shot.entry.model_copy(update=change)
    kept = replace(shot.kept, text=json.dumps(written_entry(entry)))
    meant = shot.frame.meant if shot.frame else None
    return Shot(kept, entry, said_of(take.setup, entry, shot.frame.minute if shot.frame else 0.0, meant))


def _learned(store: Store, clock: Clock, take: OpenTake, judged: int | None = None) -> OpenTake:
    """Say of a frame (the last one where none is named) what came of it, and correct the set-up by all of
    them."""
    if take.kept and take.last:
        take = _with_settled(take, _judged(store, take, judged or take.last.id))
        state = {"learned": list(_offsets_of_lights(take)), "pops": _pops(take)}
        take = _with_state(store, clock, take, state)
    return take if take.is_rehearsal else _taught_setup(store, clock, take)


def _offsets_of_lights(take: OpenTake) -> Iterator[dict[str, Any]]:
    """By how much each light that fired was off, for the log's charts."""
    if take.findings is None or take.likely:
        return
    fired = {index for shot in take.shots for index in fired_in(shot.entry, take.picture)}
    for index in sorted(fired):
        value, uncertainty = take.findings.estimate.offset(f"light {index}")
        before = light_uncertainty(take.setup.lights[index])
        yield {
            "light": take.setup.lights[index].says,
            "modifier": take.picture.modifiers.get(index, ""),
            "value": round(value, 3),
            "uncertainty": round(uncertainty, 3),
            "before": round(before, 3),
        }


def _pops(take: OpenTake) -> int | None:
    """With how many pops the picture was right; None while it is not."""
    if not take.done:
        return None
    return sum(frame.flash for frame in take.frames)


def _judged(store: Store, take: OpenTake, frame_id: int) -> Shot:
    """A frame with what came of it, as it was known when it was the last one."""
    place, shot = next((place, shot) for place, shot in enumerate(take.shots) if shot.id == frame_id)
    if shot.frame is None:
        return shot
    findings = take.findings_up_to(place + 1)
    verdict: str | None = "fault"
    if not (shot.entry.fault or findings.diagnosis.likely):
        zones = findings.estimate.zones
        verdict = verdict_of(shot.entry, zones, needs_flash=take.needs_flash)
    return _put_again(store, take, shot, {"verdict": verdict})


def _taught_setup(store: Store, clock: Clock, take: OpenTake) -> OpenTake:
    """Correct the set-up by what its frames say; where something probably went wrong, not before that is
    settled."""
    if take.likely or take.kept is None:
        return take
    began, count = take.kept.document["setup"], len(take.frames)
    said = corrections(take.findings.estimate) if take.findings else ()
    at = take.last.taken if take.last else clock()
    shown = f"what {count} frame{'s' if count != 1 else ''} showed"
    label = f"corrected by {shown}" if count else "frames taken out"
    shot = _shot_so(take)
    now = change_setup(
        store,
        clock,
        take.id,
        label,
        lambda it: canonical_with_layout(with_frames(it, began, said, count, at, shot)),
    )
    return replace(take, now=now)


def _shot_so(take: OpenTake) -> ShotSo:
    """How the picture was shot last with the flash, so that the Bench agrees with it."""
    last = next((shot for shot in reversed(take.shots) if shot.frame and shot.frame.flash), None)
    if last is None or last.frame is None or last.entry.dialled is None:
        return ShotSo()
    settings, dialled = last.frame.dialled.settings, last.entry.dialled
    label = WAYS[last.entry.way].label if last.entry.way in WAYS else take.way.label
    parts = [f"{label}, {settings.shutter.label} f/{settings.aperture.label} ISO {settings.iso.label}"]
    parts += [settings.stack.words] if settings.stack.stops else []
    parts += [f"{name} {power}" for name, power in dialled.powers.items()]
    parts += [f"{name} at {metres(far)}" for name, far in dialled.distances.items()]
    return ShotSo(", ".join(parts)[:SHOT_LENGTH], last.frame.dialled.distances)


SHOT_LENGTH = 400
"""Characters that are kept of how it was shot."""
