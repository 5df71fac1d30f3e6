"""Use cases of the kit: every piece of gear and its figures."""

from collections.abc import Callable, Mapping
from typing import Any

from noggin.core.errors import NogginError, Refused
from noggin.documents import gear as kit
from noggin.documents.entry import Document
from noggin.documents.gear_classes import gear_by_class
from noggin.documents.gear_entries import gear_entries
from noggin.documents.kit import normal_gear
from noggin.services.clock import Clock
from noggin.services.entering import Form
from noggin.services.pieces import Piece, check_name, enter, names, piece_of, unused
from noggin.store.kept import Kept, Step, Store


class NoSuchClass(NogginError, LookupError):
    """There is no such class of gear."""


ORDER = tuple(kit.KINDS)
"""Kinds of gear in the order they are listed in."""


def all_gear(store: Store) -> tuple[Piece, ...]:
    """Every piece of gear by kind, then by name."""
    form = Form(gear_entries, normal_gear)
    pieces = (piece_of(kept, form) for kept in store.gear.all())
    return tuple(sorted(pieces, key=lambda piece: (ORDER.index(piece.kind), piece.name.lower())))


def open_piece(store: Store, gear_id: int) -> Piece:
    """One piece of gear. Raises NotKept."""
    return piece_of(store.gear.get(gear_id), Form(gear_entries, normal_gear))


def new_piece(store: Store, clock: Clock, kind: str, key: str, name: str) -> int:
    """Gear by its class, under a name of its own where one is given; its number. Raises NoSuchClass,
    Refused."""
    try:
        found = gear_by_class(kind, key, " ".join(name.split()))
    except KeyError:
        raise NoSuchClass("Choose one of the classes in the list.") from None
    found["name"] = unused(found["name"], names(store.gear)) if not name.strip() else found["name"]
    check_name(found, names(store.gear))
    return store.gear.add(normal_gear(found), clock()).id


def enter_gear(store: Store, clock: Clock, gear_id: int, key: str, text: str) -> Piece:
    """Take what was typed for one figure. Raises NotKept, NoSuchFigure."""
    return enter(store.gear, clock, gear_id, key, text, gear_entries, normal_gear)


def move(store: Store, clock: Clock, gear_id: int, by: int) -> Piece:
    """Undo (`by` -1) or do again (+1) one step. Raises NotKept, NoSuchStep."""
    return piece_of(store.gear.move(gear_id, by, clock()), Form(gear_entries, normal_gear))


def laid_aside(store: Store) -> tuple[tuple[int, str], ...]:
    """Number and name of every piece that was laid aside."""
    return tuple((kept.id, kept.document["name"]) for kept in store.gear.removed())


def change_gear(
    store: Store, clock: Clock, gear_id: int, label: str, act: Callable[[dict[str, Any]], None]
) -> Piece:
    """A change that is not an entry, as one step. Raises NotKept, Refused."""
    form = Form(gear_entries, normal_gear)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        document = normal_gear(dict(kept.document))
        act(document)
        return form.changed(kept, document)

    return piece_of(store.gear.change(gear_id, change, clock(), Step(label)), form)


def add_reflector(store: Store, clock: Clock, gear_id: int) -> Piece:
    """One more reflector or zoom position of a light, like the last. Raises NotKept, Refused."""

    def act(light: dict[str, Any]) -> None:
        rows = _rows(light, "reflectors")
        names = {row["name"] for row in rows}
        figure = {"value": rows[-1]["gn_m"]["value"], "source": "brochure"}
        rows.append({"name": unused("another reflector", names), "gn_m": figure})

    return change_gear(store, clock, gear_id, "reflector added", act)


def add_loss(store: Store, clock: Clock, gear_id: int, light: str) -> Piece:
    """What a modifier takes from one very light, to begin with as much as from any. Raises NotKept,
    Refused."""

    def act(modifier: dict[str, Any]) -> None:
        if "loss" not in modifier:
            raise Refused("loss", "only a modifier takes something from a light")
        rows = modifier.setdefault("losses", [])
        if not light.strip() or any(row["light"] == light for row in rows):
            raise Refused("light", "choose a light that is not in the list yet")
        rows.append({"light": light, "loss": dict(modifier["loss"])})

    return change_gear(store, clock, gear_id, f"loss from {light} added", act)


def remove_row(store: Store, clock: Clock, gear_id: int, rows: str, at: int) -> Piece:
    """One reflector or one light's loss less. Raises NotKept, Refused."""

    def act(document: dict[str, Any]) -> None:
        found = _rows(document, rows)
        if not 0 <= at < len(found):
            raise Refused(rows, f"there is no row {at + 1}")
        if rows == "reflectors" and len(found) == 1:
            raise Refused(rows, "a light keeps one guide number at least")
        del found[at]

    return change_gear(store, clock, gear_id, "row removed", act)


def _rows(document: dict[str, Any], rows: str) -> list[dict[str, Any]]:
    if rows not in ("reflectors", "losses") or not isinstance(document.get(rows), list):
        raise Refused(rows, "this gear has no such list")
    found: list[dict[str, Any]] = document[rows]
    return found


def take_back(store: Store, clock: Clock, gear_id: int, path: str) -> Piece:
    """The figure that a measured one replaced, in its place again. Raises NotKept, Refused."""

    def act(document: dict[str, Any]) -> None:
        owner, last = figure_at(document, path)
        figure = owner.get(last)
        if not figure or not figure.get("before"):
            raise Refused(path, "nothing was replaced here")
        before = figure["before"]
        kept = {"sync_s": figure["sync_s"]} if "sync_s" in figure else {}
        owner[last] = None if before["value"] is None else {**kept, **before}

    return change_gear(store, clock, gear_id, "measured figure taken back", act)


def figure_at(document: dict[str, Any], path: str) -> tuple[dict[str, Any], str]:
    """The owner of a figure and its name there, from a path like `reflectors.0.gn_m`. Raises Refused."""
    owner: Any = document
    *way, last = path.split(".")
    for step in way:
        try:
            owner = owner[int(step)] if isinstance(owner, list) else owner[step]
        except (KeyError, IndexError, ValueError):
            raise Refused(path, "there is no such figure") from None
    if not isinstance(owner, dict):
        raise Refused(path, "there is no such figure")
    return owner, last
