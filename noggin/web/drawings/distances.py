"""Distances of lights on one axis, logarithmic as light falls: every doubling is two stops."""

from dataclasses import dataclass
from math import isinf, log2

from noggin.core.units import METRES_PER_FOOT, Metres
from noggin.core.wording import distance_unit

NEAREST: Metres = 0.5
FARTHEST: Metres = 16.0
WIDTH = 300.0


@dataclass(frozen=True)
class Reached:
    """Where two bars end, at sync and in high-speed sync (None: it cannot reach at all), on WIDTH; where
    the light stands now, and the ticks with their words."""

    sync: float | None
    hss: float | None
    stands: float
    ticks: tuple[tuple[float, str], ...]


def reached(sync_m: Metres | None, hss_m: Metres | None, stands_m: Metres) -> Reached:
    """The bars of one row."""
    if distance_unit() == "ft":
        ticks = tuple((_along(feet * METRES_PER_FOOT), f"{feet}") for feet in (2, 4, 8, 16, 32))
    else:
        ticks = tuple((_along(metres), f"{metres:g}") for metres in (0.5, 1.0, 2.0, 4.0, 8.0, 16.0))
    return Reached(_end(sync_m), _end(hss_m), _along(stands_m), ticks)


def _end(distance_m: Metres | None) -> float | None:
    if distance_m is None:
        return None
    return WIDTH if isinf(distance_m) else _along(distance_m)


def _along(distance_m: Metres) -> float:
    held = max(NEAREST, min(distance_m, FARTHEST))
    return WIDTH * log2(held / NEAREST) / log2(FARTHEST / NEAREST)
