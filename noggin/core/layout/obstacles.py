"""What stands between two places of a plan, or near the way from one to the other: people in somebody's
light, walls, stands' feet, cables."""

from math import hypot, radians, tan

from noggin.core.setup.layout import PersonSpot, Point, SurfaceLine
from noggin.core.units import Metres

HEAD_OVER_EYES_M: Metres = 0.13
"""The top of a head over its eyes. Drawing handbooks, from memory."""

SHADES_WITHIN_M: Metres = 0.25
"""Someone shades another when the light passes this close to them. Common practice, no source."""

WAY_M: Metres = 0.5
"""Half the width of a way that people walk. Common practice, no source."""


def shades(light: Point, lit: PersonSpot, other: PersonSpot) -> bool:
    """Whether another person stands between a light and a face: within 25 cm of the way of the light, below
    the top of their head."""
    x, y, height = lit.x_m - light[0], lit.y_m - light[1], lit.height_m - light[2]
    square = x * x + y * y
    if not square:
        return False
    part = ((other.x_m - light[0]) * x + (other.y_m - light[1]) * y) / square
    if not 0 < part < 1 - 1e-6:
        return False
    aside = hypot(light[0] + part * x - other.x_m, light[1] + part * y - other.y_m)
    return aside < SHADES_WITHIN_M and light[2] + part * height < other.height_m + HEAD_OVER_EYES_M


def on_the_way(stand: Point, footprint_m: Metres, start: Point, end: Point) -> bool:
    """Whether a stand's feet reach into the way between two places, half a metre to each side."""
    return start[:2] != end[:2] and _from_line(stand[:2], start[:2], end[:2]) < WAY_M + footprint_m


Spot = tuple[Metres, Metres]


def segments_apart(start: Spot, end: Spot, other: Spot, other_end: Spot) -> Metres:
    """How near two straight lines on the ground come to each other; 0 where they cross.

    >>> segments_apart((0, 0), (2, 0), (1, -1), (1, 1)), segments_apart((0, 0), (2, 0), (0, 1), (2, 1))
    (0.0, 1.0)
    """
    sides = [
        _side(start, end, other) * _side(start, end, other_end),
        _side(other, other_end, start) * _side(other, other_end, end),
    ]
    if all(side < 0 for side in sides):
        return 0.0
    return min(
        _from_line(start, other, other_end),
        _from_line(end, other, other_end),
        _from_line(other, start, end),
        _from_line(other_end, start, end),
    )


def _side(start: Spot, end: Spot, point: Spot) -> float:
    return (end[0] - start[0]) * (point[1] - start[1]) - (end[1] - start[1]) * (point[0] - start[0])


def _from_line(point: Spot, start: Spot, end: Spot) -> Metres:
    """How far a place is from a straight line that has two ends."""
    x, y = end[0] - start[0], end[1] - start[1]
    square = x * x + y * y
    part = ((point[0] - start[0]) * x + (point[1] - start[1]) * y) / square if square else 0.0
    part = max(0.0, min(1.0, part))
    return hypot(start[0] + part * x - point[0], start[1] + part * y - point[1])


def blocks(surface: SurfaceLine, start: Point, end: Point) -> bool:
    """Whether a surface stands in the straight way from one place to another, in space.

    >>> wall = SurfaceLine((1.0, -1.0), (1.0, 1.0), 2.0, 0.4)
    >>> blocks(wall, (2.0, 0.0, 1.5), (0.0, 0.0, 1.5)), blocks(wall, (2.0, 0.0, 3.5), (0.0, 0.0, 1.5))
    (True, False)
    """
    here, there = (_side(surface.start, surface.end, place[:2]) for place in (start, end))
    one, other = (_side(start[:2], end[:2], place) for place in (surface.start, surface.end))
    if here * there >= 0 or one * other > 0:
        return False
    part = here / (here - there)
    return 0 <= start[2] + part * (end[2] - start[2]) <= surface.height_m


def shadow_length(height_m: Metres, sun_deg: float) -> Metres | None:
    """How long a shadow the sun throws: h/tan(height); None where it does not shine.

    >>> round(shadow_length(1.7, 45), 2), shadow_length(1.7, 0)
    (1.7, None)
    """
    return height_m / tan(radians(sun_deg)) if sun_deg > 0 else None
