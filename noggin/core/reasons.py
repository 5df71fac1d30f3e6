"""Why: the advice, the reasons for each way's figures, and what the comparison teaches, in words."""

from collections.abc import Callable, Iterator

from noggin.core import candidates
from noggin.core.dials import Step
from noggin.core.feasibility import NOTHING_TO_TAKE_AWAY
from noggin.core.plan import METHODS, Plan, Way
from noggin.core.setup import PREFERENCES, SetUp
from noggin.core.units import Stops
from noggin.core.wording import listed, percent, signed, stops

EQUAL: Stops = 0.05
"""Reserves closer than this look the same when written to a tenth."""


def advice(plan: Plan) -> str:
    """Why the chosen way is advised over the others that can be; what is nearest when none can.

    The rule is `weighing.RULE`; ways with more drawbacks than the chosen one are named with them.
    """
    chosen = plan.chosen
    if chosen is None:
        nearest = plan.ways[0]
        return f"No way can make this picture as it is meant. Nearest: {nearest.label}, {nearest.lacks[0]}."
    if chosen.way == "within_sync":
        return f"Advised: {chosen.label}. The wanted picture fits as it is, nothing to take away."
    others = [way for way in plan.ways if way.feasible and way is not chosen]
    if not others:
        return f"Advised: {chosen.label} is the only way that can be."
    lower = [way for way in others if len(way.drawbacks) > len(chosen.drawbacks)]
    equal = [way for way in others if way not in lower]
    put_lower = listed([way.label for way in lower])
    if not equal:
        return f"Advised: {chosen.label}. Put lower: {put_lower}, for {lower[0].drawbacks[0]}."
    preference = PREFERENCES[plan.setup.intent.prefer]
    words = f"Advised, {preference}: {_ADVICE[plan.setup.intent.prefer](chosen, equal, plan.setup)}."
    return f"{words} Put lower: {put_lower}, for {lower[0].drawbacks[0]}." if lower else words


def _most_reach(chosen: Way, others: list[Way], setup: SetUp) -> str:
    as_wanted = chosen.settings.aperture == setup.wanted_aperture
    at = f", at f/{chosen.settings.aperture.label}{' as wanted' if as_wanted else ''}"
    if chosen.reserve is None:
        return f"no flash is needed{at}"
    words = f"{signed(chosen.reserve)} stops in reserve"
    more = [w for w in others if _gap(w, chosen) >= EQUAL]
    equal = [w for w in others if abs(_gap(w, chosen)) < EQUAL]
    less = [w for w in others if _gap(w, chosen) <= -EQUAL]
    if more:
        words += f", within a third of a stop of {listed([w.label for w in more])}"
    if equal:
        words += f", as much as {listed([w.label for w in equal])}"
    if more or equal:
        return words + at
    return f"{words}, {stops(-_gap(less[0], chosen))} more than {less[0].label}"


def _most_speed(chosen: Way, others: list[Way], _: SetUp) -> str:
    slower = listed([way.label for way in others])
    return f"{METHODS[chosen.way].does}, with less to handle than {slower}"


def _cleanest_glass(chosen: Way, others: list[Way], _: SetUp) -> str:
    filters = chosen.settings.stack.names
    if filters:
        return f"fewest filters, {listed(filters)}"
    bare = [way for way in others if not way.settings.stack.names]
    words = "no filter on the lens"
    if bare:
        words += f", and f/{chosen.settings.aperture.label} is nearer what is wanted than {bare[0].label}"
    return words


_ADVICE: dict[str, Callable[[Way, list[Way], SetUp], str]] = {
    "reach": _most_reach,
    "speed": _most_speed,
    "glass": _cleanest_glass,
}


def _gap(way: Way, chosen: Way) -> Stops:
    if way.reserve is None or chosen.reserve is None:
        return 0.0
    return way.reserve - chosen.reserve


def reasons(setup: SetUp, way: Way) -> tuple[str, ...]:
    """The reasons for one way's figures: what takes the surplus, then what the flash must do."""
    lower = (f"Put lower: {drawback}." for drawback in way.drawbacks if way.feasible)
    return (*_WAY_REASONS[way.way](setup, way), *_flash_reasons(setup, way), *lower)


def _surplus_words(setup: SetUp) -> str:
    wall = candidates.at_the_wall(setup)
    return (
        f"At f/{wall.aperture.label} and {wall.shutter.label} the background would land at"
        f" {signed(wall.level(setup.scene.background))}: {stops(candidates.surplus(setup))} to take"
        " away."
    )


def _within_sync(setup: SetUp, way: Way) -> Iterator[str]:
    if candidates.surplus(setup):
        yield _surplus_words(setup)
        return
    settings = way.settings
    yield (
        f"{settings.shutter.label} at f/{settings.aperture.label} puts the background at"
        f" {signed(way.lighting.levels.background_ambient)} without going past sync"
        f" ({setup.camera.sync.label}): nothing to take away."
    )
    if settings.iso != setup.camera.iso_low:
        yield _iso_words(setup, settings.iso)


def _iso_words(setup: SetUp, iso: Step) -> str:
    low = setup.camera.iso_low
    return (
        f"ISO rises from {low.label} to {iso.label} and the time gets shorter with it: daylight stays,"
        f" flash gains {stops(iso.stops - low.stops)}."
    )


def _stop_down(setup: SetUp, way: Way) -> Iterator[str]:
    if NOTHING_TO_TAKE_AWAY in way.lacks:
        yield _fits_words(setup)
        return
    closed = way.settings.aperture.stops - setup.wanted_aperture.stops
    if closed > 0:
        yield (
            f"Closing from f/{setup.wanted_aperture.label} to f/{way.settings.aperture.label} takes"
            f" {stops(closed)} from daylight and flash alike; shutter and power keep full reach."
        )


def _filtered(setup: SetUp, way: Way) -> Iterator[str]:
    if NOTHING_TO_TAKE_AWAY in way.lacks:
        yield _fits_words(setup)
        return
    stack = way.settings.stack
    if not stack.names:
        return
    take = "take" if len(stack.names) > 1 else "takes"
    yield (
        f"{listed(stack.names)} {take} {stops(stack.stops)} from daylight and flash alike: the"
        " balance stays, and so does the full reach."
    )
    closed = way.settings.aperture.stops - setup.wanted_aperture.stops
    if closed > 0:
        yield f"The aperture closes {stops(closed)} to f/{way.settings.aperture.label} for the rest."
    trimmed = setup.camera.sync.stops - way.settings.shutter.stops
    if trimmed > 0:
        yield f"{way.settings.shutter.label} gives {stops(trimmed)} of daylight back."


def _hss(setup: SetUp, way: Way) -> Iterator[str]:
    if NOTHING_TO_TAKE_AWAY in way.lacks:
        yield _fits_words(setup)
        return
    sync, settings = setup.camera.sync, way.settings
    shorter = settings.shutter.stops - sync.stops
    toll = setup.key.hss_toll
    if toll is not None:
        yield (
            f"{settings.shutter.label} is {stops(shorter)} past sync; the flash loses them too, and"
            f" the toll of {stops(toll)} besides."
        )
    else:
        yield (
            f"{settings.shutter.label} is {stops(shorter)} past sync, and {setup.key.says} has no"
            " high-speed sync to follow it there."
        )
    closed = settings.aperture.stops - setup.wanted_aperture.stops
    if closed > 0:
        yield (
            f"{settings.shutter.label} is the fastest time there is: the aperture closes"
            f" {stops(closed)} to f/{settings.aperture.label} for the rest."
        )


_WAY_REASONS: dict[str, Callable[[SetUp, Way], Iterator[str]]] = {
    "within_sync": _within_sync,
    "stop_down": _stop_down,
    "nd": _filtered,
    "mixed": _filtered,
    "hss": _hss,
}


def _fits_words(setup: SetUp) -> str:
    return f"The wanted picture fits within sync ({setup.camera.sync.label}) as it is."


def _flash_reasons(setup: SetUp, way: Way) -> Iterator[str]:
    lighting = way.lighting
    ambient = signed(lighting.levels.subject_ambient)
    if lighting.needed_flash is None:
        yield (
            f"Daylight alone brings the subject to {ambient}, at or over the"
            f" {signed(setup.intent.subject_level)} meant: no flash is needed."
        )
        return
    key = lighting.key
    if key.full is None or key.level is None:
        return
    yield (
        f"Daylight leaves the subject at {ambient}; flash at"
        f" {signed(lighting.levels.flash)} brings it to {signed(lighting.levels.subject)}, and is"
        f" {percent(lighting.flash_share)} of its light."
    )
    yield (
        f"A full pop gives {signed(key.full)}, {signed(key.needed)} is needed:"
        f" {signed(key.reserve)} in reserve, dialled {key.power_words}."
    )
    if way.uncertainty is not None and key.reserve is not None and key.reserve >= 0:
        yield _trust_words(key.reserve, way.uncertainty)


def _trust_words(reserve: Stops, uncertainty: Stops) -> str:
    """How far to trust a reserve: two times in forty it is off by more than its ±."""
    if reserve >= uncertainty:
        return f"The reserve is known to ± {stops(uncertainty)}: it holds even at its worst."
    return (
        f"The reserve is known to ± {stops(uncertainty)} only: it may be as little as"
        f" {signed(reserve - uncertainty)}. Measuring the light makes it surer."
    )


def lesson(plan: Plan) -> str:
    """What this very comparison teaches about flash and daylight."""
    if plan.way("within_sync").feasible:
        return (
            "At or under sync speed the shutter moves daylight only: a longer time lifts the"
            " background and leaves the flash as it is."
        )
    at_sync = [w for w in plan.ways if w.feasible and not w.lighting.hss and w.reserve is not None]
    most = max(at_sync, key=lambda way: way.reserve or 0.0, default=None)
    same = [way for way in at_sync if most and abs(_gap(way, most)) < EQUAL]
    hss = plan.way("hss")
    toll = plan.setup.key.hss_toll
    words = "Filter, aperture and ISO dim daylight and flash together"
    if same and hss.reserve is not None and toll is not None:
        keeps = "keep" if len(same) > 1 else "keeps"
        return (
            f"{words}, so {listed([w.label for w in same])} {keeps} the full reach"
            f" ({signed(same[0].reserve)}). High-speed sync pays its toll of {stops(toll)}:"
            f" {signed(hss.reserve)} is left. It never adds reach."
        )
    return (
        f"{words}. Only power, distance, number of lights, modifier and the shutter up to sync"
        " speed change the balance."
    )
