"""A bag for a day as it is kept, gear by number; the open kit document names it."""

from collections.abc import Mapping
from typing import Any, cast

from pydantic import Field, ValidationError

from noggin.core import limits
from noggin.documents.fields import Part, added
from noggin.documents.gear import DateText, OwnName
from noggin.documents.problems import BadDocument, problems_of
from noggin.documents.written import BagWritten


class KeptBag(Part):
    """What is packed, by the number of each piece."""

    name: OwnName
    day: DateText | None = None
    gear: list[int] = Field(max_length=limits.GEAR_MOST)
    notes: str = added("", max_length=2000)


def canonical_bag(found: Mapping[str, Any]) -> BagWritten:
    """A bag checked and written out whole. Raises BadDocument."""
    try:
        return cast(BagWritten, KeptBag.model_validate(found).model_dump(mode="json"))
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
