"""Set-ups on the days they stand on: the light foreseen for one, taken on the Bench, and when it holds."""

import json
from dataclasses import dataclass
from datetime import timedelta
from functools import cached_property, lru_cache

from noggin.core.clock import MINUTE, later
from noggin.core.course import Slot, setup_at
from noggin.core.errors import Refused
from noggin.core.setup import SetUp
from noggin.core.units import Stops
from noggin.documents.change import with_light_of
from noggin.documents.shoot import KeptShoot, kept_shoot
from noggin.documents.shoot_entries import STEP_MIN
from noggin.services.clock import Clock
from noggin.services.setups import Opened, act_on
from noggin.services.shoots import Day, enter_shoot, open_shoot
from noggin.store.kept import NotKept, Store


@dataclass(frozen=True)
class OnDay:
    """A set-up's place on a day: the shoot, and its slot there."""

    shoot_id: int
    name: str
    at: int
    slot: Slot

    @cached_property
    def then(self) -> SetUp:
        """The set-up in the day's light at its start."""
        return setup_at(self.slot.stand, self.slot.start)

    @property
    def taken(self) -> bool:
        """Whether the set-up stands in that light already."""
        own, then = self.slot.setup.scene, self.then.scene
        near = abs(own.background - then.background) < TAKEN and abs(own.subject - then.subject) < TAKEN
        return near and own.moment is not None and own.moment.time == self.slot.start


TAKEN: Stops = 0.06
"""Two lights nearer than this are the same."""


def days_of(store: Store, clock: Clock, setup_id: int, setup: SetUp) -> tuple[OnDay, ...]:
    """The days that a set-up stands on."""
    days = ((number, _kept(text)) for number, text in store.shoots.texts().items())
    return tuple(
        OnDay(number, shoot.name, at, shoot.slot(one, setup, clock()))
        for number, shoot in days
        for at, one in enumerate(shoot.slots)
        if one.setup == setup_id
    )


@lru_cache(maxsize=64)
def _kept(text: str) -> KeptShoot:
    return kept_shoot(json.loads(text))


def take_light(store: Store, clock: Clock, setup_id: int, shoot_id: int, at: int) -> Opened:
    """The set-up in the light of its start on a day, as one step. Raises NotKept."""
    slot = _slot(open_shoot(store, clock, shoot_id), at, setup_id)
    then = setup_at(slot.stand, slot.start)
    label = f"light of {slot.start:%H:%M} taken"
    return act_on(store, clock, setup_id, label, lambda document: with_light_of(document, then))


def _slot(day: Day, at: int, setup_id: int | None = None) -> Slot:
    """A set-up's place on a day. Raises NotKept."""
    for one in day.slots:
        if one.slot and one.at == at and setup_id in (None, one.setup_id):
            return one.slot
    raise NotKept("That set-up does not stand there on that day any more.")


def move_to_best(store: Store, clock: Clock, shoot_id: int, at: int, way: str, least: Stops) -> Day:
    """A set-up to the nearest start from which a way holds to its end with so much in reserve, in steps of
    five minutes. Raises NotKept, Refused."""
    day = open_shoot(store, clock, shoot_id)
    slot = _slot(day, at)
    span = day.best(slot, way, least)
    if span is None:
        raise Refused("start", "there is no time of this day at which it holds")
    last = max(span.start, later(span.end, -slot.minutes * MINUTE))
    wanted = min(max(slot.start, span.start), last)
    step = timedelta(minutes=STEP_MIN)
    past = timedelta(minutes=wanted.minute % STEP_MIN, seconds=wanted.second)
    if past:
        back = later(wanted, -past)
        wanted = back if back >= span.start else later(wanted, step - past)
    return enter_shoot(store, clock, shoot_id, f"start-{at}", f"{wanted:%H:%M}")
