"""The settings each way may use. Choosing among them is the business of `ways`."""

from collections.abc import Iterator

from noggin.core.dials import Step, iso_dial
from noggin.core.filters import NO_FILTER, Stack, stacks
from noggin.core.lighting import Settings
from noggin.core.setup import SetUp
from noggin.core.units import TOLERANCE, Stops


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
    wall = at_the_wall(setup)
    return background_error(setup, wall) if too_bright(setup, wall) else 0.0


def within_sync(setup: SetUp) -> Iterator[tuple[Settings, ...]]:
    """One batch for each ISO from the lowest up: wanted aperture, slowest time to sync speed.

    Batches come apart because ISO may rise only as far as it must.
    """
    camera = setup.camera
    for iso in iso_dial().between(camera.iso_low.stops, camera.iso_high.stops):
        yield tuple(_trimmed(setup, setup.wanted_aperture, iso, NO_FILTER))


def stop_down(setup: SetUp) -> Iterator[Settings]:
    """Sync speed, lowest ISO, every aperture smaller than wanted."""
    for aperture in _smaller(setup):
        yield Settings(setup.camera.sync, aperture, setup.camera.iso_low)


def nd(setup: SetUp) -> Iterator[Settings]:
    """Wanted aperture, lowest ISO, one or two filters, sync speed or slower to trim."""
    yield from _filtered(setup, (setup.wanted_aperture,))


def mixed(setup: SetUp) -> Iterator[Settings]:
    """One or two filters and an aperture smaller than wanted, sync speed or slower to trim."""
    yield from _filtered(setup, _smaller(setup))


def hss(setup: SetUp) -> Iterator[Settings]:
    """Wanted aperture, lowest ISO, no filter, times past sync; at the fastest the aperture closes.

    With nothing to take away only the first time past sync is shown.
    """
    camera, wanted = setup.camera, setup.wanted_aperture
    past = camera.shutters.between(camera.sync.stops, camera.fastest.stops)[1:]
    if not surplus(setup):
        past = past[:1]
    for time in past:
        yield Settings(time, wanted, camera.iso_low)
    fastest = Settings(camera.fastest, wanted, camera.iso_low)
    if past and too_bright(setup, fastest):
        for aperture in _smaller(setup):
            yield Settings(camera.fastest, aperture, camera.iso_low)


def _smaller(setup: SetUp) -> tuple[Step, ...]:
    return tuple(step for step in setup.apertures if step.stops > setup.wanted_aperture.stops)


def _filtered(setup: SetUp, apertures: tuple[Step, ...]) -> Iterator[Settings]:
    bag = _strengths(setup)
    for aperture in apertures:
        for stack in bag:
            yield from _trimmed(setup, aperture, setup.camera.iso_low, stack)


def _strengths(setup: SetUp) -> tuple[Stack, ...]:
    """One stack for each strength the bag can give: fewest filters first, then bag order."""
    first: dict[float, Stack] = {}
    for stack in stacks(setup.filters):
        first.setdefault(round(stack.stops, 9), stack)
    return tuple(first.values())


def _trimmed(setup: SetUp, aperture: Step, iso: Step, stack: Stack) -> Iterator[Settings]:
    """The time from the slowest to sync that brings the background closest to what is meant; both
    neighbours where they are equally close. No other time can win: all else being equal, the
    background decides."""
    wanted = setup.scene.background - setup.intent.background_level
    wanted_time = wanted - aperture.stops + iso.stops - stack.stops
    misses = [(abs(time.stops - wanted_time), time) for time in setup.camera.times_to_sync]
    closest = min(miss for miss, _ in misses) + TOLERANCE
    for miss, time in misses:
        if miss <= closest:
            yield Settings(time, aperture, iso, stack)
