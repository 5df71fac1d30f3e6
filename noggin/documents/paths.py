"""Where a figure is in a document: one notation, `lights[0].gn_m`, for faults, changes and pages, and
its steps ("lights", 0, "gn_m") in code."""

import re
from collections.abc import Sequence
from typing import Any

from noggin.core.errors import Refused

FieldPath = tuple[str | int, ...]

SHOWN_MOST = 80
"""Characters of a name that are shown."""


def path_of(steps: Sequence[int | str]) -> str:
    """`("lights", 0, "gn_m")` as `lights[0].gn_m`, with anything unprintable escaped.

    >>> path_of(("lights", 0, "gn_m"))
    'lights[0].gn_m'
    """
    path = ""
    for step in steps:
        if isinstance(step, int):
            path += f"[{step}]"
        else:
            path += f"{'.' if path else ''}{printable(step)}"
    return path


def steps_of(path: str) -> FieldPath:
    """The steps of a path.

    >>> steps_of("lights[0].gn_m")
    ('lights', 0, 'gn_m')
    """
    return tuple(int(step) if step.isdigit() else step for step in re.findall(r"[^.\[\]]+", path))


def value_at(document: Any, steps: FieldPath) -> Any:
    """The value that steps lead to; None where something on the way is left out.

    >>> value_at({"lights": [{"gn_m": 60}]}, ("lights", 0, "gn_m")), value_at({}, ("place", "lat"))
    (60, None)
    """
    for step in steps:
        if document is None:
            return None
        document = document.get(step) if isinstance(document, dict) else document[step]
    return document


def owner_of(document: Any, path: str) -> tuple[Any, str | int]:
    """What holds the figure of a path, and the figure's last step there. Raises Refused where there is no
    such figure."""
    *way, last = steps_of(path) or ("",)
    owner = document
    for step in way:
        try:
            owner = owner[step]
        except (KeyError, IndexError, TypeError):
            raise Refused(path, "there is no such figure") from None
    if not isinstance(owner, dict | list):
        raise Refused(path, "there is no such figure")
    return owner, last


def printable(text: str) -> str:
    """A text cut short, with anything unprintable escaped."""
    text = text if len(text) <= SHOWN_MOST else f"{text[:SHOWN_MOST]}…"
    return "".join(c if c.isprintable() else c.encode("unicode_escape").decode() for c in text)
