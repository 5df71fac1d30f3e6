"""Distances of lights on one axis, logarithmic as light falls: every doubling is two stops."""

from dataclasses import dataclass
from math import isinf, log2

from noggin.core.units import METRES_PER_FOOT, Metres
from noggin.core.wording import distance_unit

NEAREST: Metres = 0.5
FARTHEST: Metres = 16.0
WIDTH = 300.0


@dataclass(frozen=True)
class DistanceBar:
    """A bar from the nearest distance to `end` on WIDTH, with its ± from `low` to `high`."""

    end: float
    low: float
    high: float


@dataclass(frozen=True)
class DistanceAxis:
    """Ticks with their words, and where the light is now."""

    ticks: tuple[tuple[float, str], ...]
    stands: float


def distance_axis(stands_m: Metres) -> DistanceAxis:
    """The axis that all bars share, in the reader's unit."""
    if distance_unit() == "ft":
        ticks = tuple((_along(feet * METRES_PER_FOOT), f"{feet}") for feet in (2, 4, 8, 16, 32))
    else:
        ticks = tuple((_along(metres), f"{metres:g}") for metres in (0.5, 1.0, 2.0, 4.0, 8.0, 16.0))
    return DistanceAxis(ticks, _along(stands_m))


def distance_bar(distance_m: Metres | None, low_m: Metres, high_m: Metres) -> DistanceBar | None:
    """How far something reaches; None where it does not."""
    if distance_m is None:
        return None
    if isinf(distance_m):
        return DistanceBar(WIDTH, WIDTH, WIDTH)
    return DistanceBar(_along(distance_m), _along(low_m), _along(high_m))


def _along(distance_m: Metres) -> float:
    held = max(NEAREST, min(distance_m, FARTHEST))
    return WIDTH * log2(held / NEAREST) / log2(FARTHEST / NEAREST)
