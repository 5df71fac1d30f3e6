"""The kit document, `noggin-kit` version 1: what a photographer owns, what was measured of it, and bags."""

from collections import Counter
from collections.abc import Mapping
from typing import Annotated, Any, Literal, cast

from pydantic import ConfigDict, Field, TypeAdapter, ValidationError

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.gear.sheets import SHEETS
from noggin.core.typed.parse_quantities import as_fraction
from noggin.documents.fields import ClockText, Name, Part, Within, WrittenDown, added
from noggin.documents.gear import GEAR_KINDS, AnyGear, DateText, Gear, OwnName
from noggin.documents.json_input import check_kind, check_notes
from noggin.documents.problems import BadDocument, Problem, problems_of, refused
from noggin.documents.written import GearWritten

FORMAT = "noggin-kit"
VERSION = 1


class Measurement(Part):
    """Readings of one piece of gear as they were written down: on which sheet, when, with what, of which
    reflector or light, and what else the sheet asks for."""

    sheet: Literal[tuple(SHEETS)]  # type: ignore[valid-type]
    taken: ClockText
    taken_with: Name = ""
    about: Name = ""
    across_m: Annotated[float, Within(limits.ACROSS)] | None = added(None)
    sync_s: Annotated[float, Within(limits.SHUTTER)] | None = added(None)
    droop: bool = added(False)
    readings: Annotated[WrittenDown, Field(min_length=1)]


class Bag(Part):
    """What is packed, by name, and on which day."""

    name: OwnName
    day: DateText | None = None
    gear: Annotated[list[OwnName], Field(max_length=limits.GEAR_MOST)]
    notes: Annotated[str, Field(max_length=2000)] = added("")


class Owned(Part):
    """One piece of gear with its measurements."""

    item: Gear
    measurements: Annotated[list[Measurement], Field(max_length=limits.MEASUREMENTS_MOST)] = added([])


class KitDocument(Part):
    """Everything in the kit."""

    model_config = ConfigDict(title="noggin-kit, version 1")

    format: Literal["noggin-kit"]
    version: Literal[1]
    name: Name = ""
    gear: Annotated[list[Owned], Field(max_length=limits.GEAR_MOST)]
    bags: Annotated[list[Bag], Field(max_length=limits.BAGS_MOST)] = added([])
    notes: Any = None


_GEAR: TypeAdapter[AnyGear] = TypeAdapter(Gear)


def read_kit(found: dict[str, Any]) -> KitDocument:
    """The document model of a parsed object. Raises BadDocument."""
    check_kind(found, FORMAT, VERSION)
    try:
        document = KitDocument.model_validate(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error, GEAR_KINDS)) from None
    check_notes(document.notes)
    faults = []
    for index, owned in enumerate(document.gear):
        try:
            owned.item.check()
        except Refused as refusal:
            faults.append(refused(refusal, f"gear[{index}].item"))
    names = Counter(owned.item.name for owned in document.gear)
    faults += [Problem("gear", f"{name!r} is listed twice") for name, often in names.items() if often > 1]
    for index, bag in enumerate(document.bags):
        missing = [name for name in bag.gear if name not in names]
        faults += [Problem(f"bags[{index}].gear", f"{name!r} is not in the kit") for name in missing]
    if faults:
        raise BadDocument(faults)
    return document


def gear_of(found: Mapping[str, Any]) -> AnyGear:
    """One piece of gear from a parsed part of a kit. Raises BadDocument."""
    try:
        item = _GEAR.validate_python(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error, GEAR_KINDS)) from None
    try:
        item.check()
    except Refused as refusal:
        raise BadDocument([refused(refusal)]) from None
    return item


def canonical_gear(found: Mapping[str, Any]) -> GearWritten:
    """One piece of gear checked and written out whole. Raises BadDocument."""
    return written_gear(gear_of(found))


def written_gear(item: AnyGear) -> GearWritten:
    """A piece of gear as it is exported: times and powers as on a dial where that says the same."""
    found: dict[str, Any] = item.model_dump(mode="json")
    for name in ("fastest_s", "slowest_s", "power_min", "power_step"):
        if name in found:
            found[name] = as_fraction(found[name]) or found[name]
    return cast(GearWritten, found)


def canonical_measurement(found: Mapping[str, Any]) -> dict[str, Any]:
    """A measurement checked and written out whole. Raises BadDocument."""
    try:
        return Measurement.model_validate(found).model_dump(mode="json")
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
