"""Use cases at the spot: one picture as it is taken, frame by frame, and what the frames say."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import cached_property, lru_cache
from math import floor, isinf, log2
from secrets import randbelow
from typing import Any

from noggin.core import limits
from noggin.core.advice.preflight import ToCheck, preflight
from noggin.core.clock import apart
from noggin.core.daylight.forecast import day_light
from noggin.core.daylight.sun import sun_at
from noggin.core.errors import Refused
from noggin.core.physics import dials
from noggin.core.physics.power import power_label
from noggin.core.planning.lighting import Levels
from noggin.core.planning.way import Plan, Way
from noggin.core.pops.estimate import Estimate, Stories
from noggin.core.pops.faults import BY_KEY, Diagnosis, Suspected, diagnose, possible
from noggin.core.pops.frame import TRUST, Dialled, Frame, LevelSeen
from noggin.core.pops.happened import Happened, as_dialled, light_uncertainty
from noggin.core.pops.learned import Correction, corrections
from noggin.core.pops.meant import expected, meant_subject
from noggin.core.pops.next_change import COSTS, NEAR, Advice, Change, advise, with_flash
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.timeline import setup_at
from noggin.core.units import EV100, TOLERANCE, Stops
from noggin.documents.log import NOTE_LENGTH, FrameEntry, read_entry, written_entry
from noggin.documents.pops import FRAMES_MOST, core_frame
from noggin.documents.setup import normal
from noggin.forms.change import with_frames, without_frames
from noggin.services.alone import BARE
from noggin.services.clock import Clock
from noggin.services.frame_words import put_frame
from noggin.services.live import READ_ZONE
from noggin.services.placements import days_of
from noggin.services.results import plan_in
from noggin.services.setups import OpenSetUp, change_setup, open_setup
from noggin.services.shoots import add_reading, open_shoot
from noggin.store.frames import KeptFrame, KeptTake
from noggin.store.repository import NotKept
from noggin.store.store import Store

BARE_LENS = "none"
"""The choice of no filter."""

COLD = timedelta(hours=4)
"""A take whose last frame is older is over: the light is another one. From memory."""

MINUTE = timedelta(minutes=1)


@dataclass(frozen=True)
class Shot:
    """A frame of a take: as it is kept, and as the core sees it (None: nobody knows what was dialled)."""

    kept: KeptFrame
    entry: FrameEntry
    frame: Frame | None

    @property
    def id(self) -> int:
        """Its number."""
        return self.kept.id

    @property
    def taken(self) -> datetime:
        """When."""
        return datetime.fromisoformat(self.entry.taken)


ZONE_WORDS = {"background": "background", "subject": "faces", "sky": "sky", "rim": "rim"}
"""What zones are called beside what was seen of them."""


@dataclass(frozen=True)
class KnownOffset:
    """One thing that is not known for sure: the ± that it had, by how many stops it is off as far as frames
    say, and the ± that is left."""

    label: str
    before: Stops
    value: Stops
    uncertainty: Stops


@dataclass(frozen=True)
class Findings:
    """What the frames of a take say: what went wrong, and what to do next."""

    diagnosis: Diagnosis
    advice: Advice

    @property
    def estimate(self) -> Estimate:
        """By the likeliest story."""
        return self.diagnosis.estimate


@dataclass(frozen=True)
class Shooting:
    """A set-up as it is taken. `take` is None until something was done; `document` is the set-up as it was
    when the first frame was taken, `now` as it is on the Bench."""

    now: OpenSetUp
    take: KeptTake | None
    document: Mapping[str, Any]
    plan: Plan
    way: Way
    shots: tuple[Shot, ...]

    @property
    def id(self) -> int:
        """The set-up's number."""
        return self.now.id

    @property
    def setup(self) -> SetUp:
        """The set-up as it was when the first frame was taken."""
        return self.plan.setup

    @property
    def _state(self) -> Mapping[str, Any]:
        return self.take.document if self.take else {}

    @property
    def ticked(self) -> frozenset[str]:
        """What was gone through before the first frame."""
        return frozenset(self._state.get("ticked", ()))

    @property
    def is_rehearsal(self) -> bool:
        """Whether a simulated spot answers."""
        return self._state.get("rehearsal") is not None

    @property
    def left_alone(self) -> tuple[tuple[str, int | None], ...]:
        """Controls that the photographer wants as they are."""
        return tuple((control, light) for control, light in self._state.get("left_alone", ()))

    @cached_property
    def checks(self) -> tuple[ToCheck, ...]:
        """What to go through before the first frame."""
        return preflight(self.setup, self.way)

    @property
    def ready(self) -> bool:
        """Whether all of it was."""
        return all(check.key in self.ticked for check in self.checks)

    @property
    def has_changed(self) -> bool:
        """Whether the set-up was changed since, other than by what its frames say."""
        return bool(self.shots) and _picture(self.now.document) != _picture(self.document)

    @property
    def frames(self) -> tuple[Frame, ...]:
        """Frames of which it is known how they were dialled."""
        return tuple(shot.frame for shot in self.shots if shot.frame)

    @property
    def last(self) -> Shot | None:
        """The last frame of which it is known how it was dialled; one that was only taken into the log says
        nothing of the next."""
        return next((shot for shot in reversed(self.shots) if shot.frame), None)

    @cached_property
    def findings(self) -> Findings | None:
        """What the frames say; None before the first one."""
        if not self.frames:
            return None
        return self.findings_up_to(len(self.shots))

    def findings_up_to(self, count: int) -> Findings:
        """What the first so many frames say."""
        texts = tuple(json.dumps(shot.kept.document) for shot in self.shots[:count])
        return _findings(json.dumps(self.document), self.way.key, texts, self.left_alone)

    @property
    def suspected(self) -> tuple[Suspected, ...]:
        """What probably went wrong with the last frame."""
        return self.findings.diagnosis.suspected if self.findings else ()

    @property
    def likely(self) -> Suspected | None:
        """What is to be looked at before anything is changed."""
        return self.findings.diagnosis.likely if self.findings else None

    @property
    def change(self) -> Change | None:
        """The one thing to change next."""
        return self.findings.advice.change if self.findings and not self.likely else None

    @property
    def flash_next(self) -> bool:
        """Whether the next frame is with the flash: the first one is for the daylight alone."""
        return bool(self.frames)

    @property
    def needs_flash(self) -> bool:
        """Whether the way fires any light."""
        return any(firing.down is not None for firing in self.way.lighting.firings)

    @property
    def done(self) -> bool:
        """Whether the picture is right, as far as can be known."""
        return self.findings is not None and not self.likely and self.findings.advice.done

    @property
    def disagrees(self) -> str:
        """What the photographer saw otherwise of the last frame, though the figures call it right; empty
        where they agree."""
        if not self.done:
            return ""
        against, last = self.against_of(self.frames[-1].flash), self.frames[-1]
        said = [
            (ZONE_WORDS[seen.zone], seen.level - against[seen.zone])
            for seen in last.seen
            if isinstance(seen, LevelSeen) and seen.by == "words" and seen.zone in ("subject", "background")
        ]
        off = [
            f"the {zone} {'over' if by > 0 else 'under'}" for zone, by in said if abs(by) > NEAR + TOLERANCE
        ]
        return " and ".join(off)

    @cached_property
    def dialled(self) -> Dialled:
        """What to dial for the next frame."""
        if not self.frames:
            return with_flash(self.way, Dialled(self.way.settings, {}, self.way.lighting.hss))
        if self.change:
            return self.change.dialled
        return with_flash(self.way, self.frames[-1].dialled)

    def power(self, index: int) -> str:
        """What a light is dialled to for the next frame; "off" where it is left out."""
        down = self.dialled.powers.get(index)
        light = self.setup.lights[index]
        return "off" if down is None else power_label(down, light.scale, light.full_mark)

    def powers(self, index: int) -> tuple[str, ...]:
        """Every power that a light can be dialled to, full first."""
        light = self.setup.lights[index]
        count = floor(log2(1 / light.power_min) / light.power_step + TOLERANCE) + 1
        downs = (step * light.power_step for step in range(count))
        return tuple(power_label(down, light.scale, light.full_mark) for down in downs)

    def power_choices(self, index: int) -> tuple[tuple[str, str], ...]:
        """The same as choices of a page, and that it is off; what it stands at is always among them."""
        labels = dict.fromkeys((*self.powers(index), self.power(index), "off"))
        return tuple((label, label) for label in labels)

    @property
    def dials(self) -> Mapping[str, tuple[tuple[str, str], ...]]:
        """Every position of the camera's dials and every stack of filters, as value and words."""
        camera = self.setup.camera
        times = camera.shutters.between(camera.slowest.stops, camera.fastest.stops)
        sensitivities = dials.iso_dial().between(camera.iso_low.stops, camera.iso_high.stops)
        return {
            "shutter": tuple((time.label, time.label) for time in times),
            "aperture": tuple((step.label, f"f/{step.label}") for step in self.setup.apertures),
            "iso": tuple((step.label, step.label) for step in sensitivities),
            "stack": (
                (BARE_LENS, "no filter"),
                *((stack.words, stack.words) for stack in self.setup.stacks),
            ),
        }

    @property
    def ticked_of_these(self) -> int:
        """How many of the checks were gone through."""
        return sum(check.key in self.ticked for check in self.checks)

    @property
    def lesson(self) -> str:
        """What this take taught, as it was kept."""
        return str(self._state.get("lesson", ""))

    @property
    def spread(self) -> Mapping[str, Stops]:
        """± of where zones land, by the marks on the scale of stops."""
        off = {zone: uncertainty for zone, (_, uncertainty) in self.landing.items()}
        marks = {"background": "background", "subject": "face, both", "sky": "sky", "rim": "rim"}
        return {marks[zone]: uncertainty for zone, uncertainty in off.items()}

    @property
    def against(self) -> Mapping[str, Stops]:
        """What each zone of the next frame is judged against by eye."""
        return self.against_of(self.flash_next)

    def against_of(self, flash: bool) -> Mapping[str, Stops]:
        """The same, of a frame with the flash or without it."""
        return expected(self.setup, self.dialled, not flash)

    @cached_property
    def _known(self) -> Estimate:
        """What is known of light and gear by now."""
        if self.findings:
            return self.findings.estimate
        blank = Frame(0.0, True, self.dialled)
        return Stories(self.setup, (blank,)).estimate((as_dialled(blank, self.setup),))

    @property
    def landing(self) -> Mapping[str, tuple[Stops, Stops]]:
        """Where every zone of the next frame lands, with its ±."""
        off = frozenset() if self.flash_next else frozenset(range(len(self.setup.lights)))
        lit = self._known.lit(Happened(self.dialled, off))
        return {zone: self._known.level(lit.zone(zone)) for zone in self._known.unknowns.zones}

    @property
    def landing_levels(self) -> Levels:
        """The same as levels, daylight and flash apart."""
        off = frozenset() if self.flash_next else frozenset(range(len(self.setup.lights)))
        known, lit = self._known, self._known.lit(Happened(self.dialled, off))
        zones = {zone: level for zone, (level, _) in self.landing.items()}
        flash, _ = known.level(lit.flash())
        return Levels(
            sky=zones.get("sky"),
            rim=zones.get("rim"),
            background_ambient=known.level(lit.daylight("background"))[0],
            background=zones["background"],
            spill=None,
            subject_ambient=known.level(lit.daylight("subject"))[0],
            flash=None if isinf(flash) else flash,
            subject=zones["subject"],
        )

    @property
    def known(self) -> tuple[KnownOffset, ...]:
        """What is known of daylight and gear: before, and by now."""
        return tuple(self._all_known())

    def _all_known(self) -> Iterator[KnownOffset]:
        known, setup = self._known, self.setup
        before = {unknown.key: unknown.uncertainty for unknown in known.unknowns.all}
        for zone in known.unknowns.zones:
            yield KnownOffset(f"daylight, {ZONE_WORDS[zone]}", before[zone], *known.daylight_offset(zone))
        for index, light in enumerate(setup.lights):
            if self.way.lighting.firings[index].down is not None:
                key = f"light {index}"
                yield KnownOffset(light.says, before[key], *known.offset(key))
        if self.way.lighting.hss:
            value, uncertainty = known.offset("toll")
            yield KnownOffset("toll of high-speed sync", before["toll"], value, uncertainty)
        if self.dialled.settings.stack.stops:
            value, uncertainty = known.offset("filters")
            yield KnownOffset("filters take", before["filters"], value, uncertainty)

    @property
    def possible(self) -> tuple[tuple[str, str], ...]:
        """Every fault that the last frame can have had, key and words."""
        if not self.frames:
            return ()
        return tuple((fault.key, fault.label) for fault in possible(self.setup, self.frames[-1]))


def open_shooting(store: Store, clock: Clock, setup_id: int, way: str = "") -> Shooting:
    """A set-up as it is taken now: the take that is under way, or a fresh one, in the `way` that is asked
    for, the recommended one else. Raises NotKept."""
    with store.reading():
        now = open_setup(store, setup_id)
        take = store.takes.latest(setup_id, clock() + MINUTE)  # a clock that was set back begins anew
        kept = store.frames.of_take(take.id) if take else ()
        if take and kept and _is_cold(kept[-1], clock()):
            take, kept = None, ()
        return _opened(now, take, kept, way)


def _is_cold(last: KeptFrame, now: datetime) -> bool:
    return abs(now - datetime.fromisoformat(last.document["taken"])) > COLD


def _opened(now: OpenSetUp, take: KeptTake | None, kept: tuple[KeptFrame, ...], way: str) -> Shooting:
    if take and kept:
        begun = plan_in(json.dumps(take.document["setup"]))
        key = take.document["way"]
        shots = tuple(_shots(begun.setup, kept))
        return Shooting(now, take, take.document["setup"], begun, begun.way(key), shots)
    # Until there is a frame, the set-up is what it is now.
    known = now.plan.by_key
    key = way if way in known else (take.document["way"] if take else "")
    return Shooting(now, take, now.document, now.plan, known.get(key, now.plan.shown), ())


def _shots(setup: SetUp, kept: Sequence[KeptFrame]) -> Iterator[Shot]:
    first: datetime | None = None
    for one in kept:
        entry = read_entry(one.document)
        taken = datetime.fromisoformat(entry.taken)
        first = first or taken
        frame = entry.frame(max(apart(first, taken) / MINUTE, 0.0))
        yield Shot(one, entry, core_frame(setup, frame) if frame else None)


@lru_cache(maxsize=64)
def _findings(
    setup: str, method: str, frames: tuple[str, ...], left_alone: tuple[tuple[str, int | None], ...]
) -> Findings:
    """What frames say, worked out once for the texts they are kept in."""
    worked_out = plan_in(setup)
    kept = [KeptFrame(0, 0, None, json.loads(text)) for text in frames]
    read = tuple(shot.frame for shot in _shots(worked_out.setup, kept) if shot.frame)
    found = diagnose(worked_out.setup, read)
    return Findings(found, advise(worked_out.setup, worked_out.way(method), found.plain, left_alone))


def _picture(document: Mapping[str, Any]) -> dict[str, Any]:
    """What of a set-up makes the picture, as it was before any frame."""
    before = normal(without_frames(document))
    for figure in ("name", "notes", "bag"):
        before.pop(figure, None)
    return before


def choose_way(store: Store, clock: Clock, setup_id: int, way: str) -> Shooting:
    """Take the picture another way. Raises Refused where there are frames already."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        if found.shots:
            raise Refused("way", "this take has frames. Begin again to take the picture another way")
        limits.check_choice("way", way, found.plan.by_key)
        _state(store, clock, replace(found, way=found.plan.way(way)), {})
        return open_shooting(store, clock, setup_id)


def begin_again(store: Store, clock: Clock, setup_id: int, *, rehearsal: bool = False) -> Shooting:
    """A fresh take of the set-up as it is now, kept beside those before it. Raises NotKept."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        way = found.way.key if not found.shots else found.now.plan.shown.key
        document = blank_take(found.now.document, way)
        if rehearsal:
            document["rehearsal"] = {"seed": randbelow(SEEDS)}
        store.takes.begin(setup_id, document, clock())
        return open_shooting(store, clock, setup_id)


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


def _state(store: Store, clock: Clock, found: Shooting, change: Mapping[str, Any]) -> KeptTake:
    """The take with something changed in it; begun where it is not yet."""
    if found.take is None:
        return store.takes.begin(
            found.id, blank_take(found.document, found.way.key) | dict(change), clock()
        )
    document = {**found.take.document, "setup": dict(found.document), "way": found.way.key, **change}
    store.takes.write(found.take.id, document)
    return replace(found.take, document=document)


def tick(store: Store, clock: Clock, setup_id: int, key: str, *, on: bool) -> Shooting:
    """Something was gone through, or was not. Raises NotKept, Refused."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        limits.check_choice("check", key, {check.key: check for check in found.checks})
        ticked = found.ticked | {key} if on else found.ticked - {key}
        _state(store, clock, found, {"ticked": sorted(ticked)})
        return open_shooting(store, clock, setup_id)


def leave_alone(store: Store, clock: Clock, setup_id: int, control: str, light: int | None) -> Shooting:
    """A control stays as it is, and is not proposed again in this take. Raises NotKept, Refused."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        limits.check_choice("control", control, COSTS)
        if light is not None and not 0 <= light < len(found.setup.lights):
            raise Refused("light", f"there is no light {light + 1}")
        _state(store, clock, found, {"left_alone": sorted({*found.left_alone, (control, light)}, key=str)})
        return open_shooting(store, clock, setup_id)


def keep_lesson(store: Store, clock: Clock, setup_id: int, text: str) -> Shooting:
    """What this take taught, in words; every frame of it is found by them. Raises NotKept, Refused."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        if len(text) > NOTE_LENGTH:
            raise Refused("lesson", f"{len(text):,} characters are more than {NOTE_LENGTH:,}")
        take = _state(store, clock, found, {"lesson": text.strip()})
        for kept in store.frames.of_take(take.id):
            put_frame(store, kept, read_entry({**kept.document, "lesson": text.strip()}), take)
        return open_shooting(store, clock, setup_id)


def add_frame(
    store: Store,
    clock: Clock,
    setup_id: int,
    seen: Mapping[str, Any],
    *,
    sha256: str | None = None,
    jpeg: bytes | None = None,
) -> Shooting:
    """A frame that was taken: its figures as an entry of the log has them. What it says of the set-up is
    learned at once. Raises NotKept, Refused, BadDocument."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        if len(found.shots) >= FRAMES_MOST:
            raise Refused("frames", f"{FRAMES_MOST} frames are the most of one take. Begin again")
        take = _state(store, clock, found, {})
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


def entry_of(store: Store, clock: Clock, found: Shooting, seen: Mapping[str, Any]) -> FrameEntry:
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


def _fired(found: Shooting, seen: Mapping[str, Any]) -> Iterator[int]:
    dialled = seen.get("dialled") or {}
    for index, light in enumerate(found.setup.lights):
        if seen.get("flash", True) and light.says in dialled.get("powers", {}):
            yield index


def _modifiers(found: Shooting, seen: Mapping[str, Any]) -> Iterator[str]:
    """What is before the lights that fired."""
    return (through for index in _fired(found, seen) if (through := _through(found, index)))


def _through(found: Shooting, index: int) -> str:
    """What is before a light, as the Bench calls it; empty where it is bare, or gone by now."""
    entry = found.now.entries.get(f"modifier-{index}")
    chosen = entry.text(found.now.document) if entry else ""
    return entry.options(found.now.document)[chosen] if entry and chosen not in ("", BARE) else ""


def _day_of(store: Store, clock: Clock, found: Shooting) -> str | None:
    """The shoot that the set-up is part of today."""
    today = [
        day.name
        for day in days_of(store, clock, found.id, found.now.setup)
        if day.slot.start.date() == clock().astimezone(day.slot.start.tzinfo).date()
    ]
    return today[0] if today else None


def learned_in(store: Store, take: KeptTake) -> tuple[tuple[Correction, ...], int, datetime]:
    """What the frames of a take say of its set-up, how many they are, and when the last one was taken."""
    begun = plan_in(json.dumps(take.document["setup"]))
    shots = tuple(_shots(begun.setup, store.frames.of_take(take.id)))
    frames = [shot.frame for shot in shots if shot.frame]
    if not frames:
        return (), 0, take.begun_at
    found = diagnose(begun.setup, frames)
    return corrections(found.estimate), len(frames), shots[-1].taken


def remove_frame(store: Store, clock: Clock, setup_id: int, frame_id: int) -> Shooting:
    """Take a frame out for good; what it said is forgotten. Raises NotKept."""
    with store.writing():
        shot = _shot(open_shooting(store, clock, setup_id), frame_id)
        store.frames.remove(shot.id)
        return _learn(store, clock, setup_id)


def settle_fault(
    store: Store, clock: Clock, setup_id: int, frame_id: int, fault: str, *, true: bool
) -> Shooting:
    """A fault was found to have happened to a frame, or not to have. Raises NotKept, Refused."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
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


def _shot(found: Shooting, frame_id: int) -> Shot:
    for shot in found.shots:
        if shot.id == frame_id:
            return shot
    raise NotKept("That frame is no longer there.")


def _learn(store: Store, clock: Clock, setup_id: int, judged: int | None = None) -> Shooting:
    """Say of a frame (the last one where none is named) what came of it, and correct the set-up by all of
    them."""
    found = open_shooting(store, clock, setup_id)
    if found.take and found.last:
        _judge(store, found, judged or found.last.id)
        _state(store, clock, found, {"learned": list(_learned(found)), "pops": _pops(found)})
    if not found.is_rehearsal:
        teach(store, clock, found)
    return open_shooting(store, clock, setup_id)


def _learned(found: Shooting) -> Iterator[dict[str, Any]]:
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


def _pops(found: Shooting) -> int | None:
    """With how many pops the picture was right; None while it is not."""
    if not found.done:
        return None
    return sum(frame.flash for frame in found.frames)


def _judge(store: Store, found: Shooting, frame_id: int) -> None:
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


def teach(store: Store, clock: Clock, found: Shooting) -> None:
    """Correct the set-up by what its frames say; where something probably went wrong, not before that is
    settled."""
    if found.likely or found.take is None:
        return
    began, count = found.take.document["setup"], len(found.frames)
    said = corrections(found.findings.estimate) if found.findings else ()
    at = found.last.taken if found.last else clock()
    label = f"corrected by {count} frame{'s' if count != 1 else ''}" if count else "frames taken out"
    change_setup(store, clock, found.id, label, lambda it: with_frames(it, began, said, count, at))


@dataclass(frozen=True)
class FoundDaylight:
    """What frames say of the daylight of a day that the set-up is part of: the shoot, when, and EV100 of
    its sunlit side, moved by as much as the background is off."""

    shoot_id: int
    name: str
    time: datetime
    ev: EV100
    shift: Stops


def day_readings(store: Store, clock: Clock, found: Shooting) -> tuple[FoundDaylight, ...]:
    """One for each shoot that is today."""
    return tuple(_day_readings(store, clock, found))


def _day_readings(store: Store, clock: Clock, found: Shooting) -> Iterator[FoundDaylight]:
    if not found.findings or not found.last or found.is_rehearsal or found.likely:
        return
    offset, _ = found.findings.estimate.daylight_offset("background")
    for placed in days_of(store, clock, found.id, found.setup):
        time = found.last.taken.astimezone(placed.slot.start.tzinfo)
        if placed.slot.start.date() != time.date():
            continue
        then = setup_at(placed.slot.placement, time)
        shift = found.setup.scene.background + offset - then.scene.background
        day = open_shoot(store, clock, placed.shoot_id)
        sunlit = float(getattr(day_light(day.place, time, day.readings), READ_ZONE))
        yield FoundDaylight(placed.shoot_id, placed.name, time, sunlit + shift, shift)


def keep_as_reading(store: Store, clock: Clock, setup_id: int, shoot_id: int) -> Shooting:
    """The daylight that frames found as a reading of a day; what comes after is foreseen from it. Raises
    NotKept."""
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        for one in day_readings(store, clock, found):
            if one.shoot_id == shoot_id:
                add_reading(store, clock, shoot_id, f"{one.time:%H:%M}", READ_ZONE, f"{one.ev:.2f}")
                return open_shooting(store, clock, setup_id)
        raise NotKept("That day is not today, or has the set-up no longer.")
