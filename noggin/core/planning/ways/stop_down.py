"""Stop down: the aperture closes until sync speed fits."""

from collections.abc import Iterator

from noggin.core.planning.candidates import Candidates, every, smaller
from noggin.core.planning.way import Way, WayKind
from noggin.core.planning.ways.prices import closing
from noggin.core.planning.ways.shared import fits_words, lacks_aperture
from noggin.core.setup.setup import SetUp
from noggin.core.wording import stops


def _candidates(setup: SetUp) -> Candidates:
    """Sync speed, lowest ISO, every aperture smaller than wanted."""
    return every(setup, smaller(setup), (setup.camera.sync,))


def _reasons(setup: SetUp, way: Way) -> Iterator[str]:
    if way.not_needed:
        yield fits_words(setup)
        return
    closed = way.settings.aperture.stops - setup.wanted_aperture.stops
    if closed > 0:
        yield (
            f"Closing from f/{setup.wanted_aperture.label} to f/{way.settings.aperture.label} takes"
            f" {stops(closed)} from daylight and flash alike, so the full reach stays."
        )


STOP_DOWN = WayKind(
    "stop_down",
    "Stop down",
    "stopping down",
    "the aperture closes until sync speed fits",
    "everything sharp",
    speed_rank=2,
    candidates=_candidates,
    lacks=lacks_aperture,
    reasons=_reasons,
    price=closing,
)
