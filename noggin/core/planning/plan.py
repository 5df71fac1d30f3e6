"""The solver: one set-up in, every way out, best first.

Each method says which settings it may use (`kinds`); `selection` judges those that can win and takes the
best; `verdicts` and `drawbacks` say what the chosen ones lack; `ranking` puts the ways in order.
"""

from collections.abc import Mapping
from dataclasses import replace

from noggin.core.physics import optics
from noggin.core.physics.optics import Focus
from noggin.core.planning import candidates
from noggin.core.planning.candidates import Candidates
from noggin.core.planning.drawbacks import drawbacks
from noggin.core.planning.lighting import Lighting, Settings, at_powers, light_up
from noggin.core.planning.mend import closer
from noggin.core.planning.motion import asks_for_speed
from noggin.core.planning.ranking import in_order
from noggin.core.planning.selection import pick, pick_for_background
from noggin.core.planning.uncertainty import reserve_uncertainty
from noggin.core.planning.verdicts import HOLDS, JUST, MEND, NOT_NEEDED, SHORT, Miss, miss_of, verdict_of
from noggin.core.planning.way import Plan, Way, WayKind
from noggin.core.planning.ways import WAYS
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

RULES_VERSION = 7
"""Raised whenever the same set-up may come out otherwise than before: kept results are then worked out
again."""


def plan(setup: SetUp) -> Plan:
    """Every way of a set-up in the order its preference asks for."""
    return Plan(setup, in_order([work_out(setup, kind) for kind in WAYS.values()], setup))


def work_out(setup: SetUp, kind: WayKind) -> Way:
    """One way of a set-up."""
    return _with_mend(setup, _way(setup, kind, *best_lighting(setup, kind)))


def where_it_works(way: Way) -> Way:
    """A way as it is advised: where one move mends it, with its lights where that puts them."""
    return work_out(way.mend.setup, way.kind) if way.mend else way


def best_lighting(setup: SetUp, kind: WayKind) -> tuple[Lighting, str, tuple[Miss, ...]]:
    """The best settings of one method with its lights, the verdict on them as they stand, and what they
    miss."""
    offered, own = _candidates(setup, kind)
    lighting = light_up(setup, pick(setup, offered, kind.among if own else None).settings)
    if not is_needed(setup, kind):
        return lighting, NOT_NEEDED, ()
    lacking = tuple(kind.lacks(setup, candidates.surplus(setup)))
    verdict, misses = verdict_of(setup, lighting)
    return (lighting, SHORT, lacking) if lacking else (lighting, verdict, misses)


def background_first(setup: SetUp, kind: WayKind) -> Lighting:
    """The best settings of one method that bring the background to what is meant, or as near as they can,
    whatever the lights then lack."""
    offered, _ = _candidates(setup, kind)
    return light_up(setup, pick_for_background(setup, offered).settings)


def verdict(setup: SetUp, kind: WayKind) -> tuple[str, Stops | None]:
    """The verdict on one method as its lights stand, and its reserve, worked out with no more than that
    needs."""
    if not is_needed(setup, kind):
        return NOT_NEEDED, None
    offered, own = _candidates(setup, kind)
    picked = pick(setup, offered, kind.among if own else None)
    return picked.verdict if own else SHORT, picked.reserve


def is_needed(setup: SetUp, kind: WayKind) -> bool:
    """Whether a method has anything to do: past the sync wall all have, within it staying there has, and a
    shorter time where the subject moves too fast for the sync speed."""
    if kind.always or candidates.surplus(setup):
        return True
    return kind.past_sync and asks_for_speed(setup)


def way_with(setup: SetUp, kind: WayKind, settings: Settings) -> Way:
    """A way with settings that are given and not chosen, as when following the light from one frame to the
    next: it misses only what the picture then misses."""
    lighting = light_up(setup, settings)
    return _way(setup, kind, lighting, *verdict_of(setup, lighting))


def way_at(setup: SetUp, settings: Settings, powers: Mapping[int, Stops], *, hss: bool = True) -> Way:
    """What comes of settings and powers as they are dialled, whoever chose them: high-speed sync past sync
    where it is on, else within it, or with a part of the frame left dark."""
    lighting = at_powers(setup, settings, powers, hss=hss)
    kind = WAYS["hss" if lighting.hss else "within_sync"]
    return Way(kind, lighting, _focus(setup, lighting))


def _candidates(setup: SetUp, kind: WayKind) -> tuple[Candidates, bool]:
    """Settings that a method may use, and whether they are its own or those at the sync wall, where it has
    none."""
    own = kind.candidates(setup)
    return (own, True) if len(own) else (candidates.wall_alone(setup), False)


def _way(setup: SetUp, kind: WayKind, lighting: Lighting, verdict: str, misses: tuple[Miss, ...]) -> Way:
    focus = _focus(setup, lighting)
    lower = tuple(drawbacks(setup, lighting, focus))
    miss, uncertainty = miss_of(setup, lighting), reserve_uncertainty(setup, lighting)
    return Way(kind, lighting, focus, verdict, misses, miss, lower, uncertainty)


def _with_mend(setup: SetUp, way: Way) -> Way:
    """The way, where lights that stand closer make it work with the one move that does."""
    if way.verdict != SHORT:
        return way
    move = closer(setup, way.lighting, way.misses, way.drawbacks)
    if move is None or verdict(move.setup, way.kind)[0] not in (HOLDS, JUST):
        return way
    return replace(way, verdict=MEND, mend=move)


def _focus(setup: SetUp, lighting: Lighting) -> Focus:
    scene = setup.scene
    return optics.focus(
        scene.subject_distance_m,
        scene.background_distance_m,
        setup.lens.focal_mm,
        lighting.settings.aperture.value,
        setup.camera.sensor_mm,
    )
