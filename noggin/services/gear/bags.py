"""Use cases of bags: what is packed for a day, and what the Bench then offers."""

import json
from collections.abc import Sequence
from functools import lru_cache

from noggin.core import limits
from noggin.documents.bag import canonical_bag
from noggin.documents.kit import gear_of
from noggin.forms.bag_entries import BAG_ENTRIES
from noggin.forms.choices import BY_CLASS, Choices, choices_of
from noggin.forms.entry import Document
from noggin.services.clock import Clock
from noggin.services.gear.kit import KINDS_IN_ORDER, all_gear
from noggin.services.keeping import kept
from noggin.services.keeping.kept import KeptItem, Kind, check_name, unused
from noggin.store.store import Store

BAGS = Kind("bag", lambda _: lambda __: BAG_ENTRIES, canonical_bag, most=limits.BAGS_MOST)

NO_DAY = "9999"
"""Sorts a bag for no day in particular behind the others."""


def all_bags(store: Store) -> tuple[KeptItem, ...]:
    """Every bag by its day, then its name."""
    with store.read_transaction():
        bags = [kept.opened(store, BAGS, document) for document in store.bags.all()]
    return tuple(sorted(bags, key=lambda bag: (bag.document["day"] or NO_DAY, bag.name.lower())))


def open_bag(store: Store, bag_id: int) -> KeptItem:
    """One bag. Raises NotKept."""
    return kept.open_item(store, BAGS, bag_id)


def new_bag(store: Store, clock: Clock, name: str) -> int:
    """A bag with the whole kit in it, to take out what stays at home; its number. Raises Refused."""
    with store.write_transaction():
        others, wanted = store.bags.names(), " ".join(name.split())
        everything = [item.id for item in all_gear(store)]
        document = {"name": wanted or unused("Bag", others), "day": None, "gear": everything}
        check_name(document, others)
        return kept.add(store, clock, BAGS, canonical_bag(document)).id


def enter_bag(store: Store, clock: Clock, bag_id: int, key: str, text: str) -> KeptItem:
    """Take what was typed for one figure of a bag. Raises NotKept, NoSuchFigure."""
    with store.write_transaction():
        return kept.opened(store, BAGS, kept.enter(store, clock, BAGS, bag_id, key, text))


def pack(store: Store, clock: Clock, bag_id: int, gear_ids: Sequence[int], *, into: bool) -> KeptItem:
    """Put gear into a bag, or take it out. Raises NotKept."""
    with store.write_transaction():
        named = {item.id: item.name for item in all_gear(store)}
        wanted = [gear_id for gear_id in gear_ids if gear_id in named]

        def change(document: Document) -> Document:
            left = [gear_id for gear_id in document["gear"] if gear_id not in wanted]
            return {**document, "gear": left + (wanted if into else [])}

        what = named[wanted[0]] if len(wanted) == 1 else f"{len(wanted)} pieces"
        label = f"{what} {'packed' if into else 'left out'}"
        return kept.opened(store, BAGS, kept.act(store, clock, BAGS, bag_id, label, change))


def packed(store: Store, bag: KeptItem) -> tuple[KeptItem, ...]:
    """The gear in a bag that is still in the kit."""
    inside = set(bag.document["gear"])
    return tuple(item for item in all_gear(store) if item.id in inside)


def of_the_day(store: Store, name: str) -> tuple[KeptItem, ...]:
    """The gear in the bag of a day by its name; all of it where there is no such bag."""
    number = store.bags.named(name)
    return all_gear(store) if number is None else packed(store, open_bag(store, number))


def choices_for(store: Store, document: Document) -> Choices:
    """What the Bench offers for a set-up: its bag's gear only, the whole kit where it names none, classes
    where there is no kit."""
    with store.read_transaction():
        gear, bags = store.gear.texts(), store.bags.texts()
    if not gear:
        return BY_CLASS
    kept_bags = [json.loads(text) for text in bags.values()]
    name = document.get("bag", "")
    bag = next((bag for bag in kept_bags if bag["name"] == name), None)
    inside = sorted(text for number, text in gear.items() if bag is None or number in bag["gear"])
    return _choices(tuple(inside), tuple(sorted(bag["name"] for bag in kept_bags)), bag is not None)


@lru_cache(maxsize=16)
def _choices(texts: tuple[str, ...], bag_names: tuple[str, ...], only: bool) -> Choices:
    gear = [gear_of(json.loads(text)) for text in texts]
    gear.sort(key=lambda item: (KINDS_IN_ORDER.index(item.kind), item.name.lower()))
    return choices_of(gear, bag_names, only=only)
