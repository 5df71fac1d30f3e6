"""What skin and hair mirror of a light: more than a matt surface shows where a mirror would show it."""

import numpy as np

from noggin.core.proof.mesh import HAIR, SKIN, Bytes, Floats, Indices, Mesh, floats
from noggin.core.setup.layout import Point

GLOSS = {SKIN: (0.028, 14.0), HAIR: (0.046, 22.0)}
"""What skin and hair mirror of a light straight on, by their refractive indices (1.4 and 1.55, Fresnel),
and the exponent of the lobe (Blinn and Phong, normalised after Akenine-Möller, Haines and Hoffman,
Real-Time Rendering; how rough they are is by eye)."""


def gloss(mesh: Mesh, vertices: Indices, parts: Bytes, eye: Point, toward: Floats) -> Floats:
    """What some vertices of a mesh mirror to an eye of light from `toward` (n×3, or one direction for all)
    for each unit that falls on them; `parts` says what each is of."""
    found = np.zeros(len(vertices), np.float32)
    for part, (straight, sharp) in GLOSS.items():
        some = np.nonzero(parts == part)[0]
        own = vertices[some]
        back = _unit(floats(eye) - mesh.places[own])
        half = _unit(_unit(toward if len(toward) == 1 else toward[some]) + back)
        facing = np.einsum("ij,ij->i", half, mesh.normals[own]).clip(1e-6, 1)
        grazing = np.einsum("ij,ij->i", half, back).clip(0, 1)
        mirrored = straight + (1 - straight) * (1 - grazing) ** 5  # Schlick
        found[some] = mirrored * ((sharp + 8) / 8) * facing ** np.float32(sharp)
    return found


def _unit(vectors: Floats) -> Floats:
    """Vectors of length 1 of the same directions."""
    long = np.sqrt(np.einsum("ij,ij->i", vectors, vectors))
    return floats(vectors / np.maximum(long, 1e-9)[:, None])
