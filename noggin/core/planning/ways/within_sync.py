"""Within sync: the wanted aperture already fits at sync speed or slower."""

from collections.abc import Iterator

import numpy as np

from noggin.core.physics.dials import iso_dial
from noggin.core.planning import candidates
from noggin.core.planning.candidates import Candidates, every
from noggin.core.planning.motion import still_time
from noggin.core.planning.selection import Judged, Marks
from noggin.core.planning.verdicts import JUST_MISSES, PASSED_BY, within_just
from noggin.core.planning.way import Way, WayKind
from noggin.core.planning.ways.prices import noise
from noggin.core.planning.ways.shared import nothing_lacking, surplus_words
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import signed


def _candidates(setup: SetUp) -> Candidates:
    """Wanted aperture, slowest time to sync speed, ISO from the lowest."""
    camera = setup.camera
    isos = iso_dial().between(camera.iso_low.stops, camera.iso_high.stops)
    return every(setup, (setup.wanted_aperture,), camera.times_to_sync, isos)


def _slowest(setup: SetUp) -> Stops:
    """The slowest time that hand and movement ask for, in stops on the dial; no faster than sync."""
    asked = [stops for stops in (setup.hand_stops, still_time(setup)) if stops is not None]
    return min(max(asked, default=setup.camera.slowest.stops), setup.camera.sync.stops)


def _among(setup: SetUp, offered: Candidates, judged: Judged) -> Marks:
    """The times open at the one ISO that is called for; ISO comes first, then the verdict.

    It rises by the least that lets the time be as short as hand and movement ask and frees every light from
    shortage; where none does, as far as the background allows; never where the background would be too
    bright at every time, nor past the highest at which no light is too strong. Where the background is lit
    by flash for the most part ISO buys nothing there, and rises for the lights alone. Times slower than the
    hand's are open only where the background would be too dark without them.
    """
    fast = offered.time >= _slowest(setup) - TOLERANCE
    dim_enough = judged.error <= setup.dial_step / 2 + PASSED_BY
    gentle = dim_enough & (judged.strongest <= JUST_MISSES + PASSED_BY)
    iso, lowest = offered.iso_at, 0
    highest = int(iso[gentle].max()) if gentle.any() else lowest
    allowed = np.isin(iso, iso[dim_enough]) & (iso <= highest) | (iso == lowest)
    fits = allowed & fast & judged.fits
    for_background = iso[fits].min() if fits.any() else iso[allowed].max()
    daylit = judged.daylit[fast & (iso == for_background)].any()
    right = fits if daylit or for_background == lowest else allowed & fast
    enough = right & (judged.shortest <= PASSED_BY)
    as_far_as_it_goes = iso[right if right.any() else allowed].max()
    at_iso: Marks = iso == (iso[enough].min() if enough.any() else as_far_as_it_goes)
    at_hand = at_iso & fast
    too_dark = (judged.error[at_hand] < 0) & (judged.counted[at_hand] > within_just(setup))
    return at_iso if too_dark.all() else at_hand


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
        yield _iso_words(setup, way)


def _iso_words(setup: SetUp, way: Way) -> str:
    """Why ISO rises: for whatever asks for the greatest rise of the hand, movement, the slowest time that
    is allowed, and each light, which the lowest ISO leaves short."""
    camera, iso = setup.camera, way.settings.iso
    rise = iso.stops - camera.iso_low.stops
    at_lowest = setup.scene.background - setup.intent.background_level - setup.wanted_aperture.stops
    needed = at_lowest + camera.iso_low.stops + setup.dial_step / 2
    times = (
        (setup.hand_stops, "the time would be too slow to hold by hand"),
        (still_time(setup), "the time would be so long that the subject smears more"),
        (camera.slowest.stops, f"the time would be slower than {camera.slowest.label} s"),
    )
    wants = [(min(limit, camera.sync.stops) - needed, words) for limit, words in times if limit is not None]
    # As the time shortens with it, each light gains what ISO rises by.
    wants += [
        (rise - firing.reserve, f"the {firing.light.role} is short")
        for firing in way.lighting.firings
        if firing.reserve is not None
    ]
    _, words = max(wants)
    return f"ISO {iso.label}: at ISO {camera.iso_low.label} {words}."


WITHIN_SYNC = WayKind(
    "within_sync",
    "Within sync",
    "staying within sync",
    "the wanted aperture already fits",
    "nothing",
    speed_rank=0,
    candidates=_candidates,
    lacks=nothing_lacking,
    reasons=_reasons,
    price=noise,
    always=True,
    among=_among,
)
