"""Sun and subject from above: the camera at the foot looking up the picture, the subject in the middle, the
sun where it is off the camera's axis, nearer to the middle the higher it is."""

from dataclasses import dataclass
from math import cos, radians, sin

from noggin.core.daylight.day import HORIZON_DEG, off_axis
from noggin.core.daylight.sun import Sun

RADIUS = 62.0
"""Where a sun on the horizon is drawn."""

NEAREST = 14.0
"""Where a sun straight above is drawn."""

MIDDLE = 76.0


@dataclass(frozen=True)
class Above:
    """The sun's place, the end of its ray at the subject, and where north points; None for a sun under the
    horizon."""

    sun: tuple[float, float] | None
    ray: tuple[float, float] | None
    north: tuple[float, float]


def above(sun: Sun, facing_deg: float) -> Above:
    """The view from above for a camera that looks one way."""
    north = _at(-facing_deg, RADIUS)
    if sun.height_deg < HORIZON_DEG:
        return Above(None, None, north)
    off = off_axis(sun, facing_deg)
    out = NEAREST + (RADIUS - NEAREST) * cos(radians(max(sun.height_deg, 0.0)))
    return Above(_at(off, out), _at(off, 8.0), north)


def _at(off_deg: float, out: float) -> tuple[float, float]:
    return MIDDLE + out * sin(radians(off_deg)), MIDDLE - out * cos(radians(off_deg))
