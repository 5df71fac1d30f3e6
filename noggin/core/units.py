"""Units carried in names: aliases for reading, and the few conversions."""

from math import log2

Stops = float
"""A factor of two each. Losses are positive and subtracted; a negative loss is a gain."""
EV100 = float
"""Scene brightness as an exposure value at ISO 100."""
Seconds = float
Metres = float
Millimetres = float
FNumber = float

METRES_PER_FOOT = 0.3048
"""International foot, exact by definition (1959)."""

TOLERANCE = 1e-9
"""Stops. Differences below this are rounding of binary fractions, not light."""


def stops_between(more: float, less: float) -> Stops:
    """Stops by which `more` exceeds `less`: log2(more / less), both positive.

    >>> stops_between(64, 1)
    6.0
    """
    return log2(more / less)
