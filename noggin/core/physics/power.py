"""Flash power as a light can be set: steps counted from full, and the two notations."""

from math import ceil, floor, log2

from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import MINUS, plain

SCALES = {
    "fraction": "fractions of full power: 1/4 +0.3",
    "decimal": "a number, one whole number a stop: 7.3",
}
"""The notations a light can have."""


def dialled_down(reserve: Stops, step: Stops, least_power: float) -> Stops:
    """Stops under full power that use up a reserve, rounded to the light's step.

    Halves go toward more light; the result is held between full and least power.

    >>> round(dialled_down(1.288, 1 / 3, 1 / 128), 3)
    1.333
    >>> dialled_down(-0.8, 1 / 3, 1 / 128), dialled_down(9.0, 1 / 3, 1 / 128)
    (0.0, 7.0)
    """
    steps = ceil(reserve / step - 0.5 - TOLERANCE)
    return min(max(steps * step, 0.0), -log2(least_power))


def power_label(down: Stops, scale: str, full_mark: float) -> str:
    """A power in the light's own notation, from its stops under full.

    >>> power_label(2 / 3, "fraction", 10), power_label(4 / 3, "fraction", 10)
    ('1/2 +0.3', '1/2 −0.3')
    >>> power_label(2.7, "decimal", 10)
    '7.3'
    """
    if scale == "decimal":
        return plain(full_mark - down)
    whole = floor(down + 0.5 + TOLERANCE)
    rest = plain(abs(whole - down))
    fraction = f"1/{2**whole}"
    if float(rest) == 0:
        return fraction
    return f"{fraction} {'+' if whole > down else MINUS}{rest}"
