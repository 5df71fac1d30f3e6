"""Units carried in names: aliases for reading, and the one conversion that is defined."""

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
