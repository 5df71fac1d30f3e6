"""Wind on a modifier, and what keeps the stand from falling. A caution, never a guarantee."""

from dataclasses import dataclass
from math import pi

from noggin.core import limits
from noggin.core.units import Metres

AIR_KG_M3 = 1.2
"""Density of air at 20 °C and sea level. Handbook value."""

DRAG = 1.2
"""Drag coefficient of a flat face across the wind. Handbook value, from memory."""

SAFETY = 2.0
"""Factor on the wind's moment. Common practice, no source."""

GRAVITY = 9.81
"""m/s², standard gravity to three figures."""


@dataclass(frozen=True)
class Stand:
    """What the light stands on: height of its tube and radius of the feet in metres, and the area
    that catches wind, m² (None: the modifier's face)."""

    height_m: Metres = 2.0
    footprint_m: Metres = 0.5
    sail_m2: float | None = None

    def __post_init__(self) -> None:
        limits.STAND_HEIGHT.check("height_m", self.height_m)
        limits.FOOTPRINT.check("footprint_m", self.footprint_m)
        if self.sail_m2 is not None:
            limits.SAIL.check("sail_m2", self.sail_m2)


def face_area(radius_m: Metres) -> float:
    """Area of a round face in m²."""
    return pi * radius_m**2


def wind_force(area_m2: float, gust_m_s: float) -> float:
    """Newtons of a gust on a face square to it: ½ · 1.2 · 1.2 · area · v².

    >>> round(wind_force(1.0, 10.0), 3)
    72.0
    """
    return 0.5 * AIR_KG_M3 * DRAG * area_m2 * gust_m_s**2


def ballast(stand: Stand, area_m2: float, gust_m_s: float) -> float:
    """Kilograms over the stand's middle that hold a tube at its height against a gust, factor 2 in.

    The stand turns over the line between two feet, half a footprint radius from its middle:
    m = 2 · F · h / (g · R/2).

    >>> round(ballast(Stand(2.0, 0.5), 0.5, 8.0), 1)
    37.6
    """
    moment = wind_force(area_m2, gust_m_s) * stand.height_m
    return SAFETY * moment / (GRAVITY * stand.footprint_m / 2)
