"""What is known after some frames: offsets of light and gear, with their ±, from everything that was seen.

Maximum a posteriori by Gauss-Newton: prior mean and deviation of every offset, each observation by its own
±; the covariance from the curvature. (Tarantola, Inverse Problem Theory, SIAM 2005, chapter 3; Laplace's
approximation for how well a whole story explains the frames: MacKay, Information Theory, Inference, and
Learning Algorithms, Cambridge 2003, chapter 27. From memory.)
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import erfc, exp, log, pi, sqrt

import numpy as np

from noggin.core.pops.actual import ActualFrame, LightSum, Lit, Matrix, Unknowns, Vector, as_dialled
from noggin.core.pops.frame import (
    SAID,
    TRUST,
    BandSeen,
    ClippedSeen,
    Frame,
    LevelSeen,
    MeterSeen,
    ShareSeen,
)
from noggin.core.pops.target import expected
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

ROUNDS = 25
CONVERGED: Stops = 1e-6
DARKEST: Stops = -12.0
"""Where nothing shines, a level is taken as this: darker is not seen."""

BAND_MISSED = 0.1
"""How often a band is not noticed, or one is seen that is none. Common practice, no source."""

BAND_FALSE = 0.002


Worth = tuple[float, float, float]
"""The negative logarithm of a likelihood, its slope and its curvature by the level."""


@dataclass(frozen=True)
class Observed:
    """One observation: `over` what, less `under` (of the subject's flash, its daylight), in stops, and how
    likely it makes each level that these can have."""

    over: LightSum
    weigh: Callable[[Stops], Worth]
    under: LightSum | None = None

    def worth(self, offsets: Vector) -> tuple[float, float, float, Vector]:
        """The negative logarithm of its likelihood, slope and curvature by the level, and how the level
        follows each offset."""
        level, follows = self.over.level(offsets)
        if level < DARKEST:
            level, follows = DARKEST, np.zeros_like(follows)
        if self.under is not None:
            less, other = self.under.level(offsets)
            level, follows = level - less, follows - other
        return *self.weigh(level), follows


def gaussian(seen: Stops, deviation: Stops) -> Callable[[Stops], Worth]:
    """A level as it was read, with one standard deviation."""

    def weigh(level: Stops) -> Worth:
        left = (level - seen) / deviation
        return left**2 / 2, left / deviation, 1 / deviation**2

    return weigh


def at_least(bound: Stops, deviation: Stops) -> Callable[[Stops], Worth]:
    """A level that is no less than a bound."""

    def weigh(level: Stops) -> Worth:
        if level > bound:
            return 0.0, 0.0, 0.0
        return gaussian(bound, deviation)(level)

    return weigh


def between(low: Stops, high: Stops, deviation: Stops) -> Callable[[Stops], Worth]:
    """A level that, as it was seen, lay between two others: the part of a normal distribution between them.
    Words are this: "under" is whatever is nearer to it than to the words beside it. What fits best costs
    nothing."""

    half = (high - low) / 2 / deviation
    most = log(_part(-half, half))

    def weigh(level: Stops) -> Worth:
        below, above = (low - level) / deviation, (high - level) / deviation
        part = _part(below, above)
        slope = (_bell(below) - _bell(above)) / part
        left = (below * _bell(below) if below > -FAR_OFF else 0.0) - (
            above * _bell(above) if above < FAR_OFF else 0.0
        )
        return (
            max(most - log(part), 0.0),
            -slope / deviation,
            max(slope**2 - left / part, 0.0) / deviation**2,
        )

    return weigh


FAR_OFF = 30.0
"""So many deviations away nothing is left of a normal distribution."""


def _bell(at: float) -> float:
    return exp(-(at**2) / 2) / sqrt(2 * pi) if abs(at) < FAR_OFF else 0.0


def _part(below: float, above: float) -> float:
    """The part of a normal distribution between two points; in the tail by the complement, so that nothing
    is lost to rounding."""
    if below > 0:
        below, above = -above, -below
    part = (erfc(-above / sqrt(2)) - erfc(-below / sqrt(2))) / 2
    return max(part, 1e-300)


@dataclass(frozen=True)
class Estimate:
    """What some frames say, as it happened: offsets (maximum a posteriori), their covariance, and the
    logarithm of how well this story explains what was seen. `strain` is how far, in standard deviations,
    what was seen in the last frame is from it, or what it says of any offset from what was believed."""

    unknowns: Unknowns
    frames: tuple[Frame, ...]
    actual: tuple[ActualFrame, ...]
    offsets: Vector
    covariance: Matrix
    evidence: float
    strain: float

    def offset(self, key: str) -> tuple[Stops, Stops]:
        """An offset and its ± (two standard deviations)."""
        index = self.unknowns.place[key]
        return float(self.offsets[index]), 2 * float(np.sqrt(self.covariance[index, index]))

    def daylight_offset(self, zone: str) -> tuple[Stops, Stops]:
        """By how much a zone's daylight is off at the last frame, and its ±."""
        row = np.zeros(len(self.offsets))
        row[self.unknowns.place[zone]] = 1.0
        for index in range(1, len(self.frames)):
            row[self.unknowns.place[f"drift {index}"]] = 1.0
        return float(row @ self.offsets), 2 * sqrt(float(row @ self.covariance @ row))

    def level(self, terms: LightSum) -> tuple[Stops, Stops]:
        """A level and its ±."""
        level, follows = terms.level(self.offsets)
        return level, 2 * sqrt(max(float(follows @ self.covariance @ follows), 0.0))

    def lit(self, actual: ActualFrame) -> Lit:
        """A frame that would be taken so at the time of the last one."""
        return Lit(self.unknowns, len(self.frames) - 1, actual)

    @cached_property
    def zones(self) -> Mapping[str, tuple[Stops, Stops]]:
        """Every zone with its ± in the last frame, as it was dialled."""
        lit = self.lit(as_dialled(self.frames[-1], self.unknowns.setup))
        return {zone: self.level(lit.zone(zone)) for zone in self.unknowns.zones}


@dataclass(frozen=True)
class Stories:
    """Some frames of a set-up, to be explained by what happened in each."""

    setup: SetUp
    frames: tuple[Frame, ...]

    def estimate(self, actual: Sequence[ActualFrame]) -> Estimate:
        """What is known if it happened so. Gauss-Newton with halved steps; every residual is bounded
        below, so that it ends."""
        free = {index: one.free for index, one in enumerate(actual) if one.free}
        unknowns = Unknowns(self.setup, tuple(frame.minute for frame in self.frames), free)
        by_frame = [
            list(_observed(Lit(unknowns, index, story), frame))
            for index, (frame, story) in enumerate(zip(self.frames, actual, strict=True))
        ]
        observed = [one for some in by_frame for one in some]
        offsets = unknowns.means.copy()
        worth, gradient, curvature = _worth(unknowns, observed, offsets)
        for _ in range(ROUNDS):
            step = np.linalg.solve(curvature, -gradient)
            for halved in range(12):
                tried = offsets + step / 2**halved
                found = _worth(unknowns, observed, tried)
                if found[0] <= worth + 1e-12:
                    break
            moved = float(np.abs(tried - offsets).max())
            offsets, (worth, gradient, curvature) = tried, found
            if moved < CONVERGED:
                break
        bands = sum(_band_evidence(frame, story) for frame, story in zip(self.frames, actual, strict=True))
        _, size = np.linalg.slogdet(curvature)
        pulls = np.abs(offsets - unknowns.means) / unknowns.deviations
        strain = max([float(pulls.max()), *(sqrt(2 * one.worth(offsets)[0]) for one in by_frame[-1])])
        covariance: Matrix = np.linalg.inv(curvature).astype(np.float64)
        evidence = -worth - size / 2 - float(np.log(unknowns.deviations).sum()) + bands
        return Estimate(unknowns, self.frames, tuple(actual), offsets, covariance, evidence, strain)

    @cached_property
    def plain(self) -> tuple[ActualFrame, ...]:
        """Everything as it was dialled."""
        return tuple(as_dialled(frame, self.setup) for frame in self.frames)


def _worth(unknowns: Unknowns, observed: list[Observed], offsets: Vector) -> tuple[float, Vector, Matrix]:
    """The negative logarithm of everything seen and of the priors, its gradient, and its curvature."""
    weights = 1 / unknowns.deviations**2
    away = offsets - unknowns.means
    worth, gradient, curvature = float(away @ (weights * away)) / 2, weights * away, np.diag(weights)
    for one in observed:
        cost, slope, bend, follows = one.worth(offsets)
        worth += cost
        gradient = gradient + slope * follows
        curvature = curvature + bend * np.outer(follows, follows)
    return worth, gradient, curvature


def _observed(lit: Lit, frame: Frame) -> Iterator[Observed]:
    settings, setup = lit.actual.dialled.settings, lit.unknowns.setup
    for one in frame.seen:
        if isinstance(one, LevelSeen) and one.zone in lit.unknowns.zones:
            yield Observed(lit.zone(one.zone), _level_seen(setup, frame, one))
        elif isinstance(one, ClippedSeen) and one.zone in lit.unknowns.zones:
            full = setup.camera.clipping_level(settings.iso)
            yield Observed(lit.zone(one.zone), at_least(full, TRUST["histogram"].uncertainty / 2))
        elif isinstance(one, MeterSeen):
            place = next(index for index, light in enumerate(setup.lights) if light.says == one.light)
            level = one.aperture - settings.aperture.stops
            yield Observed(lit.light(place), gaussian(level, TRUST["meter"].uncertainty / 2))
        elif isinstance(one, ShareSeen):
            under = lit.daylight("subject")
            yield Observed(lit.flash(), gaussian(one.odds, one.uncertainty / 2), under=under)


def _level_seen(setup: SetUp, frame: Frame, seen: LevelSeen) -> Callable[[Stops], Worth]:
    """What a level that was seen says; one in words, all that is nearer to this word than to another."""
    deviation = TRUST[seen.by].uncertainty / 2
    if seen.by != "words":
        return gaussian(seen.level, deviation)
    against = expected(setup, frame.dialled, not frame.flash).get(seen.zone, seen.level)
    words = sorted(SAID.values())
    nearest = min(range(len(words)), key=lambda index: abs(against + words[index] - seen.level))
    if abs(against + words[nearest] - seen.level) > WORD_OFF:
        return gaussian(seen.level, deviation)  # a figure that no word stands for
    low, high = (
        against + (words[nearest] + words[nearest + step]) / 2
        if 0 <= nearest + step < len(words)
        else step * 100.0
        for step in (-1, 1)
    )
    return between(low, high, deviation)


WORD_OFF: Stops = 0.06
"""A level in words this near to one of SAID is that one: it may have been rounded as it was written."""


def _band_evidence(frame: Frame, story: ActualFrame) -> float:
    """The logarithm of how likely it is that a band was seen, or not, where there is one, or none."""
    seen = any(isinstance(one, BandSeen) for one in frame.seen)
    chance = 1 - BAND_MISSED if story.band else BAND_FALSE
    return float(np.log(chance if seen else 1 - chance))
