"""Screen colours of levels: greys by the core's tone curve, tinted toward daylight or flash."""

from functools import lru_cache
from math import log2

from noggin.core.physics.tones import tone
from noggin.core.units import Stops

Tint = tuple[float, float, float]

NEUTRAL: Tint = (1.0, 1.0, 1.0)
SKYLIGHT: Tint = (0.90, 1.0, 1.16)
FLASHLIGHT: Tint = (1.06, 1.0, 0.90)
LEAVES: Tint = (0.94, 1.04, 0.86)
"""Linear factors on red, green and blue: a hint of colour, never what carries the meaning."""


@lru_cache(maxsize=4096)
def colour(level: Stops, tint: Tint = NEUTRAL) -> str:
    """A level as `#rrggbb`.

    >>> colour(4.0), colour(0.0)
    ('#ffffff', '#767676')
    """
    channels = (round(255 * tone(level + log2(factor))) for factor in tint)
    return "#" + "".join(f"{channel:02x}" for channel in channels)
