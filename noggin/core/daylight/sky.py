"""Daylight without a reading: from sun and sky to the EV100 of each zone, and anchoring to a reading.

Sources stand with the figures in `tables`.
"""

from dataclasses import dataclass
from datetime import date, datetime, timedelta, tzinfo
from functools import lru_cache
from math import cos, exp, hypot, pi, radians, sin

from noggin.core.clock import apart, instants
from noggin.core.daylight.place import Place
from noggin.core.daylight.sun import Sun, sun_at
from noggin.core.physics.metering import incident_ev, reflected_ev
from noggin.core.tables import GROUNDS, SKIES, SOLAR_NORMAL_KLX, SOURCES, TWILIGHT, Ground, Sky
from noggin.core.units import EV100, Stops

BLEND_TO = 5.0
"""Sun height in degrees up to which, under a clear sky, twilight fit and daylight model are blended."""

LOW_SUN_UNCERTAINTY: Stops = 1.0
"""± of an estimate with the sun under BLEND_TO: the two sources differ by up to 1.2 stops there."""

NIGHT_UNCERTAINTY: Stops = 3.0
"""± under astronomical twilight, where moon and lamps decide. Common practice, no source."""


@dataclass(frozen=True)
class Daylight:
    """One moment's light: EV100 of the sunlit side, of the side away from the sun and of the sky, and
    the ± of all three in stops."""

    time: datetime
    sun: Sun
    sunlit: EV100
    shaded: EV100
    sky: EV100
    uncertainty: Stops


def air_mass(height_deg: float) -> float:
    """Air passed by the sun's rays over that of the zenith, for a sun from 0 to 90° high.

    Source: Kasten and Young 1989, 1/(sin h + 0.50572 (h + 6.07995)^-1.6364).

    >>> round(air_mass(90), 2), round(air_mass(30), 2)
    (1.0, 1.99)
    """
    low: float = 0.50572 * (height_deg + 6.07995) ** -1.6364
    return 1 / (sin(radians(height_deg)) + low)


def direct_normal(height_deg: float, sky: Sky) -> float:
    """Klx on a surface square to the sun; 0 under the horizon and without direct sun. IES RP-21."""
    if sky.extinction is None or height_deg <= 0:
        return 0.0
    return SOLAR_NORMAL_KLX * exp(-sky.extinction * air_mass(height_deg))


def sky_horizontal(height_deg: float, sky: Sky) -> float:
    """Klx of the sky alone on level ground, sun from 0 to 90° high: A + B sin^C h. IES RP-21."""
    return sky.a + sky.b * float(max(0.0, sin(radians(height_deg))) ** sky.c)


def twilight(height_deg: float, sky: Sky) -> float:
    """Klx on level ground by the twilight fit, sun under 5°; under -18° what is left at -18°.

    >>> round(twilight(-6, SKIES["clear"]) * 1000, 1)
    3.4
    """
    height = max(height_deg, TWILIGHT[-1][0])
    terms = next(terms for down_to, terms in TWILIGHT if height >= down_to)
    power = sum(term * (height / 90) ** n for n, term in enumerate(terms))
    return 10 ** (power - 3) / 2**sky.dusk


def illuminance(height_deg: float, sky: Sky) -> tuple[float, float]:
    """Klx of the direct sun on a surface square to it, and of the sky on level ground.

    Under the horizon the twilight fit; from 0° up the daylight model, blended with the fit (by the
    logarithm of the light on level ground) up to 5° under a clear sky.
    """
    if height_deg < 0:
        return 0.0, twilight(height_deg, sky)
    direct, diffuse = direct_normal(height_deg, sky), sky_horizontal(height_deg, sky)
    if sky.dusk or height_deg >= BLEND_TO:
        return direct, diffuse
    level = direct * sin(radians(height_deg)) + diffuse
    scale = float((twilight(height_deg, sky) / level) ** (1 - height_deg / BLEND_TO))
    return direct * scale, diffuse * scale


def zones(height_deg: float, aside_deg: float, sky: Sky, ground: Ground) -> tuple[EV100, EV100, EV100]:
    """EV100 of an upright surface with the direct sun, of the same without it, and of the sky.

    `height_deg` is the sun's height, `aside_deg` its azimuth off the direction the surface faces. The
    surface gets E_dn·cos h·cos(Δaz) from the sun, half of the sky (0.396 under overcast) and half of
    what the ground throws back: ½·ρ·(E_dn·sin h + E_sky). IESNA Lighting Handbook, daylighting chapter.
    """
    direct, diffuse = illuminance(height_deg, sky)
    level = direct * max(0.0, sin(radians(height_deg))) + diffuse
    shaded = sky.diffuse * diffuse + ground.reflectance * level / 2
    from_sun = direct * cos(radians(height_deg)) * max(0.0, cos(radians(aside_deg)))
    return (
        incident_ev(1000 * (shaded + from_sun)),
        incident_ev(1000 * shaded),
        reflected_ev(1000 * sky.horizon * diffuse / pi),
    )


def level_ground(height_deg: float, sky: Sky) -> EV100:
    """EV100 of level ground under sun and sky: E_dn·sin h + E_sky.

    >>> round(level_ground(50, SKIES["clear"]), 1)
    14.7
    """
    direct, diffuse = illuminance(height_deg, sky)
    return incident_ev(1000 * (direct * max(0.0, sin(radians(height_deg))) + diffuse))


def daylight(place: Place, time: datetime) -> Daylight:
    """The light of one moment at a place; `time` must know its zone."""
    sun, sky = sun_at(place.lat, place.lon, time), SKIES[place.sky]
    aside = 0.0 if place.facing_deg is None else sun.azimuth_deg - place.facing_deg - 180
    sunlit, shaded, above = zones(sun.height_deg, aside, sky, GROUNDS[place.ground])
    return Daylight(time, sun, sunlit, shaded, above, _uncertainty(sun.height_deg, sky))


def _uncertainty(height_deg: float, sky: Sky) -> Stops:
    if height_deg < TWILIGHT[-1][0]:
        return NIGHT_UNCERTAINTY
    return max(LOW_SUN_UNCERTAINTY, sky.uncertainty) if height_deg < BLEND_TO else sky.uncertainty


@lru_cache(maxsize=64)
def day_of_light(place: Place, day: date, zone: tzinfo, every_min: int = 15) -> tuple[Daylight, ...]:
    """The day's table at a place."""
    return tuple(daylight(place, time) for time in instants(day, zone, every_min))


@dataclass(frozen=True)
class Anchor:
    """A reading at a known time against what was estimated for it: `shift` is reading less estimate,
    and shifts the rest of the day."""

    shift: Stops
    taken: datetime

    def uncertainty(self, light: Daylight) -> Stops:
        """± of the shifted estimate: the reading's own when it was taken, growing in three hours to
        that of an estimate with a reading behind it. Common practice, no source."""
        age = abs(apart(self.taken, light.time)) / timedelta(hours=3)
        return hypot(SOURCES["measured"].uncertainty, light.uncertainty * min(1.0, age))
