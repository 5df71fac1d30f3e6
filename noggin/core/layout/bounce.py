"""Light that walls and reflectors throw on: once from every surface, matt, as small patches.

A patch that has light E throws ρ·E·cos θ_patch·cos θ_place·A/(π·d² + A) on a place: Lambert's law, and on
its axis the closed form of a disc, exact at any distance (catalogues of view factors, from memory).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, pi, sqrt
from typing import Any

import numpy as np
from numpy.typing import NDArray

from noggin.core.setup.layout import Point, SurfaceLine
from noggin.core.units import Metres

Values = NDArray[np.floating[Any]]

PATCHES_MOST = 24
"""So many patches a surface is cut into at most, alone or as one of two; of many each gets less."""

PATCH_M: Metres = 0.35
"""And no patch is shorter than this along a side."""


@dataclass(frozen=True)
class Panel:
    """An upright surface: a corner, the way along its foot, the way up, and what it throws back."""

    corner: Point
    along: Point
    up: Point
    reflectance: float


@dataclass(frozen=True, eq=False)
class Patches:
    """Patches of a surface, each on both of its sides: middles and normals (n×3 metres), areas in m² (n),
    and what they throw back."""

    places: Values
    normals: Values
    areas: Values
    reflectance: float

    def onto(self, places: Values, normals: Values) -> Values:
        """What each patch throws on places (m×3, with unit normals), n×m, as parts of the light on it."""
        out = places[None] - self.places[:, None]
        square = np.maximum((out * out).sum(2), 1e-9)
        leaves = (out * self.normals[:, None]).sum(2)
        comes = -(out * normals[None]).sum(2)
        area = self.areas[:, None]
        cosines = np.maximum(leaves, 0) * np.maximum(comes, 0) / square
        found: Values = self.reflectance * cosines * area / (pi * square + area)
        return found

    def some(self, wanted: NDArray[np.bool_]) -> "Patches":
        """Those of them that are wanted."""
        return Patches(self.places[wanted], self.normals[wanted], self.areas[wanted], self.reflectance)


def panel_of(surface: SurfaceLine) -> Panel:
    """A surface of a plan, in its own axes: right, back, up."""
    (x, y), (end_x, end_y) = surface.start, surface.end
    return Panel(
        (x, y, 0.0), (end_x - x, end_y - y, 0.0), (0.0, 0.0, surface.height_m), surface.reflectance
    )


def patches_of_all(panels: Sequence[Panel]) -> tuple[Patches, ...]:
    """Panels cut into patches, each the coarser the more there are."""
    most = max(2 * PATCHES_MOST // max(len(panels), 2), 1)
    return tuple(patches_of(panel, most) for panel in panels)


def patches_of(panel: Panel, most: int = PATCHES_MOST) -> Patches:
    """A panel cut into patches about as high as wide, `most` or a few more."""
    along, up = np.array(panel.along, float), np.array(panel.up, float)
    long, high = float(np.linalg.norm(along)), float(np.linalg.norm(up))
    side = max(sqrt(long * high / most) * 1.15, PATCH_M)
    columns, rows = ceil(long / side), ceil(high / side)
    across, over = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    middles = np.array(panel.corner) + across.reshape(-1, 1) * along + over.reshape(-1, 1) * up
    normal = np.cross(along, up) / (long * high)
    count = len(middles)
    return Patches(
        np.concatenate([middles, middles]),
        np.concatenate([np.tile(normal, (count, 1)), np.tile(-normal, (count, 1))]),
        np.full(2 * count, long * high / count),
        panel.reflectance,
    )
