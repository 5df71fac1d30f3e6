"""Filters before the lens: markings, what goes together on a thread, and what a bag can put there; mired of
gels."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, permutations
from math import floor, log2

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.units import TOLERANCE, Millimetres, Stops
from noggin.core.wording import number, stops

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


FILTER_KINDS = {"fixed": "fixed ND", "variable": "variable ND", "polariser": "polariser"}
"""Kinds of filter. A variable one is two polarisers that turn against each other."""


@dataclass(frozen=True)
class Filter:
    """A filter in the bag: `least` equals `most` for a fixed one; stops 0.1 to 20. `polariser` says that
    its loss is a polariser's, `thread_mm` its thread where that is known."""

    name: str
    least: Stops
    most: Stops
    polariser: bool = False
    thread_mm: Millimetres | None = None

    def __post_init__(self) -> None:
        for strength in (self.least, self.most):
            limits.FILTER.check("stops", strength)
        if self.most < self.least:
            problem = f"the least, {number(self.least)}, is over the most, {number(self.most)}"
            raise Refused("stops", problem)
        if self.thread_mm is not None:
            limits.THREAD.check("thread_mm", self.thread_mm)

    @property
    def variable(self) -> bool:
        """Whether it is turned to a setting rather than fixed."""
        return self.most > self.least

    @property
    def polarises(self) -> bool:
        """Whether it polarises: two that do cross each other."""
        return self.variable or self.polariser

    @property
    def settings(self) -> int:
        """How many settings above its least it has, in sixths of a stop."""
        return floor((self.most - self.least) / VARIABLE_STEP + TOLERANCE)


@dataclass(frozen=True)
class Ring:
    """A ring that screws into a thread and takes another; mm."""

    name: str
    lens_mm: Millimetres
    filter_mm: Millimetres

    def __post_init__(self) -> None:
        limits.THREAD.check("lens_mm", self.lens_mm)
        limits.THREAD.check("filter_mm", self.filter_mm)


def rings_between(
    onto_mm: Millimetres, thread_mm: Millimetres, rings: Sequence[Ring]
) -> tuple[Ring, ...] | None:
    """The rings that lead from one thread to another: none where they are the same, else one or two; None
    where there is no way.

    >>> [ring.name for ring in rings_between(67, 82, [Ring("67-82", 67, 82)]) or ()]
    ['67-82']
    >>> rings_between(67, 67, []), rings_between(67, 72, [])
    ((), None)
    """
    if onto_mm == thread_mm:
        return ()
    for count in (1, 2):
        for chain in permutations(rings, count):
            threads = [onto_mm, *(ring.filter_mm for ring in chain)]
            fits = all(ring.lens_mm == before for ring, before in zip(chain, threads, strict=False))
            if fits and threads[-1] == thread_mm:
                return chain
    return None


def goes_on(lens_mm: Millimetres | None, chosen: Sequence[Filter], rings: Sequence[Ring]) -> bool:
    """Whether filters go on a lens together: each screws onto the one before, with the rings there are, in
    one order or the other. Of what is not known it is taken that it fits. Two that polarise never go
    together.

    >>> nd, variable = Filter("ND", 3, 3, thread_mm=82), Filter("Variable", 2, 5, thread_mm=77)
    >>> ring = Ring("82-77", 82, 77)
    >>> goes_on(82, [nd, variable], []), goes_on(82, [nd, variable], [ring])
    (False, True)
    >>> goes_on(None, [variable, variable], [])
    False
    """
    if sum(item.polarises for item in chosen) > 1:
        return False
    return any(_screw_together(lens_mm, order, tuple(rings)) for order in permutations(chosen))


def _screw_together(onto_mm: Millimetres | None, order: Sequence[Filter], rings: tuple[Ring, ...]) -> bool:
    for item in order:
        if onto_mm is not None and item.thread_mm is not None:
            chain = rings_between(onto_mm, item.thread_mm, rings)
            if chain is None:
                return False
            left = list(rings)
            for ring in chain:
                left.remove(ring)
            rings = tuple(left)
        onto_mm = item.thread_mm
    return True


@dataclass(frozen=True)
class Stack:
    """Filters on the lens together: their names, the stops of all, their places in the bag, and what the
    one that is turned is set to (None: none is)."""

    names: tuple[str, ...] = ()
    stops: Stops = 0.0
    places: tuple[int, ...] = ()
    turned: tuple[int, Stops] | None = None

    @property
    def variable(self) -> bool:
        """Whether one of them is turned to a setting."""
        return self.turned is not None

    @property
    def words(self) -> str:
        """How it is set, as a person would say it; empty for no filter.

        >>> Stack(("3-stop ND", "Variable ND"), 6.0, (0, 1), (1, 3.0)).words
        '3-stop ND + Variable ND set to 3 (6 stops)'
        >>> Stack(("6-stop ND",), 6.0, (0,)).words
        '6-stop ND'
        """
        said = list(self.names)
        if self.turned is not None:
            which, setting = self.turned
            said[which] = f"{said[which]} set to {number(setting, 1)}"
        together = f" ({stops(self.stops)})" if len(said) > 1 else ""
        return " + ".join(said) + together


NO_FILTER = Stack()


@lru_cache(maxsize=256)
def stacks_on(
    lens_mm: Millimetres | None, bag: tuple[Filter, ...], rings: tuple[Ring, ...]
) -> tuple[Stack, ...]:
    """One stack for each strength that one or two filters of a bag can give on a lens: fewest filters
    first, then bag order. Only filters that go together are stacked; strengths add."""
    first: dict[float, Stack] = {}
    for stack in _stacks(lens_mm, bag, rings):
        first.setdefault(round(stack.stops, 9), stack)
    return tuple(first.values())


def _stacks(
    lens_mm: Millimetres | None, bag: tuple[Filter, ...], rings: tuple[Ring, ...]
) -> Iterator[Stack]:
    for count in (1, 2):
        for places in combinations(range(len(bag)), count):
            chosen = [bag[place] for place in places]
            if not goes_on(lens_mm, chosen, rings):
                continue
            names = tuple(item.name for item in chosen)
            variable = next((which for which, item in enumerate(chosen) if item.variable), None)
            least = sum(item.least for item in chosen)
            for turn in range(sum(item.settings for item in chosen) + 1):
                more = turn * VARIABLE_STEP
                turned = None if variable is None else (variable, chosen[variable].least + more)
                yield Stack(names, least + more, places, turned)
