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
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

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

    def settings(self, row: int) -> Settings:
        """One of them as it is dialled."""
        return Settings(
            self.times[self.time_at[row]],
            self.apertures[self.aperture_at[row]],
            self.isos[self.iso_at[row]],
            self.stacks[self.stack_at[row]],
        )


def background_error(setup: SetUp, settings: Settings) -> Stops:
    """Stops by which the background, in daylight alone, comes out brighter than meant."""
    return settings.level(setup.scene.background) - setup.intent.background_level


def reaches_background(setup: SetUp, settings: Settings) -> bool:
    """Whether the background lands within half a dial step of where it is meant."""
    return abs(background_error(setup, settings)) <= setup.dial_step / 2 + TOLERANCE


def at_the_wall(setup: SetUp) -> Settings:
    """Wanted aperture, lowest ISO and sync speed: the darkest picture within sync."""
    return Settings(setup.camera.sync, setup.wanted_aperture, setup.camera.iso_low)


def too_bright(setup: SetUp, settings: Settings) -> bool:
    """Whether the background lands over what is meant by more than half a dial step."""
    return background_error(setup, settings) > 0 and not reaches_background(setup, settings)


def over_at_the_wall(setup: SetUp, background: Level) -> Level:
    """Stops by which a background of so many EV100 (one, or a column) lands over what is meant at the
    wall."""
    return background - setup.wall_ev - setup.intent.background_level


def least_surplus(setup: SetUp) -> Stops:
    """The picture is past sync where its background lands over what is meant by more than this at the
    wall."""
    return setup.dial_step / 2 + TOLERANCE


def surplus(setup: SetUp) -> Stops:
    """Stops of background to take away at the wall; 0 where the wanted picture fits within sync."""
    over = over_at_the_wall(setup, setup.scene.background)
    return over if over > least_surplus(setup) else 0.0


def wall_alone(setup: SetUp) -> Candidates:
    """The settings at the wall, for a way that has none of its own."""
    return each(setup, (setup.wanted_aperture,), (setup.camera.sync,))


def smaller(setup: SetUp) -> tuple[DialStep, ...]:
    """Every aperture of the lens that is smaller than the wanted one."""
    return tuple(step for step in setup.apertures if step.stops > setup.wanted_aperture.stops)


def each(setup: SetUp, apertures: tuple[DialStep, ...], times: tuple[DialStep, ...]) -> Candidates:
    """Every aperture with every time, at the lowest ISO without a filter."""
    places = [(aperture, time) for aperture in range(len(apertures)) for time in range(len(times))]
    return pairs(setup, apertures, times, places)


def pairs(
    setup: SetUp,
    apertures: tuple[DialStep, ...],
    times: tuple[DialStep, ...],
    places: list[tuple[int, int]],
) -> Candidates:
    """Pairs of aperture and time at the lowest ISO without a filter."""
    columns = np.array(places, dtype=np.intp).reshape(-1, 2)
    none = np.zeros(len(columns), dtype=np.intp)
    isos = (setup.camera.iso_low,)
    return Candidates(apertures, times, isos, UNFILTERED, columns[:, 0], columns[:, 1], none, none)


def trimmed(
    setup: SetUp, apertures: tuple[DialStep, ...], isos: tuple[DialStep, ...], bag: tuple[Stack, ...]
) -> Candidates:
    """Every aperture, ISO and stack with the time from the slowest to sync that brings the background
    closest to what is meant; both neighbours where they are equally close. No other time can win: all
    else being equal, the background decides."""
    times = setup.camera.times_to_sync
    aperture, iso, stack = _every(len(apertures), len(isos), len(bag))
    wanted = setup.scene.background - setup.intent.background_level
    wanted_time = wanted - _stops(apertures)[aperture] + _stops(isos)[iso] - _stops(bag)[stack]
    place = (wanted_time - times[0].stops) / setup.dial_step
    place = np.minimum(np.maximum(place, 0.0), len(times) - 1.0)
    below = np.floor(place)
    past = place - below  # 0 on a step, ½ between two that are equally close
    row = np.arange(len(place))
    time = (below + (past > 0.5 + TOLERANCE)).astype(np.intp)
    tied = np.flatnonzero(np.abs(past - 0.5) <= TOLERANCE)
    if len(tied):
        row = np.concatenate([row, tied])
        time = np.concatenate([time, time[tied] + 1])
        order = row.argsort(kind="stable")
        row, time = row[order], time[order]
    return Candidates(apertures, times, isos, bag, aperture[row], time, iso[row], stack[row])


@lru_cache(maxsize=256)
def _every(apertures: int, isos: int, stacks: int) -> tuple[Places, Places, Places]:
    """Places of every combination, ISO rising faster than aperture, stacks fastest."""
    aperture, iso, stack = np.indices((apertures, isos, stacks), dtype=np.intp)
    return aperture.ravel(), iso.ravel(), stack.ravel()


def _stops(steps: Sequence[DialStep] | Sequence[Stack]) -> Column:
    return np.array([step.stops for step in steps], dtype=np.float64)
