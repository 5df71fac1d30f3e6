"""Drills with a camera in hand: frames fired at a simulated spot, one after the other."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from random import Random

from noggin.core.errors import Refused
from noggin.core.planning.plan import plan, way_at
from noggin.core.pops.frame import SAID, Dialled
from noggin.core.pops.judging import begun
from noggin.core.pops.target import counted, meant_subject
from noggin.core.practice.assignments import CAMERA_DRILLS, Assignment, Fired, Frame
from noggin.core.practice.task import TaskPicture
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import listed, signed, stops
from noggin.devices.simulated_spot import SimulatedSpot
from noggin.documents.practice import AnswerDocument
from noggin.services.clock import Clock
from noggin.services.practice import practice
from noggin.store.store import Store

__all__ = ["CAMERA_DRILLS", "FrameShown", "Played", "TaskPicture", "assignment_of", "finished", "play"]

HIDDEN_SAID: Stops = 0.1
"""What is hidden is told from here on."""

BETWEEN_MIN = 0.5
"""Minutes from a frame to the next: fire, look, dial. No source."""


@dataclass(frozen=True)
class FrameShown:
    """A frame with what it shows: its picture, and what people say of background and face."""

    frame: Frame
    fired: Fired
    picture: TaskPicture

    @property
    def words(self) -> str:
        """How background and face look against what is meant."""
        said = f"background {_said(self.fired.background)}, face {_said(self.fired.face)}"
        return said if self.fired.as_asked else f"{said}; another aperture was asked for"


def _said(off: Stops) -> str:
    return min(SAID, key=lambda words: abs(SAID[words] - off))


@dataclass(frozen=True)
class Played:
    """An assignment with the frames that were fired, what was hidden of it, and whether somebody gave
    up."""

    assignment: Assignment
    shown: tuple[FrameShown, ...]
    truth: Mapping[str, Stops]
    given_up: bool = False

    @property
    def fired(self) -> tuple[Fired, ...]:
        """Every frame, without its picture."""
        return tuple(one.fired for one in self.shown)

    @property
    def over(self) -> bool:
        """Whether nothing is left to do."""
        return (self.given_up and bool(self.shown)) or self.assignment.over(self.fired)

    @property
    def passed(self) -> bool:
        """Whether it was done well."""
        return self.assignment.passed(self.fired)

    @property
    def off(self) -> Stops:
        """By how much the worse of background and face is off: at worst where the light goes, else at the
        end."""
        offs = [one.off for one in self.fired]
        return max(offs) if self.assignment.follows else offs[-1]

    @property
    def told(self) -> str | None:
        """The belief that the frames come from, where it was not done well."""
        return None if self.passed else self.assignment.told(self.assignment, self.fired)

    @property
    def hidden(self) -> str:
        """What nobody knew: by how much daylight and light are other than metered and stated. Empty where
        nothing was."""
        named = {
            "background": "the background",
            "subject": "the daylight on the face",
            "light 0": "the light",
        }
        found = [
            f"{words} {stops(abs(self.truth[key]))} {'brighter' if self.truth[key] > 0 else 'darker'}"
            for key, words in named.items()
            if abs(self.truth[key]) >= HIDDEN_SAID
        ]
        return "" if self.assignment.follows or not found else f"Hidden: {listed(found)} than stated."

    @property
    def dials_at(self) -> Frame:
        """Where the dials are now."""
        return self.shown[-1].frame if self.shown else self.assignment.places(self.assignment.start)

    @property
    def left(self) -> int:
        """Frames that may still be fired."""
        return self.assignment.frames_most - len(self.shown)

    @cached_property
    def solution(self) -> Dialled:
        """What makes the picture, for somebody who knows all that was hidden; where the light goes, what
        keeps it at the last moment."""
        if self.assignment.follows:
            return self.assignment.followed(max(len(self.shown), 1) - 1)
        known = _known(self.assignment.setup, self.truth)
        return self.assignment.dialled(self.assignment.places(begun(known, plan(known).shown)))

    def fires(self, frame: Frame) -> "Played":
        """The same with one frame more. Raises Refused where it is over."""
        if self.over:
            raise Refused("frames", "this drill is over")
        return play(self.assignment, [*(one.frame for one in self.shown), frame])


def _known(setup: SetUp, truth: Mapping[str, Stops]) -> SetUp:
    """The set-up as it really is."""
    scene, key, filters = setup.scene, setup.key, truth.get("filters", 0.0)
    zones = {zone: getattr(scene, zone) + truth[zone] for zone in ZONES if getattr(scene, zone) is not None}
    toll = None if key.hss_toll is None else max(key.hss_toll + truth.get("toll", 0.0), 0.0)
    light = replace(key, gn_m=key.gn_m * 2 ** (truth.get("light 0", 0.0) / 2), hss_toll=toll)
    return replace(
        setup,
        scene=replace(scene, **zones),
        lights=(light,),
        filters=tuple(
            replace(one, least=one.least + filters, most=one.most + filters) for one in setup.filters
        ),
    )


def assignment_of(drill: str, seed: int) -> Assignment:
    """The assignment of a drill and a seed. Raises Refused."""
    if drill not in CAMERA_DRILLS:
        raise Refused("drill", f"'{drill}' is none of {', '.join(CAMERA_DRILLS)}")
    return CAMERA_DRILLS[drill].assignment(seed)


def play(assignment: Assignment, frames: Sequence[Frame], *, given_up: bool = False) -> Played:
    """Fire frames one after the other; the same frames give the same pictures. Raises Refused for a frame
    that cannot be dialled, and for more of them than there may be."""
    if len(frames) > assignment.frames_most:
        raise Refused("frames", f"there are {assignment.frames_most} frames, not more")
    chance = Random(assignment.seed)  # noqa: S311 - repeatable, not secret
    spot = SimulatedSpot(assignment.setup, chance)
    if assignment.follows:
        spot.truth = dict.fromkeys(spot.truth, 0.0)
    hidden, shown = dict(spot.truth), []
    for index, frame in enumerate(frames):
        sunk = assignment.sunk[min(index, len(assignment.sunk) - 1)]
        for zone in ZONES:
            if zone in hidden:
                spot.truth[zone] = hidden[zone] - sunk
        shown.append(_fire(assignment, spot, index, frame))
    return Played(assignment, tuple(shown), hidden, given_up)


def _fire(assignment: Assignment, spot: SimulatedSpot, index: int, frame: Frame) -> FrameShown:
    setup, dialled = assignment.setup, assignment.dialled(frame)
    spot.frame(0.0 if assignment.follows else index * BETWEEN_MIN, True, dialled, "raw")
    levels, daylight = dict(spot.levels(spot.actual)), spot.daylight(spot.actual)
    fired = Fired(
        dialled,
        counted(setup, levels["background"] - setup.intent.background_level),
        levels["subject"] - meant_subject(setup, daylight),
        assignment.as_asked(dialled),
    )
    words = f"Background {signed(levels['background'])}, face {signed(levels['subject'])}"
    way = way_at(setup, dialled.settings, dialled.powers, hss=dialled.hss)
    return FrameShown(frame, fired, TaskPicture(f"Frame {index + 1}", words, setup, way, levels, daylight))


def finished(store: Store, clock: Clock, played: Played) -> AnswerDocument | None:
    """Keep what came of it, once it is over; None before that."""
    if not played.over:
        return None
    task, told = played.assignment, played.told
    return practice.keep(
        store,
        AnswerDocument(
            drill=task.drill,
            belief=told or task.beliefs[0],
            seed=task.seed,
            at=practice.now_text(clock),
            right=played.passed,
            believed=told is not None,
            off=round(played.off, 2),
            frames=len(played.shown),
            against=list(task.beliefs),
        ),
    )
