"""How near a picture is to what is meant, as it is dialled."""

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from noggin.core.planning.plan import where_it_works
from noggin.core.planning.verdicts import dark_weight
from noggin.core.planning.way import Way
from noggin.core.pops.actual import ActualFrame, LightSum, Lit
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.frame import Dialled
from noggin.core.pops.target import counted, meant_subject
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops

NEAR: Stops = 1 / 3
"""A zone is right within this."""


DRAWS = 4000

NOWHERE_ELSE: Mapping[int, Metres] = MappingProxyType({})
"""No light was moved."""


def with_flash(setup: SetUp, way: Way, dialled: Dialled) -> Dialled:
    """The same with every light on: at the power, or on automatic the compensation, that it was dialled to,
    else as planned."""
    if setup.intent.school == "auto":
        planned_for = way.compensation(setup)
        set_to = planned_for if dialled.compensation is None else dialled.compensation
        return replace(dialled, powers={}, hss=way.lighting.hss, compensation=set_to)
    if way.mend and all(move.index in dialled.distances for move in way.mend.moves):
        way = where_it_works(way)
    planned = {
        index: firing.down for index, firing in enumerate(way.lighting.firings) if firing.down is not None
    }
    return replace(dialled, powers={**planned, **dialled.powers}, hss=way.lighting.hss)


def begun(setup: SetUp, way: Way, stand: Mapping[int, Metres] = NOWHERE_ELSE) -> Dialled:
    """What is dialled where a way is begun; where one move mends it, with its lights where that puts them.
    `stand` says where lights stand by now that were moved before."""
    moves = way.mend.moves if way.mend else ()
    moved = {**stand, **{move.index: move.distance_m for move in moves}}
    return with_flash(
        setup, way, Dialled(where_it_works(way).settings, {}, way.lighting.hss, distances=moved)
    )


def belongs(setup: SetUp, way: Way, dialled: Dialled) -> bool:
    """Whether what was dialled is a frame of a way: past sync, with a filter, or without either."""
    settings = dialled.settings
    past = settings.shutter.stops > setup.camera.sync.stops + TOLERANCE
    filtered = settings.stack.stops > 0
    of_way = way.lighting.hss or way.kind.past_sync
    return past == of_way and filtered == (way.settings.stack.stops > 0)


def right(setup: SetUp, estimate: Estimate, dialled: Dialled) -> float:
    """How probable it is that face and background are both within a third of a stop of what is meant."""
    lit = estimate.lit(ActualFrame(dialled))
    terms = (lit.zone("background"), lit.zone("subject"))
    found = [one.level(estimate.offsets) for one in terms]
    follows = np.array([row for _, row in found])
    spread = follows @ estimate.covariance @ follows.T
    ambient, _ = lit.daylight("subject").level(estimate.offsets)
    off = np.array(
        [found[0][0] - setup.intent.background_level, found[1][0] - meant_subject(setup, ambient)]
    )
    # The square root of a matrix that may be all but singular.
    values, vectors = np.linalg.eigh(spread)
    root = vectors * np.sqrt(np.maximum(values, 0.0))
    drawn = off + _normal() @ root.T
    drawn[:, 0] = np.where(drawn[:, 0] > 0, drawn[:, 0], drawn[:, 0] * dark_weight(setup))
    return float((np.abs(drawn) <= NEAR + TOLERANCE).all(axis=1).mean())


@cache
def _normal() -> NDArray[np.float64]:
    """Draws from two normal distributions, always the same ones."""
    return np.random.default_rng(1).standard_normal((DRAWS, 2))


def level(estimate: Estimate, terms: LightSum) -> Stops:
    return terms.level(estimate.offsets)[0]


def errors(setup: SetUp, estimate: Estimate, lit: Lit) -> tuple[Stops, Stops]:
    """By how much background and face count to be over what is meant."""
    background = level(estimate, lit.zone("background")) - setup.intent.background_level
    background = counted(setup, background)
    meant = meant_subject(setup, level(estimate, lit.daylight("subject")))
    return background, level(estimate, lit.zone("subject")) - meant
