"""A take as it is opened: one picture with its frames, what they say, and what to dial next."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache
from math import floor, isinf, log2
from typing import Any

from noggin.core.advice.preflight import ToCheck, preflight
from noggin.core.clock import MINUTE
from noggin.core.physics import dials
from noggin.core.physics.power import power_label
from noggin.core.planning.lighting import Levels
from noggin.core.planning.way import Plan, Way
from noggin.core.pops.actual import Lit, as_dialled
from noggin.core.pops.estimate import Estimate, Stories
from noggin.core.pops.faults import Diagnosis, Suspected, Told, diagnose_last, possible
from noggin.core.pops.frame import Dialled, Frame, LevelSeen, Meant
from noggin.core.pops.judging import NEAR, begun, with_flash
from noggin.core.pops.next_change import Advice, advise
from noggin.core.pops.prospects import COMPENSATION_MOST
from noggin.core.pops.prospects import Change as Change
from noggin.core.pops.target import expected
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import signed
from noggin.documents.setup import canonical, setup_of_text
from noggin.forms.change import without_frames
from noggin.services.clock import Clock
from noggin.services.day.offline_day import BARE
from noggin.services.frames.entry import PictureOfFrame
from noggin.services.frames.looks import TakeLooks
from noggin.services.frames.shots import SaidFrame, Shot, shots_of
from noggin.services.keeping.results import plan_of_text
from noggin.services.setups.setups import OpenSetUp, open_setup
from noggin.store.frames import KeptFrame, KeptTake
from noggin.store.store import Store

BARE_LENS = "none"
"""The choice of no filter."""

COLD = timedelta(hours=4)
"""A take whose last frame is older is over: the light is another one. From memory."""

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
class OpenTake:
    """A set-up as it is taken. `kept` is None until something was done; `document` is the set-up as it was
    when the first frame was taken, `now` as it is on the Bench."""

    now: OpenSetUp
    kept: KeptTake | None
    document: Mapping[str, Any]
    plan: Plan
    way: Way
    shots: tuple[Shot, ...]
    looks: TakeLooks

    @property
    def id(self) -> int:
        """The set-up's number."""
        return self.now.id

    @property
    def setup(self) -> SetUp:
        """The set-up as it was when the first frame was taken."""
        return self.plan.setup

    @cached_property
    def meant(self) -> Meant:
        """What the next frame is meant to be, in the look that is taken now."""
        return self.looks.after(self.shots)[self.looks.now]

    @cached_property
    def setup_meant(self) -> SetUp:
        """The set-up with that for what is meant."""
        return self.meant.of(self.setup)

    @property
    def _state(self) -> Mapping[str, Any]:
        return self.kept.document if self.kept else {}

    @property
    def ticked(self) -> frozenset[str]:
        """What was gone through before the first frame."""
        return frozenset(self._state.get("ticked", ()))

    @property
    def is_rehearsal(self) -> bool:
        """Whether a simulated spot answers."""
        return self._state.get("rehearsal") is not None

    @property
    def rehearsal(self) -> dict[str, Any]:
        """What is kept of a rehearsal: its seed, and what its last frame was fired with."""
        return dict(self._state.get("rehearsal") or {})

    @property
    def left_alone(self) -> tuple[tuple[str, int | None], ...]:
        """Controls that the photographer wants as they are."""
        return tuple((control, light) for control, light in self._state.get("left_alone", ()))

    @property
    def once(self) -> tuple[str, ...]:
        """By what the last frames that came are known again, where they come once more."""
        return tuple(self._state.get("once", ()))

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
        frames = tuple(shot.said for shot in self.shots[:count] if shot.said)
        meant = self.meant if count == len(self.shots) else frames[-1].frame.meant or self.meant
        return _findings(json.dumps(self.document), self.way.key, frames, self.left_alone, meant)

    @property
    def other_faults(self) -> tuple[Suspected, ...]:
        """What else may have gone wrong with it, where there is reason to think of it."""
        return self.findings.diagnosis.others if self.findings else ()

    @property
    def likely(self) -> Suspected | None:
        """What is to be looked at before anything is changed."""
        return self.findings.diagnosis.likely if self.findings else None

    @property
    def change(self) -> Change | None:
        """The one thing to change next; where it is close enough, only for who wants to go on."""
        if self.findings is None or self.likely or self.ended or (self.near and not self._goes_on):
            return None
        return self.findings.advice.change

    @property
    def near(self) -> bool:
        """Whether the picture is close enough to shoot, though not known to be right."""
        return self.findings is not None and not self.likely and self.findings.advice.near

    @property
    def better(self) -> Change | None:
        """What would bring a picture nearer that is close enough."""
        if self.findings is None or not self.near or self._goes_on or self.ended:
            return None
        return self.findings.advice.change

    @property
    def _goes_on(self) -> bool:
        """Whether the photographer goes on from the last frame though it is close enough."""
        return bool(self._state.get("goes_on") == len(self.shots))

    @property
    def ended(self) -> bool:
        """Whether the photographer calls the look that is taken done."""
        return self.looks.now in self.looks.ended

    @property
    def flash_next(self) -> bool:
        """Whether the next frame is with the flash: the first one is for the daylight alone."""
        return bool(self.frames)

    @property
    def needs_flash(self) -> bool:
        """Whether the way fires any light."""
        return self.picture.needs_flash

    @cached_property
    def picture(self) -> PictureOfFrame:
        """The picture that its frames are of."""
        return PictureOfFrame(
            self.now.setup.name,
            self.setup_meant,
            self.way,
            look=self.looks.now,
            modifiers=dict(self._modifiers()),
            lesson=self.lesson,
            is_simulated=self.is_rehearsal,
        )

    def _modifiers(self) -> Iterator[tuple[int, str]]:
        """What is before each light, as the Bench calls it; one that is gone by now has nothing."""
        for index in range(len(self.setup.lights)):
            entry = self.now.entries.get(f"modifier-{index}")
            chosen = entry.text(self.now.document) if entry else ""
            if entry and chosen not in ("", BARE):
                yield index, entry.options(self.now.document)[chosen]

    @property
    def done(self) -> bool:
        """Whether the picture is right, as far as can be known."""
        return self.ended or (self.findings is not None and not self.likely and self.findings.advice.done)

    @property
    def disagrees(self) -> str:
        """What the photographer saw otherwise of the last frame, though the figures call it right; empty
        where they agree."""
        if not self.done or self.ended:
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
            return begun(self.setup, self.way)
        if self.change:
            return self.change.dialled
        if self.findings and self.findings.advice.anew and self.findings.advice.change:
            # Whatever is still to be looked at, a frame of another way is no frame of this one.
            return self.findings.advice.change.dialled
        return with_flash(self.setup, self.way, self.frames[-1].dialled)

    def power(self, index: int) -> str:
        """What a light is dialled to for the next frame; "off" where it is left out, and on automatic flash
        the compensation of all."""
        if self.dialled.compensation is not None:
            return f"auto {signed(self.dialled.compensation)}"
        down = self.dialled.powers.get(index)
        light = self.setup.lights[index]
        return "off" if down is None else power_label(down, light.scale, light.full_mark)

    def power_choices(self, index: int) -> tuple[tuple[str, str], ...]:
        """Every power that a light can be dialled to, full first, and that it is off, as choices of a page;
        what it stands at is always among them."""
        light = self.setup.lights[index]
        count = floor(log2(1 / light.power_min) / light.power_step + TOLERANCE) + 1
        steps = (power_label(one * light.power_step, light.scale, light.full_mark) for one in range(count))
        return tuple((label, label) for label in dict.fromkeys((*steps, self.power(index), "off")))

    @property
    def compensations(self) -> tuple[tuple[str, str], ...]:
        """Every compensation of automatic flash, in thirds, as choices of a page; none where it is by
        hand."""
        if self.dialled.compensation is None:
            return ()
        most = round(COMPENSATION_MOST * 3)
        thirds = (step / 3 for step in range(-most, most + 1))
        return tuple((f"{one:.4f}", signed(one)) for one in thirds)

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
        return expected(self.setup_meant, self.dialled, not flash)

    @cached_property
    def _known(self) -> Estimate:
        """What is known of light and gear by now."""
        if self.findings:
            return self.findings.estimate
        blank = Frame(0.0, True, self.dialled)
        blank_only = Stories(self.setup, (blank,))
        return blank_only.estimate(blank_only.plain)

    @property
    def _next_lit(self) -> Lit:
        return self._known.lit(as_dialled(Frame(0.0, self.flash_next, self.dialled), self.setup))

    @property
    def landing(self) -> Mapping[str, tuple[Stops, Stops]]:
        """Where every zone of the next frame lands, with its ±."""
        known, lit = self._known, self._next_lit
        return {zone: known.level(lit.zone(zone)) for zone in known.unknowns.zones}

    @property
    def landing_levels(self) -> Levels:
        """The same as levels, daylight and flash apart."""
        known, lit = self._known, self._next_lit
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


def open_take(store: Store, clock: Clock, setup_id: int, way: str = "") -> OpenTake:
    """A set-up as it is taken now: the take that is under way, or a fresh one, in the `way` that is asked
    for, the recommended one else. Raises NotKept."""
    with store.read_transaction():
        now = open_setup(store, setup_id)
        kept = store.takes.latest(setup_id, clock() + MINUTE)  # a clock that was set back begins anew
        frames = store.frames.of_take(kept.id) if kept else ()
        if frames and _is_cold(frames[-1], clock()):
            kept, frames = None, ()
        return _opened(now, kept, frames, way)


def _is_cold(last: KeptFrame, now: datetime) -> bool:
    return abs(now - datetime.fromisoformat(last.document["taken"])) > COLD


def _opened(now: OpenSetUp, kept: KeptTake | None, frames: tuple[KeptFrame, ...], way: str) -> OpenTake:
    if kept and frames:
        begun = plan_of_text(json.dumps(kept.document["setup"]))
        looks = TakeLooks.of(begun.setup, kept.document)
        shots = tuple(shots_of(looks, frames))
        taken = begun.way(kept.document["way"])
        return OpenTake(now, kept, kept.document["setup"], begun, taken, shots, looks)
    # Until there is a frame, the set-up is what it is now.
    known = now.plan.by_key
    key = way if way in known else (kept.document["way"] if kept else "")
    looks = TakeLooks.of(now.setup, kept.document if kept else {})
    return OpenTake(now, kept, now.document, now.plan, known.get(key, now.plan.shown), (), looks)


def _frames(said: tuple[SaidFrame, ...]) -> tuple[Frame, ...]:
    return tuple(each.frame for each in said)


@lru_cache(maxsize=64)
def _findings(
    setup: str,
    way: str,
    frames: tuple[SaidFrame, ...],
    left_alone: tuple[tuple[str, int | None], ...],
    meant: Meant,
) -> Findings:
    """What frames say, worked out once; what came of a frame, as the log keeps it, changes nothing."""
    planned, diagnosis = plan_of_text(setup), _diagnosed(setup, frames)[0]
    return Findings(diagnosis, advise(planned.setup, planned.way(way), diagnosis.plain, left_alone, meant))


@lru_cache(maxsize=128)
def _diagnosed(setup: str, frames: tuple[SaidFrame, ...]) -> tuple[Diagnosis, Told]:
    """What the last of some frames says, after what those before it said, and what they said with it."""
    before = _diagnosed(setup, frames[:-1])[1] if frames[1:] else Told()
    found = diagnose_last(setup_of_text(setup), _frames(frames), before)
    return found, before.after(setup_of_text(setup), _frames(frames), found.story)


def _picture(document: Mapping[str, Any]) -> dict[str, object]:
    """What of a set-up makes the picture, as it was before any frame. Where a plan puts lights follows from
    their distances, which frames may have corrected."""
    before = without_frames(document)
    stands: dict[str, Any] = dict(before["scene"].get("plan") or {})
    before["scene"]["plan"] = None
    picture = {
        name: part for name, part in canonical(before).items() if name not in ("name", "notes", "bag")
    }
    return {**picture, "stands": {name: part for name, part in stands.items() if name != "lights"}}
