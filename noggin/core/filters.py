"""Neutral-density filters: markings, and what a bag can put in front of the lens; mired of gels."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import floor, log2

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import number

VARIABLE_STEP: Stops = 1 / 6
"""How finely a variable filter is set by hand."""

STOPS_PER_DENSITY = log2(10)
"""Stops in a density of 1.0: log2(10) = 1/0.301. By definition of optical density."""


def stops_of_density(density: float) -> Stops:
    """Stops of a marked optical density.

    >>> round(stops_of_density(0.9), 2)
    2.99
    """
    return density * STOPS_PER_DENSITY


def stops_of_factor(factor: float) -> Stops:
    """Stops of a marked factor (ND8 is 3 stops).

    >>> stops_of_factor(8)
    3.0
    """
    return log2(factor)


def mired_shift(light_k: float, wanted_k: float) -> float:
    """Mired between two colour temperatures in kelvin: 10⁶/wanted - 10⁶/light. By definition.

    >>> round(mired_shift(5600, 3200))
    134
    """
    return 1e6 / wanted_k - 1e6 / light_k


def gelled(light_k: float, mired: float) -> float:
    """Colour temperature in kelvin of a light behind a gel of so many mired. By definition.

    >>> round(gelled(5600, 159), -2)
    3000.0
    """
    return 1e6 / (1e6 / light_k + mired)


@dataclass(frozen=True)
class Filter:
    """A filter in the bag: `least` equals `most` for a fixed one; stops 0.1 to 20."""

    name: str
    least: Stops
    most: Stops

    def __post_init__(self) -> None:
        for stops in (self.least, self.most):
            limits.FILTER.check("stops", stops)
        if self.most < self.least:
            problem = f"the least, {number(self.least)}, is over the most, {number(self.most)}"
            raise Refused("stops", problem)

    @property
    def variable(self) -> bool:
        """Whether it is turned to a setting rather than fixed."""
        return self.most > self.least

    @property
    def settings(self) -> int:
        """How many settings above its least it has, in sixths of a stop."""
        return floor((self.most - self.least) / VARIABLE_STEP + TOLERANCE)


@dataclass(frozen=True)
class Stack:
    """Filters on the lens together: their names, the stops of all, their places in the bag, and
    whether one of them is turned to a setting."""

    names: tuple[str, ...] = ()
    stops: Stops = 0.0
    places: tuple[int, ...] = ()
    variable: bool = False


NO_FILTER = Stack()


def stacks(bag: Sequence[Filter]) -> Iterator[Stack]:
    """Every strength that one or two filters of the bag can give, fewest filters first.

    Strengths add. Two variable filters reach a sum in many ways; each sum is given once.
    """
    for count in (1, 2):
        for places in combinations(range(len(bag)), count):
            chosen = [bag[place] for place in places]
            names = tuple(item.name for item in chosen)
            least = sum(item.least for item in chosen)
            for turn in range(sum(item.settings for item in chosen) + 1):
                strength = least + turn * VARIABLE_STEP
                yield Stack(names, strength, places, any(item.variable for item in chosen))
