"""How bright a light is over distance, drawn: distance from left to right, doubling by doubling, aperture
from the foot up, stop by stop. The inverse square so falls two stops at each doubling."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import log2

from noggin.core.gear.carry import SPAN, Carried
from noggin.core.units import METRES_PER_FOOT, Metres, Stops
from noggin.core.wording import distance_unit

WIDTH, HEIGHT = 520.0, 268.0
LEFT, RIGHT, TOP, FOOT = 46.0, 30.0, 8.0, 238.0
LEAST: Stops = 0.0
MOST: Stops = 11.0
APERTURES = ("1", "1.4", "2", "2.8", "4", "5.6", "8", "11", "16", "22", "32", "45")
"""Full stops of aperture from 0 stops up: common practice."""

LETTER_COLUMNS, LETTER_HEIGHT = 3, 14.0

SHAPES = ("round", "square", "diamond", "up", "down")
MARKS = 3
"""Marks of one line; those of the next line stand a little farther along."""

LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass(frozen=True)
class CarryLine:
    """One modifier's line: its letter, in which column beside the chart and at which height that stands,
    points at sync and in high-speed sync; its own mark, a shape that is filled or hollow, and where along
    the line that stands, so that lines are told apart where they run close."""

    letter: str
    label_column: int
    label_y: float
    sync: str
    hss: str
    shape: str
    hollow: bool
    marks: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class CarryChart:
    """The chart: lines, and ticks with their words along both sides."""

    lines: tuple[CarryLine, ...]
    distances: tuple[tuple[float, str], ...]
    apertures: tuple[tuple[float, str], ...]


def carry_chart(found: Sequence[Carried]) -> CarryChart:
    """The chart of a light through its modifiers."""
    ends = [_y(one.levels(hss=False)[-1][1]) for one in found]
    return CarryChart(
        tuple(
            CarryLine(
                LETTERS[index % len(LETTERS)],
                *place,
                _points(one.levels(hss=False)),
                _points(one.levels(hss=True)),
                SHAPES[index % len(SHAPES)],
                index // len(SHAPES) % 2 == 1,
                _marks(one.levels(hss=False), (index + 0.5) / len(found)),
            )
            for index, (one, place) in enumerate(zip(found, _beside(ends), strict=True))
        ),
        tuple((_x(metres), words) for metres, words in _ticks()),
        tuple((_y(stops), f"f/{label}") for stops, label in enumerate(APERTURES) if LEAST <= stops <= MOST),
    )


def _ticks() -> list[tuple[Metres, str]]:
    if distance_unit() == "ft":
        return [(feet * METRES_PER_FOOT, f"{feet} ft") for feet in (2, 4, 8, 16, 32)]
    return [(metres, f"{metres:g} m") for metres in (0.5, 1.0, 2.0, 4.0, 8.0, 16.0)]


def _beside(ends: Sequence[float]) -> list[tuple[int, float]]:
    """Column and height of each letter: where its line ends, or as far above as keeps letters apart; from
    the lowest up, in turns over the columns."""
    places = {}
    lowest = [FOOT + LETTER_HEIGHT] * LETTER_COLUMNS
    for turn, index in enumerate(sorted(range(len(ends)), key=lambda index: -ends[index])):
        column = turn % LETTER_COLUMNS
        lowest[column] = min(ends[index], lowest[column] - LETTER_HEIGHT)
        places[index] = (column, lowest[column])
    return [places[index] for index in range(len(ends))]


def _points(levels: Sequence[tuple[Metres, Stops]]) -> str:
    """Within the chart; what is above or below it is left out."""
    inside = [(distance, level) for distance, level in levels if LEAST <= level <= MOST]
    return " ".join(f"{_x(distance):.1f},{_y(level):.1f}" for distance, level in inside)


def _marks(levels: Sequence[tuple[Metres, Stops]], share: float) -> tuple[tuple[float, float], ...]:
    """Places along a line, `share` of the way from one mark to the next of the same line."""
    inside = [(_x(distance), _y(level)) for distance, level in levels if LEAST <= level <= MOST]
    wide = (WIDTH - LEFT - RIGHT) / MARKS
    wanted = [LEFT + wide * (turn + share) for turn in range(MARKS)]
    return tuple(
        (at, y + (next_y - y) * (at - x) / (next_x - x))
        for at in wanted
        for (x, y), (next_x, next_y) in pairwise(inside)
        if x <= at < next_x
    )


def _x(distance_m: Metres) -> float:
    near, far = SPAN
    return LEFT + (WIDTH - LEFT - RIGHT) * log2(distance_m / near) / log2(far / near)


def _y(level: Stops) -> float:
    return FOOT - (FOOT - TOP) * (level - LEAST) / (MOST - LEAST)
