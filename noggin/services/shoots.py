"""Use cases of shoots: a day at a place with its set-ups, and what the light does to them."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache
from typing import Any
from zoneinfo import ZoneInfo

from noggin.core import limits
from noggin.core.clock import later
from noggin.core.course import (
    HOLDS,
    IDLE,
    Slot,
    Span,
    Standing,
    best_span,
    course,
    lacks_at,
    planned,
    standing,
)
from noggin.core.day import Stretch, SunDay, light_span, stretches, sun_day
from noggin.core.daylight import Daylight
from noggin.core.errors import NogginError, Refused, Unreadable
from noggin.core.feasibility import in_short
from noggin.core.plan import Way
from noggin.core.quantities import read_zone
from noggin.core.setup import SetUp
from noggin.core.spot import ZONES, day_light
from noggin.core.timetable import Check, charges, checks
from noggin.core.units import Stops
from noggin.core.whereabouts import read_clock
from noggin.documents.entry import Document
from noggin.documents.faults import BadDocument
from noggin.documents.setup import setup_of
from noggin.documents.shoot import KeptShoot, kept_shoot, normal_shoot
from noggin.documents.shoot_entries import SHOOT_ENTRIES, SLOT_LABELS, shoot_entries
from noggin.documents.waypoints import Waypoint
from noggin.services.clock import Clock
from noggin.services.entering import Form, NoSuchFigure
from noggin.services.pieces import Piece, enter, names, piece_of, unused
from noggin.store.kept import Change, Kept, Step, Store

SAMPLE = timedelta(minutes=15)
"""Step of the day's light as it is drawn and tabled."""


@dataclass(frozen=True)
class Placed:
    """A set-up on the day: its place in the shoot, its number, and the slot; None where the set-up was laid
    aside."""

    at: int
    setup_id: int
    slot: Slot | None

    @property
    def name(self) -> str:
        """What the set-up is called."""
        return self.slot.setup.name if self.slot else "a set-up that was laid aside"

    @property
    def way(self) -> Way | None:
        """The way that is planned for it."""
        return planned(self.slot) if self.slot else None

    @property
    def lacks(self) -> str:
        """What it lacks, in short; empty where the way can be."""
        return in_short(self.way.lacks[0]) if self.way and self.way.lacks else ""


@dataclass(frozen=True)
class Day:
    """A shoot as it is opened: what is kept, and its set-ups in the light of the day."""

    piece: Piece
    shoot: KeptShoot
    placed: tuple[Placed, ...]
    along: Mapping[str, int]
    packed: bool

    @property
    def id(self) -> int:
        """Its number."""
        return self.piece.id

    @property
    def name(self) -> str:
        """What it is called."""
        return self.piece.name

    @property
    def zone(self) -> ZoneInfo:
        """The zone its clocks keep."""
        return ZoneInfo(self.shoot.place.tz)

    @property
    def in_order(self) -> tuple[Placed, ...]:
        """The set-ups by the clock."""
        return tuple(sorted(self.placed, key=lambda one: self.shoot.slots[one.at].start))

    @property
    def slots(self) -> tuple[Placed, ...]:
        """Those whose set-up is there, by the clock."""
        return tuple(one for one in self.in_order if one.slot)

    @cached_property
    def sun(self) -> SunDay:
        """The day's sun."""
        place = self.shoot.place
        return sun_day(place.lat, place.lon, self.shoot.day(), self.zone, place.elevation_m)

    @cached_property
    def span(self) -> tuple[datetime, datetime]:
        """First and last light, and whatever set-up lies beyond."""
        place = self.shoot.place
        first, last = light_span(place.lat, place.lon, self.shoot.day(), self.zone)
        starts = [one.slot.start for one in self.slots if one.slot]
        ends = [one.slot.end for one in self.slots if one.slot]
        return min([first, *starts]), max([last, *ends])

    @cached_property
    def parts(self) -> tuple[Stretch, ...]:
        """The named parts of it."""
        place = self.shoot.place
        return stretches(place.lat, place.lon, self.shoot.day(), self.zone, *self.span)

    def light(self, at: datetime) -> Daylight:
        """Sunlit side, shaded side and sky at a time, readings heeded."""
        return day_light(self.shoot.core_place(), at, self.shoot.taken())

    @cached_property
    def curve(self) -> tuple[Daylight, ...]:
        """The light from first to last."""
        first, last = self.span
        times = [first]
        while times[-1] < last:
            times.append(min(later(times[-1], SAMPLE), last))
        return tuple(self.light(at) for at in times)

    @cached_property
    def checks(self) -> tuple[Check, ...]:
        """What is wrong with the timetable; places are those in `slots`."""
        return checks([one.slot for one in self.slots if one.slot], self.along, packed=self.packed)

    @cached_property
    def charges(self) -> Mapping[str, float]:
        """Charges of each light's battery over the day."""
        return charges([one.slot for one in self.slots if one.slot])

    def course(self, slot: Slot) -> tuple[Standing, ...]:
        """How the way that is planned for a set-up stands through the day."""
        return course(slot.stand, planned(slot).way, *self.span)

    def until(self, slot: Slot) -> str:
        """Until when the way that is planned stands as it does at the start, and what comes then, in words;
        empty where it stays so."""
        line = self.course(slot)
        then = next((one for one in line if one.time > slot.start and one.state != self._state(slot)), None)
        if then is None:
            return ""
        after = {HOLDS: "it holds", IDLE: "not needed"}.get(then.state)
        after = after or in_short(lacks_at(slot.stand, planned(slot).way, then.time))
        return f"till {then.time:%H:%M}, then {after}"

    def _state(self, slot: Slot) -> str:
        return standing(slot.stand, planned(slot).way, slot.start).state

    def best(self, slot: Slot, way: str, least: Stops) -> Span | None:
        """When a way holds with so much in reserve."""
        return best_span(slot, way, least, *self.span)

    def shifts(self) -> tuple[tuple[int, datetime, Stops], ...]:
        """Number, time and shift of every reading, in the order of the clock."""
        found = []
        for at, one in enumerate(self.shoot.taken()):
            estimate = getattr(day_light(self.shoot.core_place(), one.time), one.zone)
            found.append((at, one.time, one.ev - estimate))
        return tuple(sorted(found, key=lambda one: one[1]))


def all_shoots(store: Store, clock: Clock) -> tuple[Day, ...]:
    """Every shoot by its date, then its name."""
    texts = store.setups.texts()
    days = (_day(store, kept, texts, clock()) for kept in store.shoots.all())
    return tuple(sorted(days, key=lambda day: (day.shoot.date, day.name.lower())))


def open_shoot(store: Store, clock: Clock, shoot_id: int) -> Day:
    """One shoot. Raises NotKept."""
    return _day(store, store.shoots.get(shoot_id), store.setups.texts(), clock())


def new_shoot(store: Store, clock: Clock, found: Mapping[str, str]) -> int:
    """A shoot from what was typed for name, date, place and tz; its number. Raises Mistyped."""
    problems: dict[str, str] = {}
    document: dict[str, Any] = {"name": "", "date": "", "place": {"lat": 0.0, "lon": 0.0, "tz": "UTC"}}
    for key in NEW:
        entry = SHOOT_ENTRIES[key]
        try:
            document = entry.put(document, entry.parsed(found.get(key, "")))
        except Unreadable as error:
            problems[key] = str(error)
    others = names(store.shoots)
    if not problems:
        document["name"] = unused(document["name"], others)
        try:
            return store.shoots.add(normal_shoot(document), clock()).id
        except BadDocument as bad:
            for fault in bad.faults:
                key = next((key for key in NEW if fault.path in _paths(key)), "place")
                problems[key] = fault.problem
    raise Mistyped(problems)


NEW = ("name", "date", "place", "tz")
"""What must be said of a new shoot."""


def _paths(key: str) -> tuple[str, ...]:
    return {"place": ("place.lat", "place.lon"), "tz": ("place.tz",)}.get(key, (key,))


class Mistyped(NogginError):
    """Something typed for a new shoot cannot be taken; `problems` says what, by the figure's key."""

    def __init__(self, problems: Mapping[str, str]) -> None:
        super().__init__("; ".join(problems.values()))
        self.problems = problems


def enter_shoot(store: Store, clock: Clock, shoot_id: int, key: str, text: str) -> Day:
    """Take what was typed for one figure. Raises NotKept, NoSuchFigure."""
    enter(store.shoots, clock, shoot_id, key, text, shoot_entries, normal_shoot)
    return open_shoot(store, clock, shoot_id)


def step_shoot(store: Store, clock: Clock, shoot_id: int, key: str, by: int) -> Day:
    """Move one figure by so many of its steps. Raises NotKept, NoSuchFigure."""

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        entry = _FORM.entry(kept.document, key)
        value = entry.value(kept.document)
        if entry.stepped is None:
            raise NoSuchFigure(f"{entry.label} has no steps.")
        moved = entry.show(entry.stepped(None, entry.start_from(None) if value is None else value, by))
        return _FORM.taken(kept.document, {**kept.entries, key: moved}, newest=key)

    return _changed(store, clock, shoot_id, SLOT_LABELS.get(key.rpartition("-")[0], "moved"), change, key)


def move(store: Store, clock: Clock, shoot_id: int, by: int) -> Day:
    """Undo (`by` -1) or do again (+1) one step. Raises NotKept, NoSuchStep."""
    store.shoots.move(shoot_id, by, clock())
    return open_shoot(store, clock, shoot_id)


def add_slot(store: Store, clock: Clock, shoot_id: int, setup_id: int) -> Day:
    """A set-up on the day: at its own time where it has one, else after the last. Raises NotKept."""
    opened = store.setups.get(setup_id)
    own = setup_of(dict(opened.document)).scene.moment

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        shoot = kept_shoot(kept.document)
        if own is not None:
            start = f"{own.time.astimezone(ZoneInfo(shoot.place.tz)):%H:%M}"
        else:
            start = max((one.start for one in shoot.slots), default="11:00")
            start = f"{min(23, int(start[:2]) + 1):02}{start[2:]}"
        facing = own.place.facing_deg if own else None
        slot = {"setup": setup_id, "start": start, "facing_deg": facing}
        return _FORM.changed(kept, {**kept.document, "slots": [*kept.document["slots"], slot]})

    return _changed(store, clock, shoot_id, f"{opened.document['name']} put on the day", change)


def remove_slot(store: Store, clock: Clock, shoot_id: int, at: int) -> Day:
    """A set-up off the day. Raises NotKept, Refused."""

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        slots = _without(kept.document["slots"], at, "there is no such set-up on this day")
        # What waits beside figures of set-ups belongs to places that have shifted.
        waiting = {key: text for key, text in kept.entries.items() if key in SHOOT_ENTRIES}
        return normal_shoot({**kept.document, "slots": slots}), waiting

    return _changed(store, clock, shoot_id, "set-up taken off the day", change)


def add_reading(store: Store, clock: Clock, shoot_id: int, time: str, zone: str, text: str) -> Day:
    """A reading at a known time: EV, or settings that looked right. Raises NotKept, Unreadable, Refused."""
    ev, _ = read_zone(text)
    reading = {"time": read_clock(time), "zone": zone, "ev100": round(ev, 2)}
    if zone not in ZONES:
        raise Refused("zone", "choose what was read")
    limits.EV.check("ev100", ev)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        same = (reading["time"], zone)
        others = [one for one in kept.document["readings"] if (one["time"], one["zone"]) != same]
        return _FORM.changed(kept, {**kept.document, "readings": [*others, reading]})

    return _changed(store, clock, shoot_id, f"reading of {reading['time']}", change)


def remove_reading(store: Store, clock: Clock, shoot_id: int, at: int) -> Day:
    """One reading less. Raises NotKept, Refused."""

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        readings = _without(kept.document["readings"], at, "there is no such reading")
        return _FORM.changed(kept, {**kept.document, "readings": readings})

    return _changed(store, clock, shoot_id, "reading taken out", change)


def _without(rows: Sequence[Any], at: int, problem: str) -> list[Any]:
    if not 0 <= at < len(rows):
        raise Refused("at", problem)
    return [row for place, row in enumerate(rows) if place != at]


def take_place(store: Store, clock: Clock, shoot_id: int, found: Waypoint) -> Day:
    """The place of a waypoint. Raises NotKept."""

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        place = {**kept.document["place"], "lat": found.lat, "lon": found.lon, "name": found.name}
        return _FORM.changed(kept, {**kept.document, "place": place})

    return _changed(store, clock, shoot_id, "place of a waypoint", change)


_FORM = Form(shoot_entries, normal_shoot)


def _changed(
    store: Store, clock: Clock, shoot_id: int, label: str, change: Change, figure: str = ""
) -> Day:
    store.shoots.change(shoot_id, change, clock(), Step(label, figure))
    return open_shoot(store, clock, shoot_id)


def _day(store: Store, kept: Kept, texts: Mapping[int, str], now: datetime) -> Day:
    shoot = kept_shoot(kept.document)
    placed = tuple(
        Placed(
            at, one.setup, shoot.slot(one, _setup(texts[one.setup]), now) if one.setup in texts else None
        )
        for at, one in enumerate(shoot.slots)
    )
    along, packed = _along(store, shoot.bag)
    return Day(piece_of(kept, _FORM), shoot, placed, along, packed)


@lru_cache(maxsize=256)
def _setup(text: str) -> SetUp:
    return setup_of(json.loads(text))


def _along(store: Store, bag_name: str) -> tuple[Mapping[str, int], bool]:
    """How many there are of each piece that goes along, by name, and whether a bag says so."""
    bags = [json.loads(text) for text in store.bags.texts().values()] if bag_name else []
    bag = next((bag for bag in bags if bag["name"] == bag_name), None)
    found: dict[str, int] = {}
    for number, text in store.gear.texts().items():
        if bag is None or number in bag["gear"]:
            one = json.loads(text)
            found[one["name"]] = one["count"]
    return found, bag is not None
