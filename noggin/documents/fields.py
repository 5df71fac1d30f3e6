"""Kinds of field that the documents share: figures inside their limits, times, powers, names."""

from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BeforeValidator, StringConstraints, WithJsonSchema
from pydantic.annotated_handlers import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from noggin.core import limits
from noggin.core.errors import Unreadable
from noggin.core.limits import Range
from noggin.core.quantities import read_fraction
from noggin.documents.faults import OWN_WORDS


def own_words(problem: str) -> PydanticCustomError:
    """An error of a validator of ours, said in our words."""
    return PydanticCustomError(OWN_WORDS, "{problem}", {"problem": problem})


@dataclass(frozen=True)
class Within:
    """Marks a number that must lie in a range of the core; the schema says so too."""

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

Ev = Annotated[float, Within(limits.EV)]
Level = Annotated[float, Within(limits.LEVEL)]
Time = Annotated[float, Within(limits.SHUTTER), BeforeValidator(_fraction), WithJsonSchema(_AS_FRACTION)]
LeastPower = Annotated[
    float, Within(limits.LEAST_POWER), BeforeValidator(_fraction), WithJsonSchema(_AS_FRACTION)
]
PowerStep = Annotated[
    float, Within(limits.POWER_STEP), BeforeValidator(_fraction), WithJsonSchema(_AS_FRACTION)
]
Name = Annotated[
    str,
    StringConstraints(strict=True, max_length=limits.NAME_LENGTH, pattern=r"^[^\x00-\x1f\x7f-\x9f]*$"),
]
