"""The invented scenario: a wedding at a hilltop observatory with a walled orchard.

Set-ups and the kit are open documents in `setups/` and `kit.json`, read and checked like anybody's. Place,
people and figures are made up; lights are classes.
"""

from importlib.resources import files
from typing import Any

from noggin.documents.reading import read_object
from noggin.documents.setup import normal


def demo_documents() -> tuple[dict[str, Any], ...]:
    """The demo's set-ups, as exported documents, in the order of the day."""
    folder = files("noggin.demo") / "setups"
    names = sorted(item.name for item in folder.iterdir() if item.name.endswith(".json"))
    return tuple(normal(read_object((folder / name).read_bytes())) for name in names)


def demo_kit() -> dict[str, Any]:
    """The demo's kit, as a parsed document."""
    return read_object((files("noggin.demo") / "kit.json").read_bytes())


def starting_document() -> dict[str, Any]:
    """A fresh set-up: a backlit subject at full sun with a medium head, to be changed to fit."""
    return normal(read_object((files("noggin.demo") / "starting.json").read_bytes()))
