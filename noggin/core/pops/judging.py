"""How near a picture is to what is meant, as it is dialled."""

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from math import erfc, inf, sqrt
from types import MappingProxyType

from noggin.core.planning.plan import where_it_works
from noggin.core.planning.verdicts import dark_weight
from noggin.core.planning.way import Way
from noggin.core.pops.actual import ActualFrame, LightSum, Lit
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.frame import Dialled
from noggin.core.pops.linear import across, spread_along
from noggin.core.pops.target import counted, meant_subject
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops

NEAR: Stops = 1 / 3
"""A zone is right within this."""


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
    """How probable it is that face and background are both within a third of a stop of what is meant: the
    part of a normal distribution of two over a rectangle, summed over the face, the background given it in
    closed form."""
    lit = estimate.lit(ActualFrame(dialled))
    background, by_background = lit.zone("background").level(estimate.offsets)
    face, by_face = lit.zone("subject").level(estimate.offsets)
    ambient, _ = lit.daylight("subject").level(estimate.offsets)
    covariance, dark = estimate.covariance, dark_weight(setup)
    of_face = spread_along(by_face, covariance)
    together = across(by_background, covariance, by_face)
    follows = together / of_face if of_face > NOTHING else 0.0
    rest = sqrt(max(spread_along(by_background, covariance) - follows * together, NOTHING))
    off_background = background - setup.intent.background_level
    off_face, deviation = face - meant_subject(setup, ambient), sqrt(max(of_face, NOTHING))
    near = NEAR + TOLERANCE
    low, high = -near / dark if dark else -inf, near
    found = 0.0
    for at in SUMMED_AT:
        if abs(off_face + at * deviation) <= near:
            middle = off_background + follows * at * deviation
            found += _bell_part(at) * (_up_to((high - middle) / rest) - _up_to((low - middle) / rest))
    return found


NOTHING = 1e-12
"""A variance under this is none."""

SUM_STEP = 0.02
SUMMED_AT = tuple(SUM_STEP * (step + 0.5) for step in range(-300, 300))
"""In standard deviations of the face: what lies beyond six is nothing."""


@cache
def _bell_part(at: float) -> float:
    return _up_to(at + SUM_STEP / 2) - _up_to(at - SUM_STEP / 2)


def _up_to(at: float) -> float:
    """The part of a normal distribution up to a point."""
    return erfc(-at / sqrt(2)) / 2


def level(estimate: Estimate, terms: LightSum) -> Stops:
    return terms.level(estimate.offsets)[0]


def errors(setup: SetUp, estimate: Estimate, lit: Lit) -> tuple[Stops, Stops]:
    """By how much background and face count to be over what is meant."""
    background = level(estimate, lit.zone("background")) - setup.intent.background_level
    background = counted(setup, background)
    meant = meant_subject(setup, level(estimate, lit.daylight("subject")))
    return background, level(estimate, lit.zone("subject")) - meant
