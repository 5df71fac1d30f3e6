"""The solver: one set-up in, all five ways out, best first, each with its reasons.

Which settings a way may use stands in `candidates`, when they are feasible in `feasibility`; here one
of them is taken for each way, and the ways are put in order.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace

from noggin.core import candidates, optics
from noggin.core.candidates import background_error, reaches_background
from noggin.core.cautions import cautions
from noggin.core.feasibility import is_short, shortcomings, way_lacks
from noggin.core.lighting import Lighting, Settings, key_reserve, light_up
from noggin.core.optics import Focus
from noggin.core.plan import METHODS, Plan, Way
from noggin.core.reasons import advice, lesson, reasons
from noggin.core.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

RESERVE_ENOUGH: Stops = 3.0
"""Reserve beyond which more is worth nothing between settings of one way; also what a way without
need of flash counts as."""

EQUAL_RESERVE: Stops = 1 / 3
"""Reserves closer than this count as equal when ways are put in order."""

PAST_THE_WALL: dict[str, Callable[[SetUp], Iterable[Settings]]] = {
    "stop_down": candidates.stop_down,
    "nd": candidates.nd,
    "mixed": candidates.mixed,
    "hss": candidates.hss,
}


def plan(setup: SetUp) -> Plan:
    """All five ways of a set-up in the order its preference asks for, with reasons and cautions."""
    surplus = candidates.surplus(setup)
    chosen = {"within_sync": _within_sync(setup)}
    for key, offered in PAST_THE_WALL.items():
        at_the_wall = (candidates.at_the_wall(setup),)
        chosen[key] = choose(setup, tuple(offered(setup)) or at_the_wall)
    ways = [
        Way(key, lighting, _focus(setup, lighting), tuple(way_lacks(setup, key, lighting, surplus)))
        for key, lighting in chosen.items()
    ]
    return _explained(Plan(setup, in_order(ways, setup)))


def choose(setup: SetUp, offered: Sequence[Settings]) -> Lighting:
    """The best of the settings offered to one way.

    Feasible ones first: the greatest reserve (more than 3 stops count as 3), then everything within a
    dial step of it; of those the aperture nearest the wanted one, the background closest to what is
    meant, the fewest filters, bag order. When none is feasible: the smallest background error, then
    the aperture nearest the wanted one, then the greatest reserve.
    """
    reserves = [(_counted_reserve(setup, s), s) for s in offered if reaches_background(setup, s)]
    reserves.sort(key=lambda pair: -pair[0])
    feasible = ((reserve, s) for reserve, s in reserves if _feasible(setup, s))
    most, _ = next(feasible, (None, None))
    if most is not None:
        close = [s for reserve, s in reserves if reserve >= most - setup.dial_step - TOLERANCE]
        close.sort(key=lambda s: _closeness(setup, s))
        return light_up(setup, next(s for s in close if _feasible(setup, s)))
    aims = [(_aim(setup, s), s) for s in offered]
    best = min(aim for aim, _ in aims)
    nearest = [s for aim, s in aims if aim == best]
    return light_up(setup, max(nearest, key=lambda s: _plain_reserve(setup, s)))


def _feasible(setup: SetUp, settings: Settings) -> bool:
    if _counted_reserve(setup, settings) < -TOLERANCE:
        return False  # found without working out every light
    return not any(shortcomings(setup, light_up(setup, settings)))


def in_order(ways: Sequence[Way], setup: SetUp) -> tuple[Way, ...]:
    """Feasible ways first, each group in the order of the set-up's preference."""
    order = {"reach": _by_reach, "speed": _by_speed, "glass": _by_glass}[setup.intent.prefer]
    feasible = [way for way in ways if way.feasible]
    others = [way for way in ways if not way.feasible]
    return (*order(feasible, setup), *order(others, setup))


def _by_reach(ways: Sequence[Way], setup: SetUp) -> list[Way]:
    """Greatest reserve first; among those within a third of a stop of it the aperture nearest the
    wanted one, then the fewest filters."""
    left, order = list(ways), []
    while left:
        most = max(_way_reserve(way) for way in left)
        equal = [w for w in left if _way_reserve(w) >= most - EQUAL_RESERVE - TOLERANCE]
        first = min(equal, key=lambda way: (*_glass(way, setup)[::-1], -_way_reserve(way)))
        order.append(first)
        left.remove(first)
    return order


def _by_speed(ways: Sequence[Way], _: SetUp) -> list[Way]:
    return sorted(ways, key=lambda way: METHODS[way.way].speed_rank)


def _by_glass(ways: Sequence[Way], setup: SetUp) -> list[Way]:
    return sorted(ways, key=lambda way: (*_glass(way, setup), -_way_reserve(way)))


def _glass(way: Way, setup: SetUp) -> tuple[int, float]:
    return len(way.settings.stack.names), _aperture_miss(setup, way.settings)


def _way_reserve(way: Way) -> Stops:
    """For ordering: a feasible way without need of flash has enough. Elsewhere a missing reserve only
    says that the picture is blown out or the light cannot take part: that stands last."""
    if way.reserve is None:
        return RESERVE_ENOUGH if way.feasible else float("-inf")
    return way.reserve


def _within_sync(setup: SetUp) -> Lighting:
    """ISO rises from the lowest only as far as a time within sync, or a light that is short, needs."""
    offered: list[Settings] = []
    for batch in candidates.within_sync(setup):
        offered.extend(batch)
        fits = (light_up(setup, s) for s in batch if reaches_background(setup, s))
        if any(not is_short(lighting) for lighting in fits):
            break
    return choose(setup, offered)


def _counted_reserve(setup: SetUp, settings: Settings) -> Stops:
    reserve = key_reserve(setup, settings)
    return RESERVE_ENOUGH if reserve is None else min(reserve, RESERVE_ENOUGH)


def _plain_reserve(setup: SetUp, settings: Settings) -> Stops:
    reserve = key_reserve(setup, settings)
    return float("-inf") if reserve is None else reserve


def _closeness(setup: SetUp, settings: Settings) -> tuple[float, float, int, tuple[int, ...]]:
    error, aperture_miss = _aim(setup, settings)
    return aperture_miss, error, len(settings.stack.names), settings.stack.places


def _aim(setup: SetUp, settings: Settings) -> tuple[float, float]:
    """How far the background, then the aperture, is from what is meant; free of rounding noise."""
    error = round(abs(background_error(setup, settings)), 9)
    return error, _aperture_miss(setup, settings)


def _aperture_miss(setup: SetUp, settings: Settings) -> Stops:
    return round(abs(settings.aperture.stops - setup.wanted_aperture.stops), 9)


def _focus(setup: SetUp, lighting: Lighting) -> Focus:
    scene = setup.scene
    return optics.focus(
        scene.subject_distance_m,
        scene.background_distance_m,
        setup.lens.focal_mm,
        lighting.settings.aperture.value,
        setup.camera.sensor_mm,
    )


def _explained(bare: Plan) -> Plan:
    """The same plan with advice, reasons, cautions and lesson in words."""
    advised = advice(bare)
    ways = []
    for way in bare.ways:
        words = reasons(bare.setup, way)
        if way is bare.chosen:
            words = (advised, *words)
        ways.append(replace(way, reasons=words, cautions=cautions(bare.setup, way)))
    return Plan(bare.setup, tuple(ways), advised, lesson(bare))
