"""A spot at a place: what daylight does to each zone of a picture taken there, as the day goes on.

Readings shift the forecast for the rest of the day (see `daylight.Anchor`).
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, tzinfo
from functools import lru_cache
from math import hypot, log2

from noggin.core import limits
from noggin.core.clock import remembered
from noggin.core.daylight.place import Place
from noggin.core.daylight.sky import Anchor, Daylight, daylight, level_ground
from noggin.core.daylight.sun import Sun
from noggin.core.tables import SKIES, TOWARD_SUN, TOWARD_SUN_DEG
from noggin.core.units import EV100, Stops

SURROUNDINGS = {"open": "open ground", "shade": "in shade", "trees": "under trees"}
"""Kinds of spot."""

UNDER_TREES: Stops = 1.0
"""What leaves take from open shade. Common practice, no source; they also turn it green."""

SHADE_UNCERTAINTY: Stops = 0.5
"""What is unknown about a shade apart from the sky: walls and trees around. Common practice, no source."""

DAY_ZONES = {"sunlit": "sunlit side", "shaded": "shaded side", "sky": "sky"}
"""What a reading of the day can be of."""


@dataclass(frozen=True)
class Surroundings:
    """Open ground, shade or trees; shade may come and go at clock times (None: from first light, or to the
    last)."""

    kind: str = "open"
    shade_from: time | None = None
    shade_till: time | None = None

    def __post_init__(self) -> None:
        limits.check_choice("spot", self.kind, SURROUNDINGS)

    def in_shade(self, time: datetime) -> bool:
        """Whether the subject is in shade at a local time."""
        if self.kind == "open":
            return False
        if self.kind == "trees" or (self.shade_from is None and self.shade_till is None):
            return True
        clock = time.time()
        begun = self.shade_from is None or clock >= self.shade_from
        over = self.shade_till is not None and clock >= self.shade_till
        return begun and not over

    def turns(self, day: date, zone: tzinfo) -> Iterator[tuple[datetime, str]]:
        """When shade comes and goes on a day, in words."""
        if self.kind != "shade":
            return
        for clock, words in ((self.shade_from, "shade comes"), (self.shade_till, "shade goes")):
            if clock is not None:
                yield datetime.combine(day, clock, zone), words


@dataclass(frozen=True)
class Forecast:
    """The light of one moment on a picture: the sun, EV100 of each zone (rim None: no direct sun behind),
    the ± of all in stops, and whether the subject is in shade."""

    time: datetime
    sun: Sun
    background: EV100
    subject: EV100
    sky: EV100
    rim: EV100 | None
    uncertainty: Stops
    in_shade: bool


@dataclass(frozen=True)
class TimedReading:
    """A reading at a known time: EV100 of a zone of ZONES, metered by a surface as `Place` states it."""

    time: datetime
    zone: str
    ev: EV100

    def __post_init__(self) -> None:
        limits.check_choice("zone", self.zone, DAY_ZONES)
        limits.EV.check("ev", self.ev)


def anchor_at(place: Place, readings: Sequence[TimedReading], time: datetime) -> Anchor | None:
    """The shift that holds at a time: that of the last reading before it; None before the first."""
    before = [reading for reading in readings if reading.time <= time]
    if not before:
        return None
    last = max(before, key=lambda known: known.time)
    return Anchor(last.ev - getattr(_light(_unfaced(place), last.time), last.zone), last.time)


def day_light(place: Place, time: datetime, readings: tuple[TimedReading, ...] = ()) -> Daylight:
    """The day's light at a place, whichever way anybody looks, shifted to the last reading."""
    light = _light(_unfaced(place), time)
    anchor = anchor_at(place, readings, time)
    if anchor is None:
        return light
    shifted = {side: getattr(light, side) + anchor.shift for side in ("sunlit", "shaded", "sky")}
    return replace(light, uncertainty=anchor.uncertainty(light), **shifted)


@lru_cache(maxsize=64)
def _unfaced(place: Place) -> Place:
    return replace(place, facing_deg=None)


@remembered(8192)
def _light(place: Place, time: datetime) -> Daylight:
    """A day's light, shared by the set-ups in it."""
    return daylight(place, time)


@lru_cache(maxsize=8192)
def _ground(place: Place, time: datetime) -> EV100:
    """Level ground in it, shared too."""
    return level_ground(_light(place, time).sun.height_deg, SKIES[place.sky])


@remembered(8192)
def forecast(
    place: Place, time: datetime, spot: Surroundings, readings: tuple[TimedReading, ...] = ()
) -> Forecast:
    """The light on a picture at a place and spot, the camera looking where `place.facing_deg` says.

    Background: half of it upright surfaces turned to the camera, with the sun where it reaches them, half
    level ground (common practice, no source: a landscape against the light is neither as bright as one
    with the light nor as dark as a face). Subject: an upright surface turned to the camera, without the
    sun in shade, and a stop under that among trees. Rim: a surface that faces the sun, where it is
    behind the subject. Without a facing, upright surfaces face the sun and the subject is turned from it.
    """
    light, full = _light(place, time), day_light(place, time, readings)
    shift = full.sunlit - _light(_unfaced(place), time).sunlit
    shade, off = spot.in_shade(time), full.uncertainty
    subject = light.shaded if shade or place.facing_deg is None else light.sunlit
    if spot.kind == "trees":
        subject -= UNDER_TREES
    if spot.kind != "open":
        off = hypot(off, SHADE_UNCERTAINTY)
    ground = _ground(_unfaced(place), time)
    return Forecast(
        time,
        light.sun,
        log2((2**light.sunlit + 2**ground) / 2) + shift,
        subject + shift,
        light.sky + shift + _toward_sun(light, place),
        full.sunlit if _rims(light, place, shade) else None,
        off,
        shade,
    )


def sun_off_view(light: Daylight, place: Place) -> float | None:
    """Degrees between the sun and where the camera looks, sideways; None where that is not known or the sun
    is down."""
    if place.facing_deg is None or light.sun.height_deg <= 0:
        return None
    return abs((light.sun.azimuth_deg - place.facing_deg + 180) % 360 - 180)


def _toward_sun(light: Daylight, place: Place) -> Stops:
    """By how much the sky is brighter than its one figure, where the camera looks toward the sun under a
    sky that lets it through."""
    off = sun_off_view(light, place)
    if off is None or off > TOWARD_SUN_DEG or SKIES[place.sky].extinction is None:
        return 0.0
    at_edge, at_sun = TOWARD_SUN
    return at_sun + (at_edge - at_sun) * off / TOWARD_SUN_DEG


def with_lamps(daylight: EV100, lamps: EV100 | None) -> EV100:
    """A zone's daylight with its lamps: log2(2^day + 2^lamps).

    >>> with_lamps(4.0, 4.0), with_lamps(4.0, None)
    (5.0, 4.0)
    """
    return daylight if lamps is None else log2(2**daylight + 2**lamps)


def without_lamps(zone: EV100, lamps: EV100 | None) -> EV100:
    """The daylight of a zone that was read with its lamps on; next to none where they are all of it.

    >>> without_lamps(5.0, 4.0)
    4.0
    """
    if lamps is None:
        return zone
    left = 2**zone - 2**lamps
    return log2(left) if left > 2**limits.EV.least else limits.EV.least


def _rims(light: Daylight, place: Place, shade: bool) -> bool:
    """Whether the sun is behind the subject and reaches it."""
    if shade or light.sun.height_deg <= 0:
        return False
    return place.facing_deg is None or light.sunlit - light.shaded < 1e-9
