"""The people of a proof: meshes that `tools/figures.py` cut out of their shapes, once."""

from functools import cache
from importlib import resources

import numpy as np

from noggin.core.proof.mesh import Mesh

GRAIN = 16_000
"""Steps to a metre in which places are kept."""


@cache
def figure(name: str, version: str) -> Mesh:
    """A figure ("gown", "suit" or "child") in a version ("fine" or "coarse"), at its own origin."""
    file = resources.files("noggin.figures").joinpath(f"{name}-{version}.npz")
    with file.open("rb") as opened, np.load(opened) as kept:
        own = kept["own"].astype(np.float32) / GRAIN
        normals = kept["normals"].astype(np.float32)
        normals /= np.linalg.norm(normals, axis=1, keepdims=True) + 1e-6
        triangles = kept["triangles"].astype(np.int32)
        return Mesh(
            own,
            own,
            normals,
            triangles,
            kept["part"],
            np.zeros(len(triangles), np.uint8),
            kept["sky"].astype(np.float32) / 255,
            kept["ground"].astype(np.float32) / 255,
        )
