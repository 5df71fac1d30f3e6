"""The solver: one set-up in, every way out, best first.

Each method says which settings it may use (`methods`); `selection` judges them all at once and takes the
best; `verdicts` and `drawbacks` say what the chosen ones lack; `ranking` puts the ways in order.
"""

import numpy as np

from noggin.core.physics import optics
from noggin.core.physics.optics import Focus
from noggin.core.planning import candidates
from noggin.core.planning.candidates import Candidates
from noggin.core.planning.drawbacks import drawbacks
from noggin.core.planning.lighting import Lighting, Settings, light_up
from noggin.core.planning.methods import METHODS
from noggin.core.planning.motion import asks_for_speed
from noggin.core.planning.ranking import in_order
from noggin.core.planning.selection import judge, pick
from noggin.core.planning.uncertainty import reserve_uncertainty
from noggin.core.planning.verdicts import NOT_NEEDED, SHORT, Miss, verdict_of
from noggin.core.planning.way import Method, Plan, Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

RULES_VERSION = 3
"""Raised whenever the same set-up may come out otherwise than before: kept results are then worked out
again."""


def plan(setup: SetUp) -> Plan:
    """Every way of a set-up in the order its preference asks for."""
    return Plan(setup, in_order([work_out(setup, method) for method in METHODS.values()], setup))


def work_out(setup: SetUp, method: Method) -> Way:
    """One way of a set-up."""
    return _way(setup, method, *best_lighting(setup, method))


def best_lighting(setup: SetUp, method: Method) -> tuple[Lighting, str, tuple[Miss, ...]]:
    """The best settings of one method with its lights, the verdict on them, and what they miss."""
    offered, own = _candidates(setup, method)
    row = pick(setup, offered, method.among if own else None).row
    lighting = light_up(setup, offered.settings(row))
    if not is_needed(setup, method):
        return lighting, NOT_NEEDED, ()
    lacking = tuple(method.lacks(setup, candidates.surplus(setup)))
    verdict, misses = verdict_of(setup, lighting)
    return (lighting, SHORT, lacking) if lacking else (lighting, verdict, misses)


def background_first(setup: SetUp, method: Method) -> Lighting:
    """The best settings of one method that bring the background to what is meant, or as near as they can,
    whatever the lights then lack."""
    offered, _ = _candidates(setup, method)
    judged = judge(setup, offered)
    nearest = judged.counted <= judged.counted.min() + TOLERANCE
    fitting = offered.only(np.flatnonzero(judged.fits if judged.fits.any() else nearest))
    return light_up(setup, fitting.settings(pick(setup, fitting).row))


def verdict(setup: SetUp, method: Method) -> tuple[str, Stops | None]:
    """The verdict on one method and its reserve, worked out with no more than that needs."""
    if not is_needed(setup, method):
        return NOT_NEEDED, None
    offered, own = _candidates(setup, method)
    picked = pick(setup, offered, method.among if own else None)
    return picked.verdict if own else SHORT, picked.reserve


def is_needed(setup: SetUp, method: Method) -> bool:
    """Whether a method has anything to do: past the sync wall all have, within it staying there has, and a
    shorter time where the subject moves too fast for the sync speed."""
    if method.always or candidates.surplus(setup):
        return True
    return method.past_sync and asks_for_speed(setup)


def way_with(setup: SetUp, method: Method, settings: Settings) -> Way:
    """A way with settings that are given and not chosen, as when following the light from one frame to the
    next: it misses only what the picture then misses."""
    lighting = light_up(setup, settings)
    return _way(setup, method, lighting, *verdict_of(setup, lighting))


def _candidates(setup: SetUp, method: Method) -> tuple[Candidates, bool]:
    """Settings that a method may use, and whether they are its own or those at the sync wall, where it has
    none."""
    own = method.candidates(setup)
    return (own, True) if len(own) else (candidates.wall_alone(setup), False)


def _way(setup: SetUp, method: Method, lighting: Lighting, verdict: str, misses: tuple[Miss, ...]) -> Way:
    focus = _focus(setup, lighting)
    lower = tuple(drawbacks(setup, lighting, focus))
    return Way(method, lighting, focus, verdict, misses, lower, reserve_uncertainty(setup, lighting))


def _focus(setup: SetUp, lighting: Lighting) -> Focus:
    scene = setup.scene
    return optics.focus(
        scene.subject_distance_m,
        scene.background_distance_m,
        setup.lens.focal_mm,
        lighting.settings.aperture.value,
        setup.camera.sensor_mm,
    )
