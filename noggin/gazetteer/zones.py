"""The time zone of a place, out of the borders of the time zones (OpenStreetMap, ODbL, as tzfpy carries
them)."""

import tzfpy

from noggin.core import limits


def zone_at(lat: float, lon: float) -> str:
    """The time zone at a place, by its name in the IANA database; at sea a fixed one.

    `lat` -90…90, `lon` -180…180, degrees. Raises OutOfRange.

    >>> zone_at(42.46, 0.71), zone_at(-33.45, -70.66)
    ('Europe/Madrid', 'America/Santiago')
    """
    limits.LATITUDE.check("lat", lat)
    limits.LONGITUDE.check("lon", lon)
    return tzfpy.get_tz(lon, lat)
