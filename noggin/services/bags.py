"""Use cases of bags: what goes along for a day, and what the Bench then offers."""

import json
from collections.abc import Mapping, Sequence
from functools import lru_cache

from noggin.documents.bag_entries import BAG_ENTRIES, normal_bag
from noggin.documents.entry import Document, Entry
from noggin.documents.kit import gear_of
from noggin.documents.offered import BY_CLASS, Offered, offered_of
from noggin.services.clock import Clock
from noggin.services.entering import Form
from noggin.services.kit import ORDER, all_gear
from noggin.services.pieces import Piece, check_name, enter, names, piece_of, unused
from noggin.store.kept import Kept, Step, Store


def all_bags(store: Store) -> tuple[Piece, ...]:
    """Every bag by its day, then its name."""
    bags = (_bag(kept) for kept in store.bags.all())
    return tuple(sorted(bags, key=lambda bag: (bag.document["day"] or "9999", bag.name.lower())))


def open_bag(store: Store, bag_id: int) -> Piece:
    """One bag. Raises NotKept."""
    return _bag(store.bags.get(bag_id))


def new_bag(store: Store, clock: Clock, name: str) -> int:
    """A bag with the whole kit in it, to take out what stays at home; its number."""
    others = names(store.bags)
    wanted = " ".join(name.split())
    everything = [piece.id for piece in all_gear(store)]
    document = {"name": wanted or unused("Bag", others), "day": None, "gear": everything}
    check_name(document, others)
    return store.bags.add(normal_bag(document), clock()).id


def enter_bag(store: Store, clock: Clock, bag_id: int, key: str, text: str) -> Piece:
    """Take what was typed for one figure of a bag. Raises NotKept, NoSuchFigure."""
    return enter(store.bags, clock, bag_id, key, text, _bag_entries, normal_bag)


def move(store: Store, clock: Clock, bag_id: int, by: int) -> Piece:
    """Undo (`by` -1) or do again (+1) one step. Raises NotKept, NoSuchStep."""
    return _bag(store.bags.move(bag_id, by, clock()))


def pack(store: Store, clock: Clock, bag_id: int, gear_ids: Sequence[int], *, into: bool) -> Piece:
    """Put gear into a bag, or take it out. Raises NotKept."""
    named = {piece.id: piece.name for piece in all_gear(store)}
    wanted = [gear_id for gear_id in gear_ids if gear_id in named]

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        left = [one for one in kept.document["gear"] if one not in wanted]
        return normal_bag({**kept.document, "gear": left + (wanted if into else [])}), kept.entries

    what = named[wanted[0]] if len(wanted) == 1 else f"{len(wanted)} pieces"
    return _bag(
        store.bags.change(bag_id, change, clock(), Step(f"{what} {'packed' if into else 'left out'}"))
    )


def packed(store: Store, bag: Piece) -> tuple[Piece, ...]:
    """The gear in a bag that is still in the kit."""
    return tuple(piece for piece in all_gear(store) if piece.id in set(bag.document["gear"]))


def offered(store: Store, document: Document) -> Offered:
    """What the Bench offers for a set-up: its bag's gear only, the whole kit where it names none, classes
    where there is no kit."""
    gear = store.gear.texts()
    if not gear:
        return BY_CLASS
    kept_bags = [json.loads(text) for text in store.bags.texts().values()]
    name = document.get("bag", "")
    bag = next((bag for bag in kept_bags if bag["name"] == name), None)
    inside = sorted(text for number, text in gear.items() if bag is None or number in bag["gear"])
    return _offered(tuple(inside), tuple(sorted(bag["name"] for bag in kept_bags)), bag is not None)


@lru_cache(maxsize=16)
def _offered(texts: tuple[str, ...], bag_names: tuple[str, ...], only: bool) -> Offered:
    gear = [gear_of(json.loads(text)) for text in texts]
    gear.sort(key=lambda one: (ORDER.index(one.kind), one.name.lower()))
    return offered_of(gear, bag_names, only=only)


def _bag_entries(_: Document) -> Mapping[str, Entry]:
    return BAG_ENTRIES


def _bag(kept: Kept) -> Piece:
    return piece_of(kept, Form(_bag_entries, normal_bag))
