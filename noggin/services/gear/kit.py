"""Use cases of the kit: every piece of gear and its figures."""

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from noggin.core import limits
from noggin.core.errors import NogginError, Refused
from noggin.core.setup.light import Light
from noggin.documents import gear as kit
from noggin.documents.kit import canonical_gear
from noggin.documents.paths import owner_of, steps_of, value_at
from noggin.documents.written import GearWritten
from noggin.forms.entry import Document
from noggin.forms.gear_classes import gear_by_class
from noggin.forms.gear_entries import gear_entries
from noggin.services.clock import Clock
from noggin.services.keeping import kept
from noggin.services.keeping.kept import KeptItem, Kind, check_name, unused
from noggin.store.repository import NotKept
from noggin.store.store import Store


class NoSuchClass(NogginError, LookupError):
    """There is no such class of gear."""


Change = Callable[[GearWritten], None]

KINDS_IN_ORDER = tuple(kit.GEAR_KINDS)
"""Kinds of gear in the order they are listed in."""


GEAR = Kind("gear", lambda _: gear_entries, canonical_gear, most=limits.GEAR_MOST)


def kind_of(item: KeptItem) -> str:
    """The kind of a piece of gear."""
    return str(item.document["kind"])


def all_gear(store: Store) -> tuple[KeptItem, ...]:
    """Every piece of gear by kind, then by name."""
    with store.read_transaction():
        items = [kept.opened(store, GEAR, document) for document in store.gear.all()]
    return tuple(sorted(items, key=lambda item: (KINDS_IN_ORDER.index(kind_of(item)), item.name.lower())))


def by_kind(items: Iterable[KeptItem]) -> dict[str, list[KeptItem]]:
    """Pieces of gear by their kind, kinds in order."""
    found: dict[str, list[KeptItem]] = {}
    for item in sorted(items, key=lambda item: KINDS_IN_ORDER.index(kind_of(item))):
        found.setdefault(kind_of(item), []).append(item)
    return found


def open_gear(store: Store, gear_id: int) -> KeptItem:
    """One piece of gear. Raises NotKept."""
    return kept.open_item(store, GEAR, gear_id)


def gear_named(store: Store, name: str) -> int:
    """The number of the piece of a name. Raises NotKept."""
    number = store.gear.named(name)
    if number is None:
        raise NotKept(f"Nothing in the kit is called ‘{name}’.")
    return number


def new_gear(store: Store, clock: Clock, kind: str, key: str, name: str) -> int:
    """Gear by its class, under a name of its own where one is given; its number. Raises NoSuchClass,
    Refused."""
    try:
        found = gear_by_class(kind, key, " ".join(name.split()))
    except KeyError:
        raise NoSuchClass("Choose one of the classes in the list.") from None
    return add_gear(store, clock, found, named=bool(name.strip()))


def add_gear(store: Store, clock: Clock, found: GearWritten, *, named: bool) -> int:
    """A piece of gear; where it was not `named` by a person, under a name that is free. Raises Refused."""
    with store.write_transaction():
        taken = store.gear.names()
        if not named:
            found["name"] = unused(found["name"], taken)
        check_name(found, taken)
        return kept.add(store, clock, GEAR, canonical_gear(found)).id


def put_light_in_kit(store: Store, clock: Clock, light: Light) -> int:
    """A light as it was typed into a set-up, as a piece of gear to be measured; its number. Its guide
    number is that of the light with its modifier off. Raises Refused."""
    with store.write_transaction():
        number = store.gear.named(light.name)
        return add_gear(store, clock, light_item(light), named=False) if number is None else number


def light_item(light: Light) -> GearWritten:
    """A light of a set-up as a piece of gear."""
    found: GearWritten = {
        "kind": "light",
        "name": light.name or light.role,
        "reflectors": [{"name": "as typed", "gn_m": {"value": light.gn_m, "source": "brochure"}}],
        "power_min": light.power_min,
        "power_step": light.power_step,
        "scale": light.scale,
        "full_mark": light.full_mark,
    }
    if light.hss_toll is not None:
        found["hss_toll"] = {"value": light.hss_toll, "source": "brochure"}
    return found


def enter_gear(store: Store, clock: Clock, gear_id: int, key: str, text: str) -> KeptItem:
    """Take what was typed for one figure. Raises NotKept, NoSuchFigure."""
    with store.write_transaction():
        return kept.opened(store, GEAR, kept.enter(store, clock, GEAR, gear_id, key, text))


def change_gear(store: Store, clock: Clock, gear_id: int, label: str, change: Change) -> KeptItem:
    """A change that is not an entry, as one step. Raises NotKept, Refused."""

    def changed(document: Document) -> Document:
        found = canonical_gear(document)
        change(found)
        return found

    with store.write_transaction():
        return kept.opened(store, GEAR, kept.act(store, clock, GEAR, gear_id, label, changed))


def add_reflector(store: Store, clock: Clock, gear_id: int) -> KeptItem:
    """One more reflector or zoom position of a light, like the last. Raises NotKept, Refused."""

    def change(light: GearWritten) -> None:
        rows = _rows(light, "reflectors")
        names = {row["name"] for row in rows}
        figure = {"value": rows[-1]["gn_m"]["value"], "source": "brochure"}
        rows.append({"name": unused("another reflector", names), "gn_m": figure})

    return change_gear(store, clock, gear_id, "reflector added", change)


def add_loss(store: Store, clock: Clock, gear_id: int, light: str) -> KeptItem:
    """What a modifier takes from one very light, to begin with as much as from any. Raises NotKept,
    Refused."""

    def change(modifier: GearWritten) -> None:
        if "loss" not in modifier:
            raise Refused("loss", "only a modifier has losses")
        rows = modifier.setdefault("losses", [])
        if not light.strip() or any(row["light"] == light for row in rows):
            raise Refused("light", "choose a light that is not listed yet")
        rows.append({"light": light, "loss": dict(modifier["loss"])})

    return change_gear(store, clock, gear_id, f"loss from {light} added", change)


def remove_row(store: Store, clock: Clock, gear_id: int, rows: str, index: int) -> KeptItem:
    """One reflector or one light's loss less. Raises NotKept, Refused."""

    def change(document: GearWritten) -> None:
        found = _rows(document, rows)
        if not 0 <= index < len(found):
            raise Refused(rows, f"there is no row {index + 1}")
        if rows == "reflectors" and len(found) == 1:
            raise Refused(rows, "a light needs at least one guide number")
        del found[index]

    return change_gear(store, clock, gear_id, "row removed", change)


def _rows(document: Mapping[str, Any], rows: str) -> list[Any]:
    if rows not in ("reflectors", "losses") or not isinstance(document.get(rows), list):
        raise Refused(rows, "this gear has no such list")
    found: list[Any] = document[rows]
    return found


def restore_figure(store: Store, clock: Clock, gear_id: int, path: str) -> KeptItem:
    """The figure that a measured one replaced, in its place again. Raises NotKept, Refused."""

    def change(document: GearWritten) -> None:
        owner, last = owner_of(document, path)
        figure = value_at(document, steps_of(path))
        if not isinstance(figure, dict) or not figure.get("before"):
            raise Refused(path, "no earlier figure is kept here")
        before = figure["before"]
        at_sync = {"sync_s": figure["sync_s"]} if "sync_s" in figure else {}
        owner[last] = None if before["value"] is None else {**at_sync, **before}

    return change_gear(store, clock, gear_id, "measured figure taken back", change)
