"""Within sync: the wanted aperture already fits at sync speed or slower."""

from collections.abc import Iterator

from noggin.core.physics.dials import DialStep, iso_dial
from noggin.core.planning import candidates
from noggin.core.planning.candidates import UNFILTERED, Candidates, trimmed
from noggin.core.planning.methods.shared import nothing_lacking, surplus_words
from noggin.core.planning.way import Method, Way
from noggin.core.setup.setup import SetUp
from noggin.core.wording import signed, stops


def _candidates(setup: SetUp) -> Candidates:
    """Wanted aperture, slowest time to sync speed, ISO rising from the lowest."""
    camera = setup.camera
    isos = iso_dial().between(camera.iso_low.stops, camera.iso_high.stops)
    return trimmed(setup, (setup.wanted_aperture,), isos, UNFILTERED)


def _reasons(setup: SetUp, way: Way) -> Iterator[str]:
    if candidates.surplus(setup):
        yield surplus_words(setup)
        return
    settings = way.settings
    yield (
        f"{settings.shutter.label} s at f/{settings.aperture.label} puts the background at"
        f" {signed(way.lighting.levels.background_ambient)} without going past sync"
        f" ({setup.camera.sync.label} s)."
    )
    if settings.iso != setup.camera.iso_low:
        yield _iso_words(setup, settings.iso)


def _iso_words(setup: SetUp, iso: DialStep) -> str:
    low = setup.camera.iso_low
    return (
        f"Raising ISO from {low.label} to {iso.label} and shortening the time to match leaves"
        f" daylight as it is and gives the flash {stops(iso.stops - low.stops)}."
    )


WITHIN_SYNC = Method(
    "within_sync",
    "Within sync",
    "staying within sync",
    "the wanted aperture already fits",
    "nothing",
    speed_rank=0,
    candidates=_candidates,
    lacks=nothing_lacking,
    reasons=_reasons,
    always=True,
    least_iso=True,
)
