"""What several methods have in common: the means they lack, and sentences they share."""

from collections.abc import Iterator

from noggin.core.planning import candidates
from noggin.core.planning.verdicts import Miss
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import signed, stops


def nothing_lacking(*_: object) -> Iterator[Miss]:
    """For a method that needs no means of its own."""
    yield from ()


def lacks_aperture(setup: SetUp, _: Stops) -> Iterator[Miss]:
    """The lens has no smaller aperture."""
    if setup.apertures[-1] == setup.wanted_aperture:
        yield Miss("aperture")


def lacks_filter(setup: SetUp, surplus: Stops) -> Iterator[Miss]:
    """The bag has no filter that goes on the lens."""
    if not setup.stacks:
        yield Miss("filter", by=surplus)


def surplus_words(setup: SetUp) -> str:
    """Where the background would land at the sync wall."""
    wall = candidates.at_the_wall(setup)
    return (
        f"At f/{wall.aperture.label} and {wall.shutter.label} s the background would land at"
        f" {signed(wall.level(setup.scene.background))}, {stops(candidates.surplus(setup))} too bright."
    )


def fits_words(setup: SetUp) -> str:
    """Why a method is not needed."""
    return (
        f"Not needed here: at sync speed ({setup.camera.sync.label} s) the background is no brighter than"
        " you want."
    )


def closing_words(setup: SetUp, way: Way) -> Iterator[str]:
    """What closing the aperture for the rest does."""
    closed = way.settings.aperture.stops - setup.wanted_aperture.stops
    if closed > 0:
        yield f"Closing to f/{way.settings.aperture.label} takes the last {stops(closed)}."


def filter_words(setup: SetUp, way: Way) -> Iterator[str]:
    """What the filters take, and what is left for aperture and shutter."""
    if way.not_needed:
        yield fits_words(setup)
        return
    stack = way.settings.stack
    if not stack.names:
        return
    take = "take" if len(stack.names) > 1 else "takes"
    yield (
        f"{stack.words} {take} {stops(stack.stops)} from daylight and flash alike, so the balance"
        " and the full reach stay."
    )
    yield from closing_words(setup, way)
    trimmed = setup.camera.sync.stops - way.settings.shutter.stops
    if trimmed > 0:
        yield f"{way.settings.shutter.label} s gives {stops(trimmed)} of daylight back."
