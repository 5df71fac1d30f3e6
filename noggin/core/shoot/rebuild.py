"""What must be rebuilt between one set-up and the next: lens, lights, what is on them, filter."""

from collections.abc import Iterator

from noggin.core.planning.way import Way
from noggin.core.setup.light import ROLES, Light
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.timeline import Slot, planned
from noggin.core.tables import GELS
from noggin.core.units import Metres, Stops
from noggin.core.wording import said_distance

MOVED: Metres = 0.05
"""A light that stands nearer than this to where it stood was not moved."""

OTHER: Stops = 0.05
"""A loss that differs by less is that of the same modifier."""


def rebuild(before: Slot, after: Slot) -> tuple[str, ...]:
    """What is to be done from one set-up to the next, in words, in the order of work; empty where all stays
    as it is."""
    return (
        *_camera(before.setup, after.setup),
        *_lights(before.setup, after.setup),
        *_filter(planned(before), planned(after)),
    )


def _camera(before: SetUp, after: SetUp) -> Iterator[str]:
    if after.camera.name != before.camera.name and after.camera.name:
        yield f"take the {after.camera.name}"
    if after.lens.focal_mm != before.lens.focal_mm:
        yield f"lens: {after.lens.focal_mm:g} mm, was {before.lens.focal_mm:g} mm"


def _known(light: Light) -> tuple[str, str]:
    return light.role, light.name


def _named(light: Light) -> str:
    role = ROLES[light.role].label.lower()
    return f"{role}, {light.name}" if light.name else role


def _lights(before: SetUp, after: SetUp) -> Iterator[str]:
    stood = {_known(light): light for light in before.lights}
    stands = {_known(light): light for light in after.lights}
    for known, light in stood.items():
        if known not in stands:
            yield f"take down the {_named(light)}"
    for known, light in stands.items():
        if known in stood:
            yield from _changed(stood[known], light)
        else:
            yield f"set up the {_named(light)} at {said_distance(light.distance_m)}"


def _changed(stood: Light, stands: Light) -> Iterator[str]:
    if abs(stands.distance_m - stood.distance_m) > MOVED:
        was = said_distance(stood.distance_m)
        yield f"{_named(stands)}: to {said_distance(stands.distance_m)}, was {was}"
    fitted = abs(stands.loss - stood.loss) > OTHER or abs(stands.radius_m - stood.radius_m) > MOVED
    if fitted or stands.grid != stood.grid:
        yield f"{_named(stands)}: another modifier{' with a grid' if stands.grid else ''}"
    if stands.gel != stood.gel:
        yield f"{_named(stands)}: {GELS[stands.gel].label if stands.gel else 'gel off'}"


def _filter(before: Way, after: Way) -> Iterator[str]:
    was, now = before.settings.stack.words, after.settings.stack.words
    if was != now:
        yield f"filter: {now}" if now else "filter off"
