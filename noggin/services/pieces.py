"""A piece of the kit as it is opened: gear and bags alike."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from noggin.core.errors import Refused
from noggin.documents.entry import Document, Entry
from noggin.documents.gear import KINDS
from noggin.services.clock import Clock
from noggin.services.entering import Form, Pending
from noggin.store.kept import Kept, Shelf, Step


@dataclass(frozen=True)
class Piece:
    """A piece of gear, or a bag, as it is kept, with what was typed that could not be taken."""

    id: int
    document: Mapping[str, Any]
    entries: Mapping[str, Entry]
    pending: Mapping[str, Pending]
    revision: int
    undo: Step | None
    redo: Step | None

    @property
    def name(self) -> str:
        """What it is called."""
        return str(self.document["name"])

    @property
    def order(self) -> int:
        """Where its kind stands in lists."""
        return list(KINDS).index(self.kind)

    @property
    def kind(self) -> str:
        """Its kind of gear; empty for a bag."""
        return str(self.document.get("kind", ""))


def enter(
    shelf: Shelf,
    clock: Clock,
    number: int,
    key: str,
    text: str,
    entries: Callable[[Document], Mapping[str, Entry]],
    normal: Callable[[dict[str, Any]], dict[str, Any]],
) -> Piece:
    """Take what was typed for one figure; no two on a shelf have one name. Raises NotKept, NoSuchFigure."""
    others = names(shelf, without=number)

    def whole(found: dict[str, Any]) -> dict[str, Any]:
        check_name(found, others)
        return normal(found)

    form = Form(entries, whole)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        form.entry(kept.document, key)
        return form.taken(kept.document, {**kept.entries, key: text}, newest=key)

    return piece_of(
        shelf.change(number, change, clock(), Step(_label(shelf, number, entries, key), key)), form
    )


def _label(shelf: Shelf, number: int, entries: Callable[[Document], Mapping[str, Entry]], key: str) -> str:
    found = entries(shelf.get(number).document).get(key)
    return found.label if found else ""


def names(shelf: Shelf, without: int | None = None) -> set[str]:
    """Names on a shelf."""
    return {kept.document["name"] for kept in shelf.all() if kept.id != without}


def check_name(document: Mapping[str, Any], others: set[str]) -> None:
    """Raise Refused for a name that another one has."""
    if document["name"] in others:
        raise Refused("name", f"‘{document['name']}’ is taken: two of a name could not be told apart")


def unused(name: str, taken: set[str]) -> str:
    """The name, with a number where it is taken."""
    return next(one for one in _numbered(name) if one not in taken)


def _numbered(name: str) -> Iterator[str]:
    yield name
    number = 2
    while True:
        yield f"{name} {number}"
        number += 1


def piece_of(kept: Kept, form: Form) -> Piece:
    """A kept document opened."""
    entries = form.entries(kept.document)
    return Piece(kept.id, kept.document, entries, form.pending(kept), kept.revision, kept.undo, kept.redo)
