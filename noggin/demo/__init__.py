"""The invented scenario: a wedding at a hilltop observatory with a walled orchard.

Set-ups, the kit and the day are open documents in `setups/`, `kit.json` and `shoot.json`, read and checked
like anybody's. Place, people and figures are made up; lights are classes. `shoot.json` is made from
`day.json`, which names the set-ups by their files, by `tools/demo.py`. `takes.json` and `frames/` were shot
with the simulated camera by `tools/demo_frames.py`, the place in `places/` is drawn by
`tools/demo_place.py`."""

import json
from importlib.resources import files
from typing import Any

from noggin.documents.json_input import read_object
from noggin.documents.setup import canonical
from noggin.documents.written import SetUpWritten

FOLDER = files("noggin.demo")


def demo_documents() -> tuple[SetUpWritten, ...]:
    """The demo's set-ups, as exported documents, in the order of their files."""
    folder = FOLDER / "setups"
    names = sorted(item.name for item in folder.iterdir() if item.name.endswith(".json"))
    return tuple(canonical(read_object((folder / name).read_bytes())) for name in names)


def demo_kit() -> dict[str, Any]:
    """The demo's kit, as a parsed document."""
    return read_object((FOLDER / "kit.json").read_bytes())


def demo_shoot() -> dict[str, Any]:
    """The demo's day with all its set-ups, as a parsed document."""
    return read_object((FOLDER / "shoot.json").read_bytes())


def demo_takes() -> list[dict[str, Any]]:
    """The takes of a walk-through that was shot with the simulated camera, by `tools/demo_frames.py`: each
    with the set-up's file, when it was begun, its frames, and what it taught."""
    found: list[dict[str, Any]] = json.loads((FOLDER / "takes.json").read_bytes())
    return found


def demo_places() -> tuple[bytes, ...]:
    """Pictures of places that the demo's set-ups name, as they are kept."""
    items = sorted((FOLDER / "places").iterdir(), key=lambda item: item.name)
    return tuple(item.read_bytes() for item in items if item.name.endswith(".jpg"))


def demo_stems() -> tuple[str, ...]:
    """The set-ups' files, in the order of `demo_documents`."""
    names = sorted(item.name for item in (FOLDER / "setups").iterdir())
    return tuple(name.removesuffix(".json") for name in names if name.endswith(".json"))


def demo_file(name: str) -> bytes:
    """A file of a frame of those takes."""
    return (FOLDER / "frames" / name).read_bytes()


def starting_document() -> SetUpWritten:
    """A fresh set-up: a backlit subject at full sun with a medium head, to be changed to fit."""
    return canonical(read_object((FOLDER / "starting.json").read_bytes()))
