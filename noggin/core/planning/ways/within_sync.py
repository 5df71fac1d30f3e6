"""Within sync: the wanted aperture already fits at sync speed or slower."""

from collections.abc import Iterator

from noggin.core.physics.dials import iso_dial
from noggin.core.planning import candidates
from noggin.core.planning.candidates import Candidates, every
from noggin.core.planning.judgement import Judge, Place
from noggin.core.planning.motion import still_time
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


def _among(judge: Judge) -> list[Place]:
    """The times open at the one ISO that is called for; ISO comes first, then the verdict.

    It rises by the least that lets the time be as short as hand and movement ask and frees every light from
    shortage; where none does, as far as the background allows; never where the background would be too
    bright at every time, nor past the highest at which no light is too strong. Where the background is lit
    by flash for the most part ISO buys nothing there, and rises for the lights alone. Times slower than the
    hand's are open only where the background would be too dark without them.
    """
    setup, allowed = judge.setup, _allowed_isos(judge)
    slowest = _slowest(setup) - TOLERANCE
    fast = [at for at, time in enumerate(judge.times) if time >= slowest]
    may_fit = set(judge.within(judge.half + PASSED_BY))

    def at_hand(iso: int) -> list[Place]:
        return [(iso, at) for at in fast]

    def fitting(iso: int) -> list[Place]:
        return [place for place in at_hand(iso) if place in may_fit and judge.of(place).fits]

    for_background = next((iso for iso in allowed if fitting(iso)), allowed[-1])
    daylit = any(judge.of(place).daylit for place in at_hand(for_background))
    right = fitting if daylit or for_background == allowed[0] else at_hand
    enough = (iso for iso in allowed if any(_none_short(judge, place) for place in right(iso)))
    iso = next(enough, None)
    if iso is None:
        iso = next((iso for iso in reversed(allowed) if right(iso)), allowed[-1])
    if all(_too_dark(judge, place) for place in at_hand(iso)):
        return [(iso, at) for at in range(len(judge.times))]
    return at_hand(iso)


def _allowed_isos(judge: Judge) -> list[int]:
    """The lowest ISO, by its place, and those at which the background is not too bright at every time, up
    to the highest at which no light is too strong then."""
    isos, limit = range(len(judge.dimmings)), judge.half + PASSED_BY

    def dim_enough(iso: int) -> Iterator[Place]:
        # From the shortest time on: where daylight alone is too bright, slower ones are too.
        for at in reversed(range(len(judge.times))):
            if judge.daylight_over((iso, at)) > limit:
                return
            if judge.brightest_over((iso, at)) <= limit or judge.of((iso, at)).error <= limit:
                yield iso, at

    def gentle(iso: int) -> bool:
        return any(_gentle(judge, place) for place in dim_enough(iso))

    highest = next((iso for iso in reversed(isos) if gentle(iso)), 0)
    return [iso for iso in isos if iso == 0 or (iso <= highest and any(dim_enough(iso)))]


def _gentle(judge: Judge, place: Place) -> bool:
    limit = JUST_MISSES + PASSED_BY
    return judge.outline(place).strongest <= limit and judge.of(place).strongest <= limit


def _none_short(judge: Judge, place: Place) -> bool:
    return judge.outline(place).shortest <= PASSED_BY and judge.of(place).shortest <= PASSED_BY


def _too_dark(judge: Judge, place: Place) -> bool:
    judged = judge.of(place)
    return judged.error < 0 and judged.counted > within_just(judge.setup)


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
