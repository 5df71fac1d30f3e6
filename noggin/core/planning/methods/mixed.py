"""Mixed: a filter takes part of the surplus, the aperture the rest."""

from collections.abc import Iterator

from noggin.core.planning.candidates import Candidates, smaller, trimmed
from noggin.core.planning.methods.shared import filter_words, lacks_aperture, lacks_filter
from noggin.core.planning.verdicts import Lack
from noggin.core.planning.way import Method
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops


def _candidates(setup: SetUp) -> Candidates:
    """One or two filters and an aperture smaller than wanted, sync speed or slower to trim."""
    return trimmed(setup, smaller(setup), (setup.camera.iso_low,), setup.stacks)


def _lacks(setup: SetUp, surplus: Stops) -> Iterator[Lack]:
    yield from list(lacks_filter(setup, surplus)) or lacks_aperture(setup, surplus)


MIXED = Method(
    "mixed",
    "Mixed",
    "part filter, part aperture",
    "part filter, part aperture",
    "a filter and some depth of field",
    speed_rank=3,
    candidates=_candidates,
    lacks=_lacks,
    reasons=filter_words,
    uses_filters=True,
)
