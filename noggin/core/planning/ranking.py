"""Which way comes first: those that work, those with fewer drawbacks, then what the photographer
prefers."""

from collections.abc import Callable, Sequence

from noggin.core.planning.lighting import Settings
from noggin.core.planning.selection import RESERVE_ENOUGH
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

EQUAL_RESERVE: Stops = 1 / 3
"""Reserves closer than this count as equal when ways are put in order."""


def in_order(ways: Sequence[Way], setup: SetUp) -> tuple[Way, ...]:
    """The ways that work first, then the others, each group in the order of the set-up's preference; of
    those that work, fewer drawbacks come before more."""
    order = _ORDERS[setup.intent.prefer]
    feasible = [way for way in ways if way.feasible]
    others = [way for way in ways if not way.feasible]
    ranked = sorted(order(feasible, setup), key=lambda way: len(way.drawbacks))
    return (*ranked, *order(others, setup))


def _by_reach(ways: Sequence[Way], setup: SetUp) -> list[Way]:
    """Greatest reserve first; among those within a third of a stop of it the aperture nearest the
    wanted one, then the fewest filters."""
    left, order = list(ways), []
    while left:
        most = max(_reserve(way) for way in left)
        equal = [way for way in left if _reserve(way) >= most - EQUAL_RESERVE - TOLERANCE]
        first = min(equal, key=lambda way: (*_filters_and_aperture(way, setup)[::-1], -_reserve(way)))
        order.append(first)
        left.remove(first)
    return order


def _by_speed(ways: Sequence[Way], _: SetUp) -> list[Way]:
    return sorted(ways, key=lambda way: way.method.speed_rank)


def _by_filters(ways: Sequence[Way], setup: SetUp) -> list[Way]:
    return sorted(ways, key=lambda way: (*_filters_and_aperture(way, setup), -_reserve(way)))


_ORDERS: dict[str, Callable[[Sequence[Way], SetUp], list[Way]]] = {
    "reach": _by_reach,
    "speed": _by_speed,
    "glass": _by_filters,
}


def _filters_and_aperture(way: Way, setup: SetUp) -> tuple[int, float]:
    return len(way.settings.stack.names), _aperture_miss(setup, way.settings)


def _reserve(way: Way) -> Stops:
    """For ordering: a way without need of flash has enough. Elsewhere a missing reserve only says that the
    picture is blown out or the light cannot take part: that ranks last."""
    if way.reserve is None:
        return RESERVE_ENOUGH if way.feasible else float("-inf")
    return way.reserve


def _aperture_miss(setup: SetUp, settings: Settings) -> Stops:
    return round(abs(settings.aperture.stops - setup.wanted_aperture.stops), 9)
