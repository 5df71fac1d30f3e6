"""The day as it is lived: which set-up is on, what to dial by the clock, what comes next."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property

from noggin.core.clock import apart, later
from noggin.core.daylight.forecast import day_light
from noggin.core.errors import Refused, Unreadable
from noggin.core.shoot.ladder import Rung, rung_at
from noggin.core.shoot.rebuild import rebuild
from noggin.core.shoot.timeline import Slot
from noggin.core.typed.parse_places import read_clock
from noggin.core.units import EV100, Stops
from noggin.core.wording import lasting
from noggin.services.clock import Clock
from noggin.services.day.shoots import PlacedSetUp, ShootDay, add_reading
from noggin.store.store import Store

THIRDS_MOST = 12
"""Thirds of a stop that the light can be said to have changed by, either way."""

SOON = timedelta(minutes=30)
"""Step of what comes by the clock."""

SOON_COUNT = 3

READ_ZONE = "sunlit"
"""What a light that changed is kept as a reading of; every side moves with it."""


@dataclass(frozen=True)
class Live:
    """A day at a moment. `on` is the set-up that is on, or comes first; `then` the one after it; `thirds`
    how far the light is from what was foreseen, as the photographer says."""

    day: ShootDay
    now: datetime
    is_clock: bool
    thirds: int
    on: PlacedSetUp
    then: PlacedSetUp | None

    @property
    def slot(self) -> Slot:
        """The set-up that is on, on its day."""
        return _slot(self.on)

    @property
    def begun(self) -> bool:
        """Whether it has started."""
        return self.slot.start <= self.now

    @property
    def over(self) -> bool:
        """Whether it is past its end."""
        return self.slot.end <= self.now

    @property
    def shift(self) -> Stops:
        """How much brighter it is than foreseen."""
        return self.thirds / 3

    @property
    def at(self) -> datetime:
        """The time whose light is dialled for: now, and before it starts the start."""
        return max(self.now, self.slot.start)

    @cached_property
    def rung(self) -> Rung:
        """What to dial."""
        return rung_at(self.slot, self.at, self.shift)

    @cached_property
    def soon(self) -> tuple[Rung, ...]:
        """What to dial in a while, if the light goes as foreseen from here."""
        times = [later(self.at, count * SOON) for count in range(1, SOON_COUNT + 1)]
        return tuple(rung_at(self.slot, time, self.shift) for time in times if time <= self.day.span[1])

    @property
    def until(self) -> str:
        """How long its way keeps working if the light goes as foreseen, in words; empty where it stays so,
        or the light does not."""
        return "" if self.thirds else self.day.until(self.slot)

    @cached_property
    def rebuild(self) -> tuple[str, ...]:
        """What must be rebuilt for the next one."""
        return rebuild(self.slot, _slot(self.then)) if self.then else ()

    @property
    def counts(self) -> str:
        """How long until the next one starts, in words."""
        return _counted(apart(self.now, _slot(self.then).start)) if self.then else ""

    @property
    def left(self) -> str:
        """How long the one that is on still has, or how long until it starts."""
        return _counted(apart(self.now, self.slot.end if self.begun else self.slot.start))

    @property
    def reading(self) -> EV100:
        """EV100 of the sunlit side as the photographer finds it."""
        light = day_light(self.day.place, self.now, self.day.readings)
        return float(getattr(light, READ_ZONE)) + self.shift


def _slot(placed: PlacedSetUp) -> Slot:
    if placed.slot is None:
        raise ValueError("an archived set-up is not on the day")
    return placed.slot


def _counted(until: timedelta) -> str:
    if until < timedelta(0):
        return f"{lasting(-until)} ago"
    days = until // timedelta(days=1)
    if days:
        return f"in {days} days" if days > 1 else "in a day"
    return f"in {lasting(until)}"


def live(day: ShootDay, clock: Clock, asked: Mapping[str, str]) -> Live | None:
    """The day now, or at another hour of it where `at` says one; `on` may name another set-up by its place,
    `thirds` says how far the light has moved. None where the day has no set-up."""
    if not day.slots:
        return None
    now = clock().astimezone(day.zone)
    is_today = now.date() == day.shoot.day() or day.begins <= now <= day.ends
    try:
        now, is_clock = day.shoot.at(read_clock(asked.get("at", ""))), False
    except Unreadable:
        is_clock = is_today
        if not is_today:
            now = day.begins
    slots = list(day.slots)
    chosen = next((placed for placed in slots if str(placed.index) == asked.get("on", "")), None)
    ahead = [placed for placed in slots if _slot(placed).end > now]
    on = chosen or (ahead[0] if ahead else slots[-1])
    place = slots.index(on)
    then = slots[place + 1] if place + 1 < len(slots) else None
    return Live(day, now, is_clock, _thirds(asked.get("thirds", "")), on, then)


def _thirds(text: str) -> int:
    try:
        return max(-THIRDS_MOST, min(int(text), THIRDS_MOST))
    except ValueError:
        return 0


def keep_reading(store: Store, clock: Clock, found: Live) -> None:
    """Keep the light as the photographer finds it now as a reading of the day. Raises NotKept, and Refused
    where it is not found but asked for: at another hour, or on another day."""
    if not found.is_clock:
        raise Refused("reading", "a reading is what you find now; on another day there is nothing to keep")
    add_reading(store, clock, found.day.id, f"{found.now:%H:%M}", READ_ZONE, f"{found.reading:.2f}")
