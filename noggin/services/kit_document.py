"""Use cases of the kit document: the whole kit out, and a kit in."""

from dataclasses import dataclass
from typing import Any

from noggin.documents.kit import FORMAT, VERSION, read_kit, written_gear
from noggin.services.bags import all_bags
from noggin.services.clock import Clock
from noggin.services.kit import all_gear
from noggin.services.pieces import Piece
from noggin.store.kept import Shelf, Step, Store


def kit_document(store: Store) -> dict[str, Any]:
    """Everything in the kit as an open document."""
    gear, bags = all_gear(store), all_bags(store)
    names = {piece.id: piece.name for piece in gear}
    return {
        "format": FORMAT,
        "version": VERSION,
        "gear": [_owned(store, piece) for piece in gear],
        "bags": [
            {**bag.document, "gear": [names[one] for one in bag.document["gear"] if one in names]}
            for bag in bags
        ],
    }


def _owned(store: Store, piece: Piece) -> dict[str, Any]:
    measured = [document for _, document in store.measurements.of(piece.id)]
    return {"item": dict(piece.document)} | ({"measurements": measured} if measured else {})


@dataclass(frozen=True)
class Brought:
    """What an imported kit brought: how many pieces and bags are new, were changed, were the same."""

    new: int
    changed: int
    same: int


def import_kit(store: Store, clock: Clock, found: dict[str, Any]) -> Brought:
    """Take a kit document into the kit. Gear and bags of a name that is there already are changed to what
    it says, which can be undone piece by piece; readings are added where they are not there yet.

    Raises BadDocument.
    """
    document = read_kit(found)
    told = []
    numbers: dict[str, int] = {}
    for owned in document.gear:
        item = written_gear(owned.item)
        number, how = _brought(store.gear, clock, item)
        numbers[owned.item.name] = number
        told.append(how)
        known = [kept for _, kept in store.measurements.of(number)]
        for one in owned.measurements:
            written = one.model_dump(mode="json")
            if written not in known:
                store.measurements.add(number, written)
    for bag in document.bags:
        inside = [numbers[name] for name in bag.gear]
        told.append(_brought(store.bags, clock, {**bag.model_dump(mode="json"), "gear": inside})[1])
    return Brought(told.count("new"), told.count("changed"), told.count("same"))


def _brought(shelf: Shelf, clock: Clock, document: dict[str, Any]) -> tuple[int, str]:
    own = next((kept for kept in shelf.all() if kept.document["name"] == document["name"]), None)
    if own is None:
        return shelf.add(document, clock()).id, "new"
    if own.document == document:
        return own.id, "same"
    shelf.change(own.id, lambda _: (document, {}), clock(), Step("imported"))
    return own.id, "changed"
