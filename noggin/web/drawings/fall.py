"""Where the light went: the key's fall from a full pop to what is needed, each loss in stops."""

from dataclasses import dataclass

from noggin.core.planning.lighting import flash_terms
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import signed

WIDTH = 160.0


@dataclass(frozen=True)
class Stage:
    """One term: what is left after it as a bar, and what it took (or gave) beside that."""

    what: str
    stops: str
    left: float
    taken_from: float
    taken: float


@dataclass(frozen=True)
class Fall:
    """All stages, and the level needed as a line. `reserve` is None where no flash is needed."""

    stages: tuple[Stage, ...]
    needed_x: float | None
    full: str
    needed: str
    reserve: Stops | None
    reserve_from: float
    reserve_length: float


def fall(setup: SetUp, way: Way) -> Fall | None:
    """The key's fall in one way; None where the key cannot take part in it."""
    key = way.lighting.key
    if key.full is None:
        return None
    terms = flash_terms(setup, key.light, way.settings)
    sums = [sum(term.stops for term in terms[: index + 1]) for index in range(len(terms))]
    marks = [*sums, key.needed if key.needed is not None else key.full]
    lowest, highest = min(0.0, *marks) - 0.5, max(marks)

    def x(level: Stops) -> float:
        return WIDTH * (level - lowest) / (highest - lowest)

    stages = []
    before = sums[0]
    for term, after in zip(terms, sums, strict=True):
        low, high = sorted((before, after))
        stages.append(Stage(term.what, signed(term.stops), x(min(before, after)), x(low), x(high) - x(low)))
        before = after
    needed = key.needed
    ends = sorted((key.full, key.full if needed is None else needed))
    return Fall(
        stages=tuple(stages),
        needed_x=None if needed is None else x(needed),
        full=signed(key.full),
        needed=signed(needed),
        reserve=key.reserve,
        reserve_from=x(ends[0]),
        reserve_length=x(ends[1]) - x(ends[0]),
    )
