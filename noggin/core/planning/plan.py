"""The solver: one set-up in, every way out, best first.

Each method says which settings it may use (`methods`); `selection` judges them all at once and takes the
best; `verdicts` and `drawbacks` say what the chosen ones lack; `ranking` puts the ways in order.
"""

from dataclasses import dataclass

from noggin.core.physics import optics
from noggin.core.physics.optics import Focus
from noggin.core.planning import candidates
from noggin.core.planning.candidates import Candidates
from noggin.core.planning.drawbacks import drawbacks
from noggin.core.planning.lighting import Lighting, Settings, light_up
from noggin.core.planning.methods import METHODS
from noggin.core.planning.ranking import in_order
from noggin.core.planning.selection import Picked, pick, pick_with_least_iso
from noggin.core.planning.uncertainty import reserve_uncertainty
from noggin.core.planning.verdicts import Lack, shortcomings
from noggin.core.planning.way import Method, Plan, Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

RULES_VERSION = 2
"""Raised whenever the same set-up may come out otherwise than before: kept results are then worked out
again."""


def plan(setup: SetUp) -> Plan:
    """Every way of a set-up in the order its preference asks for."""
    return Plan(setup, in_order([work_out(setup, method) for method in METHODS.values()], setup))


def work_out(setup: SetUp, method: Method) -> Way:
    """One way of a set-up."""
    return _way(setup, method, *best_lighting(setup, method))


def best_lighting(setup: SetUp, method: Method) -> tuple[Lighting, tuple[Lack, ...]]:
    """The best settings of one method with its lights, and what it lacks."""
    found = _candidates(setup, method)
    lighting = light_up(setup, found.settings.settings(_picked(setup, method, found).row))
    return lighting, tuple(_lacks(setup, method, lighting))


def verdict(setup: SetUp, method: Method) -> tuple[Stops | None, bool]:
    """The reserve of one method and whether the picture can be made with it, worked out with no more than
    that needs; for a method that has something to take away."""
    found = _candidates(setup, method)
    picked = _picked(setup, method, found)
    return picked.reserve, picked.feasible and found.own


def is_needed(setup: SetUp, method: Method) -> bool:
    """Whether a method has anything to do: past the sync wall all have, within it only one."""
    return method.always or bool(candidates.surplus(setup))


def way_with(setup: SetUp, method: Method, settings: Settings) -> Way:
    """A way with settings that are given and not chosen, as when following the light from one frame to the
    next: it lacks only what the picture then lacks."""
    lighting = light_up(setup, settings)
    return _way(setup, method, lighting, tuple(shortcomings(setup, lighting)))


@dataclass(frozen=True)
class _Found:
    """Settings that a method may use: its own, or those at the sync wall where it has none."""

    settings: Candidates
    own: bool


def _candidates(setup: SetUp, method: Method) -> _Found:
    own = method.candidates(setup)
    return _Found(own, True) if len(own) else _Found(candidates.wall_alone(setup), False)


def _picked(setup: SetUp, method: Method, found: _Found) -> Picked:
    chooses = pick_with_least_iso if method.least_iso else pick
    return chooses(setup, found.settings)


def _lacks(setup: SetUp, method: Method, lighting: Lighting) -> list[Lack]:
    """What a method lacks as such, then what its settings lack. A means that is lacking says all."""
    if not is_needed(setup, method):
        wall = candidates.at_the_wall(setup)
        return [Lack("not_needed", -candidates.background_error(setup, wall))]
    own = list(method.lacks(setup, candidates.surplus(setup)))
    if any(lack.kind in ("filter", "aperture") for lack in own):
        return own
    return [*own, *shortcomings(setup, lighting)]


def _way(setup: SetUp, method: Method, lighting: Lighting, lacks: tuple[Lack, ...]) -> Way:
    focus = _focus(setup, lighting)
    lower = tuple(drawbacks(setup, lighting, focus))
    return Way(method, lighting, focus, lacks, lower, reserve_uncertainty(setup, lighting))


def _focus(setup: SetUp, lighting: Lighting) -> Focus:
    scene = setup.scene
    return optics.focus(
        scene.subject_distance_m,
        scene.background_distance_m,
        setup.lens.focal_mm,
        lighting.settings.aperture.value,
        setup.camera.sensor_mm,
    )
