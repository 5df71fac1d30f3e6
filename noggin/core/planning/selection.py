"""Choosing one of the settings open to a way: all of them judged at once, the best one picked.

The sums are those of `lighting`, on columns; a test holds the two to each other.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from math import isnan, log2

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.dials import DialStep
from noggin.core.planning.candidates import Candidates, Places
from noggin.core.planning.lighting import AMBIENT_ENOUGH, on_background_by, opening, spare
from noggin.core.planning.vectorized import NO_LIGHT, Column, mixed, needed_flash
from noggin.core.planning.verdicts import (
    DARK_COUNTS_NOT,
    HOLDS,
    JUST,
    JUST_MISSES,
    MISS_STEP,
    PASSED_BY,
    SHORT,
    dark_weight,
    within_just,
)
from noggin.core.setup.camera import Camera
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops

Marks = NDArray[np.bool_]
"""Yes or no for every setting on offer."""

Table = NDArray[np.float64]
"""One figure in stops for every light (down) and every setting on offer (across)."""

RESERVE_ENOUGH: Stops = 3.0
"""Reserve beyond which more is worth nothing between settings of one way; also what a way without
need of flash counts as."""


BACKGROUND_COUNTS = 2.0
"""Where nothing holds, a stop of background counts as much as two of flash: daylight is held as it is
meant, and the light that is too weak is named."""

HALF_OF_IT: Stops = 1.0
"""Daylight this far under the background's level is half of its light."""


@dataclass(frozen=True)
class Judged:
    """What the settings on offer give.

    `error`: background off what is meant, flash on it included; `counted`: how far off that counts to be;
    `reserve`: the key's, NaN where it has none; `shortest`: by how much the shortest light is short;
    `strongest`: by how much the worst light is too strong at its least power; `fits`: the background is
    where it is meant; `daylit`: daylight is at least half of its light; `miss`, `holds` and `just`: the
    verdict; `weighed`: the miss in which the background counts BACKGROUND_COUNTS times.
    """

    error: Column
    counted: Column
    reserve: Column
    shortest: Column
    strongest: Column
    fits: Marks
    daylit: Marks
    miss: Column
    weighed: Column
    holds: Marks
    just: Marks


@dataclass(frozen=True)
class _Figures:
    """What is the same for a light under all settings, one row for each light."""

    reach: Table
    relative: Table
    step: Table
    lowest: Table
    to_background: Table
    tops_up: Marks


@dataclass(frozen=True)
class Picked:
    """The setting that was chosen: its place among those on offer, its verdict, and the key's reserve
    (None where it has none)."""

    row: int
    verdict: str
    reserve: Stops | None


Among = Callable[[SetUp, Candidates, Judged], Marks]
"""Which of the settings on offer may be picked, by what they give."""


def pick(setup: SetUp, offered: Candidates, among: Among | None = None) -> Picked:
    """The best of the settings offered to one way, by the best verdict first.

    Of those that hold: the greatest reserve (more than 3 stops count as 3), then everything within a dial
    step of it; of those the aperture nearest the wanted one, the background closest to what is meant, the
    fewest filters, bag order; of a background meant all but black the shorter time before the filters.
    Of the others: the smallest miss, the background weighed double, then the aperture nearest the wanted
    one, the background closest to what is meant, the greatest reserve.
    """
    rows = None
    if among is None and len(offered) > FEW:
        rows, judged = _worth_judging(setup, offered)
        offered = offered.only(rows)
    else:
        judged = judge(setup, offered)
    open_to = np.ones(len(offered), dtype=bool) if among is None else among(setup, offered, judged)
    picked = _best(setup, offered, judged, open_to)
    return picked if rows is None else replace(picked, row=int(rows[picked.row]))


FEW = 200
"""Up to so many settings all are judged; of more, those that can win."""


def _worth_judging(setup: SetUp, offered: Candidates) -> tuple[Places, Judged]:
    """Places of the settings that can be the best, by the background alone, and what they give: no light
    can make it darker than daylight does, nor brighter than all of them at full power on it would.

    Where one of those that may be right works, none of the others can be better; else only one that may
    miss by less than the best of them.
    """
    camera_side = offered.aperture - offered.iso + offered.nd
    meant = setup.intent.background_level
    daylight = setup.scene.background - camera_side - offered.time - meant
    figures = _figures(setup.lights, setup.behind_m)
    through, _ = _through(setup.lights, setup.camera, offered.times)
    most = np.exp2(np.fmax(figures.reach + figures.to_background, NO_LIGHT)).sum()
    most *= np.exp2(np.fmax(through, 0.0).max())
    brightest = np.log2(np.exp2(daylight) + most * np.exp2(-camera_side - meant))
    misses_by = np.maximum(np.maximum(daylight, -brightest * dark_weight(setup)), 0.0)
    near = np.flatnonzero(misses_by <= max(within_just(setup), misses_by.min()))
    judged = judge(setup, offered.only(near))
    if judged.just.any() or judged.holds.any():
        return near, judged
    least = judged.weighed.min() / BACKGROUND_COUNTS + setup.dial_step / 2 + MISS_STEP + TOLERANCE
    rows = np.flatnonzero(misses_by <= least)
    return rows, judge(setup, offered.only(rows))


def _best(setup: SetUp, offered: Candidates, judged: Judged, open_to: Marks) -> Picked:
    counted = np.where(np.isnan(judged.reserve), RESERVE_ENOUGH, judged.reserve)
    for verdict, marks in ((HOLDS, judged.holds), (JUST, judged.just), (SHORT, ~judged.just)):
        rows = np.flatnonzero(open_to & marks)
        if not len(rows):
            continue
        off = _quiet(offered.aperture[rows] - setup.wanted_aperture.stops)
        if verdict == HOLDS:
            enough = np.fmin(counted[rows], RESERVE_ENOUGH)
            near = enough >= enough.max() - setup.dial_step - TOLERANCE
            rows, off = rows[near], off[near]
            dark = setup.intent.background_level <= DARK_COUNTS_NOT
            shorter = -offered.time[rows] if dark else np.zeros(len(rows))
            ties = (offered.stack_at[rows], offered.filters[rows], shorter)
            order = np.lexsort((*ties, _quiet(judged.counted[rows]), off))
        else:
            missed = np.floor(judged.weighed[rows] / MISS_STEP + 0.5 + TOLERANCE)
            order = np.lexsort((-np.round(counted[rows], 9), _quiet(judged.counted[rows]), off, missed))
        best = int(rows[order[0]])
        left = float(judged.reserve[best])
        return Picked(best, verdict, None if isnan(left) else left)
    raise AssertionError("no setting is open to the way")


def judge(setup: SetUp, offered: Candidates) -> Judged:
    """Every setting on offer judged as `verdicts` would judge it alone."""
    camera_side = offered.aperture - offered.iso + offered.nd
    settings = camera_side + offered.time
    figures = _figures(setup.lights, setup.behind_m)
    key, half = setup.lights.index(setup.key), setup.dial_step / 2
    background, subject = setup.scene.background - settings, setup.scene.subject - settings
    full, spares = _full_levels(setup, figures, offered, camera_side)
    least = np.minimum(full + spares - figures.lowest, full)
    needed = _key_needs(setup, subject, least[key])
    need = np.where(figures.tops_up, np.nan, needed + figures.relative)
    spilt = mixed(background, _levels(figures, full, spares, need) + figures.to_background)
    if figures.tops_up.any():
        need = np.where(figures.tops_up, _topping_up(setup, figures, spilt, least), need)
        lit = np.where(figures.tops_up, _levels(figures, full, spares, need), np.nan)
        reached = mixed(spilt, lit)
    else:
        reached = spilt
    error = reached - setup.intent.background_level
    counted = np.where(error > 0, error, -error * dark_weight(setup))
    reserve = full - need
    short, strong = np.fmax(-reserve, 0.0), np.fmax(least - need, 0.0)
    beyond = np.maximum(counted - half, 0)
    of_lights = np.sum(short + np.maximum(strong - JUST_MISSES, 0), axis=0)
    strongest, fits = strong.max(axis=0), counted <= half + PASSED_BY
    able = (strongest <= JUST_MISSES + PASSED_BY) & ~np.isnan(full).any(axis=0)
    shortest = short.max(axis=0)
    return Judged(
        error,
        counted,
        reserve[key],
        shortest,
        strongest,
        fits,
        daylit=background >= reached - HALF_OF_IT - TOLERANCE,
        miss=beyond + of_lights,
        weighed=BACKGROUND_COUNTS * beyond + of_lights,
        holds=fits & able & (shortest <= PASSED_BY),
        just=(counted <= within_just(setup)) & able & (shortest <= JUST_MISSES + PASSED_BY),
    )


def _quiet(off: Column) -> Column:
    """How far off, without the noise of binary fractions."""
    return np.asarray(np.round(np.abs(off), 9), dtype=np.float64)


def _key_needs(setup: SetUp, subject: Column, least: Column) -> Column:
    """What the key must give; NaN where it stays off, because daylight is enough or comes near enough for a
    light that cannot give so little."""
    needed = needed_flash(setup.intent, subject) - setup.key_and_fill
    if not setup.intent.daylight_counts:
        return needed
    near = subject >= setup.intent.subject_level - AMBIENT_ENOUGH - TOLERANCE
    return np.where(near & (least - needed > JUST_MISSES + TOLERANCE), np.nan, needed)


def _topping_up(setup: SetUp, figures: _Figures, spilt: Column, least: Table) -> Table:
    """What each background light without a level of its own must give, so that together they bring the
    background to what is meant; NaN where one stays off."""
    meant, half = setup.intent.background_level, setup.dial_step / 2
    missing = spilt < meant - half - TOLERANCE
    under = np.where(missing, spilt - meant, -1.0)
    need = meant + np.log2(1 - np.exp2(under)) - log2(np.count_nonzero(figures.tops_up))
    near = spilt >= meant - max(JUST_MISSES, half) - TOLERANCE
    off = ~missing | (near & (least - need > JUST_MISSES + TOLERANCE))
    return np.where(off, np.nan, need)


def _levels(figures: _Figures, full: Table, spares: Table, need: Table) -> Table:
    """What each light gives as it is dialled."""
    steps = np.ceil((full - need + spares) / figures.step - 0.5 - TOLERANCE)
    down = np.minimum(np.maximum(steps * figures.step, 0.0), figures.lowest)
    return np.minimum(full + spares - down, full)


def _full_levels(
    setup: SetUp, figures: _Figures, offered: Candidates, camera_side: Column
) -> tuple[Table, Table]:
    """Each light's level at full power (NaN where it cannot take part), and what it has to spare."""
    through, spares = _through(setup.lights, setup.camera, offered.times)
    full = figures.reach - camera_side + through[:, offered.time_at]
    return full, spares[:, offered.time_at]


@lru_cache(maxsize=128)
def _through(lights: tuple[Light, ...], camera: Camera, times: tuple[DialStep, ...]) -> tuple[Table, Table]:
    """What each time lets through of each light's full pop, and what that light then has to spare."""
    through = [[opening(camera, light, time) for time in times] for light in lights]
    spares = [[spare(camera, light, time) for time in times] for light in lights]
    return np.array(through, dtype=np.float64), np.array(spares, dtype=np.float64)


@lru_cache(maxsize=64)
def _figures(lights: tuple[Light, ...], behind_m: Metres) -> _Figures:
    def column(figure: Callable[[Light], float]) -> Table:
        return np.array([[figure(light)] for light in lights], dtype=np.float64)

    return _Figures(
        column(lambda light: light.reach),
        column(lambda light: light.relative),
        column(lambda light: light.power_step),
        column(lambda light: -log2(light.power_min)),
        column(lambda light: on_background_by(light, behind_m)),
        np.array([[light.tops_up] for light in lights]),
    )
