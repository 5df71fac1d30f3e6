"""What fits what: among the kit or a bag, and in one set-up."""

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

from noggin.core.gear import compatibility
from noggin.core.gear.compatibility import Compatibility
from noggin.core.setup.setup import SetUp
from noggin.core.wording import listed
from noggin.documents import gear as kit
from noggin.documents.kit import gear_of
from noggin.forms.choices import Choices, GearAlong
from noggin.forms.entry import Document
from noggin.services.gear.kit import KINDS_IN_ORDER, kind_of
from noggin.services.keeping.kept import KeptItem


@dataclass(frozen=True)
class CompatibilityTable:
    """What fits what: light by body and trigger, filter by lens, and filters that do not go together."""

    bodies: tuple[tuple[str, str], ...]
    firing: tuple[tuple[str, tuple[Compatibility, ...]], ...]
    lenses: tuple[str, ...]
    filters: tuple[tuple[str, tuple[Compatibility, ...]], ...]
    together: tuple[Compatibility, ...]

    @property
    def broken(self) -> tuple[str, ...]:
        """Every reason why a light is not fired in high-speed sync, once."""
        reasons = (reason for _, row in self.firing for found in row for reason in found.reasons)
        return tuple(dict.fromkeys(reasons))


def compatibility_table(items: Sequence[KeptItem]) -> CompatibilityTable:
    """What of some gear fits what."""
    return _table(tuple(json.dumps(dict(item.document)) for item in items))


@lru_cache(maxsize=8)
def _table(texts: tuple[str, ...]) -> CompatibilityTable:
    along = GearAlong(tuple(gear_of(json.loads(text)) for text in texts))
    bodies = [item.core() for item in along.all(kit.BodyItem)]
    parts = [item.core() for item in along.all(kit.TriggerItem)]
    triggers = [part for part in parts if isinstance(part, compatibility.Trigger)]
    pairs = [(body, trigger) for body in bodies for trigger in triggers]
    receivers = along.receivers()
    lenses = [item.core() for item in along.all(kit.LensItem)]
    rings = [item.core() for item in along.all(kit.RingItem)]
    filters = [item.core() for item in along.all(kit.FilterItem)]
    return CompatibilityTable(
        tuple((body.name, trigger.name) for body, trigger in pairs),
        tuple(
            (
                head.name,
                tuple(
                    compatibility.fires(body, trigger, head.core(), receivers) for body, trigger in pairs
                ),
            )
            for head in along.all(kit.LightItem)
        ),
        tuple(lens.name for lens in lenses),
        tuple(
            (item.name, tuple(compatibility.screws_on(item, lens, rings) for lens in lenses))
            for item in filters
        ),
        compatibility.stack_up(filters, rings),
    )


def lacking(items: Sequence[KeptItem]) -> tuple[str, ...]:
    """What is missing among some gear, in words: nothing to photograph with, to fire with, to stand on."""
    counts = {
        kind: sum(item.document["count"] for item in items if kind_of(item) == kind)
        for kind in KINDS_IN_ORDER
    }
    parts = [item.document.get("part") for item in items]
    found = []
    if not counts["body"]:
        found.append("Pack a camera body: none is in the bag.")
    if counts["light"] and "transmitter" not in parts:
        found.append("Pack a transmitter: without one the lights will not fire.")
    if counts["light"] > counts["stand"]:
        found.append(
            f"Pack more stands or bring helpers: {counts['light']} lights, {counts['stand']} stands."
        )
    if counts["stand"] > counts["sandbag"]:
        found.append(
            f"Pack more sandbags: {counts['stand']} stands, {counts['sandbag']} sandbags. A stand"
            " in wind falls on somebody."
        )
    return tuple(found)


def setup_conflicts(document: Document, setup: SetUp, choices: Choices) -> tuple[str, ...]:
    """What in one set-up does not go together, in words: gear that stays at home, where high-speed sync
    ends, groups and channels, filters that do not go on the lens."""
    along = choices.along
    if not along.gear:
        return ()
    found = (*_away(document, along), *_unfired(document, setup, along), *_unscrewed(document, along))
    return tuple(dict.fromkeys(found))


def _away(document: Document, along: GearAlong) -> Iterator[str]:
    """Gear of the set-up that is not in its bag."""
    if not document.get("bag"):
        return
    names = [document["camera"]["name"], document["lens"]["name"]]
    names += [light["name"] for light in document["lights"]]
    away = [name for name in names if name and along.named(kit.Item, name) is None]
    if away:
        yield f"Not in the bag: {listed(away)}."


def _unfired(document: Document, setup: SetUp, along: GearAlong) -> Iterator[str]:
    """Lights that are not fired in high-speed sync, and addresses that their trigger does not have."""
    for light in document["lights"]:
        head = along.named(kit.LightItem, light["name"])
        found = along.fires(document, head) if head else None
        if found and not found.clean:
            yield f"{light['name']}: {found.words}; {listed(found.reasons)}."
    item = along.named(kit.TriggerItem, document["camera"].get("trigger", ""))
    trigger = item.core() if item else None
    if isinstance(trigger, compatibility.Trigger):
        clashes = compatibility.addressed(setup.lights, trigger)
        yield from (f"{listed(clash.names)}: {clash.words}." for clash in clashes if clash.grade == "not")


def _unscrewed(document: Document, along: GearAlong) -> Iterator[str]:
    """Filters that do not go on the lens, or only with dark corners."""
    lens = along.named(kit.LensItem, document["lens"]["name"])
    if lens is None:
        return
    rings = [ring.core() for ring in along.all(kit.RingItem)]
    items = (along.named(kit.FilterItem, item["name"]) for item in document["filters"])
    for item in filter(None, items):
        found = compatibility.screws_on(item.core(), lens.core(), rings)
        if found.grade in ("not", "limited"):
            yield f"{listed(found.names, 'on')}: {found.words}."
