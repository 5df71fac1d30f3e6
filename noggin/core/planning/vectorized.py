"""Arithmetic on columns: one figure for every setting, light or moment at once."""

from math import log2

import numpy as np
from numpy.typing import NDArray

from noggin.core.setup.intent import Intent
from noggin.core.units import TOLERANCE

NO_LIGHT = -200.0
"""A level that adds nothing to any other."""

Column = NDArray[np.float64]
"""One figure in stops for every setting on offer, or for every moment."""


def needed_flash(intent: Intent, ambient: Column) -> Column:
    """`lighting.needed_flash` on a column of the subject's daylight; NaN where no flash is needed."""
    if intent.school == "match":
        return np.full_like(ambient, intent.subject_level)
    if intent.school == "share" and intent.share is not None:
        return ambient + log2(intent.share / (1 - intent.share))
    lacking = ambient < intent.subject_level - TOLERANCE
    under = np.where(lacking, ambient - intent.subject_level, -1.0)
    return np.where(lacking, intent.subject_level + np.log2(1 - np.exp2(under)), np.nan)


def mixed(ambient: Column, levels: NDArray[np.float64]) -> Column:
    """`exposure.mix` on columns: daylight with the levels of several lights (down), of which NaN add
    nothing."""
    light = np.exp2(ambient) + np.exp2(np.fmax(levels, NO_LIGHT)).sum(axis=0)
    return np.asarray(np.log2(light), dtype=np.float64)
