"""Choosing one of the settings open to a way: all of them judged at once, the best one picked.

The sums are those of `lighting`, on columns; a test holds the two to each other.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from math import isnan, log2
from typing import Any

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.dials import DialStep
from noggin.core.planning.candidates import Candidates
from noggin.core.planning.lighting import opening, spare
from noggin.core.planning.vectorized import Column, needed_flash
from noggin.core.planning.verdicts import POWER_MISS
from noggin.core.setup.camera import Camera
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

Marks = NDArray[np.bool_]
"""Yes or no for every setting on offer."""

Table = NDArray[np.float64]
"""One figure in stops for every light (down) and every setting on offer (across)."""

RESERVE_ENOUGH: Stops = 3.0
"""Reserve beyond which more is worth nothing between settings of one way; also what a way without
need of flash counts as."""


@dataclass(frozen=True)
class Judged:
    """What the settings on offer give.

    `error`: background off what is meant; `reserve`: the key's, NaN where it has none; `short`: some
    light gives too little; `feasible`: nothing is lacking.
    """

    error: Column
    reserve: Column
    reaches: Marks
    short: Marks
    feasible: Marks


@dataclass(frozen=True)
class _Figures:
    """What is the same for a light under all settings, one row for each light."""

    reach: Table
    toll: Table
    relative: Table
    step: Table
    lowest: Table
    on_subject: Marks


@dataclass(frozen=True)
class Picked:
    """The setting that was chosen: its place among those on offer, whether it is feasible, and the key's
    reserve (None where it has none)."""

    row: int
    feasible: bool
    reserve: Stops | None


def pick(setup: SetUp, offered: Candidates) -> Picked:
    """The best of the settings offered to one way.

    Feasible ones first: the greatest reserve (more than 3 stops count as 3), then everything within a
    dial step of it; of those the aperture nearest the wanted one, the background closest to what is
    meant, the fewest filters, bag order. When none is feasible: the smallest background error, then
    the aperture nearest the wanted one, then the greatest reserve.
    """
    return _best(setup, offered, judge(setup, offered), len(offered))


def pick_with_least_iso(setup: SetUp, offered: Candidates) -> Picked:
    """The best of settings that come with rising ISO, which rises only as far as a time within sync, or
    a light that is short, needs."""
    judged, among = judge(setup, offered), len(offered)
    fits = np.flatnonzero(judged.reaches & ~judged.short)
    if len(fits):
        among = int(np.searchsorted(offered.iso_at, offered.iso_at[fits[0]], side="right"))
    return _best(setup, offered, judged, among)


def _best(setup: SetUp, offered: Candidates, judged: Judged, among: int) -> Picked:
    """The best of the first so many settings."""
    feasible, reserve = judged.feasible[:among], judged.reserve[:among]
    if feasible.any():
        counted = np.fmin(np.where(np.isnan(reserve), RESERVE_ENOUGH, reserve), RESERVE_ENOUGH)
        most = counted[feasible].max()
        close = np.flatnonzero(feasible & (counted >= most - setup.dial_step - TOLERANCE))
        ties: tuple[NDArray[Any], ...] = (offered.stack_at[close], offered.filters[close])
        first, second = _aperture_miss(setup, offered, close), _quiet(judged.error[close])
    else:
        close = np.arange(among)
        ties = (np.where(np.isnan(reserve), np.inf, -reserve),)
        first, second = _quiet(judged.error[close]), _aperture_miss(setup, offered, close)
    best = int(close[np.lexsort((*ties, second, first))[0]])
    left = float(judged.reserve[best])
    return Picked(best, bool(judged.feasible[best]), None if isnan(left) else left)


def _aperture_miss(setup: SetUp, offered: Candidates, close: NDArray[np.intp]) -> Column:
    """By how much apertures are off the wanted one."""
    return _quiet(offered.aperture[close] - setup.wanted_aperture.stops)


def judge(setup: SetUp, offered: Candidates) -> Judged:
    """Every setting on offer judged as `feasibility` would judge it alone."""
    camera_side = offered.aperture - offered.iso + offered.nd
    settings = camera_side + offered.time
    error = setup.scene.background - settings - setup.intent.background_level
    reaches = np.abs(error) <= setup.dial_step / 2 + TOLERANCE
    needed = needed_flash(setup.intent, setup.scene.subject - settings)
    figures = _figures(setup.lights, setup.camera.hss)
    full, spares = _full_levels(setup, figures, offered, camera_side)
    reserve = full - _needed_levels(setup, figures, needed)
    dialled_off = _dialled_off(figures, reserve, spares)
    short = reserve < -TOLERANCE
    lacking = short | (np.abs(dialled_off) > POWER_MISS + TOLERANCE) | np.isnan(full)
    return Judged(
        error,
        reserve[setup.lights.index(setup.key)],
        reaches,
        np.logical_or.reduce(short),
        reaches & ~np.logical_or.reduce(lacking),
    )


def _quiet(off: Column) -> Column:
    """How far off, without the noise of binary fractions."""
    return np.asarray(np.round(np.abs(off), 9), dtype=np.float64)


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
    figures = _figures(lights, camera.hss)
    past = np.array([time.stops for time in times]) - camera.sync.stops
    through = np.where(past > TOLERANCE, -figures.toll - past, 0.0)
    spares = np.zeros_like(through)
    for index, light in enumerate(lights):
        if light.pulse:
            through[index] = [opening(camera, light, time) for time in times]
            spares[index] = [spare(camera, light, time) for time in times]
    return through, spares


def _needed_levels(setup: SetUp, figures: _Figures, needed: Column) -> Table:
    """The level each light must give; NaN where none is needed."""
    need = needed - setup.key_and_fill + figures.relative
    if figures.on_subject.all():
        return need
    without = np.isnan(needed) & ~figures.on_subject
    return np.where(without, setup.intent.subject_level + figures.relative, need)


def _dialled_off(figures: _Figures, reserve: Table, spares: Table) -> Table:
    """By how much each light misses its needed level when it is dialled."""
    more = reserve + spares
    steps = np.ceil(more / figures.step - 0.5 - TOLERANCE)
    down = np.minimum(np.maximum(steps * figures.step, 0.0), figures.lowest)
    return np.minimum(more - down, reserve)


@lru_cache(maxsize=64)
def _figures(lights: tuple[Light, ...], hss: bool) -> _Figures:
    def column(figure: Callable[[Light], float]) -> Table:
        return np.array([[figure(light)] for light in lights], dtype=np.float64)

    def toll(light: Light) -> Stops:
        return light.hss_toll if hss and light.hss_toll is not None else float("nan")

    return _Figures(
        column(lambda light: light.reach),
        column(toll),
        column(lambda light: light.relative),
        column(lambda light: light.power_step),
        column(lambda light: -log2(light.power_min)),
        np.array([[light.lights_subject] for light in lights]),
    )
