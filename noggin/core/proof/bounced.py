"""What walls and reflectors throw on, as pictures need it: `core/layout/bounce` on arrays."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi
from typing import Any

import numpy as np
from numpy.typing import NDArray

from noggin.core.layout.bounce import PATCHES_MOST, Panel, patches_of

Values = NDArray[np.floating[Any]]


@dataclass(frozen=True, eq=False)
class Patches:
    """Patches of a surface, each on both of its sides: middles and normals (n×3 metres), areas in m² (n),
    and what they throw back."""

    places: Values
    normals: Values
    areas: Values
    reflectance: float

    @classmethod
    def of(cls, panel: Panel, most: int = PATCHES_MOST) -> "Patches":
        """A panel cut into patches."""
        places, normals, areas = (np.array(column) for column in zip(*patches_of(panel, most), strict=True))
        return cls(places, normals, areas, panel.reflectance)

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


def patches_of_all(panels: Sequence[Panel]) -> tuple[Patches, ...]:
    """Panels cut into patches, each the coarser the more there are."""
    most = max(2 * PATCHES_MOST // max(len(panels), 2), 1)
    return tuple(Patches.of(panel, most) for panel in panels)
