"""What was seen in frames, as how likely it makes each level that it is of."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import erfc, exp, log, pi, sqrt
from typing import NamedTuple

from noggin.core.planning.verdicts import dark_weight
from noggin.core.pops.actual import LightSum, Lit
from noggin.core.pops.frame import SAID, TRUST, ClippedSeen, Frame, LevelSeen, MeterSeen, ShareSeen
from noggin.core.pops.linear import Matrix, Row, Vector, add_square
from noggin.core.pops.target import expected
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

DARKEST: Stops = -12.0
"""Where nothing shines, a level is taken as this: darker is not seen."""


@dataclass(frozen=True)
class Observed:
    """One observation: `over` what, less `under` (of the subject's flash, its daylight), in stops, and how
    likely it makes each level that these can have."""

    over: LightSum
    weigh: "Weigh"
    under: LightSum | None = None

    def at(self, offsets: Vector) -> "ObservedThere":
        """What it says at some offsets."""
        level, mean, shares = seen_level(self.over, offsets)
        of_level = [(LN_2, mean, shares)]
        if self.under is not None:
            less, other, beside = seen_level(self.under, offsets)
            of_level.append((-LN_2, other, beside))
            level -= less
            mean = {index: mean.get(index, 0.0) - other.get(index, 0.0) for index in {**mean, **other}}
        return ObservedThere(*self.weigh.worth(level), mean, of_level)

    def walked(self, drifts: range) -> "Observed":
        """The same, following how far daylight has wandered by a frame in the place of each of the drifts
        up to it, which are all 1 or none: one figure for many."""

        def change(row: Row) -> Row:
            last = max((index for index in row if index in drifts), default=None)
            if last is None:
                return row
            return {index: value for index, value in row.items() if index not in drifts} | {last: 1.0}

        under = None if self.under is None else self.under.seen_from(change)
        return replace(self, over=self.over.seen_from(change), under=under)


LN_2 = log(2)

Shares = list[tuple[float, Row]]


class ObservedThere(NamedTuple):
    """What an observation says at some offsets: the negative logarithm of its likelihood, slope and
    curvature of that by the level, how the level follows each offset, and, of the one or two levels that it
    is of, with its sign times ln 2, how that follows and by which lights."""

    cost: float
    slope: float
    bend: float
    follows: Row
    levels: list[tuple[float, Row, Shares]]

    def add_curvature(self, matrix: Matrix) -> None:
        """Add its curvature by Gauss-Newton to the lower half of a matrix."""
        if self.bend:
            add_square(matrix, self.bend, self.follows)

    def add_bends(self, matrix: Matrix) -> None:
        """Add what its level itself bends by: of log2 Σ 2^(c + g·x) that is ln 2 · (Σ share·g·gᵀ -
        mean·meanᵀ)."""
        for sign, mean, shares in self.levels if self.slope else ():
            if len(shares) > 1:
                for share, follows in shares:
                    add_square(matrix, sign * self.slope * share, follows)
                add_square(matrix, -sign * self.slope, mean)


def seen_level(lights: LightSum, offsets: Vector) -> tuple[Stops, Row, Shares]:
    """A level as it is seen: where nothing shines, or hardly anything, it is the darkest that is."""
    level, mean, shares = lights.at(offsets)
    return (DARKEST, {}, []) if level < DARKEST else (level, mean, shares)


AS_READ, AT_LEAST, BETWEEN = range(3)


@dataclass(frozen=True)
class Weigh:
    """How likely an observation makes each level: its kind, two bounds and one standard deviation."""

    kind: int
    low: Stops
    high: Stops
    deviation: Stops

    def worth(self, level: Stops) -> tuple[float, float, float]:
        """The negative logarithm of its likelihood, slope and curvature by the level."""
        if self.kind == BETWEEN:
            return _between(self.low, self.high, self.deviation, level)
        if self.kind == AT_LEAST and level > self.low:
            return 0.0, 0.0, 0.0
        left = (level - self.low) / self.deviation
        return left**2 / 2, left / self.deviation, 1 / self.deviation**2


def gaussian(seen: Stops, deviation: Stops) -> Weigh:
    """A level as it was read, with one standard deviation."""
    return Weigh(AS_READ, seen, seen, deviation)


def at_least(bound: Stops, deviation: Stops) -> Weigh:
    """A level that is no less than a bound."""
    return Weigh(AT_LEAST, bound, bound, deviation)


def between(low: Stops, high: Stops, deviation: Stops) -> Weigh:
    """A level that, as it was seen, lay between two others: the part of a normal distribution between them.
    Words are this: "under" is whatever is nearer to it than to the words beside it. What fits best costs
    nothing."""
    return Weigh(BETWEEN, low, high, deviation)


def _between(low: Stops, high: Stops, deviation: Stops, level: Stops) -> tuple[float, float, float]:
    half = (high - low) / 2 / deviation
    below, above = (low - level) / deviation, (high - level) / deviation
    part = _part(below, above)
    bells = _bell(below), _bell(above)
    slope = (bells[0] - bells[1]) / part
    left = below * bells[0] - above * bells[1]
    cost = max(log(_part(-half, half)) - log(part), 0.0)
    return cost, -slope / deviation, max(slope**2 - left / part, 0.0) / deviation**2


FAR_OFF = 30.0
"""So many deviations away nothing is left of a normal distribution."""


def _bell(at: float) -> float:
    return exp(-(at**2) / 2) / sqrt(2 * pi) if abs(at) < FAR_OFF else 0.0


def _part(below: float, above: float) -> float:
    """The part of a normal distribution between two points; in the tail by the complement, so that nothing
    is lost to rounding."""
    if below > 0:
        below, above = -above, -below
    return max((erfc(-above / sqrt(2)) - erfc(-below / sqrt(2))) / 2, 1e-300)


def observed_in(lit: Lit, frame: Frame) -> Iterator[Observed]:
    """What was seen in a frame."""
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
