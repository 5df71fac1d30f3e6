"""Use cases of shoots: a day at a place with its set-ups, and what the light does to them."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from functools import cached_property
from typing import Any
from zoneinfo import ZoneInfo

from noggin.core import limits
from noggin.core.advice.cautions import RULES
from noggin.core.advice.verdict_words import lack_brief, then_words
from noggin.core.clock import later
from noggin.core.daylight.day import Stretch, SunDay, light_span, stretches, sun_day
from noggin.core.daylight.forecast import DAY_ZONES, TimedReading, day_light
from noggin.core.daylight.place import Place
from noggin.core.daylight.sky import Daylight
from noggin.core.errors import NogginError, Refused, Unreadable
from noggin.core.planning.way import Way, WayKind
from noggin.core.shoot.timeline import (
    Slot,
    Span,
    TimedVerdict,
    best_span,
    lacking_at,
    planned,
    timeline,
    verdict_at,
)
from noggin.core.shoot.timetable import Check, charges, checks
from noggin.core.typed.parse_places import read_clock
from noggin.core.typed.parse_scene import read_zone
from noggin.core.units import Stops
from noggin.documents.problems import BadDocument
from noggin.documents.setup import setup_of_text
from noggin.documents.shoot import KeptShoot, canonical_shoot, kept_shoot
from noggin.documents.waypoints import read_waypoint
from noggin.forms.daylight_entries import at_place
from noggin.forms.entry import Document
from noggin.forms.shoot_entries import SHOOT_ENTRIES, shoot_entries
from noggin.services.clock import Clock
from noggin.services.keeping import kept
from noggin.services.keeping.kept import KeptItem, Kind, unused
from noggin.services.keeping.results import PAGE_SIZE
from noggin.services.setups.setups import NAME_KEPT, change_setup
from noggin.store.repository import KeptDocument
from noggin.store.store import Store

SAMPLE = timedelta(minutes=15)
"""Step of the day's light as it is drawn and tabled."""


@dataclass(frozen=True)
class PlacedSetUp:
    """A set-up on the day: its place in the shoot, its number, and the slot; None where the set-up was
    archived."""

    index: int
    setup_id: int
    slot: Slot | None

    @property
    def name(self) -> str:
        """What the set-up is called."""
        return self.slot.setup.name if self.slot else "an archived set-up"

    @property
    def way(self) -> Way | None:
        """The way that is planned for it."""
        return planned(self.slot) if self.slot else None

    @property
    def lacks(self) -> str:
        """What it lacks, in short; empty where the way can be."""
        return lack_brief(self.way) if self.way else ""


@dataclass(frozen=True)
class ShootDay:
    """A shoot as it is opened: what is kept, and its set-ups in the light of the day."""

    item: KeptItem
    shoot: KeptShoot
    placed: tuple[PlacedSetUp, ...]
    along: Mapping[str, int]
    packed: bool

    @property
    def id(self) -> int:
        """Its number."""
        return self.item.id

    @property
    def name(self) -> str:
        """What it is called."""
        return self.item.name

    @property
    def zone(self) -> ZoneInfo:
        """The zone its clocks keep."""
        return ZoneInfo(self.shoot.place.tz)

    @property
    def in_order(self) -> tuple[PlacedSetUp, ...]:
        """The set-ups by the clock."""
        return tuple(sorted(self.placed, key=lambda placed: self.shoot.slots[placed.index].start))

    @property
    def slots(self) -> tuple[PlacedSetUp, ...]:
        """Those whose set-up is there, by the clock."""
        return tuple(placed for placed in self.in_order if placed.slot)

    @cached_property
    def _slots(self) -> list[Slot]:
        return [placed.slot for placed in self.slots if placed.slot]

    @cached_property
    def sun(self) -> SunDay:
        """The day's sun."""
        place = self.shoot.place
        return sun_day(place.lat, place.lon, self.shoot.day(), self.zone, place.elevation_m)

    @cached_property
    def span(self) -> tuple[datetime, datetime]:
        """First and last light, and whatever set-up is outside that."""
        place = self.shoot.place
        first, last = light_span(place.lat, place.lon, self.shoot.day(), self.zone)
        starts = [slot.start for slot in self._slots]
        ends = [slot.end for slot in self._slots]
        return min([first, *starts]), max([last, *ends])

    @property
    def ends(self) -> datetime:
        """When the last set-up is over; where there is none, the end of the date."""
        midnight = datetime.combine(self.shoot.day(), time.max, self.zone)
        return max((slot.end for slot in self._slots), default=midnight)

    @property
    def begins(self) -> datetime:
        """When the first set-up starts; where there is none, noon."""
        noon = datetime.combine(self.shoot.day(), time(12), self.zone)
        return min((slot.start for slot in self._slots), default=noon)

    @cached_property
    def parts(self) -> tuple[Stretch, ...]:
        """The named parts of it."""
        place = self.shoot.place
        return stretches(place.lat, place.lon, self.shoot.day(), self.zone, *self.span)

    @cached_property
    def place(self) -> Place:
        """The place with its sky and ground."""
        return self.shoot.core_place()

    @cached_property
    def readings(self) -> tuple[TimedReading, ...]:
        """The day's readings."""
        return self.shoot.taken()

    @cached_property
    def curve(self) -> tuple[Daylight, ...]:
        """The light from first to last: sunlit side, shaded side and sky, with the day's readings."""
        first, last = self.span
        times = [first]
        while times[-1] < last:
            times.append(min(later(times[-1], SAMPLE), last))
        return tuple(day_light(self.place, time, self.readings) for time in times)

    @cached_property
    def checks(self) -> tuple[Check, ...]:
        """What is wrong with the timetable; places are those in `slots`."""
        return checks(self._slots, self.along, packed=self.packed)

    @cached_property
    def charges(self) -> Mapping[str, float]:
        """Charges of each light's battery over the day."""
        return charges(self._slots)

    def timeline(self, slot: Slot) -> tuple[TimedVerdict, ...]:
        """The verdict on the way that is planned for a set-up, through the day."""
        return timeline(slot.placement, planned(slot).kind, *self.span)

    def until(self, slot: Slot) -> str:
        """Until when the way that is planned keeps the verdict it has at the start, and what comes then, in
        words; empty where it stays so."""
        kind = planned(slot).kind
        verdict = verdict_at(slot.placement, kind, slot.start).verdict
        line = self.timeline(slot)
        then = next((later for later in line if later.time > slot.start and later.verdict != verdict), None)
        if then is None:
            return ""
        comes = then_words(lacking_at(slot.placement, kind, then.time))
        return f"until {then.time:%H:%M}, then {comes}" if comes else f"works until {then.time:%H:%M}"

    def best(self, slot: Slot, kind: WayKind, least: Stops) -> Span | None:
        """When a method holds with so much in reserve."""
        return best_span(slot, kind, least, *self.span)

    @cached_property
    def shifts(self) -> tuple[tuple[int, TimedReading, Stops], ...]:
        """Place, reading and shift of every reading, in the order of the clock."""
        found = []
        for index, reading in enumerate(self.readings):
            estimate = getattr(day_light(self.place, reading.time), reading.zone)
            found.append((index, reading, reading.ev - estimate))
        return tuple(sorted(found, key=lambda shift: shift[1].time))


@dataclass(frozen=True)
class ListedShoot:
    """A shoot in the list: what it says itself, and its sun."""

    id: int
    shoot: KeptShoot

    @property
    def name(self) -> str:
        """What it is called."""
        return self.shoot.name

    @cached_property
    def hours(self) -> str:
        """From when to when it has set-ups, in words; empty where it has none."""
        starts = [slot.start for slot in self.shoot.slots]
        if not starts:
            return ""
        end = max(
            later(self.shoot.at(slot.start), timedelta(minutes=slot.minutes)) for slot in self.shoot.slots
        )
        return f"{min(starts)} to {end:%H:%M}"

    @property
    def sun(self) -> SunDay:
        """The day's sun."""
        place = self.shoot.place
        return sun_day(place.lat, place.lon, self.shoot.day(), ZoneInfo(place.tz), place.elevation_m)


SHOOTS = Kind("shoot", lambda _: shoot_entries, canonical_shoot)


def listed_shoots(
    store: Store, offset: int = 0, find: str = ""
) -> tuple[tuple[ListedShoot, ...], int | None]:
    """A page of the list of shoots, the one worked on last first, and where the next one begins (None: this
    is the last)."""
    with store.read_transaction():
        page = store.shoots.page(PAGE_SIZE, offset, find)
        texts = store.shoots.texts([row.id for row in page.rows])
    shoots = tuple(ListedShoot(row.id, kept_shoot(json.loads(texts[row.id]))) for row in page.rows)
    return shoots, page.next_offset


def last_place(store: Store) -> Mapping[str, str]:
    """Place and zone of the shoot worked on last, else of the set-up worked on last, as they would be typed
    for a new shoot; empty where there is none."""
    with store.read_transaction():
        number, setup = store.shoots.latest(), store.setups.latest()
        if number is None and setup is not None:
            place = store.setups.get(setup).document["scene"].get("place")
            return {"place": f"{place['lat']}, {place['lon']}", "tz": place["tz"]} if place else {}
        if number is None:
            return {}
        document = store.shoots.get(number).document
    return {"place": SHOOT_ENTRIES["place"].text(document), "tz": SHOOT_ENTRIES["tz"].text(document)}


def open_shoot(store: Store, clock: Clock, shoot_id: int) -> ShootDay:
    """One shoot. Raises NotKept."""
    with store.read_transaction():
        return _day(store, store.shoots.get(shoot_id), clock())


def new_shoot(store: Store, clock: Clock, found: Mapping[str, str]) -> int:
    """A shoot from what was typed for name, date, place and perhaps tz; its number. Raises Mistyped."""
    problems: dict[str, str] = {}
    document: Document = {"name": "", "date": "", "place": {"lat": 0.0, "lon": 0.0, "tz": "UTC"}}
    for key in NEW:
        entry, text = SHOOT_ENTRIES[key], found.get(key, "")
        if key == "tz" and not text.strip():
            continue  # that of the place
        try:
            document = entry.put(document, entry.parsed(text))
        except (Unreadable, Refused) as error:
            problems[key] = error.problem if isinstance(error, Refused) else str(error)
    if not problems:
        try:
            with store.write_transaction():
                name = unused(document["name"], store.shoots.names())
                document = canonical_shoot({**document, "name": name})
                return kept.add(store, clock, SHOOTS, document).id
        except BadDocument as bad:
            for fault in bad.problems:
                key = next((key for key in NEW if fault.path in _paths(key)), "place")
                problems[key] = fault.problem
    raise Mistyped(problems)


def date_of(text: str) -> str:
    """The date that a text says (ISO 8601); empty where it says none."""
    try:
        found = str(SHOOT_ENTRIES["date"].read(text))
    except Unreadable:
        return ""
    return "" if found.startswith("--") else found


NEW = ("name", "date", "place", "tz")
"""What must be said of a new shoot."""


def _paths(key: str) -> tuple[str, ...]:
    return {"place": ("place.lat", "place.lon"), "tz": ("place.tz",)}.get(key, (key,))


class Mistyped(NogginError):
    """Something typed for a new shoot cannot be taken; `problems` says what, by the figure's key."""

    def __init__(self, problems: Mapping[str, str]) -> None:
        super().__init__("; ".join(problems.values()))
        self.problems = problems


def enter_shoot(store: Store, clock: Clock, shoot_id: int, key: str, text: str) -> ShootDay:
    """Take what was typed for one figure. Raises NotKept, NoSuchFigure."""
    with store.write_transaction():
        return _day(store, kept.enter(store, clock, SHOOTS, shoot_id, key, text), clock())


def nudge_shoot(store: Store, clock: Clock, shoot_id: int, key: str, by: int) -> ShootDay:
    """Move one figure by so many of its steps. Raises NotKept, NoSuchFigure."""
    with store.write_transaction():
        stepped, _ = kept.nudge(store, clock, SHOOTS, shoot_id, key, by, lambda _: None)
        return _day(store, stepped, clock())


FIRST_START = "11:00"
"""After this a set-up without a time of its own starts on an empty day."""


def add_slot(store: Store, clock: Clock, shoot_id: int, setup_id: int) -> ShootDay:
    """A set-up on the day: at its own time where it has one, else an hour after the last; then place and
    time of the day are its own from now on. Raises NotKept."""
    with store.write_transaction():
        document = store.setups.get(setup_id)
        own = setup_of_text(document.text).scene.moment

        def change(kept_document: Document) -> Document:
            shoot = kept_shoot(kept_document)
            if own is not None:
                start = f"{own.time.astimezone(ZoneInfo(shoot.place.tz)):%H:%M}"
            else:
                start = max((slot.start for slot in shoot.slots), default=FIRST_START)
                start = f"{min(23, int(start[:2]) + 1):02}{start[2:]}"
            facing = own.place.facing_deg if own else None
            slot = {"setup": setup_id, "start": start, "facing_deg": facing}
            return {**kept_document, "slots": [*kept_document["slots"], slot]}

        day = _changed(store, clock, shoot_id, f"{document.document['name']} put on the day", change)
        if own is None:
            start, place = day.shoot.slots[-1].start, day.shoot.place
            where = f"{place.lat}, {place.lon} {day.shoot.date} {start} {place.tz}"
            change_setup(store, clock, setup_id, "place of the day", lambda it: at_place(it, where))
        return open_shoot(store, clock, shoot_id)


def new_day_of(store: Store, clock: Clock, setup_id: int) -> ShootDay:
    """A shoot at a set-up's own place and date with it on. Raises NotKept, Refused: it has none."""
    with store.write_transaction():
        document = store.setups.get(setup_id).document
        place = document["scene"].get("place")
        if not place:
            raise Refused("scene.place", "give a place, a date and a time first")
        typed = {
            "name": f"{document['name'][:NAME_KEPT]}, the day",
            "date": place["time"][:10],
            "place": f"{place['lat']}, {place['lon']}",
            "tz": place["tz"],
        }
        return add_slot(store, clock, new_shoot(store, clock, typed), setup_id)


def days_for(store: Store) -> tuple[tuple[int, str], ...]:
    """Number and name of the shoots worked on last."""
    return tuple(store.shoots.newest(PAGE_SIZE))


def remove_slot(store: Store, clock: Clock, shoot_id: int, index: int) -> ShootDay:
    """A set-up off the day. Raises NotKept, Refused."""

    def change(document: Document) -> Document:
        return {
            **document,
            "slots": _without(document["slots"], index, "there is no such set-up on this day"),
        }

    # What waits beside figures of set-ups belongs to places that have shifted.
    label = "set-up taken off the day"
    return _changed(store, clock, shoot_id, label, change, waiting=lambda key: key in SHOOT_ENTRIES)


def add_reading(store: Store, clock: Clock, shoot_id: int, time: str, zone: str, text: str) -> ShootDay:
    """A reading at a known time: EV, or settings that looked right. Raises NotKept, Unreadable, Refused."""
    ev, _ = read_zone(text)
    reading = {"time": read_clock(time), "zone": zone, "ev100": round(ev, 2)}
    if zone not in DAY_ZONES:
        raise Refused("zone", "choose what you read")
    limits.EV.check("ev100", ev)

    def change(document: Document) -> Document:
        same = (reading["time"], zone)
        others = [other for other in document["readings"] if (other["time"], other["zone"]) != same]
        return {**document, "readings": [*others, reading]}

    return _changed(store, clock, shoot_id, f"reading of {reading['time']}", change)


def next_shoot(store: Store, now: datetime) -> ShootDay | None:
    """The shoot that is on, or comes next; None where none is ahead."""
    yesterday = (now - timedelta(days=1)).date().isoformat()
    for document in store.shoots.first_from("date", yesterday, AHEAD):
        day = _day(store, document, now)
        if day.ends > now:
            return day
    return None


AHEAD = 8
"""Shoots that are looked at for the next: more cannot have ended since yesterday and be on the list."""


def read_caution(store: Store, clock: Clock, shoot_id: int, key: str, *, read: bool) -> ShootDay:
    """A caution read once, so that it stays quiet on this day; or said again. Raises NotKept, Refused."""
    if key not in {rule.key for rule in RULES}:
        raise Refused("caution", "there is no such caution")

    def change(document: Document) -> Document:
        others = [other for other in document.get("read_cautions", ()) if other != key]
        return {**document, "read_cautions": [*others, key] if read else others}

    return _changed(store, clock, shoot_id, "caution read" if read else "caution said again", change)


def remove_reading(store: Store, clock: Clock, shoot_id: int, index: int) -> ShootDay:
    """One reading less. Raises NotKept, Refused."""

    def change(document: Document) -> Document:
        return {**document, "readings": _without(document["readings"], index, "there is no such reading")}

    return _changed(store, clock, shoot_id, "reading removed", change)


def _without(rows: Sequence[Any], index: int, problem: str) -> list[Any]:
    if not 0 <= index < len(rows):
        raise Refused("index", problem)
    return [row for place, row in enumerate(rows) if place != index]


def use_place(store: Store, clock: Clock, shoot_id: int, raw: bytes) -> ShootDay:
    """The place of the first waypoint in a GPX or GeoJSON file. Raises NotKept, BadDocument."""
    found = read_waypoint(raw)

    def change(document: Document) -> Document:
        place = {**document["place"], "lat": found.lat, "lon": found.lon, "name": found.name}
        return {**document, "place": place}

    return _changed(store, clock, shoot_id, "place of a waypoint", change)


def _changed(
    store: Store,
    clock: Clock,
    shoot_id: int,
    label: str,
    change: Callable[[Document], Document],
    waiting: Callable[[str], bool] = lambda _: True,
) -> ShootDay:
    with store.write_transaction():
        return _day(store, kept.act(store, clock, SHOOTS, shoot_id, label, change, waiting), clock())


def _day(store: Store, document: KeptDocument, now: datetime) -> ShootDay:
    shoot = kept_shoot(document.document)
    texts = store.setups.texts([slot.setup for slot in shoot.slots])
    placed = tuple(
        PlacedSetUp(
            index,
            slot.setup,
            shoot.slot(slot, setup_of_text(texts[slot.setup]), now) if slot.setup in texts else None,
        )
        for index, slot in enumerate(shoot.slots)
    )
    along, packed = _along(store, shoot.bag)
    return ShootDay(kept.opened(store, SHOOTS, document), shoot, placed, along, packed)


def _along(store: Store, bag_name: str) -> tuple[Mapping[str, int], bool]:
    """How many there are of each piece that is packed, by name, and whether a bag says so."""
    bags = [json.loads(text) for text in store.bags.texts().values()] if bag_name else []
    bag = next((bag for bag in bags if bag["name"] == bag_name), None)
    found: dict[str, int] = {}
    for number, text in store.gear.texts().items():
        if bag is None or number in bag["gear"]:
            item = json.loads(text)
            found[item["name"]] = item["count"]
    return found, bag is not None
