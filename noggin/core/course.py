"""A set-up through the day: how its zones move with the light, what its way has in reserve at each time,
and the span in which it holds.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import lru_cache
from itertools import pairwise
from typing import Any

from noggin.core import limits
from noggin.core.daylight import Moment, Place
from noggin.core.feasibility import NOTHING_TO_TAKE_AWAY
from noggin.core.plan import Way
from noggin.core.setup import SetUp
from noggin.core.spot import Outlook, Spot, Taken, outlook
from noggin.core.tables import TRUST
from noggin.core.units import EV100, Stops
from noggin.core.ways import advised, work_out

MINUTE = timedelta(minutes=1)

LOOK = timedelta(minutes=5)
"""Step in which the light is looked at before a way is worked out in it."""

CHANGE: Stops = 1.5
"""A way is worked out anew wherever the light has changed by this much, for between it nothing but the
shutter moves …"""

LONGEST = timedelta(minutes=90)
"""… and after this time at the latest."""

OPEN = Spot()
MEASURED = TRUST["measured"].plus_minus


@dataclass(frozen=True)
class Stand:
    """A picture where it is taken on one day: the set-up, the place with the camera's facing, the spot and
    the day's readings."""

    setup: SetUp
    place: Place
    day: date
    spot: Spot = OPEN
    readings: tuple[Taken, ...] = ()

    def outlook(self, at: datetime) -> Outlook:
        """The day's light on it at a time."""
        return outlook(self.place, at, self.spot, self.readings)


@dataclass(frozen=True)
class Slot:
    """One set-up on the day: when it starts (local time with its zone) and for how many minutes."""

    stand: Stand
    start: datetime
    minutes: int

    @property
    def end(self) -> datetime:
        """When it is over."""
        return self.start + timedelta(minutes=self.minutes)

    @property
    def setup(self) -> SetUp:
        """The set-up as it is kept."""
        return self.stand.setup


def setup_at(stand: Stand, at: datetime) -> SetUp:
    """The set-up in the light of a time.

    A zone that was read on the very day keeps its reading and moves with the forecast from there; one that
    was estimated, or read on another day, is the forecast itself. Zones that are not in the picture stay
    out of it.
    """
    scene, then = stand.setup.scene, stand.outlook(at)
    basis = _basis(stand, at)
    moved = {
        "background": _moved(scene.background, scene.background_pm, basis, then, "background"),
        "subject": _moved(scene.subject, scene.subject_pm, basis, then, "subject"),
        "sky": None if scene.sky is None else _moved(scene.sky, MEASURED, basis, then, "sky"),
        "rim": None if scene.rim is None else _moved(scene.rim, MEASURED, basis, then, "rim"),
    }
    held: dict[str, Any] = {zone: None if level is None else _held(level) for zone, level in moved.items()}
    read = basis is not None and at == basis.time
    changed = replace(
        scene,
        moment=Moment(stand.place, at),
        background_pm=scene.background_pm if read else max(then.uncertainty, MEASURED),
        subject_pm=scene.subject_pm if read else max(then.uncertainty, MEASURED),
        **held,
    )
    return replace(stand.setup, scene=changed)


def _basis(stand: Stand, at: datetime) -> Outlook | None:
    """The light at the time that the set-up's own readings are from; None where they are of another day or
    place."""
    moment = stand.setup.scene.moment
    if moment is None:
        return None
    then = moment.time.astimezone(at.tzinfo)
    away = abs(moment.place.lat - stand.place.lat) + abs(moment.place.lon - stand.place.lon)
    return None if then.date() != stand.day or away > NEAR_DEG else stand.outlook(then)


NEAR_DEG = 0.5
"""Degrees within which the day's light is the same but for a few minutes of clock time."""


def _moved(own: EV100, off: Stops, basis: Outlook | None, then: Outlook, zone: str) -> EV100 | None:
    forecast = getattr(then, zone)
    if basis is None or off > MEASURED or forecast is None:
        return forecast if forecast is None else float(forecast)
    before = getattr(basis, zone)
    return float(forecast if before is None else own + forecast - before)


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
    """How a way stands at one time: HOLDS, IDLE or LACKS (then `lacks` says what), and its reserve in stops
    (None: no flash needed, or it cannot take part)."""

    time: datetime
    state: str
    reserve: Stops | None
    lacks: str = ""

    def holds(self, least: Stops) -> bool:
        """Whether the picture can be made with so much in reserve."""
        return self.state == HOLDS and (self.reserve is None or self.reserve >= least)


@lru_cache(maxsize=8192)
def standing(stand: Stand, key: str, at: datetime) -> Standing:
    """How one way stands in the light of a time."""
    way = work_out(setup_at(stand, at), key)
    if way.feasible:
        return Standing(at, HOLDS, way.reserve)
    state = IDLE if way.lacks == (NOTHING_TO_TAKE_AWAY,) else LACKS
    return Standing(at, state, way.reserve, way.lacks[0])


@lru_cache(maxsize=1024)
def course(stand: Stand, key: str, first: datetime, last: datetime) -> tuple[Standing, ...]:
    """One way of a set-up from first to last, as a line that can be drawn: wherever its state changes, the
    last minute of the one and the first of the other stand beside each other."""
    told = [standing(stand, key, at) for at in _moments(stand, first, last)]
    line = told[:1]
    for before, after in pairwise(told):
        if before.state != after.state:
            edge = _edge(lambda at, now=after.state: standing(stand, key, at).state == now, before, after)  # type: ignore[misc]
            line += [standing(stand, key, edge - MINUTE), standing(stand, key, edge)]
        line.append(after)
    return tuple(dict.fromkeys(line))


def _moments(stand: Stand, first: datetime, last: datetime) -> Iterator[datetime]:
    """Times at which the light is another."""
    taken, known = first, stand.outlook(first)
    yield first
    before = first
    for at in _every(first, last, LOOK):
        light = stand.outlook(at)
        changed = max(abs(light.background - known.background), abs(light.subject - known.subject))
        if changed > CHANGE and before > taken:
            yield before
            taken, known = before, stand.outlook(before)
        elif at - taken >= LONGEST or at == last:
            yield at
            taken, known = at, light
        before = at


def _every(first: datetime, last: datetime, step: timedelta) -> Iterator[datetime]:
    at = first
    while at < last:
        at = min(at + step, last)
        yield at


def _edge(is_after: Callable[[datetime], bool], before: Standing, after: Standing) -> datetime:
    """The first minute at which it is as it is after."""
    low, high = before.time, after.time
    while high - low > MINUTE:
        half = low + max(MINUTE, ((high - low) / 2 // MINUTE) * MINUTE)
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
    return min(spans, key=lambda span: max(span.start - slot.start, slot.start - span.end, timedelta(0)))


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
            yield Span(begun, edge - MINUTE)
            begun = None
    if begun is not None:
        yield Span(begun, line[-1].time)
