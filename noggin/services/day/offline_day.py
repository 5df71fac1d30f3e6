"""A set-up as it goes along in a file of its own: what to dial, as it is or on the next day that it is part
of, and what to bring."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from noggin.core.advice.cautions import Caution
from noggin.core.advice.states import states
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.ladder import Rung, ladder
from noggin.services.clock import Clock
from noggin.services.day.placements import days_of
from noggin.services.day.shoots import ShootDay, open_shoot
from noggin.services.day.slot_detail import SlotDetail, slot_detail
from noggin.services.setups.setups import OpenSetUp
from noggin.store.store import Store

BARE = "bare"
"""The choice of no modifier."""


@dataclass(frozen=True)
class SetUpAlone:
    """A set-up in its own light."""

    setup: SetUp
    way: Way
    ladder: tuple[Rung, ...]
    cautions: tuple[tuple[Caution, ...], ...]
    clock: tuple[Rung, ...] = ()


@dataclass(frozen=True)
class Along:
    """What goes along: the set-up in its light, the day that it is part of (None: it is as it was planned),
    what stands in each group of its figures, and what to bring."""

    look: SetUpAlone | SlotDetail
    day: ShootDay | None
    states: Mapping[str, str]
    bring: tuple[str, ...]


def along(store: Store, clock: Clock, opened: OpenSetUp) -> Along:
    """A set-up to take along, on the next day that it is part of."""
    placed = _on_next_day(store, clock, opened)
    way = opened.plan.shown
    look = placed or SetUpAlone(opened.setup, way, ladder(opened.setup, way), opened.cautions(way))
    bring = tuple(dict.fromkeys(name for name in _parts(opened) if name))
    return Along(look, placed.day if placed else None, states(look.setup), bring)


def _on_next_day(store: Store, clock: Clock, opened: OpenSetUp) -> SlotDetail | None:
    now = clock()
    placed = days_of(store, clock, opened.id, opened.setup)
    ahead = [one for one in placed if one.slot.end > now]
    if not ahead:
        return None
    first = min(ahead, key=lambda one: one.slot.start)
    return slot_detail(open_shoot(store, clock, first.shoot_id), first.index, "", "")


def _parts(opened: OpenSetUp) -> Iterator[str]:
    document = opened.document
    for part in ("camera", "lens"):
        yield document[part].get("name", "")
    yield document["camera"].get("trigger", "")
    for used in document.get("filters", ()):
        yield used["name"]
    for index, light in enumerate(document["lights"]):
        yield light.get("name", "")
        modifier = opened.entries[f"modifier-{index}"]
        chosen = modifier.text(document)
        if chosen not in ("", BARE):
            yield modifier.options(document)[chosen]
