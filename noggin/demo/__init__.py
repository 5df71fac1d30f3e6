"""The invented scenario: a wedding at a hilltop observatory with a walled orchard.

Set-ups, the kit and the day are open documents in `setups/`, `kit.json` and `shoot.json`, read and checked
like anybody's. Place, people and figures are made up; lights are classes. `shoot.json` is made from
`day.json`, which names the set-ups by their files, by `tools/demo.py`.
"""

from importlib.resources import files
from typing import Any

from noggin.documents.json_input import read_object
from noggin.documents.setup import normal

FOLDER = files("noggin.demo")


def demo_documents() -> tuple[dict[str, Any], ...]:
    """The demo's set-ups, as exported documents, in the order of their files."""
    folder = FOLDER / "setups"
    names = sorted(item.name for item in folder.iterdir() if item.name.endswith(".json"))
    return tuple(normal(read_object((folder / name).read_bytes())) for name in names)


def demo_kit() -> dict[str, Any]:
    """The demo's kit, as a parsed document."""
    return read_object((FOLDER / "kit.json").read_bytes())


def demo_shoot() -> dict[str, Any]:
    """The demo's day with all its set-ups, as a parsed document."""
    return read_object((FOLDER / "shoot.json").read_bytes())


def starting_document() -> dict[str, Any]:
    """A fresh set-up: a backlit subject at full sun with a medium head, to be changed to fit."""
    return normal(read_object((FOLDER / "starting.json").read_bytes()))
