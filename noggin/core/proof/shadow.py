"""What light reaches: depth maps from where it comes, of points that lie densely on whatever casts
shadows."""

from dataclasses import dataclass

import numpy as np

from noggin.core.proof.mesh import Floats, floats

MAP_MOST = 640
"""Cells of a depth map along a side, at most."""

NEAR_CELLS = 1.3
"""A surface is lifted off itself by so many cells along its normal before it is looked up."""

SKY_DIRECTIONS = 160
"""Directions over the whole sphere by which the shares of sky and ground are worked out."""

HEAD_FROM_M = -0.16
"""From this height up, from the eyes, a figure is modelled finely."""


@dataclass(frozen=True, eq=False)
class DepthMap:
    """The nearest to a light in each cell of what it looks at: along a direction (`origin` None, the light
    is far), or from a point. `axes` are three unit vectors: across, up, and toward the light."""

    axes: Floats
    origin: Floats | None
    low: Floats
    cell: float
    nearest: Floats

    def reached(self, points: Floats, normals: Floats, cell_m: float) -> Floats:
        """The part of light that gets to points (3×n, with normals), 0 to 1; shadows' edges are softened
        over a cell."""
        across, up, near = _seen(points + normals * np.float32(NEAR_CELLS * cell_m), self.axes, self.origin)
        across = (across - self.low[0]) / np.float32(self.cell) - np.float32(0.5)
        up = (up - self.low[1]) / np.float32(self.cell) - np.float32(0.5)
        near += np.float32(0.6 * cell_m)
        height, width = self.nearest.shape
        column, row = np.floor(across), np.floor(up)
        right, above = across - column, up - row
        first = np.clip(column, 0, width - 1).astype(np.int32)
        last = np.clip(column + 1, 0, width - 1).astype(np.int32)
        low = np.clip(row, 0, height - 1).astype(np.int32) * np.int32(width)
        high = np.clip(row + 1, 0, height - 1).astype(np.int32) * np.int32(width)
        nearest = self.nearest.ravel()
        below = (nearest.take(low + first) <= near) * (1 - right) + (
            nearest.take(low + last) <= near
        ) * right
        over = (nearest.take(high + first) <= near) * (1 - right) + (
            nearest.take(high + last) <= near
        ) * right
        found: Floats = below * (1 - above) + over * above
        return found


def _seen(points: Floats, axes: Floats, origin: Floats | None) -> tuple[Floats, Floats, Floats]:
    """Where points (3×n) are in the map's plane, across and up, and how near to the light. Written out: a
    library's products of matrices would wait for threads that are busy elsewhere."""
    x, y, z = points if origin is None else points - origin[:, None]
    across, up, near = (one[0] * x + one[1] * y + one[2] * z for one in axes)
    if origin is None:
        return across, up, near
    near = np.minimum(near, np.float32(-0.05))
    return across / -near, up / -near, near


def facing(toward: Floats) -> Floats:
    """Three unit vectors of a view whose third points `toward` the light."""
    third = toward / np.linalg.norm(toward)
    beside = floats((1, 0, 0)) if abs(third[1]) > 0.9 else floats((0, 1, 0))
    first = np.cross(beside, third)
    first /= np.linalg.norm(first)
    return np.stack([first, np.cross(third, first), third]).astype(np.float32)


def depth_map(casters: Floats, cell_m: float, toward: Floats, origin: Floats | None = None) -> DepthMap:
    """The map of points that cast shadows, for a light that lies `toward`, or at `origin`.

    `casters` 3×n metres, no farther apart than `cell_m`.
    """
    axes = facing(toward)
    across, up, near = _seen(casters, axes, origin)
    cell = cell_m
    if origin is not None:
        # As wide as the nearest points are apart, seen from there; narrower cells would have holes.
        cell = cell_m / max(float(-near.max()), 0.1)
    low, high = floats((across.min(), up.min())), floats((across.max(), up.max()))
    cell = max(cell, float((high - low).max()) / MAP_MOST)
    low = low - np.float32(1.5 * cell)
    # A rim of empty cells on every side: what lies beside the casters is in the light.
    counts = ((high - low) / cell).astype(int) + 3
    column = ((across - low[0]) / np.float32(cell)).astype(np.int32)
    row = ((up - low[1]) / np.float32(cell)).astype(np.int32)
    nearest = np.full(counts[0] * counts[1], -np.inf, np.float32)
    np.maximum.at(nearest, row * np.int32(counts[0]) + column, near)
    return DepthMap(axes, origin, low, cell, nearest.reshape(counts[1], counts[0]))


def disc(count: int) -> Floats:
    """Points spread evenly over a disc of radius 1, n×2: a spiral by the golden angle (Vogel 1979)."""
    turn = np.arange(count) * np.pi * (3 - np.sqrt(5))
    out = np.sqrt((np.arange(count) + 0.5) / count)
    return np.stack([out * np.cos(turn), out * np.sin(turn)], 1).astype(np.float32)


def sphere(count: int) -> Floats:
    """Directions spread evenly over the sphere, n×3 (the same spiral, by height)."""
    height = 1 - 2 * (np.arange(count) + 0.5) / count
    turn = np.arange(count) * np.pi * (3 - np.sqrt(5))
    out = np.sqrt(1 - height**2)
    return np.stack([out * np.cos(turn), height, out * np.sin(turn)], 1).astype(np.float32)


def seen_shares(points: Floats, normals: Floats) -> tuple[Floats, Floats]:
    """The share of an even sky's light, and of an even ground's, that each vertex of a figure gets past the
    figure itself: the mean of the directions it sees, by their cosine (0 to 1 each)."""
    places, facing_to = np.ascontiguousarray(points.T), np.ascontiguousarray(normals.T)
    head = points[:, 1] > HEAD_FROM_M
    top, top_facing = places[:, head], facing_to[:, head]
    sky, ground = np.zeros(len(points), np.float32), np.zeros(len(points), np.float32)
    weight = np.float32(4 / SKY_DIRECTIONS)
    for toward in sphere(SKY_DIRECTIONS):
        light = np.maximum(normals @ toward, 0) * weight
        seen = depth_map(places, 0.014, toward).reached(places, facing_to, 0.014)
        near = depth_map(top, 0.0035, toward).reached(top, top_facing, 0.0035)
        body = depth_map(places[:, ~head], 0.014, toward)
        seen[head] = np.minimum(near, body.reached(top, top_facing, 0.014))
        (sky if toward[1] > 0 else ground)[:] += light * seen
    return np.minimum(sky, 1), np.minimum(ground, 1)
