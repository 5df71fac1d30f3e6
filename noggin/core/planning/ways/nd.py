"""ND at sync: a filter takes the surplus, the wanted aperture stays."""

from noggin.core.planning.candidates import Candidates, every
from noggin.core.planning.way import WayKind
from noggin.core.planning.ways.prices import filtered
from noggin.core.planning.ways.shared import filter_words, lacks_filter
from noggin.core.setup.setup import SetUp


def _candidates(setup: SetUp) -> Candidates:
    """Wanted aperture, lowest ISO, one or two filters, sync speed or slower to trim."""
    return every(setup, (setup.wanted_aperture,), setup.camera.times_to_sync, bag=setup.stacks)


ND = WayKind(
    "nd",
    "ND at sync",
    "an ND filter at sync speed",
    "a filter takes the surplus",
    "viewfinder and autofocus dim",
    speed_rank=4,
    candidates=_candidates,
    lacks=lacks_filter,
    reasons=filter_words,
    price=filtered,
    uses_filters=True,
)
