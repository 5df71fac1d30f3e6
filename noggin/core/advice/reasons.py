"""Why: the recommendation, the reasons for each way's figures, and what the comparison teaches, in
words."""

from collections.abc import Callable, Iterator

from noggin.core.advice.verdict_words import drawback_words, drawbacks_in_words, first_lack, named
from noggin.core.planning.methods import WITHIN_SYNC
from noggin.core.planning.ranking import EQUAL_RESERVE
from noggin.core.planning.way import Plan, Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import percent, signed, stops

EQUAL: Stops = 0.05
"""Reserves closer than this look the same when written to a tenth."""

RULE = (
    "Methods that work come first. A method ranks lower for each of these: the subject moves too"
    " fast for it, a face is out of focus, the background blurs less than you want, a battery runs"
    " out before the frames are made. Otherwise “reach first” takes the most flash to spare and,"
    " within a third of a stop of that, the aperture nearest yours and the fewest filters; “speed"
    " first” the least to handle; “fewest filters” just that, then the nearest aperture."
)
"""The rule of the recommendation as the page says it."""


def advice(plan: Plan) -> str:
    """Which way is recommended, with its margin and its price, against the others; what comes closest where
    no way works. See RULE."""
    chosen = plan.chosen
    if chosen is None:
        closest = plan.shown
        return f"No method quite makes this picture. Closest: {closest.label}, {first_lack(closest)}."
    others = [way for way in plan.ways if way.feasible and way is not chosen]
    if chosen.method is WITHIN_SYNC:
        parts = ["Your settings already work within sync speed.", _margin(chosen, plan.setup)]
    elif not others:
        return f"Only {chosen.method.said} works here. {_margin(chosen, plan.setup)} {_price(chosen)}"
    else:
        lower = [way for way in others if len(way.drawbacks) > len(chosen.drawbacks)]
        equal = [way for way in others if way not in lower]
        compared = _COMPARED[plan.setup.intent.prefer](chosen, equal)
        parts = [_margin(chosen, plan.setup), _price(chosen), *compared]
        if lower:
            why = drawback_words(lower[0].drawbacks[0])
            parts.append(f"Ranked lower: {named(lower)}, because {why}.")
    return " ".join([f"Recommended: {chosen.label}.", *parts])


def _margin(way: Way, setup: SetUp) -> str:
    wanted, aperture = setup.wanted_aperture, way.settings.aperture
    where = f"at your f/{wanted.label}"
    if aperture != wanted:
        where = f"at f/{aperture.label} instead of your f/{wanted.label}"
    if way.reserve is None:
        return f"No flash is needed, {where}."
    return f"{stops(way.reserve)} of flash to spare {where}."


def _price(way: Way) -> str:
    return f"The price: {way.method.costs}."


def _by_reserve(chosen: Way, others: list[Way]) -> Iterator[str]:
    alike = [way for way in others if abs(_gap(way, chosen)) <= EQUAL_RESERVE + TOLERANCE]
    if alike:
        yield f"{named(alike)} {'has' if len(alike) == 1 else 'have'} about the same."
    for way in others:
        if way not in alike:
            more = _gap(way, chosen)
            yield f"{way.label} has {stops(abs(more))} {'more' if more > 0 else 'less'}."


def _by_speed(_: Way, others: list[Way]) -> Iterator[str]:
    if others:
        yield f"It has less to handle than {named(others)}."


def _by_filters(chosen: Way, others: list[Way]) -> Iterator[str]:
    stack = chosen.settings.stack
    yield f"It needs the fewest filters: {stack.words}." if stack.names else "It needs no filter."
    bare = [way for way in others if not way.settings.stack.names]
    if bare and not stack.names:
        yield f"Its aperture is nearer yours than that of {named(bare)}."


_COMPARED: dict[str, Callable[[Way, list[Way]], Iterator[str]]] = {
    "reach": _by_reserve,
    "speed": _by_speed,
    "glass": _by_filters,
}


def _gap(way: Way, chosen: Way) -> Stops:
    if way.reserve is None or chosen.reserve is None:
        return 0.0
    return way.reserve - chosen.reserve


def reasons(setup: SetUp, way: Way) -> tuple[str, ...]:
    """The reasons for one way's figures: what takes the surplus, then what the flash must do."""
    lower = (f"Ranked lower: {words}." for words in drawbacks_in_words(way) if way.feasible)
    return (*way.method.reasons(setup, way), *_flash_reasons(setup, way), *lower)


def reasons_of(plan: Plan, way: Way) -> tuple[str, ...]:
    """The reasons for one way's figures; for the chosen one the recommendation first."""
    own = reasons(plan.setup, way)
    return (advice(plan), *own) if way is plan.chosen else own


def _flash_reasons(setup: SetUp, way: Way) -> Iterator[str]:
    lighting = way.lighting
    ambient = signed(lighting.levels.subject_ambient)
    if lighting.needed_flash is None:
        yield (
            f"Daylight alone brings the faces to {ambient}, and you want"
            f" {signed(setup.intent.subject_level)}: no flash is needed."
        )
        return
    key = lighting.key
    if key.full is None or key.level is None:
        return
    yield (
        f"Daylight leaves the faces at {ambient}. Flash at {signed(lighting.levels.flash)} brings them to"
        f" {signed(lighting.levels.subject)} and is {percent(lighting.flash_share)} of their light."
    )
    if key.reserve is None:
        return
    left = f"{stops(key.reserve)} to spare" if key.reserve >= 0 else f"{stops(-key.reserve)} short"
    yield (
        f"Full power gives {signed(key.full)}; you need {signed(key.needed)}: {left}. Set"
        f" {key.power_words}."
    )
    if way.uncertainty is not None and key.reserve >= 0:
        yield _uncertainty_words(key.reserve, way.uncertainty)


def _uncertainty_words(reserve: Stops, uncertainty: Stops) -> str:
    """How far to trust a reserve: two times in forty it is off by more than its ±."""
    if reserve >= uncertainty:
        return f"That margin is known to ± {stops(uncertainty)}: it holds even at its worst."
    return (
        f"That margin is only known to ± {stops(uncertainty)}, so it may be as little as"
        f" {signed(reserve - uncertainty)}. Metering the light will narrow this."
    )


def lesson(plan: Plan) -> str:
    """What this very comparison teaches about flash and daylight."""
    if plan.way(WITHIN_SYNC.key).feasible:
        return (
            "Up to sync speed the shutter changes daylight only: a longer time lifts the"
            " background and leaves the flash as it is."
        )
    at_sync = [
        way for way in plan.ways if way.feasible and not way.lighting.hss and way.reserve is not None
    ]
    most = max(at_sync, key=lambda way: way.reserve or 0.0, default=None)
    same = [way for way in at_sync if most and abs(_gap(way, most)) < EQUAL]
    past_sync = next(way for way in plan.ways if way.method.past_sync)
    toll = plan.setup.key.hss_toll
    words = "Filter, aperture and ISO dim daylight and flash together"
    if same and past_sync.reserve is not None and toll is not None:
        keep = "keep" if len(same) > 1 else "keeps"
        return (
            f"{words}, so {named(same)} {keep} the full reach ({signed(same[0].reserve)})."
            f" High-speed sync pays its toll of {stops(toll)}, which leaves"
            f" {signed(past_sync.reserve)}. It never adds reach."
        )
    return (
        f"{words}. Only power, distance, number of lights, modifier and, up to sync speed, the"
        " shutter change the balance."
    )
