"""A set-up through its day in pictures: every half hour from first to last light, each by the method that
is best then."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime, timedelta, tzinfo
from functools import cached_property

from noggin.core.clock import apart, later, remembered
from noggin.core.daylight.day import light_span, part_of_day
from noggin.core.daylight.sun import sun_at
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Plan, Way
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.timeline import Placement, setup_at
from noggin.services.setups.proofs import LARGE, ProofRecipe, recipe_of
from noggin.services.setups.setups import OpenSetUp

EVERY = timedelta(minutes=30)
"""From one picture of the day to the next."""

SLIDES_MIN = 10
"""Minutes that one step of the hour's slider is."""


@dataclass(frozen=True)
class HourShown:
    """A set-up at one time of its day: how it is planned in the light of then."""

    day: "DayOfSetUp"
    time: datetime

    @property
    def placement(self) -> Placement:
        """Where it is taken."""
        return self.day.placement

    @cached_property
    def plan(self) -> Plan:
        """Every way in the light of then."""
        return _planned(self.placement, self.time)

    @property
    def setup(self) -> SetUp:
        """The set-up in that light."""
        return self.plan.setup

    @property
    def way(self) -> Way:
        """The way that is best then, or comes closest."""
        return self.plan.shown

    @property
    def works(self) -> bool:
        """Whether the picture can be made then."""
        return self.way.feasible

    @property
    def hour(self) -> str:
        """The time as it stands in addresses."""
        return self.time.strftime("%H:%M")

    @property
    def part(self) -> str:
        """Which part of the day it is."""
        place = self.placement.place
        return part_of_day(sun_at(place.lat, place.lon, self.time).height_deg).label

    @cached_property
    def recipe(self) -> ProofRecipe:
        """What its picture is computed from."""
        return recipe_of(self.setup, self.way, LARGE)


@remembered(256)
def _planned(placement: Placement, time: datetime) -> Plan:
    return plan(setup_at(placement, time))


@dataclass(frozen=True)
class DayOfSetUp:
    """A set-up where it is taken, from first to last light; `now` is the time that it is for."""

    placement: Placement
    now: datetime

    @cached_property
    def span(self) -> tuple[datetime, datetime]:
        """First and last light, out to the half hour."""
        place = self.placement.place
        return light_span(place.lat, place.lon, self.placement.day, self.placement.zone)

    @property
    def hours(self) -> tuple[HourShown, ...]:
        """Every half hour."""
        return tuple(HourShown(self, time) for time in self._times())

    def _times(self) -> Iterator[datetime]:
        time, last = self.span
        while time <= last:
            yield time
            time = later(time, EVERY)

    @property
    def steps(self) -> int:
        """Steps of the slider from first to last light."""
        return int(apart(*self.span) / timedelta(minutes=SLIDES_MIN))

    def at_step(self, step: int) -> HourShown:
        """The set-up at a step of the slider; the nearest that there is."""
        held = min(max(step, 0), self.steps)
        return HourShown(self, later(self.span[0], held * timedelta(minutes=SLIDES_MIN)))

    def step_of(self, time: datetime) -> int:
        """The step of the slider that is nearest to a time."""
        return min(max(round(apart(self.span[0], time) / timedelta(minutes=SLIDES_MIN)), 0), self.steps)

    def at(self, hour: str) -> HourShown | None:
        """One of the slider's hours by how it stands in addresses; None where there is none."""
        return next((one for one in map(self.at_step, range(self.steps + 1)) if one.hour == hour), None)

    def is_now(self, shown: HourShown) -> bool:
        """Whether an hour is the one that the set-up is for, to the half hour."""
        return abs(apart(shown.time, self.now)) <= EVERY / 2


def day_of(setup: SetUp) -> DayOfSetUp | None:
    """A set-up through the day that it is for; None where nobody said where and when."""
    moment = setup.scene.moment
    if moment is None:
        return None
    zone: tzinfo | None = moment.time.tzinfo
    assert zone is not None  # noqa: S101 - a moment's time has one
    return DayOfSetUp(Placement(setup, moment.place, moment.time.date(), zone), moment.time)


def in_that_light(opened: OpenSetUp, shown: HourShown) -> OpenSetUp:
    """A set-up on its page as it is at another hour; nothing of it is changed."""
    return replace(opened, plan=shown.plan)
