"""A way that needs a remedy: what it is off by, and a changed set-up as it is proposed."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from noggin.core.planning import candidates
from noggin.core.planning.lighting import Firing
from noggin.core.planning.methods import WITHIN_SYNC
from noggin.core.planning.plan import is_needed, work_out
from noggin.core.planning.verdicts import POWER_MISS
from noggin.core.planning.way import Method, Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

LEAST_GAIN: Stops = 0.05
"""What helps by less is not proposed."""


@dataclass(frozen=True)
class Proposal:
    """A changed set-up before it is planned: what is done, in words, and the fields of the document that it
    changes; `method` where it is to be planned another way."""

    remedy: str
    to: str
    setup: SetUp
    change: Mapping[str, Any]
    method: Method | None = None


@dataclass(frozen=True)
class LightOff:
    """A light that gives too little or too much: its place, its part in the way, and by how many stops."""

    index: int
    firing: Firing
    stops: Stops


@dataclass(frozen=True)
class Case:
    """A way that lacks something, and what its lights are off by."""

    setup: SetUp
    way: Way

    @property
    def error(self) -> Stops:
        """Stops by which the background comes out brighter than meant, beyond the tolerance; 0 within
        it."""
        settings = self.way.settings
        if candidates.reaches_background(self.setup, settings):
            return 0.0
        return candidates.background_error(self.setup, settings)

    @property
    def short(self) -> list[LightOff]:
        """Lights that give too little at full power."""
        return [
            LightOff(index, firing, -reserve)
            for index, firing, reserve in self._reserves()
            if reserve < -TOLERANCE
        ]

    @property
    def shortages(self) -> list[Stops]:
        """By how much each of them is short."""
        return [off.stops for off in self.short]

    @property
    def strong(self) -> list[LightOff]:
        """Lights that give too much as dialled."""
        found = []
        for index, firing, _ in self._reserves():
            over = (firing.level or 0.0) - (firing.needed or 0.0)
            if over > POWER_MISS + TOLERANCE:
                found.append(LightOff(index, firing, over))
        return found

    @property
    def most_too_strong(self) -> Stops:
        """Stops by which the strongest of them is too strong."""
        return max((off.stops for off in self.strong), default=0.0)

    @property
    def excluded(self) -> bool:
        """Whether a light cannot take part."""
        return any(firing.full is None for firing in self.way.lighting.firings)

    @property
    def too_bright(self) -> Stops:
        """Stops by which daylight alone takes the subject over what is meant, beyond a third."""
        over = self.way.lighting.levels.subject_ambient - self.setup.intent.subject_level
        return over if over > POWER_MISS else 0.0

    @property
    def reserve(self) -> Stops:
        """The least reserve of any light; 0 where a light cannot take part."""
        reserves = [reserve for _, _, reserve in self._reserves()]
        return 0.0 if self.excluded or not reserves else min(reserves)

    def _reserves(self) -> Iterator[tuple[int, Firing, Stops]]:
        for index, firing in enumerate(self.way.lighting.firings):
            if firing.reserve is not None:
                yield index, firing, firing.reserve


@lru_cache(maxsize=256)
def planned(setup: SetUp, method: Method) -> Way:
    """A method of the changed set-up; within sync where it is no longer needed."""
    return work_out(setup, method if is_needed(setup, method) else WITHIN_SYNC)
