"""From triangles to pixels: which one each pixel sees, and where in it."""

from dataclasses import dataclass

import numpy as np

from noggin.core.proof.mesh import Floats, Indices, Mesh
from noggin.core.proof.view import CameraView

NEAR_M = 0.2
"""Nothing nearer to the camera is drawn."""

SPANS = (1, 2, 3, 4, 6, 8, 12, 20, 32, 64, 128, 256)
"""Sides in pixels of the squares that triangles are tried in, each in the smallest that holds it."""

AT_ONCE = 600_000
"""Samples that are tried at once."""


@dataclass(frozen=True, eq=False)
class Hits:
    """What pixels see of a mesh: `pixels` (row · width + column), `triangles`, `weights` of their three
    vertices (n×3, with perspective), and `depths` along the view in metres."""

    pixels: Indices
    triangles: Indices
    weights: Floats
    depths: Floats


def rasterise(mesh: Mesh, view: CameraView) -> Hits:
    """The nearest triangle in the middle of every pixel that sees one."""
    x, y, depth = view.project(mesh.places)
    # By columns: along a short axis it would take many times as long.
    cx, cy, cz = ([values.take(corner) for corner in mesh.triangles.T] for values in (x, y, depth))
    area = (cx[1] - cx[0]) * (cy[2] - cy[0]) - (cx[2] - cx[0]) * (cy[1] - cy[0])
    left, right = np.ceil(_least(*cx) - 0.5), np.floor(_most(*cx) - 0.5)
    top, foot = np.ceil(_least(*cy) - 0.5), np.floor(_most(*cy) - 0.5)
    # Rows count downward, so that a triangle that faces the camera has a negative area.
    seen = (area < 0) & (_least(*cz) > NEAR_M) & (right >= left) & (foot >= top)
    seen &= (right >= 0) & (left < view.width) & (foot >= 0) & (top < view.height)
    span = np.maximum(right - left, foot - top) + 1
    found: list[tuple[Indices, Indices, Floats, Floats]] = []
    least = 0
    for most in SPANS:
        chosen = np.nonzero(seen & (span > least) & (span <= most))[0]
        least = most
        for start in range(0, len(chosen), max(AT_ONCE // most**2, 1)):
            some = chosen[start : start + max(AT_ONCE // most**2, 1)]
            if len(some):
                found.append(_tried(some.astype(np.int32), most, left, top, cx, cy, cz, area, view))
    if not found:
        nothing = np.zeros(0, np.int32)
        return Hits(nothing, nothing, np.zeros((0, 3), np.float32), np.zeros(0, np.float32))
    pixels, triangles, weights, depths = (np.concatenate(parts) for parts in zip(*found, strict=True))
    nearest = np.full(view.width * view.height, np.inf, np.float32)
    np.minimum.at(nearest, pixels, depths)
    won = np.nonzero(depths <= nearest[pixels])[0]
    _, first = np.unique(pixels[won], return_index=True)
    won = won[first]
    return Hits(pixels[won], triangles[won], weights[won], depths[won])


def _least(first: Floats, second: Floats, third: Floats) -> Floats:
    found: Floats = np.minimum(np.minimum(first, second), third)
    return found


def _most(first: Floats, second: Floats, third: Floats) -> Floats:
    found: Floats = np.maximum(np.maximum(first, second), third)
    return found


def _tried(
    some: Indices,
    span: int,
    left: Floats,
    top: Floats,
    cx: list[Floats],
    cy: list[Floats],
    cz: list[Floats],
    area: Floats,
    view: CameraView,
) -> tuple[Indices, Indices, Floats, Floats]:
    """The samples of some triangles that lie inside them, each in its square of `span` pixels."""
    rows, columns = np.divmod(np.arange(span * span), span)
    px = left[some, None] + columns.astype(np.float32)
    py = top[some, None] + rows.astype(np.float32)
    sx, sy = px + np.float32(0.5), py + np.float32(0.5)
    ax, bx, ex = (values[some, None] for values in cx)
    ay, by, ey = (values[some, None] for values in cy)
    whole = area[some, None]
    first = ((bx - sx) * (ey - sy) - (ex - sx) * (by - sy)) / whole
    second = ((ex - sx) * (ay - sy) - (ax - sx) * (ey - sy)) / whole
    third = 1 - first - second
    inside = (first >= 0) & (second >= 0) & (third >= 0)
    inside &= (px >= 0) & (px < view.width) & (py >= 0) & (py < view.height)
    which, sample = np.nonzero(inside)
    a, b, c = (
        part[which, sample] / far[some[which]] for part, far in zip((first, second, third), cz, strict=True)
    )
    near = a + b + c
    pixels = (py[which, sample] * view.width + px[which, sample]).astype(np.int32)
    return (
        pixels,
        some[which].astype(np.int32),
        np.stack([a / near, b / near, c / near], 1).astype(np.float32),
        (1 / near).astype(np.float32),
    )
