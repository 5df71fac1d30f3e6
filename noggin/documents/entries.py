"""Every figure that can be typed on the Bench: those of the picture, and those of each light.

One row for each figure; the Bench draws its fields from these rows and the service that takes an entry
reads them, so nothing about a figure is said twice.
"""

from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from types import MappingProxyType

from noggin.documents.entry import Document, Entry
from noggin.documents.light_entries import LIGHT_ENTRIES
from noggin.documents.picture_entries import PICTURE_ENTRIES

LABELS = {entry.key: entry.label for entry in (*PICTURE_ENTRIES.values(), *LIGHT_ENTRIES)}
"""What every figure is called, by its key; those of a light without its number."""


def entries_of(document: Document) -> Mapping[str, Entry]:
    """Every figure of a set-up by its key; those of light n are called `…-n`."""
    return _with_lights(len(document["lights"]))


@lru_cache(maxsize=32)
def _with_lights(count: int) -> Mapping[str, Entry]:
    found = dict(PICTURE_ENTRIES)
    for at in range(count):
        found |= {f"{entry.key}-{at}": _of_light(entry, at) for entry in LIGHT_ENTRIES}
    return MappingProxyType(found)


def _of_light(entry: Entry, at: int) -> Entry:
    gives, puts = entry.gives, entry.puts
    return replace(
        entry,
        key=f"{entry.key}-{at}",
        path=("lights", at, *entry.path),
        gives=(lambda document: gives(document["lights"][at])) if gives else None,
        puts=(lambda document, value: puts(document["lights"][at], value)) if puts else None,
    )
