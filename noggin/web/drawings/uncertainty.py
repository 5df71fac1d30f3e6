"""The ± of figures, drawn as whiskers, all on one scale of stops."""

from dataclasses import dataclass

from noggin.core.units import Stops

MOST: Stops = 1.25
"""Stops to either side of the middle of a small whisker; what reaches farther is cut there."""

WIDTH = 110.0

SPAN: Stops = 2.0
"""Stops to either side in the drawing of two figures side by side."""

WIDE = 320.0


@dataclass(frozen=True)
class Whisker:
    """From `low` to `high` with the figure at `middle`; `cut` where it reaches past the drawing."""

    low: float
    middle: float
    high: float
    source: str
    cut: bool = False


def whisker(uncertainty: Stops, source: str) -> Whisker:
    """The ± of one figure around the middle of WIDTH."""
    return _whisker(0.0, uncertainty, source, MOST, WIDTH)


@dataclass(frozen=True)
class Beside:
    """A measured figure in the middle, the one before it beside it, and ticks at whole stops."""

    measured: Whisker
    before: Whisker | None
    ticks: tuple[tuple[float, str], ...]


def beside(uncertainty: Stops, before: tuple[Stops, Stops, str] | None) -> Beside:
    """Two figures on one scale: `before` is how far the old one is from the new, its ± and source."""
    old = None if before is None else _whisker(*before, SPAN, WIDE)
    ticks = tuple(
        (_along(tick, SPAN, WIDE), f"{'+' if tick > 0 else '−' if tick < 0 else ''}{abs(tick)}")
        for tick in range(-2, 3)
    )
    return Beside(_whisker(0.0, uncertainty, "measured", SPAN, WIDE), old, ticks)


def _whisker(value: Stops, uncertainty: Stops, source: str, most: Stops, width: float) -> Whisker:
    ends = (value - uncertainty, value, value + uncertainty)
    low, middle, high = (_along(end, most, width) for end in ends)
    return Whisker(low, middle, high, source, abs(value) + uncertainty > most)


def _along(value: Stops, most: Stops, width: float) -> float:
    held = max(-most, min(value, most))
    return width * (held + most) / (2 * most)
