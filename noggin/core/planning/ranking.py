"""Which way comes first: those that make the picture as it is meant, by their drawbacks, the wanted
aperture, the verdict and what the photographer prefers; those that are one move away; those that work but
give up much; then those that are short, the nearest first."""

from collections.abc import Callable, Mapping, Sequence
from math import floor

from noggin.core.planning.selection import RESERVE_ENOUGH
from noggin.core.planning.verdicts import HOLDS, MISS_STEP, NOT_NEEDED, PASSED_BY
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

COUNTED: Stops = 1 / 3
"""Ways are compared in steps of this: less does not show."""

GIVEN_UP: Stops = 1.0
"""What a way may give up of aperture or sharpness before one that keeps both but wants a light moved comes
first. Common practice, no source."""

USEFUL_RESERVE: Stops = 1.0
"""Reserve beyond which more is of no use where it is known that well. Common practice, no source."""

Rank = Callable[[Way, SetUp], tuple[float, ...]]
"""What a way is ranked by, smaller first."""


def in_order(ways: Sequence[Way], setup: SetUp) -> tuple[Way, ...]:
    """The ways that work first, those before them that are one move away where they give up more than a
    stop; then those that are short, then those that are not needed."""
    works = [way for way in ways if way.feasible]
    mend = [way for way in ways if way.mend]
    short = [way for way in ways if not way.advisable and way.verdict != NOT_NEEDED]
    rest = [way for way in ways if way.verdict == NOT_NEEDED]
    works.sort(key=lambda way: [rank(way, setup) for rank in RULES.values()])
    mend.sort(key=lambda way: round(way.mend.shortage if way.mend else 0.0, 9))
    short.sort(key=_by_miss)
    as_meant = [way for way in works if not gives_up_much(way, setup)]
    return (*as_meant, *mend, *works[len(as_meant) :], *short, *rest)


def gives_up_much(way: Way, setup: SetUp) -> bool:
    """Whether a way takes more than a stop of aperture from what is wanted, or smears the subject by more
    than a stop."""
    off = abs(way.settings.aperture.stops - setup.wanted_aperture.stops)
    smears = sum(drawback.stops for drawback in way.drawbacks if drawback.kind == "movement")
    aperture = 0.0 if setup.intent.aperture_free else off
    return max(aperture, smears) > GIVEN_UP + PASSED_BY


def _by_miss(way: Way) -> tuple[bool, int]:
    """Those without the means last, in the order of the methods."""
    lacking = any(miss.means for miss in way.misses)
    return lacking, 0 if lacking else steps(way.miss, MISS_STEP)


def deciding_rule(first: Way, second: Way, setup: SetUp) -> str:
    """The rule (a key of RULES) that puts one way before another; empty where none does and the list's own
    order decides."""
    return next((key for key, rank in RULES.items() if rank(first, setup) != rank(second, setup)), "")


def steps(stops: Stops, step: Stops = COUNTED) -> int:
    """Stops counted in steps, rounded.

    >>> steps(0.5), steps(0.49), steps(0.07, 0.05)
    (2, 1, 1)
    """
    return floor(stops / step + 0.5 + TOLERANCE)


def _by_given_up(way: Way, setup: SetUp) -> tuple[float, ...]:
    return (gives_up_much(way, setup),)


def _by_drawbacks(way: Way, _: SetUp) -> tuple[float, ...]:
    return (steps(sum(drawback.stops for drawback in way.drawbacks)),)


def _by_aperture(way: Way, setup: SetUp) -> tuple[float, ...]:
    """Up to a third of a stop counts as there; any does where the aperture is free."""
    off = _aperture_steps(way, setup)
    return (0 if setup.intent.aperture_free or off <= 1 else off,)


def _by_verdict(way: Way, _: SetUp) -> tuple[float, ...]:
    return (way.verdict != HOLDS,)


def _by_preference(way: Way, setup: SetUp) -> tuple[float, ...]:
    return PREFERRED[setup.intent.prefer](way, setup)


RULES: Mapping[str, Rank] = {
    "given_up": _by_given_up,
    "drawbacks": _by_drawbacks,
    "aperture": _by_aperture,
    "verdict": _by_verdict,
    "preference": _by_preference,
}
"""Every rule that ranks ways that work, the first that tells two apart decides."""


def useful_reserve(way: Way) -> Stops:
    """Reserve as far as it is of use: no more than a stop, or its own ± where that is more. A way without
    need of flash has enough."""
    reserve = RESERVE_ENOUGH if way.reserve is None else way.reserve
    return min(reserve, max(USEFUL_RESERVE, way.uncertainty or 0.0))


def _by_reach(way: Way, setup: SetUp) -> tuple[float, ...]:
    return (-steps(useful_reserve(way)), *_by_filters(way, setup))


def _by_speed(way: Way, _: SetUp) -> tuple[float, ...]:
    return (way.kind.speed_rank,)


def _by_filters(way: Way, setup: SetUp) -> tuple[float, ...]:
    reserve = RESERVE_ENOUGH if way.reserve is None else way.reserve
    return len(way.settings.stack.names), _aperture_steps(way, setup), -steps(reserve)


PREFERRED: Mapping[str, Rank] = {"reach": _by_reach, "speed": _by_speed, "glass": _by_filters}
"""What each preference ranks by."""


def _aperture_steps(way: Way, setup: SetUp) -> int:
    return steps(abs(way.settings.aperture.stops - setup.wanted_aperture.stops))
