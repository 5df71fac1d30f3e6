"""What ways cost, in a few words each: the parts that a way's price is put together from."""

from collections.abc import Iterator

from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import percent, plain, stops

NOISE_SHOWS: Stops = 2.0
"""ISO so far over the lowest is noise to be named. Common practice, no source."""

BLUR_SHOWS = 0.2
"""Blur lost that shows, % of the frame's width. Common practice, no source."""


def closing(setup: SetUp, way: Way) -> Iterator[str]:
    """What a smaller aperture than wanted does to the picture."""
    closed = way.settings.aperture.stops - setup.wanted_aperture.stops
    if closed <= 0 or any(drawback.kind == "blur" for drawback in way.drawbacks):
        return
    blur = way.focus.background_blur_pct
    wanted = blur * 2 ** (closed / 2)
    label = f"f/{way.settings.aperture.label}"
    if way.focus.far_m is None:
        yield f"{label} is sharp to the horizon"
    elif wanted - blur > BLUR_SHOWS:
        yield f"at {label} the background blurs {plain(blur)}% of the frame, not {plain(wanted)}%"


def filters(way: Way) -> Iterator[str]:
    stack = way.settings.stack
    if stack.names:
        yield f"viewfinder and autofocus lose {stops(stack.stops)}"


def noise(setup: SetUp, way: Way) -> Iterator[str]:
    raised = way.settings.iso.stops - setup.camera.iso_low.stops
    if raised >= NOISE_SHOWS - TOLERANCE:
        yield f"noise of ISO {way.settings.iso.label}"


def high_speed(setup: SetUp, way: Way) -> Iterator[str]:
    toll = setup.key.hss_toll
    if toll is not None and way.lighting.key.power:
        yield f"{stops(toll)} of toll"
        power = way.lighting.key.power
        yield f"battery and heat at {percent(power)} power" if power >= 0.25 else "some battery"
    yield from filters(way)
    yield from closing(setup, way)
    yield from noise(setup, way)


def filtered(setup: SetUp, way: Way) -> Iterator[str]:
    yield from filters(way)
    yield from closing(setup, way)
