"""Kinds of field that the documents share: figures inside their limits, times, powers, names."""

from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache, partial
from typing import Annotated, Any
from zoneinfo import ZoneInfo, available_timezones

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    StringConstraints,
    WithJsonSchema,
)
from pydantic.annotated_handlers import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from noggin.core import limits
from noggin.core.errors import Unreadable
from noggin.core.limits import Range
from noggin.core.tables import SOURCES
from noggin.core.typed.parse_quantities import read_fraction
from noggin.documents.problems import OWN_WORDS, shown


class Part(BaseModel):
    """A part of a document: unknown fields are refused, types are not bent."""

    model_config = ConfigDict(extra="forbid", strict=True)


def own_words(problem: str) -> PydanticCustomError:
    """An error of a validator of ours, said in our words."""
    return PydanticCustomError(OWN_WORDS, "{problem}", {"problem": problem})


@dataclass(frozen=True)
class Within:
    """Marks a number that must be in a range of the core; the schema says so too."""

    limits: Range

    def check(self, value: float) -> float:
        problem = self.limits.problem(value)
        if problem:
            raise own_words(problem)
        return value

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self.check, handler(source))

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        written = handler(schema)
        open_ends = self.limits.open_ends
        written["exclusiveMinimum" if open_ends else "minimum"] = self.limits.least
        written["exclusiveMaximum" if open_ends else "maximum"] = self.limits.most
        return written


def _fraction(value: Any) -> Any:
    """A string as on a dial ("1/200", "0.5") as a number; numbers pass."""
    if not isinstance(value, str):
        return value
    try:
        return read_fraction(value)
    except Unreadable as error:
        raise own_words(str(error)) from None


_AS_FRACTION = {
    "anyOf": [{"type": "string", "examples": ["1/200", "0.5"]}, {"type": "number"}],
}


def pair(value: Any) -> Any:
    """A JSON list as a tuple, so that strict reading takes it."""
    return tuple(value) if isinstance(value, list) else value


def _is_default(value: Any, default: Any) -> bool:
    return bool(value == default)


def added(default: Any, **more: Any) -> Any:
    """A field that came after the first version: left out of what is written while it says nothing,
    so that such documents are read by the first readers too."""
    return Field(default, exclude_if=partial(_is_default, default=default), **more)


def _trust(value: Any) -> Any:
    """A ± in stops, or the word for where the figure comes from."""
    if isinstance(value, str) and value in SOURCES:
        return value
    if isinstance(value, int | float) and not isinstance(value, bool):
        return Within(limits.UNCERTAINTY).check(value)
    raise own_words(f"{shown(value)} is neither a number of stops nor one of {', '.join(SOURCES)}")


def uncertainty_of(value: str | float) -> float:
    """The ± in stops that a Trust field states."""
    return SOURCES[value].uncertainty if isinstance(value, str) else value


YEARS = range(1900, 2101)
"""Years for which the sun's place is worked out."""


def _clock(text: str) -> str:
    try:
        time = datetime.fromisoformat(text)
    except ValueError:
        raise own_words(f"{shown(text)} is not a time like 2027-06-19T12:30+02:00") from None
    if time.year not in YEARS:
        raise own_words(f"{time.year} is outside {YEARS[0]} … {YEARS[-1]}")
    return text


def is_zone(name: str) -> bool:
    """Whether a time zone has this name."""
    try:
        ZoneInfo(name)
    except (KeyError, OSError, ValueError):
        return False
    return True


@lru_cache(maxsize=1)
def zones() -> tuple[str, ...]:
    """Every time zone of the system's list, by continent and city."""
    return tuple(sorted(name for name in available_timezones() if "/" in name and name[:4] != "Etc/"))


def _zone(name: str) -> str:
    if not is_zone(name):
        raise own_words(f"{shown(name)} is not a time zone like Europe/Madrid")
    return name


def _letter(text: str) -> str:
    if text and not (len(text) == 1 and "A" <= text <= "Z"):
        raise own_words(f"{shown(text)} is not one letter from A to Z")
    return text


def instant(time: str, zone: str) -> datetime:
    """A Clock field in its zone; without an offset it is that zone's own clock."""
    read = datetime.fromisoformat(time)
    where = ZoneInfo(zone)
    return read.replace(tzinfo=where) if read.tzinfo is None else read.astimezone(where)


def with_offset(text: str) -> str:
    """An instant (ISO 8601) that says how far its clock is from UTC."""
    try:
        read = datetime.fromisoformat(text)
    except ValueError:
        raise own_words("is not a time. Write 2027-06-19T16:00:00+02:00") from None
    if read.tzinfo is None:
        raise own_words("has no offset from UTC. Write 2027-06-19T16:00:00+02:00")
    return text


InstantText = Annotated[str, AfterValidator(with_offset)]
ClockText = Annotated[
    str, AfterValidator(_clock), WithJsonSchema({"type": "string", "format": "date-time"})
]
GroupLetter = Annotated[str, AfterValidator(_letter)]
ZoneName = Annotated[str, AfterValidator(_zone)]
UncertaintyField = Annotated[
    Any,
    AfterValidator(_trust),
    WithJsonSchema(
        {
            "anyOf": [
                {"enum": list(SOURCES)},
                {
                    "type": "number",
                    "minimum": limits.UNCERTAINTY.least,
                    "maximum": limits.UNCERTAINTY.most,
                },
            ]
        }
    ),
]
Duration = Annotated[float, Within(limits.PULSE), BeforeValidator(_fraction), WithJsonSchema(_AS_FRACTION)]
Ev = Annotated[float, Within(limits.EV)]
Level = Annotated[float, Within(limits.LEVEL)]
Time = Annotated[float, Within(limits.SHUTTER), BeforeValidator(_fraction), WithJsonSchema(_AS_FRACTION)]
LeastPower = Annotated[
    float, Within(limits.LEAST_POWER), BeforeValidator(_fraction), WithJsonSchema(_AS_FRACTION)
]
PowerStep = Annotated[
    float, Within(limits.POWER_STEP), BeforeValidator(_fraction), WithJsonSchema(_AS_FRACTION)
]
WrittenDown = Annotated[
    str,
    StringConstraints(
        strict=True,
        max_length=limits.READINGS_LENGTH,
        pattern=r"^[^\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f]*$",
    ),
]
"""Readings as text of many lines."""
Name = Annotated[
    str,
    StringConstraints(strict=True, max_length=limits.NAME_LENGTH, pattern=r"^[^\x00-\x1f\x7f-\x9f]*$"),
]
