"""The shoot document, `noggin-shoot` version 1: a place, a date, and a row of set-ups with clock times.

As it is kept, a slot names its set-up by number; the open document carries the whole set-up document.
"""

import datetime
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal, cast
from zoneinfo import ZoneInfo

from pydantic import (
    AfterValidator,
    ConfigDict,
    Field,
    StringConstraints,
    ValidationError,
    ValidationInfo,
    WithJsonSchema,
    field_validator,
)

from noggin.core import limits
from noggin.core.daylight import forecast
from noggin.core.daylight.place import Place
from noggin.core.errors import Refused, Unreadable
from noggin.core.setup.setup import SetUp
from noggin.core.shoot import timeline
from noggin.core.typed.parse_places import read_clock
from noggin.documents.fields import YEARS, Ev, Name, Part, Within, ZoneName, added, own_words
from noggin.documents.gear import DateText, OwnName
from noggin.documents.json_input import check_kind, check_notes
from noggin.documents.problems import BadDocument, Problem, problems_of, refused, shown
from noggin.documents.setup import SetUpDocument, core_setup
from noggin.documents.setup import written as written_setup
from noggin.documents.written import ShootWritten

FORMAT = "noggin-shoot"
VERSION = 1


def _clock(text: str) -> str:
    """A time of day as HH:MM."""
    try:
        if read_clock(text) == text:
            return text
    except Unreadable:
        pass
    raise own_words(f"{shown(text)} is not a time of day like 09:40")


def _year(day: str) -> str:
    if datetime.date.fromisoformat(day).year not in YEARS:
        raise own_words(f"{day[:4]} is outside {YEARS[0]} … {YEARS[-1]}")
    return day


ClockTime = Annotated[
    str,
    AfterValidator(_clock),
    WithJsonSchema({"type": "string", "pattern": "^([01][0-9]|2[0-3]):[0-5][0-9]$"}),
]
ShootDate = Annotated[DateText, AfterValidator(_year)]
LongText = Annotated[
    str,
    StringConstraints(strict=True, max_length=2000, pattern=r"^[^\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f]*$"),
]


class ShootPlace(Part):
    """Where: degrees north and east, metres over the horizon around, and the zone its clocks keep."""

    lat: Annotated[float, Within(limits.LATITUDE)]
    lon: Annotated[float, Within(limits.LONGITUDE)]
    tz: ZoneName
    elevation_m: Annotated[float, Within(limits.ELEVATION)] = 0.0
    name: Name = ""


class SurroundingsDocument(Part):
    """What is between the sky and the subject, and from when to when it is in shade."""

    kind: Literal[tuple(forecast.SURROUNDINGS)] = "open"  # type: ignore[valid-type]
    shade_from: ClockTime | None = None
    shade_till: ClockTime | None = None

    def core(self) -> forecast.Surroundings:
        return forecast.Surroundings(self.kind, _time(self.shade_from), _time(self.shade_till))


class DayReading(Part):
    """One reading of the day's light at a known time."""

    time: ClockTime
    zone: Literal[tuple(forecast.DAY_ZONES)]  # type: ignore[valid-type]
    ev100: Ev


class _AnySlot(Part):
    """One set-up on the day. Its start is the local clock's; where the hour comes twice, the first."""

    start: ClockTime
    minutes: Annotated[int, Within(limits.SLOT)] = 25
    facing_deg: Annotated[float, Within(limits.AZIMUTH)] | None = None
    spot: SurroundingsDocument = Field(default_factory=SurroundingsDocument)


class KeptSlot(_AnySlot):
    """A slot as it is kept: its set-up by number."""

    setup: int


class SlotDocument(_AnySlot):
    """A slot as it is exported: with the whole set-up."""

    setup: SetUpDocument


class _AnyShoot(Part):
    name: OwnName
    date: ShootDate
    place: ShootPlace
    sky: Literal["clear", "partly", "overcast"] = "clear"
    ground: Literal["grass", "sand", "paving", "snow"] = "grass"
    people: LongText = ""
    bag: Name = ""
    read_cautions: Annotated[list[Name], Field(max_length=limits.CAUTIONS_MOST)] = added([])
    readings: Annotated[list[DayReading], Field(max_length=limits.DAY_READINGS_MOST)] = Field(
        default_factory=list
    )

    @field_validator("place")
    @classmethod
    def _day_is_there(cls, place: ShootPlace, info: ValidationInfo) -> ShootPlace:
        date = info.data.get("date")
        noon = date and local(datetime.date.fromisoformat(date), "12:00", ZoneInfo(place.tz))
        if noon and noon.date().isoformat() != date:
            raise ValueError(f"{place.tz} skipped {date}. Choose another date")
        return place

    def day(self) -> datetime.date:
        """The date of it."""
        return datetime.date.fromisoformat(self.date)

    def core_place(self, facing_deg: float | None = None) -> Place:
        """The place with its sky and ground, the camera looking one way."""
        return Place(self.place.lat, self.place.lon, self.sky, self.ground, facing_deg)

    def taken(self) -> tuple[forecast.TimedReading, ...]:
        """The day's readings."""
        return tuple(
            forecast.TimedReading(self.at(reading.time), reading.zone, reading.ev100)
            for reading in self.readings
        )

    def at(self, clock: str) -> datetime.datetime:
        """The instant at which the local clock shows this; where it skips that, as far on."""
        return local(self.day(), clock, ZoneInfo(self.place.tz))

    def slot(self, slot: _AnySlot, setup: SetUp, now: datetime.datetime) -> timeline.Slot:
        """A set-up on this day, as it is known at an instant: what it says was read later than that, was
        only expected."""
        before, moment = setup.scene.baseline, setup.scene.moment
        own = before.time if before else moment.time if moment else now
        placement = timeline.Placement(
            setup,
            self.core_place(slot.facing_deg),
            self.day(),
            ZoneInfo(self.place.tz),
            slot.spot.core(),
            self.taken(),
            past=own <= now,
        )
        return timeline.Slot(placement, self.at(slot.start), slot.minutes)


class KeptShoot(_AnyShoot):
    """A shoot as it is kept."""

    slots: Annotated[list[KeptSlot], Field(max_length=limits.SLOTS_MOST)] = Field(default_factory=list)
    notes: Any = ""


class ShootDocument(_AnyShoot):
    """A day at a place: what light is expected, what was read, and the set-ups in it."""

    model_config = ConfigDict(title="noggin-shoot, version 1")

    format: Literal["noggin-shoot"]
    version: Literal[1]
    slots: Annotated[list[SlotDocument], Field(max_length=limits.SLOTS_MOST)]
    notes: Any = added(None)


def local(day: datetime.date, clock: str, zone: ZoneInfo) -> datetime.datetime:
    """The instant at which clocks in a zone show a time of day.

    >>> local(datetime.date(2027, 3, 28), "02:30", ZoneInfo("Europe/Madrid")).isoformat()
    '2027-03-28T03:30:00+02:00'
    """
    read = datetime.datetime.combine(day, datetime.time.fromisoformat(clock), zone)
    return read.astimezone(datetime.UTC).astimezone(zone)


def _time(clock: str | None) -> datetime.time | None:
    return None if clock is None else datetime.time.fromisoformat(clock)


def kept_shoot(found: Any) -> KeptShoot:
    """A kept shoot from its parsed document. Raises BadDocument."""
    try:
        return KeptShoot.model_validate(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None


def canonical_shoot(found: Mapping[str, Any]) -> ShootWritten:
    """A kept shoot checked and written out whole. Raises BadDocument."""
    return cast(ShootWritten, kept_shoot(found).model_dump(mode="json"))


def read_shoot(found: dict[str, Any]) -> ShootDocument:
    """The document model of a parsed object; set-ups are checked whole. Raises BadDocument."""
    check_kind(found, FORMAT, VERSION)
    try:
        document = ShootDocument.model_validate(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
    check_notes(document.notes)
    faults: list[Problem] = []
    for index, slot in enumerate(document.slots):
        try:
            core_setup(slot.setup)
        except BadDocument as bad:
            faults += [
                Problem(f"slots[{index}].setup.{fault.path}", fault.problem) for fault in bad.problems
            ]
        except Refused as refusal:
            faults.append(refused(refusal, f"slots[{index}].setup"))
    if faults:
        raise BadDocument(faults)
    return document


def written_shoot(shoot: KeptShoot, setups: Sequence[SetUpDocument]) -> dict[str, Any]:
    """A kept shoot as it is exported, with the set-up of each of its slots."""
    found = shoot.model_dump(mode="json")
    for slot, setup in zip(found["slots"], setups, strict=True):
        slot["setup"] = written_setup(setup)
    notes = {"notes": found.pop("notes")} if shoot.notes else {}
    return {"format": FORMAT, "version": VERSION, **found, **notes}
