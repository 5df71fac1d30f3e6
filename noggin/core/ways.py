"""The solver: one set-up in, all five ways out, best first, each with its reasons.

Which settings a way may use stands in `candidates`, when they are feasible in `feasibility`; here one
of them is taken for each way, and the ways are put in order.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from noggin.core import candidates, optics
from noggin.core.candidates import Offered
from noggin.core.cautions import cautions
from noggin.core.choosing import RESERVE_ENOUGH, Picked, pick, pick_with_least_iso
from noggin.core.feasibility import shortcomings, way_lacks
from noggin.core.lighting import Lighting, Settings, light_up
from noggin.core.optics import Focus
from noggin.core.plan import METHODS, Plan, Way
from noggin.core.reasons import advice, lesson, reasons
from noggin.core.setup import SetUp
from noggin.core.trust import reserve_uncertainty
from noggin.core.units import TOLERANCE, Stops
from noggin.core.weighing import drawbacks

EQUAL_RESERVE: Stops = 1 / 3
"""Reserves closer than this count as equal when ways are put in order."""

OFFERS: dict[str, Callable[[SetUp], Offered]] = {
    "within_sync": candidates.within_sync,
    "stop_down": candidates.stop_down,
    "nd": candidates.nd,
    "mixed": candidates.mixed,
    "hss": candidates.hss,
}


def plan(setup: SetUp) -> Plan:
    """All five ways of a set-up in the order its preference asks for, with reasons and cautions."""
    return _explained(Plan(setup, ranked(setup)))


def advised(setup: SetUp) -> Way:
    """The way that is advised, else the one that comes nearest; without the words of a whole plan."""
    return ranked(setup)[0]


def ranked(setup: SetUp) -> tuple[Way, ...]:
    """All five ways in the order its preference asks for, without the words of a whole plan."""
    return in_order([work_out(setup, key) for key in METHODS], setup)


def work_out(setup: SetUp, key: str) -> Way:
    """One way by its key in METHODS, without the words that compare it with the others."""
    return _way(setup, key, *lit(setup, key))


def lit(setup: SetUp, key: str) -> tuple[Lighting, tuple[str, ...]]:
    """The best settings of one way with its lights, and what it lacks."""
    offered = _offered(setup, key)
    return _lit(setup, key, offered, _picked(setup, key, offered))


def stands(setup: SetUp, key: str) -> tuple[Stops | None, bool]:
    """The reserve of one way and whether it is feasible, worked out with no more than that needs; for a way
    that has something to take away."""
    offered = _offered(setup, key)
    picked = _picked(setup, key, offered)
    return picked.reserve, picked.feasible and offered.own


@dataclass(frozen=True)
class _OnOffer:
    """Settings on offer to a way: its own, or the wall's for a way that has none."""

    settings: Offered
    own: bool


def _offered(setup: SetUp, key: str) -> _OnOffer:
    own = OFFERS[key](setup)
    return _OnOffer(own, True) if len(own) else _OnOffer(candidates.wall_alone(setup), False)


def _picked(setup: SetUp, key: str, offered: _OnOffer) -> Picked:
    chooses = pick_with_least_iso if key == "within_sync" else pick
    return chooses(setup, offered.settings)


def _lit(setup: SetUp, key: str, offered: _OnOffer, picked: Picked) -> tuple[Lighting, tuple[str, ...]]:
    lighting = light_up(setup, offered.settings.settings(picked.row))
    return lighting, tuple(way_lacks(setup, key, lighting, candidates.surplus(setup)))


def way_with(setup: SetUp, key: str, settings: Settings) -> Way:
    """A way with settings that are given and not chosen, as when following the light from one frame to the
    next: it lacks only what the picture then lacks."""
    lighting = light_up(setup, settings)
    return _way(setup, key, lighting, tuple(shortcomings(setup, lighting)))


def _way(setup: SetUp, key: str, lighting: Lighting, lacks: tuple[str, ...]) -> Way:
    focus = _focus(setup, lighting)
    lower = tuple(drawbacks(setup, lighting, focus))
    return Way(key, lighting, focus, lacks, lower, reserve_uncertainty(setup, lighting))


def in_order(ways: Sequence[Way], setup: SetUp) -> tuple[Way, ...]:
    """Feasible ways first, each group in the order of the set-up's preference; among the feasible
    those with fewer drawbacks before the rest. The rule in words is `weighing.RULE`."""
    order = {"reach": _by_reach, "speed": _by_speed, "glass": _by_glass}[setup.intent.prefer]
    feasible = [way for way in ways if way.feasible]
    others = [way for way in ways if not way.feasible]
    weighed = sorted(order(feasible, setup), key=lambda way: len(way.drawbacks))
    return (*weighed, *order(others, setup))


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
