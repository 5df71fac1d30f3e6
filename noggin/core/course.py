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
from noggin.core.candidates import surplus
from noggin.core.choosing import RESERVE_ENOUGH
from noggin.core.clock import MINUTE, apart, half_way, later
from noggin.core.daylight import Moment, Place, daylight
from noggin.core.plan import Way
from noggin.core.setup import ZONES, MovedFrom, SetUp
from noggin.core.spot import Outlook, Spot, Taken, outlook
from noggin.core.tables import TRUST
from noggin.core.units import EV100, Stops
from noggin.core.ways import advised, lit, stands

LOOK = timedelta(minutes=5)
"""Step in which the light is looked at before a way is worked out in it."""

COARSE: Stops = 6.0
CHANGE: Stops = 1.5
"""A way is worked out wherever the light has changed by COARSE, and between two such times that stand
differently wherever it has changed by CHANGE, …"""

LONGEST = timedelta(minutes=150)
"""… and after this time at the latest."""

ALIKE: Stops = 2 / 3
"""Two reserves nearer than this stand alike."""

OPEN = Spot()
MEASURED = TRUST["measured"].plus_minus


NEAR_DEG = 0.5
"""Degrees within which the day's light is the same but for a few minutes of clock time."""


@dataclass(frozen=True)
class Reckoned:
    """What one zone is reckoned from: its EV100 and its ± then, when that was, under which sky, and whether
    it was read (else it was expected)."""

    ev: EV100
    off: Stops
    time: datetime
    under: str
    read: bool


@dataclass(frozen=True)
class Stand:
    """A picture where it is taken on one day: the set-up, the place with the camera's facing, the day and
    the zone its clocks keep, the spot and the day's readings; `past` says that the set-up's own time is."""

    setup: SetUp
    place: Place
    day: date
    zone: tzinfo
    spot: Spot = OPEN
    readings: tuple[Taken, ...] = ()
    past: bool = True

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        # Worked out once: a day asks for the same stand hundreds of times.
        return hash((self.setup, self.place, self.day, str(self.zone), self.spot, self.readings, self.past))

    def outlook(self, at: datetime) -> Outlook:
        """The day's light on it at a time."""
        return outlook(self.place, at, self.spot, self.readings)

    @cached_property
    def reckoned(self) -> Mapping[str, Reckoned | None]:
        """What each zone is reckoned from; None where it is not known when or where it was."""
        return {zone: self._reckoned(zone) for zone in ZONES}

    def _reckoned(self, zone: str) -> Reckoned | None:
        scene = self.setup.scene
        moment, moved = scene.moment, scene.moved_from
        if moment is None or _far(moment.place, self.place):
            return None
        if moved is not None and getattr(moved, zone) is not None:
            ev, time, under = getattr(moved, zone), moved.time, moved.under
            off = moved.subject_pm if zone == "subject" else moved.background_pm
        else:
            ev, time, under = getattr(scene, zone), moment.time, moment.place.sky
            off = scene.subject_pm if zone == "subject" else scene.background_pm
        if ev is None:
            return None
        local = time.astimezone(self.zone)
        read = self.past and off <= MEASURED and local.date() == self.day
        return Reckoned(ev, off, local, under, read)

    @cached_property
    def before(self) -> Mapping[str, EV100 | None]:
        """What the forecast was of each zone when it was reckoned: with the readings of that day, where the
        zone was read too; as it was expected, where it was expected."""
        return {
            zone: None if one is None else self._before(zone, one) for zone, one in self.reckoned.items()
        }

    def _before(self, zone: str, one: Reckoned) -> EV100 | None:
        readings = self.readings if one.read else ()
        found = outlook(replace(self.place, sky=one.under), one.time, self.spot, readings)
        level: EV100 | None = getattr(found, zone)
        return level

    @cached_property
    def moved_from(self) -> MovedFrom | None:
        """What the zones were, to be kept with those that were moved."""
        known = {zone: one for zone, one in self.reckoned.items() if one is not None}
        if not known:
            return None
        first = next(iter(known.values()))
        own = [zone for zone, one in known.items() if (one.time, one.under) == (first.time, first.under)]
        levels: dict[str, Any] = {zone: known[zone].ev for zone in own}
        scene = self.setup.scene
        offs = {
            "background_pm": known["background"].off if "background" in own else scene.background_pm,
            "subject_pm": known["subject"].off if "subject" in own else scene.subject_pm,
        }
        return MovedFrom(first.time, first.under, **levels, **offs)


def _far(one: Place, other: Place) -> bool:
    return abs(one.lat - other.lat) + abs(one.lon - other.lon) > NEAR_DEG


@dataclass(frozen=True)
class Slot:
    """One set-up on the day: when it starts (local time with its zone) and for how many minutes."""

    stand: Stand
    start: datetime
    minutes: int

    @property
    def end(self) -> datetime:
        """When it is over."""
        return later(self.start, self.minutes * MINUTE)

    @property
    def setup(self) -> SetUp:
        """The set-up as it is kept."""
        return self.stand.setup


def setup_at(stand: Stand, at: datetime) -> SetUp:
    """The set-up in the light of a time.

    A zone that was read or expected about here, at any time, keeps what it was and moves by what the
    forecast moves from then: so what is known of the scene itself goes along. What was read that day
    already knows the readings before it; what was only expected is shifted by them. A zone of which that
    is not known is the forecast itself. Zones that are not in the picture stay out of it.
    """
    scene, then = stand.setup.scene, stand.outlook(at)
    held: dict[str, Any] = {zone: _moved(stand, zone, then) for zone in ZONES}
    changed = replace(
        scene,
        moment=Moment(stand.place, at),
        moved_from=stand.moved_from,
        background_pm=_off(stand.reckoned["background"], then),
        subject_pm=_off(stand.reckoned["subject"], then),
        **held,
    )
    return stand.setup.in_light(changed)


def _moved(stand: Stand, zone: str, then: Outlook) -> EV100 | None:
    if getattr(stand.setup.scene, zone) is None:
        return None
    forecast: EV100 | None = getattr(then, zone)
    one, before = stand.reckoned[zone], stand.before[zone]
    if one is None or before is None or forecast is None:
        return None if forecast is None else _held(forecast)
    return _held(float(one.ev + (forecast - before)))


def _off(one: Reckoned | None, then: Outlook) -> Stops:
    """± of a zone at a time; that of what was read grows in three hours to the forecast's."""
    if one is None:
        return then.uncertainty
    if not one.read:
        return max(one.off, then.uncertainty)
    age = abs(apart(one.time, then.time)) / timedelta(hours=3)
    return hypot(one.off, then.uncertainty * min(1.0, age))


def _held(level: EV100) -> EV100:
    return max(limits.EV.least, min(level, limits.EV.most))


@lru_cache(maxsize=512)
def planned(slot: Slot) -> Way:
    """The way that is taken at the set-up's start: the advised one, else the one that comes nearest."""
    return advised(setup_at(slot.stand, slot.start))


HOLDS, IDLE, LACKS = "holds", "idle", "lacks"
"""How a way stands: the picture can be made; nothing is left for it to take away; it cannot be made."""


@dataclass(frozen=True)
class Standing:
    """How a way stands at one time: HOLDS, IDLE or LACKS, and its reserve in stops (None: idle, no flash
    needed, or it cannot take part)."""

    time: datetime
    state: str
    reserve: Stops | None

    def holds(self, least: Stops) -> bool:
        """Whether the picture can be made with so much in reserve."""
        return self.state == HOLDS and (self.reserve is None or self.reserve >= least)


@lru_cache(maxsize=8192)
def standing(stand: Stand, key: str, at: datetime) -> Standing:
    """How one way stands in the light of a time."""
    setup = setup_at(stand, at)
    if _idle(setup, key):
        return Standing(at, IDLE, None)
    reserve, feasible = stands(setup, key)
    return Standing(at, HOLDS if feasible else LACKS, reserve)


def _idle(setup: SetUp, key: str) -> bool:
    """Whether a way has nothing left to take away."""
    return key != "within_sync" and not surplus(setup)


def lacks_at(stand: Stand, key: str, at: datetime) -> str:
    """The first thing that a way lacks at a time; empty where it holds."""
    _, lacks = lit(setup_at(stand, at), key)
    return lacks[0] if lacks else ""


@lru_cache(maxsize=1024)
def course(stand: Stand, key: str, first: datetime, last: datetime) -> tuple[Standing, ...]:
    """One way of a set-up from first to last, as a line that can be drawn: wherever its state changes, the
    last minute of the one and the first of the other stand beside each other."""
    told = [standing(stand, key, at) for at in _moments(_unfaced(stand.place), first, last)]
    line = told[:1]
    for before, after in pairwise(told):
        line += [*_between(stand, key, before, after), after]
    return tuple(dict.fromkeys(line))


def _between(stand: Stand, key: str, before: Standing, after: Standing) -> Iterator[Standing]:
    """What stands between two times, as finely as the light and the standing change."""
    changes, same = _light_change(stand, before.time, after.time), before.state == after.state
    if (same and _alike(before, after)) or (same and changes <= CHANGE):
        return
    if changes > CHANGE and apart(before.time, after.time) > LOOK:
        middle = standing(stand, key, half_way(before.time, after.time))
        yield from _between(stand, key, before, middle)
        yield middle
        yield from _between(stand, key, middle, after)
    elif not same:
        edge = _edge(_becomes(stand, key, before, after), before, after)
        last, first = standing(stand, key, later(edge, -MINUTE)), standing(stand, key, edge)
        # Between the two a third state may have come and gone.
        yield from _between(stand, key, before, last)
        yield from (last, first)
        yield from _between(stand, key, first, after)


def _becomes(stand: Stand, key: str, before: Standing, after: Standing) -> Callable[[datetime], bool]:
    """Whether it stands at a time as it does after; between idle and not, nothing need be worked out."""
    if IDLE in (before.state, after.state):
        return lambda at: _idle(setup_at(stand, at), key) == (after.state == IDLE)
    return lambda at: standing(stand, key, at).state == after.state


def _alike(one: Standing, other: Standing) -> bool:
    """Whether two that stand in one state need nothing between them to be drawn."""
    if one.state == IDLE:
        return True
    if one.reserve is None or other.reserve is None:
        return one.reserve is other.reserve
    most = RESERVE_ENOUGH if one.state == HOLDS else inf
    return abs(min(one.reserve, most) - min(other.reserve, most)) <= ALIKE


def _light_change(stand: Stand, one: datetime, other: datetime) -> Stops:
    before, after = stand.outlook(one), stand.outlook(other)
    return max(abs(before.background - after.background), abs(before.subject - after.subject))


@lru_cache(maxsize=64)
def _moments(place: Place, first: datetime, last: datetime) -> tuple[datetime, ...]:
    """Times at which the light of a place is another."""
    found = [first]
    before, known = first, daylight(place, first).sunlit
    for at in _every(first, last, LOOK):
        level = daylight(place, at).sunlit
        if abs(level - known) > COARSE and before > found[-1]:
            found.append(before)
            known = daylight(place, before).sunlit
        if apart(found[-1], at) >= LONGEST or at == last:
            found.append(at)
            known = level
        before = at
    return tuple(found)


def _unfaced(place: Place) -> Place:
    return replace(place, facing_deg=None)


def _every(first: datetime, last: datetime, step: timedelta) -> Iterator[datetime]:
    at = first
    while at < last:
        at = min(later(at, step), last)
        yield at


def _edge(is_after: Callable[[datetime], bool], before: Standing, after: Standing) -> datetime:
    """The first minute at which it is as it is after."""
    low, high = before.time, after.time
    while apart(low, high) > MINUTE:
        half = half_way(low, high)
        if is_after(half):
            high = half
        else:
            low = half
    return high


@dataclass(frozen=True)
class Span:
    """From when to when a way holds, to the minute."""

    start: datetime
    end: datetime

    @property
    def words(self) -> str:
        """It in words."""
        return f"{self.start:%H:%M} to {self.end:%H:%M}"


@lru_cache(maxsize=512)
def best_span(slot: Slot, key: str, least: Stops, first: datetime, last: datetime) -> Span | None:
    """The span in which a way holds with so much reserve: the one around the set-up's start, else the one
    nearest to it; None where it holds at no time between first and last."""
    spans = list(_spans(slot.stand, key, least, course(slot.stand, key, first, last)))
    if not spans:
        return None
    return min(
        spans,
        key=lambda span: max(apart(slot.start, span.start), apart(span.end, slot.start), timedelta(0)),
    )


def _spans(stand: Stand, key: str, least: Stops, line: Sequence[Standing]) -> Iterator[Span]:
    begun = line[0].time if line[0].holds(least) else None
    for before, after in pairwise(line):
        now = after.holds(least)
        if now == (begun is not None):
            continue
        edge = _edge(lambda at, now=now: standing(stand, key, at).holds(least) == now, before, after)  # type: ignore[misc]
        if begun is None:
            begun = edge
        else:
            yield Span(begun, later(edge, -MINUTE))
            begun = None
    if begun is not None:
        yield Span(begun, line[-1].time)
