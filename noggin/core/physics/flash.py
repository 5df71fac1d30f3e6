"""From a guide number to a level on the subject, term by term in stops."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan, cos, degrees, hypot, log2, radians, sin, sqrt

from noggin.core.units import Metres, Seconds, Stops

DARK_COSINE = 0.05
"""Nearest to a right angle off its aim that a beam is reckoned with."""

FLASH_K = 5600
"""Colour temperature of a bare flash tube in kelvin. Common practice, no source."""


@dataclass(frozen=True)
class Term:
    """One named gain (positive) or loss (negative) between the tube and the face, in stops."""

    what: str
    stops: Stops


def at_one_metre(guide_number_m: Metres) -> Stops:
    """Full-power level at 1 m, f/1, ISO 100: 2 log2(GN). Source: ISO 1230.

    >>> at_one_metre(64)
    12.0
    """
    return 2 * log2(guide_number_m)


def by_distance(distance_m: Metres) -> Stops:
    """Inverse square against 1 m: -2 log2(d).

    >>> by_distance(2.0)
    -2.0
    """
    return -2 * log2(distance_m)


def near_source(distance_m: Metres, radius_m: Metres) -> Stops:
    """What a big face loses against a point: -log2(1 + (r/d)²), on the axis of a Lambertian disc.

    >>> near_source(1.0, 1.0), near_source(2.0, 0.0) == 0
    (-1.0, True)
    """
    return -log2(1 + (radius_m / distance_m) ** 2)


def by_heads(count: int) -> Stops:
    """Several equal heads in one modifier: log2(n).

    >>> by_heads(4)
    2.0
    """
    return log2(count)


def past_sync(shutter: Stops, sync: Stops) -> Stops:
    """What a continuous pulse loses to a time shorter than sync: -(Tv - Tv at sync).

    >>> past_sync(13.0, 8.0)
    -5.0
    """
    return -(shutter - sync)


def falloff(distance_m: Metres, further_m: Metres, radius_m: Metres) -> Stops:
    """Level lost between the subject and a spot `further_m` behind it, seen from the light.

    log2((d_s² + r²)/(d_b² + r²)) with d_b = d_s + further.

    >>> falloff(2.0, 2.0, 0.0)
    -2.0
    """
    behind = distance_m + further_m
    return log2((distance_m**2 + radius_m**2) / (behind**2 + radius_m**2))


def beam_loss(distance_m: Metres, angle_deg: float, behind_m: Metres, exponent: float) -> Stops:
    """What a beam of cos^n loses toward a spot straight behind the subject it is aimed at.

    The light stands `distance_m` from the subject, `angle_deg` off the line from subject to lens; the spot
    is `behind_m` farther along that line. Cosine beam: class figures, from memory.

    >>> abs(beam_loss(2.0, 0.0, 3.0, 15.0)), round(beam_loss(2.0, 75.0, 1.0, 15.0), 1)
    (0.0, 1.8)
    """
    along, aside = cos(radians(angle_deg)), sin(radians(angle_deg))
    to_spot = hypot(distance_m * aside, distance_m * along + behind_m)
    if not to_spot:
        return 0.0
    cosine = (distance_m + behind_m * along) / to_spot
    return -exponent * log2(max(cosine, DARK_COSINE))


def across(distances_m: Sequence[Metres], radius_m: Metres) -> Stops:
    """Spread in stops from the nearest to the farthest of several faces, by their distances from a
    light: log2((d_far² + r²)/(d_near² + r²)); 0 for fewer than two.

    >>> across([2.0, 3.0, 4.0], 0.0), across([2.0], 0.0)
    (2.0, 0.0)
    """
    if len(distances_m) < 2:
        return 0.0
    near, far = min(distances_m), max(distances_m)
    return -falloff(near, far - near, radius_m)


def distance_for(distance_m: Metres, radius_m: Metres, more: Stops) -> Metres | None:
    """Where a light at `distance_m` must be to give so many stops more (negative: fewer); None
    where its face is too big to give them at any distance.

    >>> distance_for(4.0, 0.0, 2.0), distance_for(1.0, 1.0, 1.5) is None
    (2.0, True)
    """
    square = (distance_m**2 + radius_m**2) / 2**more - radius_m**2
    return sqrt(square) if square > 0 else None


def toll_on(toll: Stops, measured_at: Seconds, sync_s: Seconds) -> Stops:
    """A toll measured at one sync time, on a body with another: toll + log2(t_measured/t_sync).

    >>> toll_on(1.0, 1 / 100, 1 / 200)
    2.0
    """
    return toll + log2(measured_at / sync_s)


def angular_size(distance_m: Metres, radius_m: Metres) -> float:
    """Degrees across which the face of a light is seen from the subject, its softness: 2·atan(r/d).

    >>> round(angular_size(1.0, 1.0))
    90
    """
    return degrees(2 * atan(radius_m / distance_m))
