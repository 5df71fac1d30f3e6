"""One set-up of a day in detail: sun and subject, best time, what to dial as the light changes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache

from noggin.core.advice.cautions import MATTERS, Caution, weighed
from noggin.core.clock import apart, later
from noggin.core.daylight.day import sun_side, turns
from noggin.core.daylight.forecast import Forecast, anchor_at
from noggin.core.daylight.sky import Anchor
from noggin.core.planning.way import Way, WayKind
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.ladder import Rung, by_clock, ladder
from noggin.core.shoot.timeline import Slot, Span, planned, setup_at
from noggin.core.units import Stops
from noggin.core.wording import lasting
from noggin.services.day.shoots import PlacedSetUp, ShootDay

LEAST_RESERVES: dict[str, tuple[Stops, str]] = {
    "0": (0.0, "none to spare"),
    "third": (1 / 3, "1/3 stop to spare"),
    "two_thirds": (2 / 3, "2/3 stop to spare"),
    "one": (1.0, "1 stop to spare"),
    "two": (2.0, "2 stops to spare"),
}
"""Reserves that a best time can be asked for with."""

DEFAULT_LEAST = "third"

RUNGS: dict[str, tuple[Stops, str]] = {"thirds": (1 / 3, "in thirds"), "halves": (1 / 2, "in halves")}
"""Steps of the ladder."""

DEFAULT_RUNGS = "thirds"

CLOCK_STEP = timedelta(minutes=15)
CLOCK_BEFORE, CLOCK_AFTER = timedelta(minutes=30), timedelta(minutes=90)
"""From how long before a set-up starts to how long after it ends the table by the clock goes."""


@dataclass(frozen=True)
class SlotDetail:
    """A set-up of a day with the light at its start."""

    day: ShootDay
    placed: PlacedSetUp
    slot: Slot
    least: str
    rungs: str

    @property
    def way(self) -> Way:
        """The way that is planned."""
        return planned(self.slot)

    @property
    def setup(self) -> SetUp:
        """The set-up in the light of its start."""
        return setup_at(self.slot.placement, self.slot.start)

    @property
    def light(self) -> Forecast:
        """The day's light at its start."""
        return self.slot.placement.light_at(self.slot.start)

    @property
    def facing(self) -> float | None:
        """The way the camera looks, degrees from north."""
        return self.slot.placement.place.facing_deg

    @property
    def side(self) -> str:
        """From which side the sun comes, in words; empty where the camera's way is not said."""
        return "" if self.facing is None else sun_side(self.light.sun, self.facing)

    @cached_property
    def turns(self) -> Sequence[tuple[datetime, str]]:
        """From when the sun comes from which side, and when shade comes and goes, while there is light."""
        placement, (first, last) = self.slot.placement, self.day.span
        found = [*placement.surroundings.turns(placement.day, self.day.zone)]
        if self.facing is not None:
            place = placement.place
            found += turns(place.lat, place.lon, placement.day, self.day.zone, self.facing)
        return sorted((time, words) for time, words in found if first <= time <= last)

    @property
    def read_at(self) -> str:
        """When its own zones were read that day; empty where they come from the forecast."""
        baseline = self.slot.placement.baselines["background"]
        return f"{baseline.time:%H:%M}" if baseline and baseline.read else ""

    @property
    def anchor(self) -> Anchor | None:
        """The reading that shifts the light at its start."""
        return anchor_at(self.slot.placement.place, self.slot.placement.readings, self.slot.start)

    @property
    def anchor_age(self) -> str:
        """How old that reading is by then, in words."""
        if self.anchor is None:
            return ""
        return lasting(apart(self.anchor.taken, self.slot.start))

    @property
    def cautions(self) -> tuple[tuple[Caution, ...], tuple[Caution, ...], tuple[Caution, ...]]:
        """What to watch out for: what matters most, the rest, and what was read once for this day."""
        read = self.day.shoot.read_cautions
        found = weighed(self.setup, self.way)
        unread = [caution for caution in found if caution.key not in read]
        quiet = tuple(caution for caution in found if caution.key in read)
        return tuple(unread[:MATTERS]), tuple(unread[MATTERS:]), quiet

    @property
    def best(self) -> Span | None:
        """When its way holds with so much in reserve."""
        return self.best_of(self.way.kind)

    def best_of(self, kind: WayKind) -> Span | None:
        """When a method holds with so much in reserve."""
        return self.day.best(self.slot, kind, LEAST_RESERVES[self.least][0])

    def inside(self, span: Span) -> bool:
        """Whether the whole set-up is inside a span."""
        return span.start <= self.slot.start and self.slot.end <= span.end

    @cached_property
    def ladder(self) -> tuple[Rung, ...]:
        """What to dial when it grows brighter or darker."""
        return _ladder(self.slot, RUNGS[self.rungs][0])

    @cached_property
    def clock(self) -> tuple[Rung, ...]:
        """What to dial by the clock."""
        first, last = self.day.span
        time = max(first, later(self.slot.start, -CLOCK_BEFORE))
        times = []
        while time <= min(last, later(self.slot.end, CLOCK_AFTER)):
            times.append(time)
            time = later(time, CLOCK_STEP)
        return _by_clock(self.slot, tuple(times))


@lru_cache(maxsize=64)
def _ladder(slot: Slot, step: Stops) -> tuple[Rung, ...]:
    return ladder(setup_at(slot.placement, slot.start), planned(slot), step)


@lru_cache(maxsize=64)
def _by_clock(slot: Slot, times: tuple[datetime, ...]) -> tuple[Rung, ...]:
    return by_clock(slot, times)


def slot_detail(day: ShootDay, index: int | None, least: str, rungs: str) -> SlotDetail | None:
    """The set-up at a place in the shoot, else the first by the clock; None where there is none."""
    there = [placed for placed in day.slots if placed.index == index] or list(day.slots[:1])
    if not there or there[0].slot is None:
        return None
    least = least if least in LEAST_RESERVES else DEFAULT_LEAST
    rungs = rungs if rungs in RUNGS else DEFAULT_RUNGS
    return SlotDetail(day, there[0], there[0].slot, least, rungs)
