"""Screen greys of levels, by the core's tone curve."""

from functools import lru_cache

from noggin.core.physics.appearance import tone
from noggin.core.units import Stops


@lru_cache(maxsize=4096)
def colour(level: Stops) -> str:
    """A level as `#rrggbb`.

    >>> colour(4.0), colour(0.0)
    ('#ffffff', '#767676')
    """
    return "#" + 3 * f"{round(255 * tone(level)):02x}"
