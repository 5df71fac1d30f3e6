"""The settings each way may use, as columns. Choosing among them is the business of `choosing`."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from noggin.core import exposure
from noggin.core.columns import Column
from noggin.core.dials import Step, iso_dial
from noggin.core.filters import NO_FILTER, Filter, Stack, stacks
from noggin.core.lighting import Settings
from noggin.core.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

Places = NDArray[np.intp]
"""For every setting on offer, its place in a tuple of steps."""

UNFILTERED = (NO_FILTER,)


@dataclass(frozen=True)
class Offered:
    """Settings on offer: what the dials and the bag have, and for each setting its place in them.

    The four `…_at` columns have one entry for each setting.
    """

    apertures: tuple[Step, ...]
    times: tuple[Step, ...]
    isos: tuple[Step, ...]
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

    def upto(self, row: int) -> "Offered":
        """Only the first ones, `row` of them."""
        columns = (self.aperture_at, self.time_at, self.iso_at, self.stack_at)
        cut = (column[:row] for column in columns)
        return Offered(self.apertures, self.times, self.isos, self.stacks, *cut)


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


def surplus(setup: SetUp) -> Stops:
    """Stops of background to take away at the wall; 0 where the wanted picture fits within sync."""
    over = (
        exposure.ambient_level(setup.scene.background, setup.wall_ev, 0.0) - setup.intent.background_level
    )
    return over if over > setup.dial_step / 2 + TOLERANCE else 0.0


def within_sync(setup: SetUp) -> Offered:
    """Wanted aperture, slowest time to sync speed, ISO rising from the lowest."""
    camera = setup.camera
    isos = iso_dial().between(camera.iso_low.stops, camera.iso_high.stops)
    return _trimmed(setup, (setup.wanted_aperture,), isos, UNFILTERED)


def stop_down(setup: SetUp) -> Offered:
    """Sync speed, lowest ISO, every aperture smaller than wanted."""
    return _each(setup, _smaller(setup), (setup.camera.sync,))


def nd(setup: SetUp) -> Offered:
    """Wanted aperture, lowest ISO, one or two filters, sync speed or slower to trim."""
    return _trimmed(setup, (setup.wanted_aperture,), (setup.camera.iso_low,), strengths(setup.filters))


def mixed(setup: SetUp) -> Offered:
    """One or two filters and an aperture smaller than wanted, sync speed or slower to trim."""
    return _trimmed(setup, _smaller(setup), (setup.camera.iso_low,), strengths(setup.filters))


def hss(setup: SetUp) -> Offered:
    """Wanted aperture, lowest ISO, no filter, times past sync; at the fastest the aperture closes.

    With nothing to take away only the first time past sync is shown.
    """
    camera, wanted = setup.camera, setup.wanted_aperture
    past = camera.shutters.between(camera.sync.stops, camera.fastest.stops)[1:]
    if not surplus(setup):
        past = past[:1]
    fastest = Settings(camera.fastest, wanted, camera.iso_low)
    closing = past and too_bright(setup, fastest)
    apertures = (wanted, *_smaller(setup)) if closing else (wanted,)
    last = len(past) - 1
    places = [(0, at) for at in range(len(past))] + [(at, last) for at in range(1, len(apertures))]
    return _columns(setup, apertures, past, places)


def wall_alone(setup: SetUp) -> Offered:
    """The settings at the wall, for a way that has none of its own."""
    return _each(setup, (setup.wanted_aperture,), (setup.camera.sync,))


@lru_cache(maxsize=256)
def strengths(bag: Sequence[Filter]) -> tuple[Stack, ...]:
    """One stack for each strength the bag can give: fewest filters first, then bag order."""
    first: dict[float, Stack] = {}
    for stack in stacks(bag):
        first.setdefault(round(stack.stops, 9), stack)
    return tuple(first.values())


def _smaller(setup: SetUp) -> tuple[Step, ...]:
    return tuple(step for step in setup.apertures if step.stops > setup.wanted_aperture.stops)


def _each(setup: SetUp, apertures: tuple[Step, ...], times: tuple[Step, ...]) -> Offered:
    places = [(aperture, time) for aperture in range(len(apertures)) for time in range(len(times))]
    return _columns(setup, apertures, times, places)


def _columns(
    setup: SetUp, apertures: tuple[Step, ...], times: tuple[Step, ...], places: list[tuple[int, int]]
) -> Offered:
    """Pairs of aperture and time at the lowest ISO without a filter."""
    columns = np.array(places, dtype=np.intp).reshape(-1, 2)
    none = np.zeros(len(columns), dtype=np.intp)
    isos = (setup.camera.iso_low,)
    return Offered(apertures, times, isos, UNFILTERED, columns[:, 0], columns[:, 1], none, none)


def _trimmed(
    setup: SetUp, apertures: tuple[Step, ...], isos: tuple[Step, ...], bag: tuple[Stack, ...]
) -> Offered:
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
    return Offered(apertures, times, isos, bag, aperture[row], time, iso[row], stack[row])


@lru_cache(maxsize=256)
def _every(apertures: int, isos: int, stacks: int) -> tuple[Places, Places, Places]:
    """Places of every combination, ISO rising faster than aperture, stacks fastest."""
    aperture, iso, stack = np.indices((apertures, isos, stacks), dtype=np.intp)
    return aperture.ravel(), iso.ravel(), stack.ravel()


def _stops(steps: Sequence[Step] | Sequence[Stack]) -> Column:
    return np.array([step.stops for step in steps], dtype=np.float64)
