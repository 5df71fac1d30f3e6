"""Settings, brightness and levels; ambient and flash mixed on one subject."""

from math import log2

from noggin.core.units import EV100, TOLERANCE, Stops


def settings_ev(shutter: Stops, aperture: Stops, iso: Stops) -> EV100:
    """EV100 that the settings place at mid-tone: Tv + Av - log2(ISO/100). Source: APEX, ISO 2720.

    >>> settings_ev(7.0, 8.0, 0.0)
    15.0
    """
    return shutter + aperture - iso


def ambient_level(zone: EV100, settings: EV100, nd: Stops) -> Stops:
    """Where a zone lands from mid-tone: its EV100 less that of the settings less the filter.

    >>> ambient_level(14.6, 9.6, 6.0)
    -1.0
    """
    return zone - settings - nd


def mix(*levels: Stops | None) -> Stops | None:
    """Levels of several lights on one spot together: log2 Σ 2^level; None adds nothing.

    >>> mix(0.0, 0.0), mix(None, -1.0), mix(None)
    (1.0, -1.0, None)
    """
    present = [level for level in levels if level is not None]
    if not present:
        return None
    top = max(present)
    return top + log2(sum(2 ** (level - top) for level in present))


def flash_share(ambient: Stops, flash: Stops | None) -> float:
    """Linear share of the flash in the subject's light, 0 to 1: 2^F / (2^A + 2^F).

    >>> flash_share(0.0, -2.0)
    0.2
    """
    return 0.0 if flash is None else 1 / (1 + 2 ** (ambient - flash))


def flash_for_total(total: Stops, ambient: Stops) -> Stops | None:
    """Flash level that brings ambient up to `total`; None where the ambient alone is there already.

    >>> flash_for_total(1.0, 0.0)
    0.0
    >>> flash_for_total(0.0, 0.0) is None
    True
    """
    if ambient >= total - TOLERANCE:
        return None
    return total + log2(1 - 2 ** (ambient - total))


def flash_for_share(share: float, ambient: Stops) -> Stops:
    """Flash level that makes up `share` (0 to 1, ends excluded) of the subject's light.

    >>> flash_for_share(0.2, 0.0)
    -2.0
    """
    return ambient + log2(share / (1 - share))
