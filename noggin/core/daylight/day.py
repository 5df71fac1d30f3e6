"""A day's sun: when it rises, is highest and sets, the named parts of the day, and from which side it
comes for a camera that looks one way.

Rise and set are those of the upper edge with mean refraction, -0.833°, lowered by the dip of the horizon
from a height. Source: Explanatory Supplement to the Astronomical Almanac; dip 0.0293° √m, navigation
handbooks. "The sun does not set" is a result here, not an error.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta, tzinfo
from functools import lru_cache
from itertools import pairwise
from math import sqrt

from noggin.core.clock import apart, instants, later, turning_point
from noggin.core.daylight.sun import Sun, sun_at
from noggin.core.units import Metres

HORIZON_DEG = -0.833
"""Height of the sun's centre when its upper edge touches a level horizon: 34' refraction, 16' radius."""

DIP_DEG = 0.0293
"""Dip of the horizon in degrees for a square root of metres of height over it."""

SAMPLE_MIN = 10
"""Minutes between the heights that crossings are looked for in."""

SECOND = timedelta(seconds=1)


@dataclass(frozen=True)
class PartOfDay:
    """A named part of the day: the sun's height from `least` up to `most`, in degrees."""

    label: str
    least: float
    most: float

    @property
    def limits(self) -> str:
        """Its limits in words."""
        if self.least == -90:
            return f"sun under {self.most:g}°".replace("-", "−")
        if self.most == 90:
            return f"sun over {self.least:g}°"
        return f"sun from {self.least:g}° to {self.most:g}°".replace("-", "−")


PARTS = (
    PartOfDay("night", -90, -18),
    PartOfDay("astronomical twilight", -18, -12),
    PartOfDay("nautical twilight", -12, -6),
    PartOfDay("blue hour", -6, -4),
    PartOfDay("golden light", -4, 6),
    PartOfDay("day", 6, 90),
)
"""Parts of the day by the sun's height. Twilights: Explanatory Supplement; blue hour and golden light:
common practice, no source."""


def part_of_day(height_deg: float) -> PartOfDay:
    """The part that a sun of this height makes.

    >>> part_of_day(-5).label, part_of_day(30).label
    ('blue hour', 'day')
    """
    return next(part for part in PARTS if height_deg <= part.most)


@dataclass(frozen=True)
class Crossing:
    """An instant at which the sun passes a height, on its way up or down."""

    time: datetime
    rising: bool


@lru_cache(maxsize=256)
def heights(lat: float, lon: float, day: date, zone: tzinfo) -> tuple[tuple[datetime, float], ...]:
    """The sun's height through a local day, to its last instant."""
    times = list(instants(day, zone, SAMPLE_MIN))
    times.append(later(times[-1], timedelta(minutes=SAMPLE_MIN)))
    return tuple((time, sun_at(lat, lon, time).height_deg) for time in times)


def crossings(lat: float, lon: float, day: date, zone: tzinfo, height_deg: float) -> tuple[Crossing, ...]:
    """Every instant of a local day at which the sun passes a height, to the second; none where it stays
    above or below."""
    return tuple(_crossings(lat, lon, day, zone, height_deg))


def _crossings(lat: float, lon: float, day: date, zone: tzinfo, height_deg: float) -> Iterator[Crossing]:
    for (start, before), (end, after) in pairwise(heights(lat, lon, day, zone)):
        if (before < height_deg) == (after < height_deg):
            continue
        rising = after > before

        def past(time: datetime, rising: bool = rising) -> bool:
            return (sun_at(lat, lon, time).height_deg > height_deg) == rising

        yield Crossing(turning_point(start, end, past, SECOND), rising)


@dataclass(frozen=True)
class Stretch:
    """A part of the day from when to when."""

    part: PartOfDay
    start: datetime
    end: datetime


def stretches(
    lat: float, lon: float, day: date, zone: tzinfo, first: datetime, last: datetime
) -> tuple[Stretch, ...]:
    """The parts of a day between two instants of it, in order."""
    bounds = sorted(
        crossing.time
        for part in PARTS[1:]
        for crossing in crossings(lat, lon, day, zone, part.least)
        if first < crossing.time < last
    )
    ends = [first, *bounds, last]
    return tuple(
        Stretch(part_of_day(sun_at(lat, lon, later(start, apart(start, end) / 2)).height_deg), start, end)
        for start, end in pairwise(ends)
    )


LIGHT_DEG = -12.0
"""Sun's height of first and last light: the end of nautical twilight, after which the horizon is lost."""

HALF_HOUR = timedelta(minutes=30)


@lru_cache(maxsize=256)
def light_span(lat: float, lon: float, day: date, zone: tzinfo) -> tuple[datetime, datetime]:
    """First and last light of a local day, out to the half-hour; the whole day where there is no such
    night, where it never grows light, or where the night is in the middle of it."""
    track = heights(lat, lon, day, zone)
    begin, end = track[0][0], track[-1][0]
    found = crossings(lat, lon, day, zone, LIGHT_DEG)
    up = [crossing.time for crossing in found if crossing.rising]
    down = [crossing.time for crossing in found if not crossing.rising]
    if up and down and up[0] < down[-1]:
        past = timedelta(minutes=up[0].minute % 30, seconds=up[0].second)
        short = timedelta(minutes=down[-1].minute % 30, seconds=down[-1].second)
        begin = max(begin, later(up[0], -past))
        end = min(end, later(down[-1], HALF_HOUR - short if short else timedelta(0)))
    return begin, end


@dataclass(frozen=True)
class SunDay:
    """One local day's sun: rise and set (None: it does not, and `stays` says "up" or "down"), and when and
    its greatest height."""

    rise: datetime | None
    set: datetime | None
    highest: datetime
    highest_deg: float
    stays: str = ""

    @property
    def words(self) -> str:
        """Said in words."""
        top = f"highest at {self.highest:%H:%M}, {self.highest_deg:.0f}°".replace("-", "−")
        if self.stays:
            return f"the sun {'does not set' if self.stays == 'up' else 'does not rise'}, {top}"
        parts = [f"sunrise {self.rise:%H:%M}"] if self.rise else []
        parts.append(top)
        if self.set:
            parts.append(f"sunset {self.set:%H:%M}")
        return ", ".join(parts)


@lru_cache(maxsize=256)
def sun_day(lat: float, lon: float, day: date, zone: tzinfo, elevation_m: Metres = 0.0) -> SunDay:
    """A day's sun seen from so many metres over the horizon around."""
    horizon = HORIZON_DEG - DIP_DEG * sqrt(max(elevation_m, 0.0))
    found = crossings(lat, lon, day, zone, horizon)
    rise = next((crossing.time for crossing in found if crossing.rising), None)
    down = next((crossing.time for crossing in reversed(found) if not crossing.rising), None)
    track = heights(lat, lon, day, zone)
    about = max(track, key=lambda crossing: crossing[1])[0]
    near = (later(about, timedelta(seconds=20 * step)) for step in range(-30, 31))
    highest = max(near, key=lambda time: sun_at(lat, lon, time).height_deg)
    top = sun_at(lat, lon, highest).height_deg
    stays = "" if found else ("up" if top > horizon else "down")
    return SunDay(rise, down, highest, top, stays)


@dataclass(frozen=True)
class SunSide:
    """Where the sun comes from, seen along the camera's axis: up to `most` degrees off straight ahead."""

    most: float
    words: str


SUN_SIDES = (
    SunSide(25, "behind the subject"),
    SunSide(75, "rim from the {side}"),
    SunSide(105, "from the {side}"),
    SunSide(150, "front, from the {side}"),
    SunSide(180, "from the front"),
)
"""From straight into the lens to straight over the photographer's shoulder. Common practice, no source."""


def off_axis(sun: Sun, facing_deg: float) -> float:
    """Degrees from the camera's axis to the sun, right is positive: -180 to 180; 0 is into the lens.

    >>> off_axis(Sun(30, 200), 180), off_axis(Sun(30, 90), 180)
    (20.0, -90.0)
    """
    return float((sun.azimuth_deg - facing_deg + 180) % 360 - 180)


def sun_side(sun: Sun, facing_deg: float) -> str:
    """From which side the sun comes, for the picture.

    >>> sun_side(Sun(30, 180), 180), sun_side(Sun(30, 130), 180), sun_side(Sun(-5, 0), 0)
    ('behind the subject', 'rim from the left', 'under the horizon')
    """
    if sun.height_deg < HORIZON_DEG:
        return "under the horizon"
    off = off_axis(sun, facing_deg)
    side = next(row for row in SUN_SIDES if abs(off) <= row.most)
    return side.words.format(side="right" if off > 0 else "left")


@lru_cache(maxsize=256)
def turns(
    lat: float, lon: float, day: date, zone: tzinfo, facing_deg: float
) -> tuple[tuple[datetime, str], ...]:
    """When the sun comes from another side, and from which then, through a day; to five minutes."""
    found: list[tuple[datetime, str]] = []
    for time in instants(day, zone, 5):
        side = sun_side(sun_at(lat, lon, time), facing_deg)
        if not found or found[-1][1] != side:
            found.append((time, side))
    return tuple(found)
