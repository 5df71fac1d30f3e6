"""High-speed sync: the shutter takes the surplus, past sync."""

from collections.abc import Iterator

from noggin.core.planning.candidates import Candidates, pairs, smaller, surplus, too_bright
from noggin.core.planning.lighting import Settings
from noggin.core.planning.methods.shared import fits_words
from noggin.core.planning.verdicts import Lack
from noggin.core.planning.way import Method, Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import stops


def _candidates(setup: SetUp) -> Candidates:
    """Wanted aperture, lowest ISO, no filter, times past sync; at the fastest the aperture closes.

    With nothing to take away only the first time past sync is shown.
    """
    camera, wanted = setup.camera, setup.wanted_aperture
    past = camera.shutters.between(camera.sync.stops, camera.fastest.stops)[1:]
    if not surplus(setup):
        past = past[:1]
    fastest = Settings(camera.fastest, wanted, camera.iso_low)
    closing = past and too_bright(setup, fastest)
    apertures = (wanted, *smaller(setup)) if closing else (wanted,)
    last = len(past) - 1
    places = [(0, time) for time in range(len(past))]
    places += [(aperture, last) for aperture in range(1, len(apertures))]
    return pairs(setup, apertures, past, places)


def _lacks(setup: SetUp, _: Stops) -> Iterator[Lack]:
    if setup.camera.fastest == setup.camera.sync:
        yield Lack("faster_time")


def _reasons(setup: SetUp, way: Way) -> Iterator[str]:
    if way.not_needed:
        yield fits_words(setup)
        return
    sync, settings = setup.camera.sync, way.settings
    time = f"{settings.shutter.label} s"
    shorter = settings.shutter.stops - sync.stops
    toll = setup.key.hss_toll
    if toll is not None:
        yield (
            f"{time} is {stops(shorter)} past sync. The flash loses that too, and the toll of"
            f" {stops(toll)} on top."
        )
    else:
        yield (
            f"{time} is {stops(shorter)} past sync, and {setup.key.says} has no high-speed sync to follow."
        )
    closed = settings.aperture.stops - setup.wanted_aperture.stops
    if closed > 0:
        yield (
            f"{time} is the fastest time there is, so the aperture closes {stops(closed)} to"
            f" f/{settings.aperture.label} for the rest."
        )


HSS = Method(
    "hss",
    "High-speed sync",
    "high-speed sync",
    "the shutter takes the surplus",
    "the toll, battery, heat",
    speed_rank=1,
    candidates=_candidates,
    lacks=_lacks,
    reasons=_reasons,
    past_sync=True,
)
