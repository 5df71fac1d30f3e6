"""Set-ups on the days they are part of: the light foreseen for one, taken on the Bench, and when it
holds."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache

from noggin.core.clock import MINUTE, later
from noggin.core.errors import Refused
from noggin.core.planning.way import WayKind
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.timeline import Slot, setup_at
from noggin.core.units import Stops
from noggin.documents.shoot import KeptShoot, kept_shoot
from noggin.forms.change import with_light_of
from noggin.forms.shoot_entries import STEP_MIN
from noggin.services.clock import Clock
from noggin.services.day.shoots import ShootDay, enter_shoot, open_shoot
from noggin.services.keeping.results import ListedSetUp
from noggin.services.setups.setups import OpenSetUp, change_setup
from noggin.store.repository import Holder, NotKept
from noggin.store.store import Store

SAME_LIGHT: Stops = 0.06
"""Two lights nearer than this are the same."""


@dataclass(frozen=True)
class SetUpOnDay:
    """A set-up's place on a day: the shoot, and its slot there."""

    shoot_id: int
    name: str
    index: int
    slot: Slot

    @cached_property
    def then(self) -> SetUp:
        """The set-up in the day's light at its start."""
        return setup_at(self.slot.placement, self.slot.start)

    @property
    def taken(self) -> bool:
        """Whether the set-up has that light already."""
        own, then = self.slot.setup.scene, self.then.scene
        apart = (own.background - then.background, own.subject - then.subject)
        near = all(abs(stops) < SAME_LIGHT for stops in apart)
        return near and own.moment is not None and own.moment.time == self.slot.start


def days_of(store: Store, clock: Clock, setup_id: int, setup: SetUp) -> tuple[SetUpOnDay, ...]:
    """The days that a set-up is part of."""
    texts = store.shoots.holding("slots", "setup", setup_id)
    days = ((number, _kept(text)) for number, text in texts.items())
    return tuple(
        SetUpOnDay(number, shoot.name, index, shoot.slot(slot, setup, clock()))
        for number, shoot in days
        for index, slot in enumerate(shoot.slots)
        if slot.setup == setup_id
    )


def by_day(
    store: Store, rows: Sequence[ListedSetUp]
) -> tuple[tuple[Holder | None, tuple[ListedSetUp, ...]], ...]:
    """Listed set-ups under the day each is part of (the one worked on last; None: of no day), in the order
    in which the days come up; those of no day come last."""
    days = store.shoots.holders("slots", "setup", [row.id for row in rows])
    groups: dict[Holder | None, list[ListedSetUp]] = {}
    for row in rows:
        groups.setdefault(days.get(row.id), []).append(row)
    last = groups.pop(None, None)
    return tuple((day, tuple(own)) for day, own in [*groups.items(), *([(None, last)] if last else [])])


@dataclass(frozen=True)
class SetUpSpan:
    """From when to when a set-up is on a day, by its number, and the shoot's name."""

    setup_id: int
    start: datetime
    end: datetime
    shoot: str


def all_spans(store: Store) -> tuple[SetUpSpan, ...]:
    """Every set-up on every day; no set-up is opened for it."""
    shoots = (_kept(text) for text in store.shoots.texts().values())
    return tuple(
        SetUpSpan(slot.setup, start, later(start, timedelta(minutes=slot.minutes)), shoot.name)
        for shoot in shoots
        for slot in shoot.slots
        for start in (shoot.at(slot.start),)
    )


@lru_cache(maxsize=64)
def _kept(text: str) -> KeptShoot:
    return kept_shoot(json.loads(text))


def use_forecast(store: Store, clock: Clock, setup_id: int, shoot_id: int, index: int) -> OpenSetUp:
    """The set-up in the light of its start on a day, as one step. Raises NotKept."""
    with store.write_transaction():
        slot = _slot(open_shoot(store, clock, shoot_id), index, setup_id)
        then = setup_at(slot.placement, slot.start)
        label = f"light of {slot.start:%H:%M} taken"
        return change_setup(store, clock, setup_id, label, lambda document: with_light_of(document, then))


def _slot(day: ShootDay, index: int, setup_id: int | None = None) -> Slot:
    """A set-up's place on a day. Raises NotKept."""
    for placed in day.slots:
        if placed.slot and placed.index == index and setup_id in (None, placed.setup_id):
            return placed.slot
    raise NotKept("That set-up is no longer there on that day.")


def move_to_best(
    store: Store, clock: Clock, shoot_id: int, index: int, kind: WayKind, least: Stops
) -> ShootDay:
    """A set-up to the nearest start from which a method holds to its end with so much in reserve, in steps
    of five minutes. Raises NotKept, Refused."""
    with store.write_transaction():
        day = open_shoot(store, clock, shoot_id)
        slot = _slot(day, index)
        span = day.best(slot, kind, least)
        if span is None:
            raise Refused("start", "it works at no time on this day")
        last = max(span.start, later(span.end, -slot.minutes * MINUTE))
        wanted = min(max(slot.start, span.start), last)
        step = timedelta(minutes=STEP_MIN)
        past = timedelta(minutes=wanted.minute % STEP_MIN, seconds=wanted.second)
        if past:
            back = later(wanted, -past)
            wanted = back if back >= span.start else later(wanted, step - past)
        return enter_shoot(store, clock, shoot_id, f"start-{index}", f"{wanted:%H:%M}")
