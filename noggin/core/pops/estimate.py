"""What is known after some frames: offsets of light and gear, with their ±, from everything that was seen.

Maximum a posteriori by Newton's method: prior mean and deviation of every offset, each observation by its
own ±; the covariance from the curvature by Gauss-Newton. (Tarantola, Inverse Problem Theory, SIAM 2005,
chapter 3; Laplace's approximation for how well a whole story explains the frames: MacKay, Information
Theory, Inference, and Learning Algorithms, Cambridge 2003, chapter 27. From memory.)
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import hypot, log, sqrt
from operator import mul

from noggin.core.pops.actual import ActualFrame, LightSum, Lit, Unknowns, as_dialled
from noggin.core.pops.frame import (
    BandSeen,
    Frame,
)
from noggin.core.pops.linear import (
    Matrix,
    Row,
    Vector,
    across,
    cholesky,
    dot,
    inverse,
    log_determinant,
    solved,
    spread_along,
)
from noggin.core.pops.observed import Observed, observed_in
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

ROUNDS = 25
CONVERGED: Stops = 1e-6

BAND_MISSED = 0.1
"""How often a band is not noticed, or one is seen that is none. Common practice, no source."""

BAND_FALSE = 0.002


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
    """What some frames say, as it happened: offsets (maximum a posteriori), the factor of their precision
    (Cholesky; of how far daylight has wandered in the place of each drift), and the logarithm of how well
    this story explains what was seen. `strain` is how far, in standard deviations,
    what was seen in the last frame is from it, or what it says of any offset from what was believed."""

    unknowns: Unknowns
    frames: tuple[Frame, ...]
    actual: tuple[ActualFrame, ...]
    offsets: Vector
    factor: Matrix
    evidence: float
    strain: float

    @cached_property
    def covariance(self) -> Matrix:
        """Of all offsets with each other."""
        drifts = range(self.unknowns.lasting, self.unknowns.lasting + len(self.frames) - 1)
        return _covariance(inverse(self.factor), drifts)

    def offset(self, key: str) -> tuple[Stops, Stops]:
        """An offset and its ± (two standard deviations)."""
        index = self.unknowns.place[key]
        return self.offsets[index], 2 * sqrt(self.covariance[index][index])

    def daylight_offset(self, zone: str) -> tuple[Stops, Stops]:
        """By how much a zone's daylight is off at the last frame, and its ±."""
        drifts = (f"drift {index}" for index in range(1, len(self.frames)))
        row = {self.unknowns.place[key]: 1.0 for key in (zone, *drifts)}
        return dot(row, self.offsets), 2 * sqrt(spread_along(row, self.covariance))

    def settled(self, frames: int, before: "SettledFrames | None") -> SettledFrames:
        """What it says of the offsets that last, so many frames having been taken by then: daylight as it
        is at the last of them."""
        lasting, zones = self.unknowns.lasting, len(self.unknowns.zones)
        wanders = range(lasting, lasting + len(self.frames) - 1)
        now: list[Row] = [{index: 1.0} for index in range(lasting)]
        now[:zones] = [{index: 1.0, **dict.fromkeys(wanders, 1.0)} for index in range(zones)]
        spread = [*(before.deviations if before else self.unknowns.deviations[:lasting])]
        wandered = hypot(*(self.unknowns.deviations[index] for index in wanders))
        spread[:zones] = [hypot(one, wandered) for one in spread[:zones]]
        covariance = [[across(row, self.covariance, other) for other in now] for row in now]
        means = [dot(row, self.offsets) for row in now]
        return SettledFrames(frames, spread, means, inverse(cholesky(covariance)), self.evidence)

    def level(self, terms: LightSum) -> tuple[Stops, Stops]:
        """A level and its ±."""
        level, follows = terms.level(self.offsets)
        return level, 2 * sqrt(max(spread_along(follows, self.covariance), 0.0))

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
        """What is known if the last one happened so."""
        actual = (*self._before, last)
        unknowns = self._unknowns(actual)
        drifts = self._drifts(unknowns)
        observed = observed_in(Lit(unknowns, len(actual) - 1, last), self.frames[-1])
        seen_last = tuple(one.walked(drifts) for one in observed)
        seen = (*self._earlier, *seen_last)
        prior = Prior.of(unknowns, self.known)
        believed = prior.walked(drifts)
        # Where everything before the last one leads to is near where all of it does.
        start = [*self._begun, *believed.means[len(self._begun) :]]
        found = _likeliest(believed, seen, start)
        judged = list(zip(self.frames, actual, strict=True))[1 if self.known else 0 :]
        bands = sum(_band_evidence(frame, story) for frame, story in judged)
        factor, offsets = cholesky(found.curvature()), _each_drift(found.offsets, drifts)
        spreads = zip(offsets, unknowns.means, prior.spread, strict=True)
        pulls = [abs(one - mean) / spread for one, mean, spread in spreads]
        strain = max([*pulls, *(sqrt(2 * one.at(found.offsets).cost) for one in seen_last)])
        evidence = prior.evidence - found.worth - log_determinant(factor) / 2 + bands
        return Estimate(unknowns, self.frames, actual, offsets, factor, evidence, strain)

    @cached_property
    def _before(self) -> tuple[ActualFrame, ...]:
        if self.before is not None:
            return self.before
        return tuple(as_dialled(frame, self.setup) for frame in self.frames[:-1])

    @cached_property
    def _begun(self) -> Vector:
        """The likeliest offsets by all frames but the last, as how far daylight has wandered."""
        unknowns = self._unknowns(self._before)
        prior = Prior.of(unknowns, self.known).walked(self._drifts(unknowns))
        return _likeliest(prior, self._earlier, prior.means).offsets

    def _drifts(self, unknowns: Unknowns) -> range:
        return range(unknowns.lasting, unknowns.lasting + len(self.frames) - 1)

    def _unknowns(self, actual: tuple[ActualFrame, ...]) -> Unknowns:
        free = {index: one.free for index, one in enumerate(actual) if one.free}
        return Unknowns(self.setup, tuple(frame.minute for frame in self.frames), free, self.weak)

    @cached_property
    def _earlier(self) -> tuple[Observed, ...]:
        """What was seen in all frames but the last. It is the same in every story of that one: what it adds
        to the unknowns comes after all others."""
        unknowns = self._unknowns(self._before)
        drifts = self._drifts(unknowns)
        return tuple(
            one.walked(drifts)
            for index, story in enumerate(self._before)
            for one in observed_in(Lit(unknowns, index, story), self.frames[index])
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
        means, spread = [*unknowns.means], [*unknowns.deviations]
        size = len(means)
        precision = [[0.0] * size for _ in range(size)]
        for index, one in enumerate(spread):
            precision[index][index] = 1 / one**2
        evidence = -sum(map(log, spread))
        if known:
            lasting = len(known.means)
            evidence += sum(map(log, spread[:lasting])) + known.evidence
            evidence += log_determinant(cholesky(known.precision)) / 2
            means[:lasting], spread[:lasting] = known.means, known.deviations
            for index, row in enumerate(known.precision):
                precision[index][:lasting] = row
        return cls(means, precision, spread, evidence)

    def walked(self, drifts: range) -> "Prior":
        """The same of how far daylight has wandered by each frame, in the place of by how much from frame
        to frame: what one has more than the one before is the drift."""
        precision = [[*row] for row in self.precision]
        for index in drifts[:-1]:
            after = self.precision[index + 1][index + 1]
            precision[index][index] += after
            precision[index][index + 1] = precision[index + 1][index] = -after
        return replace(self, precision=precision)


def _each_drift(at: Vector, drifts: range) -> Vector:
    """Offsets with each drift, from those with how far daylight has wandered by each frame."""
    found = [*at]
    for index in drifts[1:]:
        found[index] -= at[index - 1]
    return found


def _covariance(walked: Matrix, drifts: range) -> Matrix:
    """Their covariance, likewise."""
    rows = [*walked]
    for index in drifts[1:]:
        rows[index] = [one - before for one, before in zip(walked[index], walked[index - 1], strict=True)]
    return [_each_drift(row, drifts) for row in rows]


class Believed:
    """How well offsets explain what was believed and seen."""

    def __init__(self, prior: "Prior", seen: Sequence[Observed], offsets: Vector) -> None:
        self.offsets = offsets
        self._prior = prior
        self._seen = [one.at(offsets) for one in seen]
        away = [one - mean for one, mean in zip(offsets, prior.means, strict=True)]
        self._pull = [sum(map(mul, row, away)) for row in prior.precision]
        costs = sum(one.cost for one in self._seen)
        self.worth = sum(map(mul, away, self._pull)) / 2 + costs
        """The negative logarithm of it all."""

    def gradient(self) -> Vector:
        """By each offset."""
        found = [*self._pull]
        for one in self._seen:
            for index, value in one.follows.items():
                found[index] += one.slope * value
        return found

    def curvature(self) -> Matrix:
        """By Gauss-Newton, its lower half."""
        found = [row[: index + 1] for index, row in enumerate(self._prior.precision)]
        for one in self._seen:
            one.add_curvature(found)
        return found

    def step(self) -> Vector:
        """Newton's step from here; that of Gauss-Newton where it would lead up."""
        curvature = self.curvature()
        bent = [[*row] for row in curvature]
        for one in self._seen:
            one.add_bends(bent)
        try:
            factor = cholesky(bent)
        except ValueError:
            factor = cholesky(curvature)
        return [-by for by in solved(factor, self.gradient())]


def _likeliest(prior: "Prior", seen: Sequence[Observed], start: Vector) -> Believed:
    """The offsets that explain it all best: steps from `start`, halved until they lead down. Every residual
    is bounded below, so that it ends."""
    here = Believed(prior, seen, start)
    for _ in range(ROUNDS):
        step = here.step()
        for halved in range(12):
            tried = [one + by / 2**halved for one, by in zip(here.offsets, step, strict=True)]
            there = Believed(prior, seen, tried)
            if there.worth <= here.worth + 1e-12:
                break
        moved = max(abs(now - one) for now, one in zip(there.offsets, here.offsets, strict=True))
        here = there
        if moved < CONVERGED:
            break
    return here


def _band_evidence(frame: Frame, story: ActualFrame) -> float:
    """The logarithm of how likely it is that a band was seen, or not, where there is one, or none."""
    seen = any(isinstance(one, BandSeen) for one in frame.seen)
    chance = 1 - BAND_MISSED if story.band else BAND_FALSE
    return log(chance if seen else 1 - chance)
