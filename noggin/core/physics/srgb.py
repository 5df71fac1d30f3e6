"""The transfer function of sRGB, for one value and for whole pictures. Source: IEC 61966-2-1, clause
5.2."""

from functools import cache

import numpy as np
from numpy.typing import ArrayLike, NDArray

LINEAR_UNTIL, ENCODED_LINEAR_UNTIL = 0.0031308, 0.04045
SLOPE, GAIN, OFFSET, POWER = 12.92, 1.055, 0.055, 2.4

Values = NDArray[np.float32]


def encoded(linear: float) -> float:
    """The screen value, 0 to 1, of linear light from 0 to 1.

    >>> round(255 * encoded(0.18)), encoded(0.0), round(encoded(1.0), 6)
    (118, 0.0, 1.0)
    """
    return SLOPE * linear if linear <= LINEAR_UNTIL else GAIN * linear ** (1 / POWER) - OFFSET


def srgb(linear: ArrayLike) -> Values:
    """The same of a picture; what lies outside 0 to 1 is held there.

    >>> round(255 * float(srgb(0.18)))
    118
    """
    light = np.clip(np.asarray(linear, dtype=np.float32), 0, 1)
    found: Values = np.where(light <= LINEAR_UNTIL, SLOPE * light, GAIN * light ** (1 / POWER) - OFFSET)
    return found.astype(np.float32)


def undo_srgb(screen: ArrayLike) -> Values:
    """Linear light (0 to 1) of screen values (0 to 1).

    >>> round(float(undo_srgb(118 / 255)), 2), float(undo_srgb(1.0))
    (0.18, 1.0)
    """
    value = np.asarray(screen, dtype=np.float32)
    found: Values = np.where(
        value <= ENCODED_LINEAR_UNTIL, value / SLOPE, ((value + OFFSET) / GAIN) ** POWER
    )
    return found


@cache
def linear_of_bytes() -> Values:
    """What each of the 256 values of an 8-bit picture is as linear light, 0 to 1.

    >>> float(linear_of_bytes()[255])
    1.0
    """
    return undo_srgb(np.arange(256) / 255)
