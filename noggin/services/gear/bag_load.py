"""What a bag weighs, and what it lacks for the set-ups of its day."""

import json
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from noggin.core.shoot.timetable import known_name
from noggin.core.wording import listed
from noggin.documents.shoot import kept_shoot
from noggin.forms.entry import Document
from noggin.services.gear.bags import packed
from noggin.services.keeping.kept import KeptItem
from noggin.services.keeping.results import plan_of_text
from noggin.store.store import Store


@dataclass(frozen=True)
class BagLoad:
    """Kilograms of what is packed as far as it is known, the pieces of which it is not, and what the
    set-ups of the day use that is not packed, in words."""

    weight_kg: float
    unweighed: tuple[str, ...]
    missing: tuple[str, ...]


def bag_load(store: Store, bag: KeptItem) -> BagLoad:
    """What a bag weighs and lacks. Its set-ups are those of shoots that take it along, or that are on its
    day."""
    with store.read_transaction():
        inside = [item.document for item in packed(store, bag)]
        used = list(_setups(store, bag))
    weighed = [item for item in inside if item.get("weight_kg")]
    kilos = sum(item["weight_kg"] * item["count"] for item in weighed)
    unweighed = tuple(item["name"] for item in inside if not item.get("weight_kg"))
    return BagLoad(kilos, unweighed, tuple(_missing(inside, used)))


def _setups(store: Store, bag: KeptItem) -> Iterator[tuple[str, str]]:
    """Name and text of every set-up that a bag is packed for."""
    seen: set[int] = set()
    for text in store.shoots.texts().values():
        shoot = kept_shoot(json.loads(text))
        if bag.name == shoot.bag or (bag.document["day"] and bag.document["day"] == shoot.date):
            seen.update(slot.setup for slot in shoot.slots)
    for setup_text in store.setups.texts(sorted(seen)).values():
        yield json.loads(setup_text)["name"], setup_text


def _missing(inside: Sequence[Document], used: Sequence[tuple[str, str]]) -> Iterator[str]:
    counts = {item["name"]: int(item["count"]) for item in inside}
    kinds = {item.get("type") for item in inside if item["kind"] == "accessory"}
    needed_by: dict[str, list[str]] = {}
    for name, text in used:
        for thing, count in _needs(text, counts).items():
            if counts.get(thing, 0) < count:
                what = thing if count == 1 else f"{count} × {thing}"
                needed_by.setdefault(what, []).append(name)
        for kind in _kinds_needed(json.loads(text)):
            if kind not in kinds:
                needed_by.setdefault(f"a {kind}", []).append(name)
    for thing, names in needed_by.items():
        yield f"{thing}, for {listed(names)}"


def _needs(text: str, counts: Mapping[str, int]) -> Counter[str]:
    """How many of each named thing a set-up uses: body, lens, lights, and the filters of the way that it is
    made with."""
    document, way = json.loads(text), plan_of_text(text).shown
    needed = Counter(filter(None, (document["camera"]["name"], document["lens"]["name"])))
    for light in document["lights"]:
        if light["name"]:
            needed[known_name(light["name"], counts)] += light["count"]
    needed.update(way.settings.stack.names)
    return needed


def _kinds_needed(document: dict[str, Any]) -> Iterator[str]:
    """Kinds of accessories that a set-up uses."""
    lights = document["lights"]
    if any(light.get("grid") for light in lights):
        yield "grid"
    if any(light.get("gel") for light in lights):
        yield "gel"
    if document["camera"].get("support") == "tripod":
        yield "tripod"
