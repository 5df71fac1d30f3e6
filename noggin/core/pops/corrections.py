"""What frames say of a set-up, as its own figures: daylight as it is, lights as they give, each with the ±
that is left."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from noggin.core import limits
from noggin.core.pops.estimate import Estimate
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

WORTH: Stops = 0.05
"""A figure that would move less, and whose ± would not shrink by as much, stays as it is."""

LEAST_UNCERTAINTY: Stops = 0.1
"""No frame knows anything nearer. Common practice, no source."""


@dataclass(frozen=True)
class Correction:
    """One figure that frames correct: of which part (a zone, `light 0`, `toll`), by how much more light or
    toll there is than was believed, and what ± is left."""

    of: str
    offset: Stops
    uncertainty: Stops
    before: Stops


def corrections(estimate: Estimate) -> tuple[Correction, ...]:
    """Every figure that some frames correct, as it was at the last one."""
    return tuple(one for one in _all(estimate) if _is_worth_it(one))


def _all(estimate: Estimate) -> Iterator[Correction]:
    unknowns = estimate.unknowns
    before = {unknown.key: unknown.uncertainty for unknown in unknowns.all}
    for zone in unknowns.zones:
        yield _correction(zone, estimate.daylight_offset(zone), before[zone])
    for index in range(len(unknowns.setup.lights)):
        yield _correction(f"light {index}", estimate.offset(f"light {index}"), before[f"light {index}"])
    yield _correction("toll", estimate.offset("toll"), before["toll"])


def _correction(of: str, found: tuple[Stops, Stops], before: Stops) -> Correction:
    return Correction(of, found[0], max(found[1], LEAST_UNCERTAINTY), before)


def _is_worth_it(one: Correction) -> bool:
    return abs(one.offset) >= WORTH or one.before - one.uncertainty >= WORTH


def learned_setup(setup: SetUp, estimate: Estimate) -> SetUp:
    """The set-up with daylight and lights as frames found them, and lights where they stand by now."""
    scene, lights = setup.scene, []
    found = {zone: estimate.daylight_offset(zone)[0] for zone in estimate.unknowns.zones}
    levels = {
        zone: min(max(getattr(scene, zone) + off, limits.EV.least), limits.EV.most)
        for zone, off in found.items()
    }
    toll, _ = estimate.offset("toll")
    distances = estimate.frames[-1].dialled.distances
    for index, light in enumerate(setup.lights):
        off, _ = estimate.offset(f"light {index}")
        gn_m = min(max(light.gn_m * 2 ** (off / 2), limits.GUIDE_NUMBER.least), limits.GUIDE_NUMBER.most)
        tolled = None if light.hss_toll is None else max(light.hss_toll + toll, 0.0)
        where = distances.get(index, light.distance_m)
        lights.append(replace(light, gn_m=gn_m, hss_toll=tolled, distance_m=where))
    changed = replace(scene, layout=None, **levels)
    return replace(setup, scene=changed, lights=tuple(lights))
