"""What is known after some frames: offsets of light and gear, with their ±, from everything that was seen.

Maximum a posteriori by Gauss-Newton: prior mean and deviation of every offset, each observation by its own
±; the covariance from the curvature. (Tarantola, Inverse Problem Theory, SIAM 2005, chapter 3; Laplace's
approximation for how well a whole story explains the frames: MacKay, Information Theory, Inference, and
Learning Algorithms, Cambridge 2003, chapter 27. From memory.)
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import erfc, pi, sqrt

import numpy as np
from numpy.typing import NDArray

from noggin.core.planning.verdicts import dark_weight
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


@dataclass(frozen=True)
class Observed:
    """One observation: `over` what, less `under` (of the subject's flash, its daylight), in stops, and how
    likely it makes each level that these can have."""

    over: LightSum
    weigh: "Weigh"
    under: LightSum | None = None


@dataclass(frozen=True)
class Sums:
    """Many levels at once, each a sum of lights: constants (m×K), how they follow each offset (m×K×n), as
    many lights each as the one of most; what is too many shines not."""

    constants: Matrix
    follows: Matrix

    @classmethod
    def of(cls, sums: Sequence[LightSum], unknowns: int) -> "Sums":
        """Sums over the first so many offsets; what else there is they do not follow."""
        most = max((len(one.constants) for one in sums), default=0) or 1
        constants = np.full((len(sums), most), -np.inf)
        follows = np.zeros((len(sums), most, unknowns))
        for place, one in enumerate(sums):
            count = len(one.constants)
            constants[place, :count] = one.constants
            follows[place, :count, : one.follows.shape[1]] = one.follows
        return cls(constants, follows)

    def levels(self, offsets: Vector) -> tuple[Vector, Matrix]:
        """Every level (m) at some offsets, and by how much it follows each of them (m×n); where nothing
        shines, or hardly anything, it is the darkest that is seen."""
        each = self.constants + self.follows @ offsets
        most = each.max(axis=1)
        dark = most < DARKEST - 8
        parts = np.exp2(each - np.where(dark, 0.0, most)[:, None])
        total = np.where(dark, 1.0, parts.sum(axis=1))
        level = np.where(dark, DARKEST, most + np.log2(total))
        dark |= level < DARKEST
        follows = np.einsum("mk,mkn->mn", parts, self.follows) / total[:, None]
        return np.where(dark, DARKEST, level), np.where(dark[:, None], 0.0, follows)


class Heap:
    """Observations together, as a function of the offsets."""

    def __init__(self, observed: Sequence[Observed], unknowns: int) -> None:
        self._weigh = Weigh.together([one.weigh for one in observed])
        self._over = Sums.of([one.over for one in observed], unknowns)
        self._less = [place for place, one in enumerate(observed) if one.under is not None]
        self._under = Sums.of([one.under for one in observed if one.under is not None], unknowns)

    def worth(self, offsets: Vector) -> tuple[Vector, Vector, Vector, Matrix]:
        """Of each: the negative logarithm of its likelihood, slope and curvature by the level, and how the
        level follows each offset."""
        level, follows = self._over.levels(offsets)
        if self._less:
            less, other = self._under.levels(offsets)
            level[self._less] -= less
            follows[self._less] -= other
        return *self._weigh.worth(level), follows


AS_READ, AT_LEAST, BETWEEN = range(3)


@dataclass(frozen=True)
class Weigh:
    """How likely observations make each level, many at once: each has a kind, two bounds and one standard
    deviation."""

    kind: NDArray[np.int_]
    low: Vector
    high: Vector
    deviation: Vector

    @classmethod
    def one(cls, kind: int, low: Stops, high: Stops, deviation: Stops) -> "Weigh":
        """A single one."""
        return cls(np.array([kind]), np.array([low]), np.array([high]), np.array([deviation]))

    @classmethod
    def together(cls, some: Sequence["Weigh"]) -> "Weigh":
        """Several as one."""
        if not some:
            return cls(np.zeros(0, np.int_), np.zeros(0), np.zeros(0), np.zeros(0))
        parts = ("kind", "low", "high", "deviation")
        return cls(*(np.concatenate([getattr(one, part) for one in some]) for part in parts))

    def worth(self, level: Vector) -> tuple[Vector, Vector, Vector]:
        """The negative logarithms of their likelihoods, slopes and curvatures by the level."""
        left = (level - self.low) / self.deviation
        cost, slope, bend = left**2 / 2, left / self.deviation, 1 / self.deviation**2
        free = (self.kind == AT_LEAST) & (level > self.low)
        cost[free] = slope[free] = bend[free] = 0.0
        words = self.kind == BETWEEN
        if words.any():
            low, high, deviation = self.low[words], self.high[words], self.deviation[words]
            cost[words], slope[words], bend[words] = _between(low, high, deviation, level[words])
        return cost, slope, bend


def gaussian(seen: Stops, deviation: Stops) -> Weigh:
    """A level as it was read, with one standard deviation."""
    return Weigh.one(AS_READ, seen, seen, deviation)


def at_least(bound: Stops, deviation: Stops) -> Weigh:
    """A level that is no less than a bound."""
    return Weigh.one(AT_LEAST, bound, bound, deviation)


def between(low: Stops, high: Stops, deviation: Stops) -> Weigh:
    """A level that, as it was seen, lay between two others: the part of a normal distribution between them.
    Words are this: "under" is whatever is nearer to it than to the words beside it. What fits best costs
    nothing."""
    return Weigh.one(BETWEEN, low, high, deviation)


def _between(low: Vector, high: Vector, deviation: Vector, level: Vector) -> tuple[Vector, Vector, Vector]:
    half = (high - low) / 2 / deviation
    below, above = (low - level) / deviation, (high - level) / deviation
    part = _part(below, above)
    bells = _bell(below), _bell(above)
    slope = (bells[0] - bells[1]) / part
    left = np.where(below > -FAR_OFF, below * bells[0], 0.0) - np.where(
        above < FAR_OFF, above * bells[1], 0.0
    )
    cost = np.maximum(np.log(_part(-half, half)) - np.log(part), 0.0)
    return cost, -slope / deviation, np.maximum(slope**2 - left / part, 0.0) / deviation**2


FAR_OFF = 30.0
"""So many deviations away nothing is left of a normal distribution."""


def _bell(at: Vector) -> Vector:
    near = np.clip(at, -FAR_OFF, FAR_OFF)
    return np.where(np.abs(at) < FAR_OFF, np.exp(-(near**2) / 2) / sqrt(2 * pi), 0.0)


def _part(below: Vector, above: Vector) -> Vector:
    """The part of a normal distribution between two points; in the tail by the complement, so that nothing
    is lost to rounding."""
    beyond = below > 0
    below, above = np.where(beyond, -above, below), np.where(beyond, -below, above)
    return np.maximum((_erfc(-above / sqrt(2)) - _erfc(-below / sqrt(2))) / 2, 1e-300)


def _erfc(at: Vector) -> Vector:
    return np.fromiter(map(erfc, at.tolist()), np.float64, len(at))


@dataclass(frozen=True)
class SettledFrames:
    """What some frames say together, so that they need not be judged one by one any more: how many they
    are, and of the offsets that last, as of the last of them, what each was before it was seen (one
    standard deviation), the mean, the precision (inverse of the covariance), and the evidence so far."""

    frames: int
    deviations: Vector
    means: Vector
    precision: Matrix
    evidence: float


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

    def settled(self, frames: int, before: "SettledFrames | None") -> SettledFrames:
        """What it says of the offsets that last, so many frames having been taken by then: daylight as it
        is at the last of them."""
        lasting, drifts = self.unknowns.lasting, len(self.frames) - 1
        wanders = slice(lasting, lasting + drifts)
        now = np.eye(lasting, len(self.offsets))
        now[: len(self.unknowns.zones), wanders] = 1.0
        spread = (before.deviations if before else self.unknowns.deviations[:lasting]).copy()
        wandered = float(np.linalg.norm(self.unknowns.deviations[wanders]))
        spread[: len(self.unknowns.zones)] = np.hypot(spread[: len(self.unknowns.zones)], wandered)
        precision: Matrix = np.linalg.inv(now @ self.covariance @ now.T).astype(np.float64)
        return SettledFrames(frames, spread, now @ self.offsets, precision, self.evidence)

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
    """Some frames of a set-up, of which the last is to be explained by what happened in it; `before` is
    what happened in each of the others (None: all as it was dialled), and `weak` takes the lights for
    weaker than their class. Where something is `known` by frames before, the first of these is the last of
    those, of which nothing is seen here."""

    setup: SetUp
    frames: tuple[Frame, ...]
    before: tuple[ActualFrame, ...] | None = None
    weak: bool = False
    known: SettledFrames | None = None

    @property
    def plain(self) -> ActualFrame:
        """The last one as it was dialled."""
        return as_dialled(self.frames[-1], self.setup)

    def estimate(self, last: ActualFrame) -> Estimate:
        """What is known if the last one happened so. Gauss-Newton with halved steps; every residual is
        bounded below, so that it ends."""
        actual = (*self._before, last)
        unknowns = self._unknowns(actual)
        seen_last = list(_observed(Lit(unknowns, len(actual) - 1, last), self.frames[-1]))
        observed = Heap([*self._earlier, *seen_last], len(unknowns.all))
        prior = Prior.of(unknowns, self.known)
        offsets = prior.means.copy()
        worth, gradient, curvature = _worth(prior, observed, offsets)
        for _ in range(ROUNDS):
            step = np.linalg.solve(curvature, -gradient)
            for halved in range(12):
                tried = offsets + step / 2**halved
                found = _worth(prior, observed, tried)
                if found[0] <= worth + 1e-12:
                    break
            moved = float(np.abs(tried - offsets).max())
            offsets, (worth, gradient, curvature) = tried, found
            if moved < CONVERGED:
                break
        judged = list(zip(self.frames, actual, strict=True))[1 if self.known else 0 :]
        bands = sum(_band_evidence(frame, story) for frame, story in judged)
        _, size = np.linalg.slogdet(curvature)
        pulls = np.abs(offsets - unknowns.means) / prior.spread
        costs = observed.worth(offsets)[0][len(self._earlier) :]
        strain = max([float(pulls.max()), *np.sqrt(2 * costs)])
        covariance: Matrix = np.linalg.inv(curvature).astype(np.float64)
        evidence = prior.evidence - worth - size / 2 + bands
        return Estimate(unknowns, self.frames, actual, offsets, covariance, evidence, strain)

    @cached_property
    def _before(self) -> tuple[ActualFrame, ...]:
        if self.before is not None:
            return self.before
        return tuple(as_dialled(frame, self.setup) for frame in self.frames[:-1])

    def _unknowns(self, actual: tuple[ActualFrame, ...]) -> Unknowns:
        free = {index: one.free for index, one in enumerate(actual) if one.free}
        return Unknowns(self.setup, tuple(frame.minute for frame in self.frames), free, self.weak)

    @cached_property
    def _earlier(self) -> tuple[Observed, ...]:
        """What was seen in all frames but the last. It is the same in every story of that one: what it adds
        to the unknowns comes after all others."""
        unknowns = self._unknowns(self._before)
        return tuple(
            one
            for index, story in enumerate(self._before)
            for one in _observed(Lit(unknowns, index, story), self.frames[index])
        )


@dataclass(frozen=True)
class Prior:
    """What is believed of every offset before these frames: mean, precision (n×n), how far each may well be
    from what it was taken for at first (one standard deviation), and the logarithm of what belongs to the
    evidence: of the normal distribution's height, and of frames before."""

    means: Vector
    precision: Matrix
    spread: Vector
    evidence: float

    @classmethod
    def of(cls, unknowns: Unknowns, known: SettledFrames | None) -> "Prior":
        """By class alone, or with what frames before say."""
        means, spread = unknowns.means.copy(), unknowns.deviations.copy()
        precision: Matrix = np.diag(1 / spread**2)
        evidence = -float(np.log(spread).sum())
        if known:
            lasting = len(known.means)
            evidence += float(np.log(spread[:lasting]).sum()) + known.evidence
            evidence += float(np.linalg.slogdet(known.precision)[1]) / 2
            means[:lasting], spread[:lasting] = known.means, known.deviations
            precision[:lasting, :lasting] = known.precision
        return cls(means, precision, spread, evidence)


def _worth(prior: Prior, observed: Heap, offsets: Vector) -> tuple[float, Vector, Matrix]:
    """The negative logarithm of everything seen and of the priors, its gradient, and its curvature."""
    away = offsets - prior.means
    pull = prior.precision @ away
    cost, slope, bend, follows = observed.worth(offsets)
    worth = float(away @ pull) / 2 + float(cost.sum())
    curvature: Matrix = prior.precision + follows.T @ (bend[:, None] * follows)
    return worth, pull + slope @ follows, curvature


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


def _level_seen(setup: SetUp, frame: Frame, seen: LevelSeen) -> Weigh:
    """What a level that was seen says; one in words, all that is nearer to this word than to another."""
    deviation = TRUST[seen.by].uncertainty / 2
    if seen.by != "words":
        return gaussian(seen.level, deviation)
    if frame.meant is not None:
        setup = frame.meant.of(setup)
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
    if seen.zone == "background" and nearest <= words.index(0.0) and not dark_weight(setup):
        low = -100.0  # black is black: nobody sees by how much
    return between(low, high, deviation)


WORD_OFF: Stops = 0.06
"""A level in words this near to one of SAID is that one: it may have been rounded as it was written."""


def _band_evidence(frame: Frame, story: ActualFrame) -> float:
    """The logarithm of how likely it is that a band was seen, or not, where there is one, or none."""
    seen = any(isinstance(one, BandSeen) for one in frame.seen)
    chance = 1 - BAND_MISSED if story.band else BAND_FALSE
    return float(np.log(chance if seen else 1 - chance))
