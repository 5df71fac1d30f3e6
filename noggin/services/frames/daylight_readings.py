"""Use cases of the daylight that frames found: a reading of the day that a set-up is part of."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from noggin.core.daylight.forecast import day_light
from noggin.core.shoot.timeline import setup_at
from noggin.core.units import EV100, Stops
from noggin.services.clock import Clock
from noggin.services.day.live import READ_ZONE
from noggin.services.day.placements import days_of
from noggin.services.day.shoots import add_reading, open_shoot
from noggin.services.frames.take import OpenTake
from noggin.store.repository import NotKept
from noggin.store.store import Store


@dataclass(frozen=True)
class FoundDaylight:
    """What frames say of the daylight of a day that the set-up is part of: the shoot, when, and EV100 of
    its sunlit side, moved by as much as the background is off."""

    shoot_id: int
    name: str
    time: datetime
    ev: EV100
    shift: Stops


def day_readings(store: Store, clock: Clock, take: OpenTake) -> tuple[FoundDaylight, ...]:
    """One for each shoot that is today."""
    return tuple(_day_readings(store, clock, take))


def _day_readings(store: Store, clock: Clock, take: OpenTake) -> Iterator[FoundDaylight]:
    if not take.findings or not take.last or take.is_rehearsal or take.likely:
        return
    offset, _ = take.findings.estimate.daylight_offset("background")
    for placed in days_of(store, clock, take.id, take.setup):
        time = take.last.taken.astimezone(placed.slot.start.tzinfo)
        if placed.slot.start.date() != time.date():
            continue
        then = setup_at(placed.slot.placement, time)
        shift = take.setup.scene.background + offset - then.scene.background
        day = open_shoot(store, clock, placed.shoot_id)
        sunlit = float(getattr(day_light(day.place, time, day.readings), READ_ZONE))
        yield FoundDaylight(placed.shoot_id, placed.name, time, sunlit + shift, shift)


def keep_as_reading(store: Store, clock: Clock, take: OpenTake, shoot_id: int) -> OpenTake:
    """The daylight that frames found as a reading of a day; what comes after is foreseen from it. Raises
    NotKept."""
    for reading in day_readings(store, clock, take):
        if reading.shoot_id == shoot_id:
            add_reading(store, clock, shoot_id, f"{reading.time:%H:%M}", READ_ZONE, f"{reading.ev:.2f}")
            return take
    raise NotKept("That day is not today, or has the set-up no longer.")
