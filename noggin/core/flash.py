"""From a guide number to a level on the subject, term by term in stops."""

from dataclasses import dataclass
from math import log2

from noggin.core.units import Metres, Stops


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
