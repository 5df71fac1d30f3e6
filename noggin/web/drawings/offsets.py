"""By how much a light was off, take by take: a mark with its ± for each."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from noggin.core.units import Stops
from noggin.core.wording import plain, signed

WIDTH, HEIGHT = 560, 132
LEFT, TOP, FOOT = 44.0, 10.0, 20.0
REACHES: Stops = 2.0
"""Stops up and down that are drawn; what is farther off stands at the edge."""


class Seen(Protocol):
    """An offset with its ± at a time."""

    @property
    def when(self) -> datetime: ...
    @property
    def value(self) -> Stops: ...
    @property
    def uncertainty(self) -> Stops: ...


@dataclass(frozen=True)
class OffsetMark:
    """One take: where it stands, the ends of its ±, and its day."""

    x: float
    y: float
    low: float
    high: float
    words: str


@dataclass(frozen=True)
class Offsets:
    """Everything drawn, in units of the drawing; `rules` are lines with what they stand for."""

    width: int
    height: int
    rules: tuple[tuple[float, str], ...]
    marks: tuple[OffsetMark, ...]
    words: str


def offsets(seen: Sequence[Seen]) -> Offsets:
    """The drawing of some takes, in the order of time; each has the same room."""
    step = (WIDTH - LEFT) / max(len(seen), 1)
    marks = tuple(
        OffsetMark(
            LEFT + (index + 0.5) * step,
            _y(one.value),
            _y(one.value - one.uncertainty),
            _y(one.value + one.uncertainty),
            f"{one.when:%d %b}" if len(seen) <= MOST_NAMED or index % 4 == 0 else "",
        )
        for index, one in enumerate(seen)
    )
    said = "; ".join(f"{one.when:%d %b %Y} {signed(one.value)} ± {plain(one.uncertainty)}" for one in seen)
    rules = tuple((_y(level), signed(level, 0)) for level in (-1.0, 0.0, 1.0))
    return Offsets(WIDTH, HEIGHT, rules, marks, f"Offsets in stops: {said}")


MOST_NAMED = 12
"""Takes whose days are all written."""


def _y(level: Stops) -> float:
    held = max(-REACHES, min(level, REACHES))
    return TOP + (HEIGHT - TOP - FOOT) * (REACHES - held) / (2 * REACHES)
