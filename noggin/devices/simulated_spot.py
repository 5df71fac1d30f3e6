"""A simulated spot: daylight and gear that are off by what nobody knows, within their ±, and a camera that
shows what it would show. It stands in for photographs wherever none are at hand."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from random import Random

from noggin.core.physics import dials
from noggin.core.pops.actual import ActualFrame, Lit, Unknown, Unknowns, as_dialled
from noggin.core.pops.faults import BY_KEY
from noggin.core.pops.frame import SAID, TRUST, BandSeen, Dialled, Frame, LevelSeen, Seen
from noggin.core.pops.judging import NEAR
from noggin.core.pops.target import counted, expected, meant_subject
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

BAND_NOTICED = 0.9
"""How often a band is noticed. Common practice, no source."""

SHOWN_LEAST: Stops = -12.0
"""Darker than this is shown as this."""


@dataclass
class SimulatedSpot:
    """A set-up where it is taken, with what is hidden about it (within its ±), how its last frame really
    came about, and whether the photographer meant it to have flash; `chance` makes it repeatable."""

    setup: SetUp
    chance: Random
    truth: dict[str, Stops] = field(default_factory=dict)
    minutes: tuple[float, ...] = ()
    actual: ActualFrame = field(init=False)
    looks: Random = field(init=False)
    flash: bool = False

    def __post_init__(self) -> None:
        # How it is looked at changes nothing of what it is: looks have a chance of their own.
        self.looks = Random(self.chance.random())  # noqa: S311 - repeatable, not secret
        for unknown in Unknowns(self.setup, (0.0,)).all:
            self.truth[unknown.key] = self._hidden(unknown)

    def _hidden(self, unknown: Unknown) -> Stops:
        """By how much something is off: as its ± says, and never by more."""
        while True:
            off = self.chance.gauss(0, unknown.uncertainty / 2)
            if abs(off) <= unknown.uncertainty:
                return unknown.mean + off

    def frame(self, minute: float, flash: bool, dialled: Dialled, by: str, fault: str = "") -> Frame:
        """A frame, and what is seen of it by `by` (a key of TRUST); with something gone wrong where a
        fault is named. Raises LookupError where that cannot happen to it."""
        self.minutes, self.flash = (*self.minutes, minute), flash
        self._drift()
        blank = Frame(minute, flash, dialled)
        self.actual = self._story(blank, fault) if fault else as_dialled(blank, self.setup)
        return replace(blank, seen=self._seen(self.actual, by))

    @property
    def iso_shown(self) -> dials.DialStep:
        """The ISO that the camera shows for the last frame: as dialled, unless it was on automatic."""
        iso = self.actual.dialled.settings.iso
        if self.actual.free and self.actual.free[0] == "all":
            return dials.iso_dial().nearest(iso.stops + self.truth[self.actual.free[1].key])
        return iso

    def right(self, dialled: Dialled) -> bool:
        """Whether face and background really are within a third of a stop of what is meant."""
        lit, offsets = self._lit(ActualFrame(dialled))
        background = lit.zone("background").level(offsets)[0] - self.setup.intent.background_level
        background = counted(self.setup, background)
        ambient, _ = lit.daylight("subject").level(offsets)
        subject = lit.zone("subject").level(offsets)[0] - meant_subject(self.setup, ambient)
        return max(abs(background), abs(subject)) <= NEAR + TOLERANCE

    def levels(self, actual: ActualFrame) -> Mapping[str, Stops]:
        """Every zone as it really is."""
        lit, offsets = self._lit(actual)
        return {zone: lit.zone(zone).level(offsets)[0] for zone in lit.unknowns.zones}

    def daylight(self, actual: ActualFrame) -> Stops:
        """What the subject really has of daylight."""
        lit, offsets = self._lit(actual)
        level: Stops = lit.daylight("subject").level(offsets)[0]
        return level

    def _drift(self) -> None:
        for unknown in Unknowns(self.setup, self.minutes).all:
            if unknown.key not in self.truth:
                self.truth[unknown.key] = self.chance.gauss(0, unknown.uncertainty / 2)

    def _lit(self, actual: ActualFrame) -> tuple[Lit, list[Stops]]:
        index = len(self.minutes) - 1
        free = {index: actual.free} if actual.free else {}
        unknowns = Unknowns(self.setup, self.minutes, free)
        offsets = [self.truth.get(unknown.key, 0.0) for unknown in unknowns.all]
        return Lit(unknowns, index, actual), offsets

    def _story(self, frame: Frame, fault: str) -> ActualFrame:
        stories = list(BY_KEY[fault].stories(self.setup, frame))
        if not stories:
            raise LookupError(f"{fault} cannot happen to this frame")
        actual = self.looks.choice(stories)
        if actual.free:
            # Where nobody knows by how much: a stop or more, as it is noticed.
            up = fault == "auto_iso" or self.looks.random() < 0.5
            self.truth[actual.free[1].key] = (1 if up else -1) * self.looks.uniform(1, 2.5)
        return actual

    def _seen(self, actual: ActualFrame, by: str) -> tuple[Seen, ...]:
        found: list[Seen] = []
        for zone, level in self.levels(actual).items():
            shown = max(level, SHOWN_LEAST) + self.looks.gauss(0, TRUST[by].uncertainty / 2)
            found.append(LevelSeen(zone, self._said(zone, shown, actual) if by == "words" else shown, by))
        if actual.band and self.looks.random() < BAND_NOTICED:
            found.append(BandSeen())
        return tuple(found)

    def _said(self, zone: str, level: Stops, actual: ActualFrame) -> Stops:
        """A level as people say it: by how much it is off what is meant, in words."""
        meant = expected(self.setup, actual.dialled, not self.flash).get(zone, 0.0)
        return meant + min(SAID.values(), key=lambda said: abs(said - (level - meant)))
