"""Documents that cannot be read, as after damage or by another program's hand: they are set aside when the
database is opened, so that no list fails over them, and come back when they can be read again."""

import json
from collections.abc import Mapping
from dataclasses import dataclass

from noggin.core.errors import NogginError
from noggin.core.planning.plan import RULES_VERSION
from noggin.services.day.shoots import SHOOTS
from noggin.services.gear.bags import BAGS
from noggin.services.gear.kit import GEAR
from noggin.services.keeping.kept import Kind
from noggin.services.setups.setups import SETUPS
from noggin.store.store import SET_ASIDE, Store

KINDS: Mapping[str, Kind] = {kind.key: kind for kind in (SETUPS, GEAR, BAGS, SHOOTS)}
"""Every kind of document; what refers to others comes after them."""


def problem_with(kind: str, text: str) -> str:
    """Why a document as it lies in the file cannot be used; empty where it can."""
    try:
        KINDS[kind.removeprefix(SET_ASIDE)].canonical(json.loads(text))
    except KeyError:
        return f"there is no such kind of document as ‘{kind}’"
    except (NogginError, ValueError, TypeError) as error:
        return str(error)
    return ""


def set_aside_unreadable(store: Store) -> int:
    """Set aside what cannot be read, and bring back what can be by now; how many moved. A set-up that was
    planned by the present rules can be read, and is not looked at again."""
    moved = 0
    for row in store.unproven(RULES_VERSION):
        plain = row.kind.removeprefix(SET_ASIDE)
        wanted = f"{SET_ASIDE}{plain}" if problem_with(row.kind, row.text) else plain
        if wanted != row.kind:
            moved += store.move_to_kind(row.id, wanted)
    return moved


@dataclass(frozen=True)
class SpoiltDocument:
    """A document that was set aside: its number, what it was, its name where it has one, and what is wrong
    with it."""

    id: int
    kind: str
    name: str
    problem: str


def unreadable(store: Store) -> tuple[SpoiltDocument, ...]:
    """Every document that was set aside."""
    return tuple(
        SpoiltDocument(
            row.id,
            row.kind.removeprefix(SET_ASIDE),
            row.name,
            problem_with(row.kind, row.text) or "its name is taken by another one by now",
        )
        for row in store.set_aside()
    )
