"""Choosing one of the settings open to a way: those that can win are judged, the best is picked."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from math import inf

from noggin.core.planning.candidates import NOISE_DIGITS, Candidates, DimmingRow
from noggin.core.planning.judgement import BACKGROUND_COUNTS, Judge, Judgement, Outline, Place
from noggin.core.planning.lighting import Settings
from noggin.core.planning.verdicts import (
    DARK_COUNTS_NOT,
    HOLDS,
    JUST,
    JUST_MISSES,
    MISS_STEP,
    PASSED_BY,
    SHORT,
)
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

RESERVE_ENOUGH: Stops = 3.0
"""Reserve beyond which more is worth nothing between settings of one way; also what a way without
need of flash counts as."""


@dataclass(frozen=True)
class Picked:
    """The setting that was chosen, its verdict, and the key's reserve (None where it has none)."""

    settings: Settings
    verdict: str
    reserve: Stops | None


Among = Callable[[Judge], Iterable[Place] | None]
"""Which of the settings on offer may be picked, by what they give; None: all of them."""


def pick(setup: SetUp, offered: Candidates, among: Among | None = None) -> Picked:
    """The best of the settings offered to one way, by the best verdict first.

    Of those that hold: the greatest reserve (more than 3 stops count as 3), then everything within a dial
    step of it; of those the aperture nearest the wanted one, the background closest to what is meant, the
    fewest filters, bag order; of a background meant all but black the shorter time before the filters.
    Of the others: the smallest miss, the background weighed double, then the aperture nearest the wanted
    one, the background closest to what is meant, the greatest reserve.
    """
    judge = Judge(setup, offered)
    allowed = among(judge) if among else None
    places = _near_enough(judge) if allowed is None else list(allowed)
    held = _best_that_holds(judge, [place for place in places if _may_hold(judge, place)])
    if held is not None:
        return _picked(judge, held, judge.dimmings[held[0]].lightest, HOLDS)
    just = _nearest(judge, [place for place in places if _may_just_do(judge, place)], just=True)
    if just is not None:
        return _picked(judge, just, judge.dimmings[just[0]].nearest, JUST)
    nearest = _nearest(judge, _worth_judging(judge, places) if allowed is None else places)
    assert nearest is not None  # noqa: S101 - something is always on offer
    return _picked(judge, nearest, judge.dimmings[nearest[0]].nearest, SHORT)


def pick_for_background(setup: SetUp, offered: Candidates) -> Picked:
    """The best of those that bring the background to what is meant, or as near as any does."""
    judge = Judge(setup, offered)
    fitting = [place for place in judge.within(judge.half + PASSED_BY) if judge.of(place).fits]
    if not fitting:
        least = min(judge.of(place).counted for place in judge.within(judge.least_off()))
        near = judge.within(least)
        least = min(judge.of(place).counted for place in near)
        fitting = [place for place in near if judge.of(place).counted <= least + TOLERANCE]
    return pick(setup, offered, lambda _: fitting)


def _picked(judge: Judge, place: Place, row: DimmingRow, verdict: str) -> Picked:
    return Picked(judge.offered.settings(row, place[1]), verdict, judge.of(place).reserve)


def _near_enough(judge: Judge) -> list[Place]:
    """Settings that may be right by the background alone; where none may, those that may be off by
    least."""
    return judge.within(max(judge.just_within, judge.least_off()))


def _worth_judging(judge: Judge, near: Sequence[Place]) -> list[Place]:
    """Where none is right: all that may miss by no more than the best of those near enough."""
    least = inf
    for place in _promising(judge, near):
        if judge.outline(place).weighed >= least:
            break
        least = min(least, judge.of(place).weighed)
    return judge.within(least / BACKGROUND_COUNTS + judge.half + MISS_STEP + TOLERANCE)


def _promising(judge: Judge, places: Iterable[Place]) -> list[Place]:
    """Those that may miss least first."""
    return sorted(places, key=lambda place: judge.outline(place).weighed)


def _may_hold(judge: Judge, place: Place) -> bool:
    known = judge.outline(place)
    return (
        known.counted <= judge.half + PASSED_BY
        and known.shortest <= PASSED_BY
        and known.strongest <= JUST_MISSES + PASSED_BY
    )


def _may_just_do(judge: Judge, place: Place) -> bool:
    known = judge.outline(place)
    return (
        known.counted <= judge.just_within
        and max(known.shortest, known.strongest) <= JUST_MISSES + PASSED_BY
    )


def _best_that_holds(judge: Judge, places: Sequence[Place]) -> Place | None:
    """The best of those that hold; None where none does. The greatest reserve is looked for first, then the
    apertures are gone through from the wanted one, and no more is judged than that takes."""
    enough = {place: min(_enough(judge.outline(place)), RESERVE_ENOUGH) for place in places}
    by_reserve = sorted(places, key=lambda place: -enough[place])
    most = next((enough[place] for place in by_reserve if judge.of(place).holds), None)
    if most is None:
        return None
    least = most - judge.setup.dial_step - TOLERANCE
    by_aperture: dict[Stops, list[Place]] = {}
    for place in by_reserve:
        if enough[place] >= least:
            by_aperture.setdefault(judge.dimmings[place[0]].off, []).append(place)
    for off in sorted(by_aperture):
        held = [place for place in by_aperture[off] if judge.of(place).holds]
        if held:
            return min(held, key=partial(_order_held, judge))
    raise AssertionError("one of them holds")


def _order_held(judge: Judge, place: Place) -> tuple[object, ...]:
    dimming, time_at = judge.dimmings[place[0]], place[1]
    dark = judge.setup.intent.background_level <= DARK_COUNTS_NOT
    counted = round(judge.of(place).counted, NOISE_DIGITS)
    row = dimming.lightest
    return counted, -judge.times[time_at] if dark else 0.0, dimming.filters, row.stack_at, row, time_at


def _nearest(judge: Judge, places: Sequence[Place], *, just: bool = False) -> Place | None:
    """The one of the smallest miss, of those alone that `just` do; None where none does. Those that may
    miss least are judged first, and none that cannot miss as little as the best."""
    best: Place | None = None
    least: tuple[float, ...] = (inf,)
    for place in _promising(judge, places):
        if _in_steps(judge.outline(place).weighed - TOLERANCE) > least[0]:
            break
        if not just or judge.of(place).just:
            order = _order_missed(judge, place)
            if order < least:
                best, least = place, order
    return best


def _order_missed(judge: Judge, place: Place) -> tuple[float, ...]:
    judged, dimming = judge.of(place), judge.dimmings[place[0]]
    counted, reserve = round(judged.counted, NOISE_DIGITS), round(_enough(judged), NOISE_DIGITS)
    return _in_steps(judged.weighed), dimming.off, counted, -reserve, *dimming.nearest, place[1]


def _in_steps(missed: Stops) -> float:
    return (missed / MISS_STEP + 0.5 + TOLERANCE) // 1


def _enough(judged: Judgement | Outline) -> Stops:
    return RESERVE_ENOUGH if judged.reserve is None else judged.reserve
