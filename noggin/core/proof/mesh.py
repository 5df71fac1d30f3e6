"""Figures as meshes, and where they stand."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Indices = NDArray[np.int32]
Bytes = NDArray[np.uint8]


def floats(values: Any) -> Floats:
    """Figures as an array of single precision."""
    return np.asarray(values, np.float32)


SKIN, EYES, HAIR, CLOTH, SHIRT, FLOWERS, SHOES = range(7)
"""What a surface is of."""

NECK_M = (-0.20, -0.10)
"""Between these heights, from the eyes, the body's turn goes over into that of the head."""

BODY_FOLLOWS = 0.55
"""The part of a turned gaze that the body turns, the head does the rest. Common practice, no source."""


@dataclass(frozen=True, eq=False)
class Mesh:
    """Triangles of one or more figures.

    `own` are the places of the vertices in the figure's own frame (x to the camera's right, y up from the
    eyes, z out of the face), `places` where they stand (x right, y up from the ground, z toward the
    camera), both n×3 metres; `normals` n×3; `triangles` m×3; `part` and `who` of every triangle; `sky` and
    `ground` the share of light that each vertex gets of an even sky above and an even ground below, 0 to 1.
    """

    own: Floats
    places: Floats
    normals: Floats
    triangles: Indices
    part: Bytes
    who: Bytes
    sky: Floats
    ground: Floats


def stand(mesh: Mesh, who: int, eyes: tuple[float, float, float], turn_deg: float) -> Mesh:
    """A figure with its eyes at `eyes` (x, height, z), looking `turn_deg` to the camera's right (0: into
    the lens), grown to the ground."""
    own = mesh.own
    grown = eyes[1] / float(-own[:, 1].min())  # the origin lies between its eyes
    part = np.clip((own[:, 1] - NECK_M[0]) / (NECK_M[1] - NECK_M[0]), 0, 1)
    turn = np.radians(turn_deg * (BODY_FOLLOWS + (1 - BODY_FOLLOWS) * part))
    across, along = np.cos(turn), np.sin(turn)

    def turned(points: Floats) -> Floats:
        x, z = points[:, 0], points[:, 2]
        return np.stack([across * x + along * z, points[:, 1], across * z - along * x], 1).astype(
            np.float32
        )

    return Mesh(
        own,
        turned(own) * np.float32(grown) + floats(eyes),
        turned(mesh.normals),
        mesh.triangles,
        mesh.part,
        np.full(len(mesh.triangles), who, np.uint8),
        mesh.sky,
        mesh.ground,
    )


def together(meshes: tuple[Mesh, ...]) -> Mesh:
    """Several figures as one mesh."""
    offsets = np.cumsum([0, *(len(mesh.own) for mesh in meshes)])
    return Mesh(
        np.concatenate([mesh.own for mesh in meshes]),
        np.concatenate([mesh.places for mesh in meshes]),
        np.concatenate([mesh.normals for mesh in meshes]),
        np.concatenate(
            [mesh.triangles + np.int32(offset) for mesh, offset in zip(meshes, offsets, strict=False)]
        ),
        np.concatenate([mesh.part for mesh in meshes]),
        np.concatenate([mesh.who for mesh in meshes]),
        np.concatenate([mesh.sky for mesh in meshes]),
        np.concatenate([mesh.ground for mesh in meshes]),
    )
