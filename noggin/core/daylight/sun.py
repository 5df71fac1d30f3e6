"""Where the sun is. Declination and equation of time come from the `astral` library (after NOAA's solar
calculator)."""

from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from math import asin, atan2, cos, degrees, radians, sin, tan

from astral.julian import julianday, julianday_to_juliancentury
from astral.sun import eq_of_time, sun_declination


@dataclass(frozen=True)
class Sun:
    """Where the sun is: geometric height and azimuth from north through east, degrees."""

    height_deg: float
    azimuth_deg: float


@lru_cache(maxsize=8192)
def sun_at(lat: float, lon: float, time: datetime) -> Sun:
    """The sun's geometric height (no refraction) and azimuth. `time` must know its zone.

    Spherical triangle of pole, zenith and sun. `astral`'s own function stops at 89.8° of latitude.
    """
    moment = time.astimezone(UTC)
    century = julianday_to_juliancentury(julianday(moment))
    declination, north = radians(sun_declination(century)), radians(lat)
    minutes = moment.hour * 60 + moment.minute + (moment.second + moment.microsecond / 1e6) / 60
    hour_angle = radians((minutes + eq_of_time(century)) / 4 + lon - 180)
    rise = sin(north) * sin(declination) + cos(north) * cos(declination) * cos(hour_angle)
    height = asin(max(-1.0, min(1.0, rise)))
    west = sin(hour_angle)
    south = cos(hour_angle) * sin(north) - tan(declination) * cos(north)
    return Sun(degrees(height), (degrees(atan2(west, south)) + 180) % 360)
