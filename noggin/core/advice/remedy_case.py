"""A way that needs a remedy: what it is off by, and a changed set-up as it is proposed."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Any

from noggin.core.physics.filters import Filter
from noggin.core.planning.lighting import Firing, Lighting
from noggin.core.planning.plan import background_first, is_needed, work_out
from noggin.core.planning.verdicts import JUST_MISSES, Miss, miss_of, verdict_of
from noggin.core.planning.way import Way, WayKind
from noggin.core.planning.ways import WITHIN_SYNC
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

LEAST_GAIN: Stops = 0.05
"""What helps by less is not proposed."""

LEFT_OUT: Stops = 1.0
"""What a light that cannot take part counts, so that a remedy that brings it in gains something."""


@dataclass(frozen=True)
class SpareLight:
    """A light that is owned: what it is called, where it is ("in your bag"), the light with its figures,
    the fields of a document's light that make it one, and how many of it the set-up leaves."""

    name: str
    where: str
    light: Light
    change: Mapping[str, Any]
    left: int = 1


@dataclass(frozen=True)
class SpareModifier:
    """A modifier that is owned, as one of the set-up's lights (by its place) would use it."""

    name: str
    where: str
    light_index: int
    light: Light
    change: Mapping[str, Any]


@dataclass(frozen=True)
class SpareFilter:
    """A filter that is owned and not among those of the set-up."""

    where: str
    filter: Filter


@dataclass(frozen=True)
class Spares:
    """What is owned beside what the set-up uses; `pieces` are grids, scrims, reflectors and the like by
    their kind, each with its name and where it is."""

    lights: Sequence[SpareLight] = ()
    modifiers: Sequence[SpareModifier] = ()
    filters: Sequence[SpareFilter] = ()
    pieces: Mapping[str, tuple[str, str]] = field(default_factory=dict)

    def piece(self, kind: str, otherwise: str) -> str:
        """The piece of a kind by its name and where it is; other words where there is none."""
        found = self.pieces.get(kind)
        return f"the {found[0]} {found[1]}" if found else otherwise


NO_SPARES = Spares()


@dataclass(frozen=True)
class Proposal:
    """A changed set-up before it is planned: what is done, in words, and the fields of the document that it
    changes; `kind` where it is to be planned another way."""

    remedy: str
    to: str
    setup: SetUp
    change: Mapping[str, Any]
    kind: WayKind | None = None


@dataclass(frozen=True)
class LightOff:
    """A light that gives too little or too much: its place, its part in the way, and by how many stops."""

    index: int
    firing: Firing
    stops: Stops


@dataclass(frozen=True)
class Case:
    """A way that misses something, and what its lights are off by. `setup` is without its plan, so that
    figures can be changed one by one; `stands` is the set-up as it stands, where that is asked for."""

    setup: SetUp
    way: Way
    spares: Spares = NO_SPARES
    stands: SetUp | None = None

    @cached_property
    def misses(self) -> tuple[Miss, ...]:
        """What the way's settings miss, a means that it lacks left aside."""
        return verdict_of(self.setup, self.way.lighting)[1]

    @property
    def miss(self) -> Stops:
        """What everything missed comes to; a light that cannot take part counts LEFT_OUT."""
        return miss_of(self.setup, self.way.lighting) + LEFT_OUT * self.excluded

    @property
    def error(self) -> Stops:
        """Stops by which the background comes out brighter than meant; 0 where it does not miss."""
        return next((miss.by for miss in self.misses if miss.kind in ("background", "spill")), 0.0)

    @property
    def spilt(self) -> bool:
        """Whether flash makes the background too bright."""
        return any(miss.kind == "spill" for miss in self.misses)

    @cached_property
    def short(self) -> list[LightOff]:
        """Lights that give too little at full power; where the background was left too bright for their
        sake, those that would if it were not."""
        if self.error > 0 and not self.spilt:
            exact = background_first(self.setup, self.way.kind)
            return list(_off("flash", exact, verdict_of(self.setup, exact)[1]))
        return list(_off("flash", self.way.lighting, self.misses))

    @property
    def shortages(self) -> list[Stops]:
        """By how much each of them is short."""
        return [off.stops for off in self.short]

    @property
    def strong(self) -> list[LightOff]:
        """Lights that give too much at their least power; where the background is left too dark for their
        sake, because ISO would make them so, those that would if it were not; where flash spills on it,
        those that cannot be turned down."""
        if self.error < 0 and self.way.kind is WITHIN_SYNC:
            exact = background_first(self.setup, self.way.kind)
            return list(_off("too_strong", exact, verdict_of(self.setup, exact)[1]))
        found = list(_off("too_strong", self.way.lighting, self.misses))
        if found or not self.spilt:
            return found
        return [
            LightOff(index, firing, firing.too_strong)
            for index, firing in enumerate(self.way.lighting.firings)
            if firing.too_strong >= LEAST_GAIN
        ]

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
        return over if over > JUST_MISSES else 0.0


def _off(kind: str, lighting: Lighting, misses: Sequence[Miss]) -> Iterator[LightOff]:
    """Lights that a miss of a kind names."""
    for index, firing in enumerate(lighting.firings):
        found = next((one for one in misses if one.kind == kind and one.light == firing.light.says), None)
        if found is not None:
            yield LightOff(index, firing, found.by)


@lru_cache(maxsize=512)
def planned(setup: SetUp, kind: WayKind) -> Way:
    """A method of the changed set-up; within sync where it is no longer needed."""
    return work_out(setup, kind if is_needed(setup, kind) else WITHIN_SYNC)
