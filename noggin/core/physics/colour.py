"""The colour of light: kelvin and mired, and what a white balance makes of them.

A light's colour is given as three linear factors on red, green and blue whose luminance is 1, so that a
level in stops stays what it is whatever the colour.
"""

from bisect import bisect_right
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from noggin.core import limits

PARTS = (0.2126, 0.7152, 0.0722)
"""Weights of linear red, green and blue in luminance. Source: IEC 61966-2-1 (ITU-R BT.709 primaries)."""

LUMINANCE = np.array(PARTS, np.float32)
"""The same, for pictures."""

Values = NDArray[np.float32]


SKYLIGHT_K = 7500.0
"""Open shade under a clear sky. Common practice, no source; 7,000 to 12,000 are met."""

OVERCAST_K = 6500.0
"""Overcast sky. Common practice, no source; CIE standard illuminant D65 stands for average daylight."""

SUN_K = ((0.0, 2200.0), (2.0, 2800.0), (5.0, 3500.0), (10.0, 4200.0), (20.0, 5000.0), (40.0, 5400.0))
"""The sun's own colour temperature by its height in degrees, clear air. Common practice, no source; from
memory of photographers' tables, ±10%."""

SKY_K = (
    (-12.0, 11_000.0), (-8.0, 13_000.0), (-5.0, 14_000.0), (-3.0, 11_000.0), (-1.0, 9000.0), (1.0, 8000.0),
    (6.0, SKYLIGHT_K),
)  # fmt: skip
"""A clear sky's colour temperature by the sun's height in degrees: it turns blue in the blue hour, when
ozone takes the warm part of what light is left. Common practice, no source; from memory of photographers'
tables, ±20%."""

LAMPS_K = 2700.0
"""Lanterns, fairy lights and old street lamps. Common practice, no source."""

_XYZ_TO_RGB = ((3.2406, -1.5372, -0.4986), (-0.9689, 1.8758, 0.0415), (0.0557, -0.2040, 1.0570))
"""Source: IEC 61966-2-1."""

Tint = tuple[float, float, float]


def mired(kelvin: float) -> float:
    """10⁶/T.

    >>> mired(5000)
    200.0
    """
    return 1e6 / kelvin


def between_rows(at: float, rows: Sequence[float], values: Sequence[float]) -> float:
    """A value between those of a table's rows, which rise, in a straight line; before the first and after
    the last row as in it.

    >>> between_rows(2.5, (2, 3), (10, 20)), between_rows(9, (2, 3), (10, 20))
    (15.0, 20.0)
    """
    after = min(max(bisect_right(rows, at), 1), len(rows) - 1)
    low, high = rows[after - 1], rows[after]
    part = min(max((at - low) / (high - low), 0.0), 1.0)
    return values[after - 1] + part * (values[after] - values[after - 1])


def sun_kelvin(height_deg: float) -> float:
    """The sun's own colour temperature, by SUN_K in mired between its rows; under the horizon as on it.

    >>> sun_kelvin(10), sun_kelvin(-3), sun_kelvin(70)
    (4200.0, 2200.0, 5400.0)
    """
    heights, kelvins = zip(*SUN_K, strict=True)
    return round(1e6 / between_rows(height_deg, heights, [mired(kelvin) for kelvin in kelvins]), 6)


def sky_kelvin(height_deg: float) -> float:
    """A clear sky's colour temperature, by SKY_K in mired between its rows.

    >>> sky_kelvin(40), sky_kelvin(-5)
    (7500.0, 14000.0)
    """
    heights, kelvins = zip(*SKY_K, strict=True)
    return round(1e6 / between_rows(height_deg, heights, [mired(kelvin) for kelvin in kelvins]), 6)


GLOW = (
    (12.0, 0.0, (1.0, 1.0, 1.0)),
    (4.0, 0.55, (1.25, 0.98, 0.62)),
    (0.5, 0.90, (1.42, 0.90, 0.56)),
    (-2.5, 0.85, (1.34, 0.86, 0.92)),
    (-5.5, 0.40, (1.10, 0.90, 1.16)),
    (-9.0, 0.0, (1.0, 1.0, 1.0)),
)
"""How a clear sky is coloured at the horizon by the sun's height (degrees): how strongly, and in which hue.
Golden, then pink, then blue, as evenings go; hues and strengths by eye, no source."""


def glow_at_horizon(height_deg: float) -> tuple[float, Tint]:
    """How strongly a clear sky is coloured at the horizon, 0 to 1, and its hue there, of luminance 1.

    >>> glow_at_horizon(30)[0], glow_at_horizon(0.5)[0], glow_at_horizon(-12)[0]
    (0.0, 0.9, 0.0)
    """
    heights, strengths, hues = zip(*reversed(GLOW), strict=True)
    strength = between_rows(height_deg, heights, strengths)
    red, green, blue = (between_rows(height_deg, heights, channel) for channel in zip(*hues, strict=True))
    return round(strength, 6), _of_luminance_1(red, green, blue)


def mixed_kelvin(parts: Sequence[tuple[float, float]]) -> float:
    """About the colour temperature of a mixture, from the share of each part and its kelvin: the mean of
    their mireds by share. Shares must come to 1.

    >>> round(mixed_kelvin([(0.5, 4000), (0.5, 10000)]))
    5714
    """
    return 1e6 / sum(share * mired(kelvin) for share, kelvin in parts)


def _chromaticity(kelvin: float) -> tuple[float, float]:
    """CIE 1931 x and y: the Planckian locus by the cubic fit of Kim et al. 2002 (US patent 7,024,034),
    1,667 to 25,000 K; from 5,000 K up the daylight locus of CIE 15, blended in from 4,000 K."""
    t = min(max(kelvin, 1667.0), 25_000.0)
    if t <= 4000:
        x = -0.2661239e9 / t**3 - 0.2343589e6 / t**2 + 0.8776956e3 / t + 0.179910
    else:
        x = -3.0258469e9 / t**3 + 2.1070379e6 / t**2 + 0.2226347e3 / t + 0.240390
    if t <= 2222:
        y = -1.1063814 * x**3 - 1.34811020 * x**2 + 2.18555832 * x - 0.20219683
    elif t <= 4000:
        y = -0.9549476 * x**3 - 1.37418593 * x**2 + 2.09137015 * x - 0.16748867
    else:
        y = 3.0817580 * x**3 - 5.87338670 * x**2 + 3.75112997 * x - 0.37001483
    if t <= 4000:
        return x, y
    if t <= 7000:
        dx = -4.6070e9 / t**3 + 2.9678e6 / t**2 + 0.09911e3 / t + 0.244063
    else:
        dx = -2.0064e9 / t**3 + 1.9018e6 / t**2 + 0.24748e3 / t + 0.237040
    dy = -3.000 * dx**2 + 2.870 * dx - 0.275
    part = min((t - 4000) / 1000, 1.0)
    return x + (dx - x) * part, y + (dy - y) * part


def _rgb(kelvin: float) -> Tint:
    x, y = _chromaticity(kelvin)
    light = x / y, 1.0, (1 - x - y) / y
    sums = (sum(a * b for a, b in zip(row, light, strict=True)) for row in _XYZ_TO_RGB)
    red, green, blue = (max(channel, 1e-3) for channel in sums)
    return red, green, blue


def _of_luminance_1(red: float, green: float, blue: float) -> Tint:
    luminance = sum(part * channel for part, channel in zip(PARTS, (red, green, blue), strict=True))
    return round(red / luminance, 6), round(green / luminance, 6), round(blue / luminance, 6)


@lru_cache(maxsize=1024)
def tint(kelvin: float, white_balance_k: float) -> Tint:
    """How a light looks to a camera set to a white balance: linear red, green and blue whose luminance is
    1.

    Each channel is divided by that of the balance's own white, as a camera's gains do. `kelvin` from 1,500
    to 20,000; both in K.

    >>> tint(5600, 5600), tint(3000, 5600)[0] > 1.3, tint(9000, 5600)[2] > 1.2
    ((1.0, 1.0, 1.0), True, True)
    """
    limits.KELVIN.check("white_balance_k", white_balance_k)
    red, green, blue = (one / white for one, white in zip(_rgb(kelvin), _rgb(white_balance_k), strict=True))
    return _of_luminance_1(red, green, blue)
