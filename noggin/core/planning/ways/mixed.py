"""Mixed: a filter takes part of the surplus, the aperture the rest."""

from collections.abc import Iterator

from noggin.core.planning.candidates import Candidates, every, smaller
from noggin.core.planning.verdicts import Miss
from noggin.core.planning.way import WayKind
from noggin.core.planning.ways.prices import filtered
from noggin.core.planning.ways.shared import filter_words, lacks_aperture, lacks_filter
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops


def _candidates(setup: SetUp) -> Candidates:
    """One or two filters and an aperture smaller than wanted, sync speed or slower to trim."""
    return every(setup, smaller(setup), setup.camera.times_to_sync, bag=setup.stacks)


def _lacks(setup: SetUp, surplus: Stops) -> Iterator[Miss]:
    yield from lacks_filter(setup, surplus)
    yield from lacks_aperture(setup, surplus)


MIXED = WayKind(
    "mixed",
    "Mixed",
    "part filter, part aperture",
    "part filter, part aperture",
    "a filter and some depth of field",
    speed_rank=3,
    candidates=_candidates,
    lacks=_lacks,
    reasons=filter_words,
    price=filtered,
    uses_filters=True,
)
