"""Settings that a method may use. Choosing among them is the business of `selection`."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import product
from typing import NamedTuple

from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import NO_FILTER, Stack
from noggin.core.planning.lighting import Settings
from noggin.core.planning.verdicts import within_just
from noggin.core.setup.setup import SetUp
from noggin.core.units import EV100, Stops

UNFILTERED = (NO_FILTER,)

NOISE_DIGITS = 9
"""Digits of a stop beyond which two figures are the same: what is left is the noise of binary fractions."""


class DimmingRow(NamedTuple):
    """Aperture, ISO and filters by their places among those on offer, which is the order that they are
    tried in where nothing else tells them apart."""

    aperture_at: int
    iso_at: int
    stack_at: int


@dataclass(frozen=True)
class Dimming:
    """What aperture, ISO and filters take from daylight and flash alike, in stops. Of all that take as
    much, `nearest` has the aperture nearest the wanted one, which is `off` stops from it; `lightest` of
    those that are as near has the fewest filters (`filters` of them)."""

    stops: Stops
    off: Stops
    nearest: DimmingRow
    lightest: DimmingRow
    filters: int


@dataclass(frozen=True)
class Candidates:
    """Settings on offer: every aperture with every ISO, stack of filters and time, the times rising."""

    apertures: tuple[DialStep, ...]
    isos: tuple[DialStep, ...]
    stacks: tuple[Stack, ...]
    times: tuple[DialStep, ...]

    def __len__(self) -> int:
        return len(self.apertures) * len(self.isos) * len(self.stacks) * len(self.times)

    def dimmings(self, wanted: Stops) -> tuple[Dimming, ...]:
        """Every strength of aperture, ISO and filters together, with those that are worth taking where the
        aperture wanted is at so many stops."""
        return _dimmings(
            tuple(step.stops for step in self.apertures),
            tuple(step.stops for step in self.isos),
            tuple((stack.stops, len(stack.names)) for stack in self.stacks),
            wanted,
        )

    def settings(self, row: DimmingRow, time_at: int) -> Settings:
        """One of them as it is dialled."""
        return Settings(
            self.times[time_at],
            self.apertures[row.aperture_at],
            self.isos[row.iso_at],
            self.stacks[row.stack_at],
        )


def daylight_error(setup: SetUp, settings: Settings) -> Stops:
    """Stops by which the background, in daylight alone, comes out brighter than meant."""
    return settings.level(setup.scene.background) - setup.intent.background_level


def at_the_wall(setup: SetUp) -> Settings:
    """Wanted aperture, lowest ISO and sync speed: the darkest picture within sync."""
    return Settings(setup.camera.sync, setup.wanted_aperture, setup.camera.iso_low)


def over_at_the_wall(setup: SetUp, background: EV100) -> Stops:
    """Stops by which a background lands over what is meant at the wall."""
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
    wall = at_the_wall(setup)
    return Candidates((wall.aperture,), (wall.iso,), UNFILTERED, (wall.shutter,))


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
    return Candidates(apertures, isos or (setup.camera.iso_low,), bag, times)


@lru_cache(maxsize=64)
def _dimmings(
    apertures: tuple[Stops, ...],
    isos: tuple[Stops, ...],
    stacks: tuple[tuple[Stops, int], ...],
    wanted: Stops,
) -> tuple[Dimming, ...]:
    """Those of apertures, ISOs and stacks (each with its number of filters)."""
    found: dict[float, Dimming] = {}
    for aperture_at, aperture in enumerate(apertures):
        off = round(abs(aperture - wanted), NOISE_DIGITS)
        for (iso_at, iso), (stack_at, (dims, filters)) in product(enumerate(isos), enumerate(stacks)):
            stops, row = aperture - iso + dims, DimmingRow(aperture_at, iso_at, stack_at)
            place = round(stops, NOISE_DIGITS)
            known = found.get(place)
            if known is None or off < known.off:
                found[place] = Dimming(stops, off, row, row, filters)
            elif off == known.off and (filters, stack_at) < (known.filters, known.lightest.stack_at):
                found[place] = Dimming(known.stops, off, known.nearest, row, filters)
    return tuple(found.values())
