"""Settings that a method may use, as columns. Choosing among them is the business of `selection`."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import NO_FILTER, Stack
from noggin.core.planning.lighting import Settings
from noggin.core.planning.vectorized import Column
from noggin.core.planning.verdicts import within_just
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

Level = TypeVar("Level", float, Column)

Places = NDArray[np.intp]
"""For every setting on offer, its place in a tuple of steps."""

UNFILTERED = (NO_FILTER,)


@dataclass(frozen=True)
class Candidates:
    """Settings on offer: what the dials and the bag have, and for each setting its place in them.

    The four `…_at` columns have one entry for each setting.
    """

    apertures: tuple[DialStep, ...]
    times: tuple[DialStep, ...]
    isos: tuple[DialStep, ...]
    stacks: tuple[Stack, ...]
    aperture_at: Places
    time_at: Places
    iso_at: Places
    stack_at: Places

    def __len__(self) -> int:
        return len(self.aperture_at)

    @cached_property
    def aperture(self) -> Column:
        """Aperture of each setting."""
        return _stops(self.apertures)[self.aperture_at]

    @cached_property
    def time(self) -> Column:
        """Shutter time of each setting."""
        return _stops(self.times)[self.time_at]

    @cached_property
    def iso(self) -> Column:
        """ISO of each setting."""
        return _stops(self.isos)[self.iso_at]

    @cached_property
    def nd(self) -> Column:
        """Filter strength of each setting."""
        return _stops(self.stacks)[self.stack_at]

    @cached_property
    def filters(self) -> Places:
        """Number of filters of each setting."""
        return np.array([len(stack.names) for stack in self.stacks])[self.stack_at]

    def only(self, rows: Places) -> "Candidates":
        """Those in the given places."""
        columns = (self.aperture_at, self.time_at, self.iso_at, self.stack_at)
        return Candidates(
            self.apertures, self.times, self.isos, self.stacks, *(column[rows] for column in columns)
        )

    def settings(self, row: int) -> Settings:
        """One of them as it is dialled."""
        return Settings(
            self.times[self.time_at[row]],
            self.apertures[self.aperture_at[row]],
            self.isos[self.iso_at[row]],
            self.stacks[self.stack_at[row]],
        )


def daylight_error(setup: SetUp, settings: Settings) -> Stops:
    """Stops by which the background, in daylight alone, comes out brighter than meant."""
    return settings.level(setup.scene.background) - setup.intent.background_level


def at_the_wall(setup: SetUp) -> Settings:
    """Wanted aperture, lowest ISO and sync speed: the darkest picture within sync."""
    return Settings(setup.camera.sync, setup.wanted_aperture, setup.camera.iso_low)


def over_at_the_wall(setup: SetUp, background: Level) -> Level:
    """Stops by which a background of so many EV100 (one, or a column) lands over what is meant at the
    wall."""
    return background - setup.wall_ev - setup.intent.background_level


def least_surplus(setup: SetUp) -> Stops:
    """The picture is past sync where its background lands over what is meant by more than this at the wall:
    for a sliver nobody puts on a filter or gives up sync."""
    return within_just(setup)


def surplus(setup: SetUp) -> Stops:
    """Stops of background to take away at the wall; 0 where the wanted picture fits within sync."""
    over = over_at_the_wall(setup, setup.scene.background)
    return over if over > least_surplus(setup) else 0.0


def wall_alone(setup: SetUp) -> Candidates:
    """The settings at the wall, for a way that has none of its own."""
    return given(at_the_wall(setup))


def smaller(setup: SetUp) -> tuple[DialStep, ...]:
    """Every aperture of the lens that is smaller than the wanted one."""
    return tuple(step for step in setup.apertures if step.stops > setup.wanted_aperture.stops)


def every(
    setup: SetUp,
    apertures: tuple[DialStep, ...],
    times: tuple[DialStep, ...],
    isos: tuple[DialStep, ...] = (),
    bag: tuple[Stack, ...] = UNFILTERED,
) -> Candidates:
    """Every aperture with every time, ISO (none given: the lowest) and stack."""
    isos = isos or (setup.camera.iso_low,)
    places = _every(len(apertures), len(isos), len(bag), len(times))
    aperture, iso, stack, time = places
    return Candidates(apertures, times, isos, bag, aperture, time, iso, stack)


def given(settings: Settings) -> Candidates:
    """Settings that are given."""
    none = np.zeros(1, dtype=np.intp)
    return Candidates(
        (settings.aperture,),
        (settings.shutter,),
        (settings.iso,),
        (settings.stack,),
        none,
        none,
        none,
        none,
    )


@lru_cache(maxsize=256)
def _every(*counts: int) -> tuple[Places, ...]:
    """Places of every combination, the last rising fastest."""
    return tuple(places.ravel() for places in np.indices(counts, dtype=np.intp))


def _stops(steps: Sequence[DialStep] | Sequence[Stack]) -> Column:
    return np.array([step.stops for step in steps], dtype=np.float64)
