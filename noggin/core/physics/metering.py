"""What meters say: constants of ISO 2720, and a reading off a card."""

from math import log2, pi

from noggin.core.units import EV100, Stops

INCIDENT_C = 330
"""Constant of incident meters with a dome, lux·s. Source: ISO 2720."""

REFLECTED_K = 12.5
"""Constant of reflected-light meters, cd/m²·s. Source: ISO 2720."""


def incident_ev(lux: float) -> EV100:
    """EV100 of a surface by what falls on it: log2(100 E/330). Source: ISO 2720, C = 330.

    >>> round(incident_ev(81_900), 2)
    14.6
    """
    return log2(100 * lux / INCIDENT_C)


def reflected_ev(cd_m2: float) -> EV100:
    """EV100 of a surface by its luminance: log2(100 L/12.5). Source: ISO 2720, K = 12.5.

    >>> reflected_ev(0.125)
    0.0
    """
    return log2(100 * cd_m2 / REFLECTED_K)


CARD: Stops = log2(0.18 / (pi * REFLECTED_K / INCIDENT_C))
"""By how much a reading off an 18% card is high: with C = 330 and K = 12.5 mid-tone is 11.9%
reflectance, π·K/C. Source: ISO 2720 constants."""


def off_card(reading: EV100) -> EV100:
    """EV100 of the light by a reflected reading off an 18% card.

    >>> round(off_card(14.6), 2)
    14.0
    """
    return reading - CARD
