"""What the log teaches: how far each light was off, over time, with how many pops pictures came right,
and which ways were used at which light."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from math import sqrt
from statistics import median

from noggin.core.planning.ways import WAYS
from noggin.core.units import Stops
from noggin.services.frames.frame_tags import SUN_HEIGHTS, sun_words
from noggin.store.store import Store

TAKES_MOST = 2_000
"""Takes that charts are made of, the latest ones."""

OFFERED_FROM = 3
"""So many takes must show the same, before a figure is offered to the kit. From memory."""


SAYS = 0.7
"""A take says something of a light when it leaves less than so much of its ±. From memory."""


@dataclass(frozen=True)
class OffsetSeen:
    """By how much a light was off in one take, with its ±."""

    when: datetime
    value: Stops
    uncertainty: Stops


@dataclass(frozen=True)
class LightSeries:
    """A light through a modifier, over time."""

    light: str
    modifier: str
    seen: tuple[OffsetSeen, ...]

    @property
    def mean(self) -> tuple[Stops, Stops]:
        """All takes together, each by its ±, and the ± of that; never less than they scatter."""
        weights = [1 / max(one.uncertainty, 0.05) ** 2 for one in self.seen]
        value = sum(weight * one.value for weight, one in zip(weights, self.seen, strict=True)) / sum(
            weights
        )
        scatter = sum(
            weight * (one.value - value) ** 2 for weight, one in zip(weights, self.seen, strict=True)
        )
        return value, max(2 / sqrt(sum(weights)) / 2, 2 * sqrt(scatter / sum(weights) / len(self.seen)))

    @property
    def speaks(self) -> bool:
        """Whether it was shown again and again, and is more than its ±."""
        value, uncertainty = self.mean
        return len(self.seen) >= OFFERED_FROM and abs(value) > uncertainty


@dataclass(frozen=True)
class MonthOfPops:
    """A month: its first day as "2027-06", takes that came right in it, and with how many pops, in the
    middle and at most."""

    month: str
    takes: int
    median: float
    most: int


@dataclass(frozen=True)
class Charts:
    """Everything that is drawn of the log. `ways` counts takes by the sun's height and the way."""

    lights: tuple[LightSeries, ...]
    months: tuple[MonthOfPops, ...]
    ways: Mapping[str, Mapping[str, int]]


def charts(store: Store) -> Charts:
    """What the takes of the log say together; rehearsals are left out."""
    series: dict[tuple[str, str], list[OffsetSeen]] = defaultdict(list)
    months: dict[str, list[int]] = defaultdict(list)
    ways: dict[str, Counter[str]] = defaultdict(Counter)
    with store.read_transaction():
        takes = store.takes.latest_first(TAKES_MOST)
        heights = store.frames.sun_of_takes([take.id for take in takes])
    for take in reversed(takes):
        document = take.document
        if document.get("rehearsal") is not None:
            continue
        for one in document.get("learned", ()):
            if one["uncertainty"] > SAYS * one["before"]:
                continue
            seen = OffsetSeen(take.begun_at, one["value"], one["uncertainty"])
            series[(one["light"], one["modifier"])].append(seen)
        if document.get("pops"):
            months[f"{take.begun_at:%Y-%m}"].append(document["pops"])
        if take.id in heights:
            ways[sun_words(heights[take.id])][document["way"]] += 1
    return Charts(
        tuple(LightSeries(*key, tuple(seen)) for key, seen in sorted(series.items())),
        tuple(_month(month, pops) for month, pops in sorted(months.items())),
        {words: _by_method(ways[words]) for _, words in SUN_HEIGHTS if words in ways},
    )


def _month(month: str, pops: Sequence[int]) -> MonthOfPops:
    return MonthOfPops(month, len(pops), median(pops), max(pops))


def _by_method(counted: Mapping[str, int]) -> dict[str, int]:
    return {key: counted[key] for key in WAYS if key in counted}
