"""The day strip: sun, EV and parts of the day on one axis of time, and under it the track of each set-up:
its block, and what its way has in reserve as the day goes on.

Tracks have no words in them, so that they can be drawn as wide as the page is; the day above them has two
sizes.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from itertools import groupby, pairwise

from noggin.core.advice.verdict_words import VERDICT_WORDS
from noggin.core.clock import MINUTE, apart, later
from noggin.core.daylight.day import Stretch, SunDay
from noggin.core.daylight.forecast import TimedReading
from noggin.core.daylight.sky import Daylight
from noggin.core.planning.verdicts import HOLDS
from noggin.core.shoot.timeline import Slot, TimedVerdict
from noggin.core.units import EV100, Stops
from noggin.core.wording import plain

SUN_TOP, SUN_FOOT = 30.0, 84.0
"""Where the sun's height is drawn, 90° to the horizon."""

EV_TOP, EV_FOOT = 100.0, 208.0
"""Where EV is drawn, EV_MOST to EV_LEAST."""

EV_MOST: EV100 = 16.0
EV_LEAST: EV100 = -4.0
EV_TICKS = (15, 10, 5, 0)
FOOT = 228.0

TRACK_WIDTH = 1000.0
ZERO = 34.0
"""Where a reserve of 0 is on a track."""

PER_STOP = 8.0
RESERVE_MOST: Stops = 3.0
RESERVE_LEAST: Stops = -1.2


@dataclass(frozen=True)
class DayAxis:
    """Time from left to right: first and last instant over a width."""

    first: datetime
    last: datetime
    width: float

    def x(self, time: datetime) -> float:
        """Where an instant lies."""
        return self.width * (time.timestamp() - self._begins_s) / self._lasts_s

    @cached_property
    def _begins_s(self) -> float:
        return self.first.timestamp()

    @cached_property
    def _lasts_s(self) -> float:
        return self.last.timestamp() - self._begins_s

    @property
    def minutes(self) -> int:
        """Minutes over the whole width."""
        return round(apart(self.first, self.last) / MINUTE)

    @property
    def begins(self) -> int:
        """Minutes of the local clock at the left end."""
        return self.first.hour * 60 + self.first.minute


@dataclass(frozen=True)
class Hour:
    """A line for a full hour, with its figure where there is room."""

    x: float
    label: str


@dataclass(frozen=True)
class Band:
    """A part of the day."""

    x: float
    width: float
    dark: int
    label: str


@dataclass(frozen=True)
class Curve:
    """One side's EV through the day; `label_y` is where its name is at the right end."""

    name: str
    points: str
    label_y: float


@dataclass(frozen=True)
class Strip:
    """The day over the tracks, in units of the drawing."""

    axis: DayAxis
    hours: tuple[Hour, ...]
    bands: tuple[Band, ...]
    sun: str
    highest: tuple[float, float]
    curves: tuple[Curve, ...]
    marks: tuple[tuple[float, float, str], ...]
    ticks: tuple[tuple[float, int], ...]
    top: str
    words: str


DARKNESS = {
    "night": 5,
    "astronomical twilight": 4,
    "nautical twilight": 3,
    "blue hour": 2,
    "golden light": 1,
    "day": 0,
}
"""How dark a part of the day is drawn."""

SKY_SIDES = ("sunlit", "shaded", "sky")
"""What the curves are of."""


def axis_of(span: tuple[datetime, datetime], width: float = TRACK_WIDTH) -> DayAxis:
    """The axis of a day."""
    return DayAxis(*span, width)


def strip(
    span: tuple[datetime, datetime],
    light: Sequence[Daylight],
    parts: Sequence[Stretch],
    sun: SunDay,
    taken: Sequence[TimedReading],
    width: float = TRACK_WIDTH,
) -> Strip:
    """The day from first to last light."""
    axis = DayAxis(*span, width)
    wide = width > 600
    return Strip(
        axis,
        tuple(hours(axis, every=1 if wide else 3)),
        tuple(bands(axis, parts)),
        _path([(axis.x(reading.time), _sun_y(reading.sun.height_deg)) for reading in light]),
        (axis.x(sun.highest), _sun_y(sun.highest_deg)),
        tuple(_curves(axis, light)),
        tuple((axis.x(reading.time), _ev_y(reading.ev), reading.zone) for reading in taken),
        tuple((_ev_y(ev), ev) for ev in EV_TICKS),
        f"sun {plain(sun.highest_deg, 0)}° high at {sun.highest:%H:%M}",
        sun.words,
    )


def hours(axis: DayAxis, every: int = 1) -> Iterator[Hour]:
    """A line for every full hour along an axis, every so many with its figure."""
    hour = axis.first.replace(minute=0, second=0, microsecond=0)
    while hour < axis.last:
        if hour >= axis.first:
            x = axis.x(hour)
            roomy = hour.hour % every == 0 and 12 < x < axis.width - 12
            yield Hour(x, f"{hour.hour}" if roomy else "")
        hour = later(hour, 60 * MINUTE)


def bands(axis: DayAxis, parts: Sequence[Stretch]) -> Iterator[Band]:
    """The parts of the day along an axis."""
    for part in parts:
        x, end = axis.x(part.start), axis.x(part.end)
        roomy = end - x > 7 * len(part.part.label) + 8
        yield Band(x, end - x, DARKNESS[part.part.label], part.part.label if roomy else "")


def _sun_y(height_deg: float) -> float:
    return SUN_FOOT - (SUN_FOOT - SUN_TOP) * max(height_deg, -18.0) / 90


def _ev_y(ev: EV100) -> float:
    held = max(EV_LEAST, min(ev, EV_MOST))
    return EV_FOOT - (EV_FOOT - EV_TOP) * (held - EV_LEAST) / (EV_MOST - EV_LEAST)


def _curves(axis: DayAxis, light: Sequence[Daylight]) -> Iterator[Curve]:
    for name in SKY_SIDES:
        points = [
            (axis.x(sample.time), _ev_y(getattr(sample, name)))
            for sample in light
            if getattr(sample, name) >= EV_LEAST
        ]
        top = min((y for _, y in points), default=EV_FOOT)
        yield Curve(name, _path(points), top)


def _path(points: Sequence[tuple[float, float]]) -> str:
    return " ".join(f"{x:.1f},{y:.1f}" for x, y in points)


@dataclass(frozen=True)
class StripPiece:
    """A stretch of a track with one verdict: its outline for the reserve (empty where there is none)."""

    verdict: str
    x: float
    width: float
    area: str
    words: str


@dataclass(frozen=True)
class Track:
    """One set-up through the day."""

    block_x: float
    block_width: float
    pieces: tuple[StripPiece, ...]


def track(axis: DayAxis, slot: Slot, line: Sequence[TimedVerdict]) -> Track:
    """The track of a set-up from the verdicts on its way."""
    x = axis.x(slot.start)
    return Track(x, max(4.0, axis.x(slot.end) - x), tuple(_pieces(axis, line)))


def _pieces(axis: DayAxis, line: Sequence[TimedVerdict]) -> Iterator[StripPiece]:
    groups = [
        (verdict, list(members)) for verdict, members in groupby(line, key=lambda timed: timed.verdict)
    ]
    starts = [axis.x(members[0].time) for _, members in groups]
    for (verdict, members), (x, end) in zip(groups, pairwise([*starts, axis.width]), strict=True):
        words = f"{members[0].time:%H:%M} to {members[-1].time:%H:%M}: {VERDICT_WORDS[verdict]}"
        area = _area(axis, members) if verdict == HOLDS else ""
        yield StripPiece(verdict, x, end - x, area, words)


def _area(axis: DayAxis, members: Sequence[TimedVerdict]) -> str:
    """From the line of zero up or down to the reserve; as high as it is drawn where no flash is needed."""
    points = []
    for timed in members:
        reserve = RESERVE_MOST if timed.reserve is None else timed.reserve
        points.append(
            (axis.x(timed.time), ZERO - PER_STOP * max(RESERVE_LEAST, min(reserve, RESERVE_MOST)))
        )
    first, last = points[0][0], points[-1][0]
    return _path([(first, ZERO), *points, (last, ZERO)])
