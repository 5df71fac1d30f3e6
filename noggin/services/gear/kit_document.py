"""Use cases of the kit document: the whole kit out, and a kit in."""

from typing import Any

from noggin.documents.kit import FORMAT, VERSION, read_kit, written_gear
from noggin.services.clock import Clock
from noggin.services.gear.bags import BAGS, all_bags
from noggin.services.gear.kit import GEAR, all_gear
from noggin.services.keeping.kept import Brought, KeptItem, bring_in
from noggin.store.store import Store


def kit_document(store: Store) -> dict[str, Any]:
    """Everything in the kit as an open document."""
    with store.read_transaction():
        gear, bags = all_gear(store), all_bags(store)
        names = {item.id: item.name for item in gear}
        return {
            "format": FORMAT,
            "version": VERSION,
            "gear": [_owned(store, item) for item in gear],
            "bags": [
                {
                    **bag.document,
                    "gear": [names[number] for number in bag.document["gear"] if number in names],
                }
                for bag in bags
            ],
        }


def _owned(store: Store, item: KeptItem) -> dict[str, Any]:
    measured = [document for _, document in store.measurements.of(item.id)]
    return {"item": dict(item.document)} | ({"measurements": measured} if measured else {})


def import_kit(store: Store, clock: Clock, found: dict[str, Any]) -> Brought:
    """Take a kit document into the kit, all of it or none. Gear and bags of a name that is there already
    are changed to what it says, which can be undone piece by piece; readings are added where they are not
    there yet.

    Raises BadDocument.
    """
    document = read_kit(found)
    brought = Brought()
    numbers: dict[str, int] = {}
    with store.write_transaction():
        for owned in document.gear:
            item, name = written_gear(owned.item), owned.item.name
            numbers[name], how = bring_in(store, clock, GEAR, item, store.gear.named(name))
            brought = brought.and_then(how)
            known = [kept for _, kept in store.measurements.of(numbers[name])]
            for measurement in owned.measurements:
                written = measurement.model_dump(mode="json")
                if written not in known:
                    store.measurements.add(numbers[name], written)
        for bag in document.bags:
            inside = {**bag.model_dump(mode="json"), "gear": [numbers[name] for name in bag.gear]}
            brought = brought.and_then(bring_in(store, clock, BAGS, inside, store.bags.named(bag.name))[1])
    return brought
