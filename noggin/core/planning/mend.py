"""A way that is short, but one move away: which lights would stand closer, and where."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import dist, floor, inf

from noggin.core.errors import Refused
from noggin.core.layout.findings import Standing
from noggin.core.layout.follow import followed
from noggin.core.layout.geometry import nearest_out
from noggin.core.physics import flash
from noggin.core.planning.drawbacks import Drawback
from noggin.core.planning.lighting import Lighting
from noggin.core.planning.verdicts import (
    JUST_MISSES,
    PASSED_BY,
    Miss,
    background_error,
    counted_error,
    within_just,
)
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops

NEAREST: Metres = 0.5
"""Nearest a light is proposed to stand. Common practice, no source."""

PLACE_STEP: Metres = 0.05
"""To what a proposed distance is rounded, toward more light."""

SHORT_MOST: Stops = 1.5
"""What a light may be short of where a move is to mend it. Common practice, no source."""

SMEARS_MOST: Stops = 1.0
"""What the subject may smear over the sharp limit where a move is all that is wanted."""


@dataclass(frozen=True)
class Move:
    """One light to be moved along its bearing: its place among the lights, what it is called, how far from
    what it lights it is to stand, and what it is short of where it is."""

    index: int
    light: str
    distance_m: Metres
    shortage: Stops


@dataclass(frozen=True)
class Mend:
    """Lights that stand closer, and the set-up with them there."""

    moves: tuple[Move, ...]
    setup: SetUp

    @property
    def shortage(self) -> Stops:
        """What the lights are short of together as they stand."""
        return sum(move.shortage for move in self.moves)


def rounded_closer(distance_m: Metres) -> Metres:
    """A distance on the steps that are proposed, rounded toward the subject.

    >>> rounded_closer(1.29)
    1.25
    """
    return round(floor(distance_m / PLACE_STEP + TOLERANCE) * PLACE_STEP, 2)


def closer(
    setup: SetUp, lighting: Lighting, misses: Sequence[Miss], drawbacks: Sequence[Drawback]
) -> Mend | None:
    """The move that brings every light that is short to where its reserve is 0; None where that is not all
    that is wanted.

    The wanted aperture is kept (up to a third of a stop), the background within a third, nothing is too
    strong and no means lacking, the subject smears by no more than a stop; no light is short by more than
    SHORT_MOST, nor has to stand nearer than NEAREST or, where a plan says where it stands, than where it
    stays out of the frame. Whether the way then works is found by planning again.
    """
    if any(miss.means or miss.kind == "too_strong" for miss in misses):
        return None
    if _gives_up(setup, lighting, drawbacks):
        return None
    moves = list(_moves(setup, lighting))
    if not moves or None in moves:
        return None
    return _moved(setup, tuple(move for move in moves if move))


def _gives_up(setup: SetUp, lighting: Lighting, drawbacks: Sequence[Drawback]) -> bool:
    """Whether more is given up than a move would give back."""
    aperture = abs(lighting.settings.aperture.stops - setup.wanted_aperture.stops)
    background = counted_error(setup, background_error(setup, lighting))
    smears = any(it.kind == "movement" and it.stops > SMEARS_MOST + PASSED_BY for it in drawbacks)
    return aperture > JUST_MISSES + PASSED_BY or background > within_just(setup) or smears


def _moves(setup: SetUp, lighting: Lighting) -> Iterator[Move | None]:
    """Where each light that is short would stand; None for one that cannot."""
    for index, firing in enumerate(lighting.firings):
        light, reserve = firing.light, firing.reserve
        if reserve is None or reserve >= -PASSED_BY:
            continue
        to = flash.distance_for(light.distance_m, light.radius_m, -reserve)
        if -reserve > SHORT_MOST + PASSED_BY or to is None or to < _nearest(setup, index):
            yield None
        else:
            yield Move(index, light.says, rounded_closer(to), -reserve)


def _nearest(setup: SetUp, index: int) -> Metres:
    """The nearest a light may stand: by the plan, where it stays out of the frame."""
    layout, light = setup.scene.layout, setup.lights[index]
    if layout is None:
        return NEAREST
    standing = Standing(setup)
    name = standing.names[index]
    if name not in layout.lights:
        return NEAREST
    out = nearest_out(standing.frame, layout, name, light.radius_m)
    return inf if out is None else max(NEAREST, out)


def _moved(setup: SetUp, moves: Sequence[Move]) -> Mend | None:
    """The set-up with its lights moved, its plan with them; None where no set-up can be made of it."""
    lights = list(setup.lights)
    for move in moves:
        lights[move.index] = replace(lights[move.index], distance_m=move.distance_m)
    try:
        bare = replace(setup.without_layout, lights=tuple(lights))
        return Mend(tuple(moves), bare if setup.scene.layout is None else _on_plan(setup, bare, moves))
    except Refused:
        return None


def _on_plan(setup: SetUp, bare: SetUp, moves: Sequence[Move]) -> SetUp:
    """The moved set-up with the plan that follows it, and what hangs on where a light stands."""
    assert setup.scene.layout is not None  # noqa: S101 - asked before
    layout = followed(setup.scene.layout, bare)
    standing, lights = Standing(setup), list(bare.lights)
    for move in moves:
        spot = layout.lights[standing.names[move.index]]
        lights[move.index] = _standing_at(
            lights[move.index], spot.height_m, [dist(spot.at, person.face) for person in layout.people]
        )
    return replace(bare, lights=tuple(lights), scene=replace(bare.scene, layout=layout))


def _standing_at(light: Light, height_m: Metres, faces_m: Sequence[Metres]) -> Light:
    """A light with the height of its stand, and how far it is from each face where that was said."""
    known = tuple(round(face, 3) for face in faces_m[: len(light.faces_m)])
    return replace(light, faces_m=known, stand=replace(light.stand, height_m=round(height_m, 3)))
