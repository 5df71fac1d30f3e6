"""Documents that come as bytes: read, checked, and taken in or worked out."""

import datetime
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, BinaryIO
from zoneinfo import ZoneInfo

from noggin.core.advice.cautions import cautions
from noggin.core.advice.details import details
from noggin.core.advice.reasons import advice, lesson
from noggin.core.advice.remedies import Remedy, first_help, remedies
from noggin.core.daylight.day import SunDay, light_span, sun_day, sun_side
from noggin.core.daylight.place import Place
from noggin.core.daylight.sky import Daylight, day_of_light
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Plan, Way
from noggin.core.shoot.timeline import Slot, Span, best_span, planned
from noggin.core.shoot.timetable import Check, checks
from noggin.documents.daylight_table import LightOfDay, light_of_day
from noggin.documents.json_input import SIZE_MOST, read_object
from noggin.documents.plan import FORMAT as PLAN_FORMAT
from noggin.documents.plan import PlanDocument, plan_document, read_plan
from noggin.documents.pops import PopsAnswer, answer, read_pops
from noggin.documents.setup import core_setup, setup_of
from noggin.documents.shoot import ShootDocument, read_shoot
from noggin.services.clock import Clock
from noggin.services.day.shoot_document import import_shoot
from noggin.services.frames.log import import_log
from noggin.services.gear.kit_document import import_kit
from noggin.services.gear.readings_csv import read_readings_csv
from noggin.services.keeping.kept import Brought
from noggin.services.setups.setups import import_setup
from noggin.store.store import Store

__all__ = [
    "Daylight",
    "PlannedFile",
    "PopsAnswer",
    "Remedy",
    "ShootFile",
    "SlotInFile",
    "import_kit_file",
    "import_setup_file",
    "import_shoot_file",
    "light_of",
    "plan_file",
    "pops_file",
    "read_bytes",
    "shoot_file",
]


def read_bytes(file: BinaryIO) -> bytes:
    """A file as far as a document may go, and one byte more so that a longer one is known."""
    return file.read(SIZE_MOST + 1)


@dataclass(frozen=True)
class PlannedFile:
    """The plan of a set-up document, with all that is said of it."""

    plan: Plan
    notes: Any

    @property
    def remedies(self) -> Mapping[str, Sequence[Remedy]]:
        """What would help, by the key of the way."""
        return remedies(self.plan)

    @property
    def document(self) -> PlanDocument:
        """The plan document."""
        return plan_document(self.plan, self.remedies, self.notes)

    @property
    def advice(self) -> str:
        """Which way is recommended, and why."""
        return advice(self.plan, first_help(self.plan))

    @property
    def lesson(self) -> str:
        """What the comparison teaches."""
        return lesson(self.plan)

    def details(self, way: Way) -> Sequence[tuple[str, str]]:
        """What else there is to know of a way."""
        return tuple(details(self.plan.setup, way))

    def cautions(self, way: Way) -> Sequence[str]:
        """What to watch out for in a way."""
        return cautions(self.plan.setup, way)


def pops_file(raw: bytes) -> PopsAnswer:
    """What the frames of a pops document say. Raises BadDocument."""
    return answer(read_pops(read_object(raw)))


def plan_file(raw: bytes) -> PlannedFile:
    """A set-up document planned. Raises BadDocument."""
    found = read_object(raw)
    return PlannedFile(plan(setup_of(found)), found.get("notes"))


@dataclass(frozen=True)
class SlotInFile:
    """One set-up of a shoot document: its slot, the way that is planned, from which side the sun comes
    (empty where the camera's way is not said), and when the way holds."""

    slot: Slot
    way: Way
    side: str
    span: Span | None


@dataclass(frozen=True)
class ShootFile:
    """The day of a shoot document, its set-ups by the clock, and what is wrong with it."""

    document: ShootDocument
    sun: SunDay
    slots: Sequence[SlotInFile]
    checks: Sequence[Check]


def shoot_file(raw: bytes, now: Clock) -> ShootFile:
    """A shoot document worked out. Raises BadDocument."""
    document = read_shoot(read_object(raw))
    place, zone = document.place, ZoneInfo(document.place.tz)
    where = (place.lat, place.lon, document.day(), zone)
    first, last = light_span(*where)
    slots = [document.slot(slot, core_setup(slot.setup), now()) for slot in document.slots]
    slots.sort(key=lambda slot: slot.start)
    found = []
    for slot in slots:
        way, facing = planned(slot), slot.placement.place.facing_deg
        span = best_span(slot, way.kind, 0.0, min(first, slot.start), max(last, slot.end))
        sun = slot.placement.light_at(slot.start).sun
        found.append(SlotInFile(slot, way, "" if facing is None else sun_side(sun, facing), span))
    return ShootFile(document, sun_day(*where, place.elevation_m), found, checks(slots, {}))


def import_log_file(store: Store, raw: bytes) -> tuple[int, int]:
    """A log document in; how many frames are new, and how many were there already. Raises BadDocument."""
    return import_log(store, read_object(raw, LOG_MOST))


LOG_MOST = 64 * 1024 * 1024
"""Bytes of a log document."""


def light_of(
    place: tuple[float, float, str, str, float | None], day: datetime.date, zone: ZoneInfo, every_min: int
) -> tuple[LightOfDay, Sequence[Daylight]]:
    """A day's daylight at a place (latitude, longitude, sky, ground, facing), as a document and as its
    rows. Raises Refused."""
    here = Place(*place)
    rows = day_of_light(here, day, zone, every_min)
    return light_of_day(here, day.isoformat(), zone.key, rows), rows


def import_setup_file(store: Store, clock: Clock, raw: bytes) -> int | PlanDocument:
    """A set-up document as a new set-up, and its number; a plan document to be read. Raises BadDocument."""
    found = read_object(raw)
    if found.get("format") == PLAN_FORMAT:
        return read_plan(found)
    return import_setup(store, clock, found)


def import_kit_file(store: Store, clock: Clock, raw: bytes) -> Brought | int:
    """A kit document (JSON) into the kit, and what that brought; or readings (CSV), and how many
    measurements are new. Raises BadDocument."""
    if raw.lstrip().startswith(b"{") or not raw.strip():
        return import_kit(store, clock, read_object(raw))
    return read_readings_csv(store, raw.decode(errors="replace"))


def import_shoot_file(store: Store, clock: Clock, raw: bytes) -> tuple[int, Brought]:
    """A shoot document as a new shoot; its number, and what it brought. Raises BadDocument."""
    return import_shoot(store, clock, read_object(raw))
