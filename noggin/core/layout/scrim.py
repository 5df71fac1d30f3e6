"""What a scrim holds back: it is turned square to the sun, so that its shadow is as wide as itself."""

from math import hypot

from noggin.core.layout.standing import SunOver
from noggin.core.setup.layout import Layout, Point, ScrimSpot
from noggin.core.units import Stops


def covers(scrim: ScrimSpot, sun: SunOver, point: Point) -> bool:
    """Whether a place lies in the scrim's shadow: nearer than its half width to the ray through its middle,
    on the side away from the sun.

    >>> over, face = ScrimSpot(0.0, 0.0, 2.5, 0.6, 1.5), (0.0, 0.0, 1.5)
    >>> covers(over, SunOver(0.0, 90.0), face), covers(over, SunOver(0.0, 45.0), face)
    (True, False)
    """
    out = tuple(place - middle for place, middle in zip(point, scrim.at, strict=True))
    along = sum(one * other for one, other in zip(out, sun.toward, strict=True))
    aside = (one - along * other for one, other in zip(out, sun.toward, strict=True))
    return along < 0 and hypot(*aside) <= scrim.radius_m


def held_back(layout: Layout, sun: SunOver | None) -> Stops:
    """What the plan's scrim takes off the light on the subject: all that it takes where its shadow falls on
    the face, or where nobody knows where the sun is; else nothing."""
    scrim = layout.scrim
    if scrim is None:
        return 0.0
    if sun is None or sun.assumed or covers(scrim, sun, layout.face):
        return scrim.stops
    return 0.0
