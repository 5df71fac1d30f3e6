"""Every figure that can be typed or chosen on the Bench: those of the picture, and those of each light.

One row for each figure; the Bench draws its fields from these rows and the service that takes an entry
reads them, so nothing about a figure is said twice.
"""

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

from noggin.forms.choice_entries import light_choices, picture_choices, with_tolls
from noggin.forms.choices import BY_CLASS, Choices
from noggin.forms.entry import Document, Entry
from noggin.forms.light_entries import LIGHT_ENTRIES
from noggin.forms.picture_entries import PICTURE_ENTRIES


def entries_of(document: Document, offered: Choices = BY_CLASS) -> Mapping[str, Entry]:
    """Every figure of a set-up by its key; those of light n are called `…-n`. What can be chosen is what is
    offered."""
    return _with_lights(len(document["lights"]), offered)


@lru_cache(maxsize=64)
def _with_lights(count: int, offered: Choices) -> Mapping[str, Entry]:
    found = dict(PICTURE_ENTRIES) | {entry.key: entry for entry in picture_choices(offered)}
    found["sync"] = with_tolls(offered, found["sync"])
    for index in range(count):
        found |= {entry.key: entry for entry in light_choices(offered, index)}
        found |= {
            f"{entry.key}-{index}": entry.under(f"{entry.key}-{index}", ("lights", index))
            for entry in LIGHT_ENTRIES
        }
    return MappingProxyType(found)
