"""High-speed sync: the shutter takes the surplus, past sync."""

from bisect import bisect_left
from collections.abc import Iterator
from itertools import product

from noggin.core.physics.dials import iso_dial
from noggin.core.physics.filters import NO_FILTER
from noggin.core.planning.candidates import Candidates, daylight_error, every, smaller, surplus
from noggin.core.planning.judgement import Judge, Place
from noggin.core.planning.lighting import Settings
from noggin.core.planning.motion import asks_for_speed, still_time
from noggin.core.planning.verdicts import JUST_MISSES, PASSED_BY, Miss
from noggin.core.planning.way import Way, WayKind
from noggin.core.planning.ways.prices import high_speed
from noggin.core.planning.ways.shared import fits_words
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import stops


def _candidates(setup: SetUp) -> Candidates:
    """Wanted aperture, lowest ISO, no filter, times past sync. Where daylight is too bright even at the
    fastest, all that can be done there: filters, and apertures from the wanted one on. For a subject that
    moves too fast for the sync speed every ISO; with nothing to take away else, the first time past sync.
    """
    camera, wanted = setup.camera, setup.wanted_aperture
    past = camera.shutters.between(camera.sync.stops, camera.fastest.stops)[1:]
    moving = asks_for_speed(setup)
    if not surplus(setup) and not moving:
        return every(setup, (wanted,), past[:1])
    if past and daylight_error(setup, Settings(camera.fastest, wanted, camera.iso_low)) > JUST_MISSES:
        bag = (NO_FILTER, *setup.stacks)
        return every(setup, (wanted, *smaller(setup)), past[-1:], bag=bag)
    isos = iso_dial().between(
        camera.iso_low.stops, camera.iso_high.stops if moving else camera.iso_low.stops
    )
    return every(setup, (wanted,), past, isos)


def _among(judge: Judge) -> list[Place] | None:
    """For a subject that moves, the times short enough for it at the lowest ISO at which one leaves the
    background light enough; where none does, all at the highest ISO. Where the background is lit by flash
    for the most part ISO buys nothing: it stays lowest."""
    setup = judge.setup
    still = still_time(setup)
    if still is None or not asks_for_speed(setup):
        return None
    first = bisect_left(judge.times, min(still, setup.camera.fastest.stops) - TOLERANCE)
    by_iso: dict[int, list[int]] = {}
    for at, dimming in enumerate(judge.dimmings):
        by_iso.setdefault(dimming.nearest.iso_at, []).append(at)
    may_fit = set(judge.within(judge.half + PASSED_BY))

    def at_times(iso: int, first: int) -> list[Place]:
        return list(product(by_iso[iso], range(first, len(judge.times))))

    def light_enough(place: Place) -> bool:
        if judge.daylight_over(place) > 0:
            return True
        return place in may_fit and (judge.of(place).fits or judge.of(place).error > 0)

    iso = next((iso for iso in by_iso if any(map(light_enough, at_times(iso, first)))), None)
    lowest, highest = min(by_iso), max(by_iso)
    rows = at_times(highest, 0) if iso is None else at_times(iso, first)
    if (highest if iso is None else iso) != lowest and not any(judge.of(place).daylit for place in rows):
        return at_times(lowest, first)
    return rows


def _lacks(setup: SetUp, _: Stops) -> Iterator[Miss]:
    if setup.camera.fastest == setup.camera.sync:
        yield Miss("faster_time")


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
    yield from _given_up(setup, way)


def _given_up(setup: SetUp, way: Way) -> Iterator[str]:
    """What the shutter alone could not do: ISO for a moving subject, filter and aperture past the fastest
    time, a background left brighter for a light that is short."""
    settings, camera = way.settings, setup.camera
    time = f"{settings.shutter.label} s"
    if settings.iso != camera.iso_low:
        enough = still_time(setup)
        does = "keeps the subject still" if enough and settings.shutter.stops >= enough else "smears less"
        yield f"ISO {settings.iso.label} buys {time}, which {does}. The price is noise."
    if settings.stack.names:
        yield (
            f"{time} is the fastest time there is, so {settings.stack.words} takes"
            f" {stops(settings.stack.stops)} more, of daylight and flash alike."
        )
    closed = settings.aperture.stops - setup.wanted_aperture.stops
    if closed > 0:
        yield (
            f"{time} is the fastest time there is, so the aperture closes {stops(closed)} to"
            f" f/{settings.aperture.label} for the rest."
        )
    bright = way.lighting.levels.background - setup.intent.background_level
    if bright > setup.dial_step / 2 + TOLERANCE and any(miss.kind == "flash" for miss in way.misses):
        yield (
            f"The background is left {stops(bright)} brighter than meant, so that the flash is less short."
        )


HSS = WayKind(
    "hss",
    "High-speed sync",
    "high-speed sync",
    "the shutter takes the surplus",
    "the toll, battery, heat",
    speed_rank=1,
    candidates=_candidates,
    lacks=_lacks,
    reasons=_reasons,
    price=high_speed,
    among=_among,
    past_sync=True,
)
