"""Keys that work outside a figure: a row each, for the page that lists them and the script that listens."""

import json
from dataclasses import dataclass

from noggin.services.words import WAYS


@dataclass(frozen=True)
class Shortcut:
    """What is pressed, as it is written for people, and what it does. `key` is the one key whose press goes
    to what `presses` selects on the page (CSS); without one, `keys.js` has its own way with it.
    `everywhere` says that it works on every page, else where there is what it goes to: on the Bench."""

    keys: str
    does: str
    key: str = ""
    presses: str = ""
    everywhere: bool = False


SHORTCUTS = (
    Shortcut("↑ ↓", "in a figure: one step up or down", everywhere=True),
    Shortcut("Enter", "in a figure: accept it", everywhere=True),
    Shortcut("z", "undo", "z", "#act-undo"),
    Shortcut("y", "redo", "y", "#act-redo"),
    Shortcut(f"1 … {len(WAYS)}", "show the first to the last method"),
    Shortcut("p", "pin this version to compare, or unpin it", "p", "#act-pin"),
    Shortcut("f", "go to the first figure", "f", ".steps select, .steps input[name=text]"),
    Shortcut("/", "find a set-up, a shoot or a piece of the kit", "/", "#find-anywhere", everywhere=True),
    Shortcut("?", "show these keys", everywhere=True),
)
"""Every shortcut, in the order in which they are listed."""


def shortcut_keys() -> str:
    """Which key goes where, for the script (JSON)."""
    return json.dumps({each.key: each.presses for each in SHORTCUTS if each.key})
