"""Light that walls and reflectors throw on: once from every surface, matt, as small patches.

A patch that has light E throws ρ·E·cos θ_patch·cos θ_place·A/(π·d² + A) on a place: Lambert's law, and on
its axis the closed form of a disc, exact at any distance (catalogues of view factors, from memory).
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil, hypot, pi, sqrt
from typing import NamedTuple

from noggin.core.setup.layout import Point, SurfaceLine
from noggin.core.units import Metres

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


class SurfacePatch(NamedTuple):
    """A patch on one side of a surface: its middle and normal (metres), its area in m²."""

    place: Point
    normal: Point
    area: float

    def onto(self, place: Point, normal: Point) -> float:
        """What it throws on a place with a unit normal, as a part of the light on it, had the surface
        swallowed nothing."""
        x, y, z = (b - a for a, b in zip(self.place, place, strict=True))
        square = max(x * x + y * y + z * z, 1e-9)
        leaves = x * self.normal[0] + y * self.normal[1] + z * self.normal[2]
        comes = -(x * normal[0] + y * normal[1] + z * normal[2])
        if leaves <= 0 or comes <= 0:
            return 0.0
        return leaves * comes / square * self.area / (pi * square + self.area)


def panel_of(surface: SurfaceLine) -> Panel:
    """A surface of a plan, in its own axes: right, back, up."""
    (x, y), (end_x, end_y) = surface.start, surface.end
    return Panel(
        (x, y, 0.0), (end_x - x, end_y - y, 0.0), (0.0, 0.0, surface.height_m), surface.reflectance
    )


def patches_of(panel: Panel, most: int = PATCHES_MOST) -> tuple[SurfacePatch, ...]:
    """A panel cut into patches about as high as wide, `most` or a few more, on both of its sides."""
    long, high = hypot(*panel.along), hypot(*panel.up)
    side = max(sqrt(long * high / most) * 1.15, PATCH_M)
    columns, rows = ceil(long / side), ceil(high / side)
    area = long * high / (columns * rows)
    (ax, ay, az), (ux, uy, uz) = panel.along, panel.up
    cross = ay * uz - az * uy, az * ux - ax * uz, ax * uy - ay * ux
    x, y, z = (one / (long * high) for one in cross)
    middles = tuple(_middles(panel, columns, rows))
    sides = ((x, y, z), (-x, -y, -z))
    return tuple(SurfacePatch(middle, normal, area) for normal in sides for middle in middles)


def _middles(panel: Panel, columns: int, rows: int) -> Iterator[Point]:
    for row in range(rows):
        for column in range(columns):
            across, over = (column + 0.5) / columns, (row + 0.5) / rows
            x, y, z = (
                corner + across * along + over * up
                for corner, along, up in zip(panel.corner, panel.along, panel.up, strict=True)
            )
            yield x, y, z
