"""How much of a light gets to each point, where a card square to it at the face gets 1."""

from collections.abc import Callable
from dataclasses import dataclass
from math import dist

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.flash import angular_size
from noggin.core.proof.mesh import Floats, Mesh, floats
from noggin.core.proof.shadow import DepthMap, depth_map, disc, facing
from noggin.core.proof.stage import ProofStage, StageLight, StageScrim, StageWall
from noggin.core.setup.layout import Point
from noggin.core.units import Metres

SAMPLES = ((3.0, 2), (10.0, 8), (180.0, 14))
"""Up to so many degrees across, a light's face is sampled at so many points: the softer, the more."""

HEAD_FROM_M, BODY_TO_M = -0.19, -0.12
"""Heads cast their shadow from this height up, from the eyes, and bodies from the other down."""

HEAD_CELL_M = {True: 0.0046, False: 0.0100}
BODY_CELL_M = {True: 0.0145, False: 0.0320}
"""Cells of the maps in which heads and bodies cast their shadow, for fine and for coarse figures: as
wide as their points lie apart."""

Reached = Callable[[Floats, Floats], Floats]
"""The part of one light that gets to points with their normals, 3×n each."""


@dataclass(frozen=True, eq=False)
class Casters:
    """What casts shadows: the points of heads and of bodies (n×3 each), with the cells of their maps, and
    walls."""

    heads: Floats
    bodies: Floats
    head_cell_m: Metres
    body_cell_m: Metres
    walls: tuple[StageWall, ...] = ()

    def reached(self, toward: Floats, origin: Floats | None = None) -> Reached:
        """What of a light in a direction, or at an origin, gets past them."""
        maps: list[tuple[DepthMap, Metres]] = []
        for points, cell in ((self.heads, self.head_cell_m), (self.bodies, self.body_cell_m)):
            if points.shape[1]:
                ahead = toward if origin is None else origin - points[:, points.shape[1] // 2]
                maps.append((depth_map(points, cell, ahead, origin), cell))

        def found(places: Floats, normals: Floats) -> Floats:
            part = np.ones(places.shape[1], np.float32)
            for nearest, cell in maps:
                np.minimum(part, nearest.reached(places, normals, cell), out=part)
            for wall in self.walls:
                part[_hidden_by(wall, places, toward if origin is None else None, origin)] = 0
            return part

        return found


def _hidden_by(
    wall: StageWall, places: Floats, toward: Floats | None, origin: Floats | None
) -> NDArray[np.bool_]:
    """Whether a wall stands between places (3×n) and a light in a direction, or at an origin."""
    x, height, z = places
    way = toward[:, None] if toward is not None else origin[:, None] - places  # type: ignore[index]
    (start_x, start_z), (end_x, end_z) = wall.start, wall.end
    along_x, along_z = end_x - start_x, end_z - start_z
    across = way[0] * along_z - way[2] * along_x
    across = np.where(np.abs(across) > 1e-6, across, np.float32(1e-6))
    part = ((start_x - x) * along_z - (start_z - z) * along_x) / across
    on_wall = ((start_x - x) * way[2] - (start_z - z) * way[0]) / across
    up = height + part * way[1]
    found: NDArray[np.bool_] = (part > 1e-3) & (on_wall >= 0) & (on_wall <= 1) & (up >= 0)
    found &= up <= wall.height_m
    if origin is not None:
        found &= part < 1 - 1e-3
    return found


def casters_of(mesh: Mesh, fine: bool, walls: tuple[StageWall, ...] = ()) -> Casters:
    """The people of a mesh, and walls, as what casts shadows."""
    height = mesh.own[:, 1]
    return Casters(
        np.ascontiguousarray(mesh.places[height > HEAD_FROM_M].T),
        np.ascontiguousarray(mesh.places[height < BODY_TO_M].T),
        HEAD_CELL_M[fine],
        BODY_CELL_M[fine],
        walls,
    )


NOTHING = Casters(np.zeros((3, 0), np.float32), np.zeros((3, 0), np.float32), 1.0, 1.0)
"""Nobody stands in the light."""


def samples_of(source: StageLight) -> int:
    """At how many points a light's face is sampled."""
    across = angular_size(max(dist(source.at, source.square_at), 0.05), source.radius_m)
    return next(count for most, count in SAMPLES if across <= most)


def from_source(
    source: StageLight,
    places: Floats,
    normals: Floats,
    casters: Casters = NOTHING,
    samples: int | None = None,
) -> Floats:
    """What points (n×3 metres, with unit normals) get of a light, as parts of what a card square to it gets
    at `source.square_at`.

    `V · max(0, n·l) · cos^n · (d0² + r²)/(d² + r²)`, V and n·l averaged over the light's face, which is
    turned to its aim; a card square to the light, anywhere, follows the disc law exactly.
    """
    at, aim, square_at = (floats(point) for point in (source.at, source.aim, source.square_at))
    axes = facing(at - aim)
    count = samples or samples_of(source)
    across, normal = np.ascontiguousarray(places.T), np.ascontiguousarray(normals.T)
    to_light = at[:, None] - across
    square = _dot(to_light, to_light)
    to_light /= np.sqrt(square)
    lit, straight = np.zeros(len(places), np.float32), np.zeros(len(places), np.float32)
    for out in disc(count) * np.float32(source.radius_m):
        point = at + out[0] * axes[0] + out[1] * axes[1]
        toward = point[:, None] - across
        toward /= np.sqrt(_dot(toward, toward))
        cosine = np.maximum(_dot(normal, toward), 0)
        straight += _dot(to_light, toward)
        turned = np.nonzero(cosine > 0)[0]
        seen = casters.reached(point - square_at, point)(across[:, turned], normal[:, turned])
        lit[turned] += seen * cosine[turned]
    beam = np.maximum(_dot(to_light, axes[2][:, None]), 0) ** np.float32(source.beam)
    back = at - square_at
    d0 = float((back * back).sum())
    on_axis = max(float(back @ axes[2]) / np.sqrt(d0), 0.05) ** source.beam
    r = np.float32(source.radius_m**2)
    found = lit / np.maximum(straight, 1e-6) * beam / np.float32(on_axis) * (d0 + r) / (square + r)
    return floats(found)


def _dot(first: Floats, other: Floats) -> Floats:
    """Products of vectors one by one (3×n each)."""
    found: Floats = first[0] * other[0] + first[1] * other[1] + first[2] * other[2]
    return found


def sun_on_stage(
    stage: ProofStage, toward: Floats, places: Floats, normals: Floats, casters: Casters = NOTHING
) -> Floats:
    """What points get of the sun, as parts of what a surface square to it gets where the face is. Before a
    scrim, its shadow has none of the sun itself, and the soft light that comes through instead, `stops`
    under the sun in the middle of its shadow."""
    scrim, face = stage.scrim, stage.face
    if scrim is None:
        return from_sun(toward, places, normals, casters)
    middle = floats(scrim.at)
    far = max(float((middle - floats(face)) @ toward), 0.3)
    soft = StageLight(
        scrim.at, _point(middle - toward), scrim.radius_m, 1.0, _point(middle - np.float32(far) * toward)
    )
    through = from_source(soft, places, normals, casters, stage.samples_most) * np.float32(2**-scrim.stops)
    sun = from_sun(toward, places, normals, casters)
    sun[_in_shadow(toward, scrim, places)] = 0
    at_face = 2**scrim.stops if _in_shadow(toward, scrim, floats(face)[None])[0] else 1.0
    return floats((sun + through) * np.float32(at_face))


def _point(values: Floats) -> Point:
    x, y, z = values.tolist()
    return x, y, z


def _in_shadow(toward: Floats, scrim: StageScrim, places: Floats) -> NDArray[np.bool_]:
    out = places - floats(scrim.at)
    along = out @ toward
    aside = np.linalg.norm(out - along[:, None] * toward, axis=1)
    found: NDArray[np.bool_] = (along < 0) & (aside <= scrim.radius_m)
    return found


def from_sun(toward: Floats, places: Floats, normals: Floats, casters: Casters = NOTHING) -> Floats:
    """What points get of the sun, as parts of what a surface square to it gets."""
    normal = np.ascontiguousarray(normals.T)
    cosine = np.maximum(_dot(normal, toward[:, None]), 0)
    turned = np.nonzero(cosine > 0)[0]
    across = np.ascontiguousarray(places[turned].T)
    cosine[turned] *= casters.reached(toward)(across, normal[:, turned])
    return floats(cosine)


def open_sky(up: float, thrown_back: float) -> float:
    """What a surface with nothing around it gets of an even sky and of the ground, which throws back
    `thrown_back` of the sky's light; it faces `up` (the cosine from straight up).

    >>> open_sky(0.0, 0.2)
    0.6
    """
    return (1 + up) / 2 + thrown_back * (1 - up) / 2
