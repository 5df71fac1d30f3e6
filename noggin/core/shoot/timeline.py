"""A set-up through the day: how its zones move with the light, what its way has in reserve at each time,
and the span in which it holds.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta, tzinfo
from functools import cached_property, lru_cache
from itertools import pairwise
from math import hypot, inf
from typing import Any

from noggin.core import limits
from noggin.core.clock import MINUTE, apart, half_way, later, remembered, turning_point
from noggin.core.daylight.forecast import (
    Forecast,
    Surroundings,
    TimedReading,
    forecast,
    with_lamps,
    without_lamps,
)
from noggin.core.daylight.place import Moment, Place
from noggin.core.daylight.sky import daylight
from noggin.core.planning.plan import is_needed, plan, verdict, work_out
from noggin.core.planning.selection import RESERVE_ENOUGH
from noggin.core.planning.verdicts import HOLDS, JUST, NOT_NEEDED
from noggin.core.planning.way import Way, WayKind
from noggin.core.setup.scene import ZONES, Baseline, Scene
from noggin.core.setup.setup import SetUp
from noggin.core.tables import SOURCES
from noggin.core.units import EV100, Stops

LOOK = timedelta(minutes=5)
"""Step in which the light is looked at before a way is worked out in it."""

COARSE: Stops = 6.0
CHANGE: Stops = 0.25
"""A way is worked out wherever the light has changed by COARSE, and between two such times, where it has
anything to do, wherever the light has changed by CHANGE: less than a step of a dial, for a verdict may turn
with each, …"""

LONGEST = timedelta(minutes=150)
"""… and after this time at the latest."""

ALIKE: Stops = 2 / 3
"""Reserves nearer than this are drawn as one line."""

READING_AGES = timedelta(hours=3)
"""Time in which a reading loses its worth: its ± grows to the forecast's. Common practice, no source."""

OPEN_GROUND = Surroundings()
READ = SOURCES["measured"].uncertainty
"""± up to which a zone counts as read and not as expected."""

NEAR_DEG = 0.5
"""Degrees within which the day's light is the same but for a few minutes of clock time."""


@dataclass(frozen=True)
class ZoneBaseline:
    """What one zone is moved from: its EV100 and its ± then, when that was, under which sky, and whether it
    was read (else it was expected)."""

    ev: EV100
    uncertainty: Stops
    time: datetime
    sky: str
    read: bool


@dataclass(frozen=True)
class Placement:
    """A picture where it is taken on one day: the set-up, the place with the camera's facing, the day and
    the zone its clocks keep, what surrounds it, the day's readings; `past` says that the set-up's own time
    is."""

    setup: SetUp
    place: Place
    day: date
    zone: tzinfo
    surroundings: Surroundings = OPEN_GROUND
    readings: tuple[TimedReading, ...] = ()
    past: bool = True

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        # Worked out once: a day asks for the same placement hundreds of times.
        known = (
            self.setup,
            self.place,
            self.day,
            str(self.zone),
            self.surroundings,
            self.readings,
            self.past,
        )
        return hash(known)

    def light_at(self, time: datetime) -> Forecast:
        """The day's light on it at a time."""
        return forecast(self.place, time, self.surroundings, self.readings)

    @cached_property
    def baselines(self) -> Mapping[str, ZoneBaseline | None]:
        """What each zone is moved from; None where it is not known when or where it was."""
        return {zone: self._baseline(zone) for zone in ZONES}

    def _baseline(self, zone: str) -> ZoneBaseline | None:
        scene = self.setup.scene
        moment, before = scene.moment, scene.baseline
        if moment is None or _far(moment.place, self.place):
            return None
        known: Scene | Baseline = scene
        time, sky = moment.time, moment.place.sky
        if before is not None and getattr(before, zone) is not None:
            known, time, sky = before, before.time, before.sky_then
        ev: EV100 | None = getattr(known, zone)
        if ev is None:
            return None
        of_subject = zone == "subject"
        uncertainty = known.subject_uncertainty if of_subject else known.background_uncertainty
        local = time.astimezone(self.zone)
        read = self.past and uncertainty <= READ and local.date() == self.day
        return ZoneBaseline(ev, uncertainty, local, sky, read)

    @cached_property
    def forecasts_then(self) -> Mapping[str, EV100 | None]:
        """What the forecast was of each zone at its baseline: with the readings of that day, where the zone
        was read too; without them, where it was only expected."""
        return {
            zone: None if baseline is None else self._forecast_then(zone, baseline)
            for zone, baseline in self.baselines.items()
        }

    def _forecast_then(self, zone: str, baseline: ZoneBaseline) -> EV100 | None:
        readings = self.readings if baseline.read else ()
        then = forecast(replace(self.place, sky=baseline.sky), baseline.time, self.surroundings, readings)
        level: EV100 | None = getattr(then, zone)
        return level

    @cached_property
    def baseline(self) -> Baseline | None:
        """What the zones were, to be kept with those that were moved."""
        known = {zone: found for zone, found in self.baselines.items() if found is not None}
        if not known:
            return None
        first = next(iter(known.values()))
        own = [zone for zone, found in known.items() if (found.time, found.sky) == (first.time, first.sky)]
        levels: dict[str, Any] = {zone: known[zone].ev for zone in own}
        scene = self.setup.scene
        uncertainties = {
            "background_uncertainty": (
                known["background"].uncertainty if "background" in own else scene.background_uncertainty
            ),
            "subject_uncertainty": (
                known["subject"].uncertainty if "subject" in own else scene.subject_uncertainty
            ),
        }
        return Baseline(first.time, first.sky, **levels, **uncertainties)


def _far(place: Place, other: Place) -> bool:
    return abs(place.lat - other.lat) + abs(place.lon - other.lon) > NEAR_DEG


@dataclass(frozen=True)
class Slot:
    """One set-up on the day: when it starts (local time with its zone) and for how many minutes."""

    placement: Placement
    start: datetime
    minutes: int

    @property
    def end(self) -> datetime:
        """When it is over."""
        return later(self.start, self.minutes * MINUTE)

    @property
    def setup(self) -> SetUp:
        """The set-up as it is kept."""
        return self.placement.setup


def setup_at(placement: Placement, time: datetime) -> SetUp:
    """The set-up in the light of a time.

    A zone that was read or expected about here, at any time, keeps what it was and moves by what the
    forecast moves from then: so what is known of the scene itself carries over. What was read that day
    already knows the readings before it; what was only expected is shifted by them. A zone of which that
    is not known is the forecast itself. Zones that are not in the picture stay out of it.
    """
    scene, then = placement.setup.scene, placement.light_at(time)
    zones: dict[str, Any] = {zone: _moved(placement, zone, then) for zone in ZONES}
    changed = replace(
        scene,
        moment=Moment(placement.place, time),
        baseline=placement.baseline,
        background_uncertainty=_uncertainty(placement.baselines["background"], then),
        subject_uncertainty=_uncertainty(placement.baselines["subject"], then),
        **zones,
    )
    return placement.setup.in_light(changed)


def _moved(placement: Placement, zone: str, then: Forecast) -> EV100 | None:
    if getattr(placement.setup.scene, zone) is None:
        return None
    foreseen: EV100 | None = getattr(then, zone)
    baseline, before = placement.baselines[zone], placement.forecasts_then[zone]
    lamps = placement.setup.scene.lamps(zone)
    if baseline is None or before is None or foreseen is None:
        return None if foreseen is None else _within_limits(with_lamps(foreseen, lamps))
    daylight_then = without_lamps(baseline.ev, lamps)
    return _within_limits(float(with_lamps(daylight_then + (foreseen - before), lamps)))


def _uncertainty(baseline: ZoneBaseline | None, then: Forecast) -> Stops:
    """± of a zone at a time; that of what was read grows with its age to the forecast's."""
    if baseline is None:
        return then.uncertainty
    if not baseline.read:
        return max(baseline.uncertainty, then.uncertainty)
    age = abs(apart(baseline.time, then.time)) / READING_AGES
    return hypot(baseline.uncertainty, then.uncertainty * min(1.0, age))


def _within_limits(level: EV100) -> EV100:
    return max(limits.EV.least, min(level, limits.EV.most))


@lru_cache(maxsize=512)
def planned(slot: Slot) -> Way:
    """The way that is taken at the set-up's start: the recommended one, else the one that comes closest."""
    return plan(setup_at(slot.placement, slot.start)).shown


@dataclass(frozen=True)
class TimedVerdict:
    """The verdict on a way at one time, and its reserve in stops (None: not needed, no flash needed, or it
    cannot take part)."""

    time: datetime
    verdict: str
    reserve: Stops | None

    @property
    def works(self) -> bool:
        """Whether the picture can be made, or comes within a third of a stop."""
        return self.verdict in (HOLDS, JUST)

    def holds(self, least: Stops) -> bool:
        """Whether the picture can be made with so much in reserve."""
        if self.verdict == JUST:
            return least <= 0
        return self.verdict == HOLDS and (self.reserve is None or self.reserve >= least)


@remembered(8192)
def verdict_at(placement: Placement, kind: WayKind, time: datetime) -> TimedVerdict:
    """The verdict on one method in the light of a time."""
    return TimedVerdict(time, *verdict(setup_at(placement, time), kind))


@remembered(1024)
def lacking_at(placement: Placement, kind: WayKind, time: datetime) -> Way:
    """A method in the light of a time, to say what it lacks there."""
    return work_out(setup_at(placement, time), kind)


@remembered(1024)
def timeline(
    placement: Placement, kind: WayKind, first: datetime, last: datetime
) -> tuple[TimedVerdict, ...]:
    """One method of a set-up from first to last, as a line that can be drawn: wherever its verdict changes,
    the last minute of the one and the first of the other are next to each other."""
    found = [verdict_at(placement, kind, time) for time in _moments(_unfaced(placement.place), first, last)]
    line = found[:1]
    for before, after in pairwise(found):
        line += [*_between(placement, kind, before, after), after]
    return _thinned(tuple(dict.fromkeys(line)))


def _thinned(line: tuple[TimedVerdict, ...]) -> tuple[TimedVerdict, ...]:
    """The same line with no more points than are needed to draw it: of points of one verdict, those that
    differ."""
    kept = [line[0]]
    for timed, following in pairwise(line[1:]):
        alone = kept[-1].verdict != timed.verdict or following.verdict != timed.verdict
        if alone or not _alike(kept[-1], timed):
            kept.append(timed)
    return (*kept, line[-1])


def _between(
    placement: Placement, kind: WayKind, before: TimedVerdict, after: TimedVerdict
) -> Iterator[TimedVerdict]:
    """What happens between two times, as finely as the light and the verdict change."""
    changes = _light_change(placement, before.time, after.time)
    same = before.verdict == after.verdict
    if same and (changes <= CHANGE or before.verdict == NOT_NEEDED):
        return
    if changes > CHANGE and apart(before.time, after.time) > LOOK:
        middle = verdict_at(placement, kind, half_way(before.time, after.time))
        yield from _between(placement, kind, before, middle)
        yield middle
        yield from _between(placement, kind, middle, after)
    elif not same:
        edge = turning_point(before.time, after.time, _becomes(placement, kind, before, after))
        last = verdict_at(placement, kind, later(edge, -MINUTE))
        first = verdict_at(placement, kind, edge)
        # Between the two a third verdict may have come and gone.
        yield from _between(placement, kind, before, last)
        yield from (last, first)
        yield from _between(placement, kind, first, after)


def _becomes(
    placement: Placement, kind: WayKind, before: TimedVerdict, after: TimedVerdict
) -> Callable[[datetime], bool]:
    """Whether the verdict at a time is the later one. Whether a method is needed is known without
    planning."""
    if NOT_NEEDED in (before.verdict, after.verdict):
        wanted = after.verdict != NOT_NEEDED
        return lambda time: is_needed(setup_at(placement, time), kind) == wanted
    return lambda time: verdict_at(placement, kind, time).verdict == after.verdict


def _alike(before: TimedVerdict, after: TimedVerdict) -> bool:
    """Whether two times of one verdict need nothing between them to be drawn."""
    if before.verdict == NOT_NEEDED:
        return True
    if before.reserve is None or after.reserve is None:
        return before.reserve is after.reserve
    most = RESERVE_ENOUGH if before.works else inf
    return abs(min(before.reserve, most) - min(after.reserve, most)) <= ALIKE


def _light_change(placement: Placement, start: datetime, end: datetime) -> Stops:
    before, after = placement.light_at(start), placement.light_at(end)
    return max(abs(before.background - after.background), abs(before.subject - after.subject))


@remembered(64)
def _moments(place: Place, first: datetime, last: datetime) -> tuple[datetime, ...]:
    """Times at which the light of a place is another."""
    found = [first]
    before, known = first, daylight(place, first).sunlit
    for time in _every(first, last, LOOK):
        level = daylight(place, time).sunlit
        if abs(level - known) > COARSE and before > found[-1]:
            found.append(before)
            known = daylight(place, before).sunlit
        if apart(found[-1], time) >= LONGEST or time == last:
            found.append(time)
            known = level
        before = time
    return tuple(found)


def _unfaced(place: Place) -> Place:
    return replace(place, facing_deg=None)


def _every(first: datetime, last: datetime, step: timedelta) -> Iterator[datetime]:
    time = first
    while time < last:
        time = min(later(time, step), last)
        yield time


@dataclass(frozen=True)
class Span:
    """From when to when a way holds, to the minute."""

    start: datetime
    end: datetime

    @property
    def words(self) -> str:
        """It in words."""
        return f"{self.start:%H:%M} to {self.end:%H:%M}"


@remembered(512)
def best_span(slot: Slot, kind: WayKind, least: Stops, first: datetime, last: datetime) -> Span | None:
    """The span in which a method holds with so much reserve: the one around the set-up's start, else the
    one nearest to it; None where it holds at no time between first and last."""
    line = timeline(slot.placement, kind, first, last)
    spans = list(_spans(slot.placement, kind, least, line))
    if not spans:
        return None
    return min(
        spans,
        key=lambda span: max(apart(slot.start, span.start), apart(span.end, slot.start), timedelta(0)),
    )


def _spans(
    placement: Placement, kind: WayKind, least: Stops, line: Sequence[TimedVerdict]
) -> Iterator[Span]:
    begun = line[0].time if line[0].holds(least) else None
    for before, after in pairwise(line):
        holds = after.holds(least)
        if holds == (begun is not None):
            continue
        edge = turning_point(before.time, after.time, _holding(placement, kind, least, wanted=holds))
        if begun is None:
            begun = edge
        else:
            yield Span(begun, later(edge, -MINUTE))
            begun = None
    if begun is not None:
        yield Span(begun, line[-1].time)


def _holding(
    placement: Placement, kind: WayKind, least: Stops, *, wanted: bool
) -> Callable[[datetime], bool]:
    return lambda time: verdict_at(placement, kind, time).holds(least) == wanted
