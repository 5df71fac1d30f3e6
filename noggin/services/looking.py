"""One set-up of a day looked at closely: sun and subject, best time, what to dial as the light changes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache

from noggin.core.clock import MINUTE, apart, later
from noggin.core.course import Slot, Span, planned, setup_at
from noggin.core.day import sun_side, turns
from noggin.core.daylight import Anchor
from noggin.core.ladder import Rung, by_clock, ladder
from noggin.core.plan import Way
from noggin.core.setup import SetUp
from noggin.core.spot import Outlook, anchor_at
from noggin.core.units import Stops
from noggin.services.shoots import Day, Placed

LEASTS: dict[str, tuple[Stops, str]] = {
    "0": (0.0, "none to spare"),
    "third": (1 / 3, "⅓ stop to spare"),
    "two_thirds": (2 / 3, "⅔ stop to spare"),
    "one": (1.0, "1 stop to spare"),
    "two": (2.0, "2 stops to spare"),
}
"""Reserves that a best time can be asked for with."""

DEFAULT_LEAST = "third"

RUNGS: dict[str, tuple[Stops, str]] = {"thirds": (1 / 3, "in thirds"), "halves": (1 / 2, "in halves")}
"""Steps of the ladder."""

CLOCK_STEP = timedelta(minutes=15)
CLOCK_BEFORE, CLOCK_AFTER = timedelta(minutes=30), timedelta(minutes=90)
"""From how long before a set-up starts to how long after it ends the table by the clock goes."""


@dataclass(frozen=True)
class Look:
    """A set-up of a day with the light at its start."""

    day: Day
    placed: Placed
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
        return setup_at(self.slot.stand, self.slot.start)

    @property
    def light(self) -> Outlook:
        """The day's light at its start."""
        return self.slot.stand.outlook(self.slot.start)

    @property
    def facing(self) -> float | None:
        """The way the camera looks, degrees from north."""
        return self.slot.stand.place.facing_deg

    @property
    def side(self) -> str:
        """From which side the sun comes, in words; empty where the camera's way is not said."""
        return "" if self.facing is None else sun_side(self.light.sun, self.facing)

    @cached_property
    def turns(self) -> Sequence[tuple[datetime, str]]:
        """From when the sun comes from which side, and when shade comes and goes, while there is light."""
        stand, (first, last) = self.slot.stand, self.day.span
        found = [*stand.spot.turns(stand.day, self.day.zone)]
        if self.facing is not None:
            found += turns(stand.place.lat, stand.place.lon, stand.day, self.day.zone, self.facing)
        return sorted((time, words) for time, words in found if first <= time <= last)

    @property
    def read_at(self) -> str:
        """When its own zones were read that day; empty where the forecast stands for them."""
        own = self.slot.stand.reckoned["background"]
        return f"{own.time:%H:%M}" if own and own.read else ""

    @property
    def anchor(self) -> Anchor | None:
        """The reading that shifts the light at its start."""
        return anchor_at(self.slot.stand.place, self.slot.stand.readings, self.slot.start)

    @property
    def anchor_age(self) -> str:
        """How old that reading is by then, in words."""
        if self.anchor is None:
            return ""
        hours, minutes = divmod(round(apart(self.anchor.taken, self.slot.start) / MINUTE), 60)
        return f"{hours} h {minutes:02} min" if hours else f"{minutes} min"

    @property
    def best(self) -> Span | None:
        """When its way holds with so much in reserve."""
        return self.best_of(self.way.way)

    def best_of(self, way: str) -> Span | None:
        """When a way by its key holds with so much in reserve."""
        return self.day.best(self.slot, way, LEASTS[self.least][0])

    def inside(self, span: Span) -> bool:
        """Whether the set-up lies inside a span as it stands."""
        return span.start <= self.slot.start and self.slot.end <= span.end

    @cached_property
    def ladder(self) -> tuple[Rung, ...]:
        """What to dial when it grows brighter or darker."""
        return _ladder(self.slot, RUNGS[self.rungs][0])

    @cached_property
    def clock(self) -> tuple[Rung, ...]:
        """What to dial by the clock."""
        first, last = self.day.span
        at = max(first, later(self.slot.start, -CLOCK_BEFORE))
        times = []
        while at <= min(last, later(self.slot.end, CLOCK_AFTER)):
            times.append(at)
            at = later(at, CLOCK_STEP)
        return _by_clock(self.slot, tuple(times))


@lru_cache(maxsize=64)
def _ladder(slot: Slot, step: Stops) -> tuple[Rung, ...]:
    return ladder(setup_at(slot.stand, slot.start), planned(slot), step)


@lru_cache(maxsize=64)
def _by_clock(slot: Slot, times: tuple[datetime, ...]) -> tuple[Rung, ...]:
    return by_clock(slot, times)


def look_at(day: Day, at: int | None, least: str, rungs: str) -> Look | None:
    """The set-up at a place in the shoot, else the first by the clock; None where there is none."""
    there = [one for one in day.slots if one.at == at] or list(day.slots[:1])
    if not there or there[0].slot is None:
        return None
    least, rungs = least if least in LEASTS else DEFAULT_LEAST, rungs if rungs in RUNGS else "thirds"
    return Look(day, there[0], there[0].slot, least, rungs)
