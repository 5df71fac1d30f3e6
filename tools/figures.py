"""Cuts the people of a proof out of their distance fields, once, into `noggin/figures/`.

Surface nets (Gibson 1998): one vertex in every cell that the surface crosses, in the middle of its
crossings, then drawn onto the surface along the field's slope. Run `python -m tools.figures` after a change
of `tools/figure_shapes.py`; it takes about a minute.
"""

import sys
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

import noggin.figures
from noggin.core.proof.mesh import Mesh, floats
from noggin.core.proof.shadow import seen_shares
from noggin.figures import GRAIN
from tools.figure_shapes import SHAPES, Box, Shape

OUT = Path(noggin.figures.__file__).parent
FINENESS = {"fine": 1.0, "coarse": 2.2}
"""How much coarser than in `SHAPES` the cells of each version are."""

HIDDEN_M = 0.012
"""What lies so deep inside another part is never seen, and left out."""

Floats = NDArray[np.float32]


def surface(shape: Shape, box: Box, cell: float) -> tuple[Floats, NDArray[np.int32]]:
    """Vertices and triangles of a field's surface in a box."""
    low = floats(box[0])
    counts = np.maximum(((floats(box[1]) - low) / cell).astype(int) + 1, 3)
    axes = [low[axis] + cell * np.arange(counts[axis], dtype=np.float32) for axis in range(3)]
    field = np.empty(tuple(counts), np.float32)
    for index, x in enumerate(axes[0]):
        grid = np.stack(np.meshgrid([x], axes[1], axes[2], indexing="ij"), -1).astype(np.float32)
        field[index] = shape(grid)[0]
    inside = field < 0
    cells = tuple(counts - 1)
    crossings, count = np.zeros((*cells, 3), np.float32), np.zeros(cells, np.float32)
    corners = [(i, j, k) for i in (0, 1) for j in (0, 1) for k in (0, 1)]
    for first in corners:
        for axis in range(3):
            if first[axis]:
                continue
            other = tuple(value + (index == axis) for index, value in enumerate(first))
            at_first, at_other = (
                tuple(slice(step, step + size) for step, size in zip(corner, cells, strict=True))
                for corner in (first, other)
            )
            crossed = inside[at_first] != inside[at_other]
            part = field[at_first] / np.where(crossed, field[at_first] - field[at_other], 1)
            where = np.broadcast_to(floats(first), (*cells, 3)).copy()
            where[..., axis] += part
            crossings += np.where(crossed[..., None], where, 0)
            count += crossed
    used = count > 0
    number = np.full(cells, -1, np.int32)
    number[used] = np.arange(used.sum())
    points = floats(np.argwhere(used) + crossings[used] / count[used][:, None])
    faces = []
    for axis in range(3):
        one, two = (axis + 1) % 3, (axis + 2) % 3
        ahead = [slice(1, size) for size in cells]
        ahead[axis] = slice(0, cells[axis])
        beyond = list(ahead)
        beyond[axis] = slice(1, cells[axis] + 1)
        start, end = inside[tuple(ahead)], inside[tuple(beyond)]
        crossed = start != end

        def at(
            back_one: int, back_two: int, ahead: list[slice] = ahead, one: int = one, two: int = two
        ) -> NDArray[np.int32]:
            moved = list(ahead)
            moved[one] = slice(1 - back_one, cells[one] - back_one)
            moved[two] = slice(1 - back_two, cells[two] - back_two)
            return number[tuple(moved)]

        quad = np.stack([at(0, 0), at(1, 0), at(1, 1), at(0, 1)], -1)[crossed]
        outward = start[crossed]
        quad[~outward] = quad[~outward][:, ::-1]
        faces.append(quad)
    quads = np.concatenate(faces)
    triangles = np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])
    points = floats(low + points * np.float32(cell))
    for _ in range(3):
        distance, slope = shape(points), slopes(shape, points, cell)
        steep = (slope * slope).sum(1) + 1e-6
        points -= np.clip(distance / steep, -cell / 2, cell / 2)[:, None] * slope * np.float32(0.8)
    return points.astype(np.float32), triangles.astype(np.int32)


def slopes(shape: Shape, points: Floats, cell: float) -> Floats:
    """Where the field rises, not normalised."""
    step = np.float32(min(cell / 4, 0.001))
    ahead = [shape(points + step * np.eye(3, dtype=np.float32)[axis]) for axis in range(3)]
    behind = [shape(points - step * np.eye(3, dtype=np.float32)[axis]) for axis in range(3)]
    return ((np.stack(ahead, 1) - np.stack(behind, 1)) / (2 * step)).astype(np.float32)


def figure(name: str, coarser: float) -> Mesh:
    """A figure cut out, with what each vertex sees of sky and ground."""
    vertices, normals, triangles, parts, offset = [], [], [], [], 0
    for part, shape, box, cell in SHAPES[name]:
        points, faces = surface(shape, box, cell * coarser)
        others = {other for kind, other, _, _ in SHAPES[name] if kind != part}
        hidden = np.zeros(len(points), bool)
        for other in others:
            hidden |= other(points) < -HIDDEN_M
        faces = faces[~hidden[faces].all(1)]
        kept, places = np.unique(faces, return_inverse=True)
        points, faces = points[kept], places.reshape(-1, 3).astype(np.int32)
        slope = slopes(shape, points, cell * coarser)
        vertices.append(points)
        normals.append(slope / (np.linalg.norm(slope, axis=1, keepdims=True) + 1e-9))
        triangles.append(faces + np.int32(offset))
        parts.append(np.full(len(faces), part, np.uint8))
        offset += len(points)
    own, normal = np.concatenate(vertices), np.concatenate(normals).astype(np.float32)
    sky, ground = seen_shares(own, normal)
    faces = np.concatenate(triangles)
    return Mesh(own, own, normal, faces, np.concatenate(parts), np.zeros(len(faces), np.uint8), sky, ground)


def main() -> None:
    """Write every figure in every fineness."""
    for name in SHAPES:
        for version, coarser in FINENESS.items():
            mesh = figure(name, coarser)
            file = OUT / f"{name}-{version}.npz"
            np.savez_compressed(
                file,
                own=np.round(mesh.own * GRAIN).astype(np.int16),
                normals=np.round(mesh.normals * 127).astype(np.int8),
                triangles=mesh.triangles.astype(np.uint32),
                part=mesh.part,
                sky=np.round(mesh.sky * 255).astype(np.uint8),
                ground=np.round(mesh.ground * 255).astype(np.uint8),
            )
            sys.stdout.write(f"{file.name}: {len(mesh.own)} vertices, {file.stat().st_size // 1024} kB\n")


if __name__ == "__main__":
    main()
