"""What a way costs, from its own figures: the price that is named with a recommendation."""

from collections.abc import Callable, Iterator, Mapping

from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import listed, percent, plain, stops

NOISE_SHOWS: Stops = 2.0
"""ISO so far over the lowest is noise to be named. Common practice, no source."""

BLUR_SHOWS = 0.2
"""Blur lost that shows, % of the frame's width. Common practice, no source."""


def price(setup: SetUp, way: Way) -> str:
    """What a way costs, in a few words; "nothing" where it does."""
    return listed(list(_PARTS[way.key](setup, way))) or "nothing"


def _closing(setup: SetUp, way: Way) -> Iterator[str]:
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


def _filters(way: Way) -> Iterator[str]:
    stack = way.settings.stack
    if stack.names:
        yield f"viewfinder and autofocus lose {stops(stack.stops)}"


def _noise(setup: SetUp, way: Way) -> Iterator[str]:
    raised = way.settings.iso.stops - setup.camera.iso_low.stops
    if raised >= NOISE_SHOWS - TOLERANCE:
        yield f"noise of ISO {way.settings.iso.label}"


def _high_speed(setup: SetUp, way: Way) -> Iterator[str]:
    toll = setup.key.hss_toll
    if toll is not None and way.lighting.key.power:
        yield f"{stops(toll)} of toll"
        power = way.lighting.key.power
        yield f"battery and heat at {percent(power)} power" if power >= 0.25 else "some battery"
    yield from _filters(way)
    yield from _closing(setup, way)
    yield from _noise(setup, way)


def _filtered(setup: SetUp, way: Way) -> Iterator[str]:
    yield from _filters(way)
    yield from _closing(setup, way)


_PARTS: Mapping[str, Callable[[SetUp, Way], Iterator[str]]] = {
    "within_sync": _noise,
    "stop_down": _closing,
    "nd": _filtered,
    "mixed": _filtered,
    "hss": _high_speed,
}
"""What each method can cost."""
