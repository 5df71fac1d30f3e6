"""The small drawings in the board of ways: the same axis for every way, so that they compare."""

from dataclasses import dataclass
from math import log2

from noggin.core.physics.optics import Focus
from noggin.core.units import Metres, Stops

RESERVE_LEAST: Stops = -3
RESERVE_MOST: Stops = 3
WIDTH = 140.0


@dataclass(frozen=True)
class ReserveBar:
    """A bar from `start`, `length` long, on a track of WIDTH; `origin` is where nothing is left, and
    the end of the bar can be anywhere from `low` to `high`."""

    start: float
    length: float
    origin: float
    short: bool = False
    low: float = 0.0
    high: float = 0.0


def reserve_gauge(reserve: Stops | None, uncertainty: Stops | None = None) -> ReserveBar | None:
    """A reserve from 0 to the right, or what is short to the left, with its ±; None where there is no
    figure."""
    if reserve is None:
        return None
    origin, end, low, high = (
        _along(value, RESERVE_LEAST, RESERVE_MOST)
        for value in (0.0, reserve, reserve - (uncertainty or 0.0), reserve + (uncertainty or 0.0))
    )
    return ReserveBar(min(origin, end), abs(end - origin), origin, reserve < 0, low, high)


def focus_gauge(focus: Focus, distance_m: Metres) -> ReserveBar:
    """What is sharp around the subject, from half to twice its distance (logarithmic)."""
    near = _along(log2(focus.near_m / distance_m), -1, 1)
    far = WIDTH if focus.far_m is None else _along(log2(focus.far_m / distance_m), -1, 1)
    return ReserveBar(near, max(far - near, 3.0), WIDTH / 2)


def blur_gauge(focus: Focus) -> float:
    """Diameter of the background's blur disc, at four times its share of a frame WIDTH wide."""
    return min(4 * WIDTH * focus.background_blur_pct / 100, 26.0)


def _along(value: float, least: float, most: float) -> float:
    held = max(least, min(value, most))
    return WIDTH * (held - least) / (most - least)
