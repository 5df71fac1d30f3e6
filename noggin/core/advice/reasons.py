"""Why: the recommendation, the reasons for each way's figures, and what the comparison teaches, in
words."""

from collections.abc import Callable, Iterator, Mapping, Sequence

from noggin.core.advice.details import clipping_skin
from noggin.core.advice.price import price
from noggin.core.advice.remedies import Remedy
from noggin.core.advice.verdict_words import (
    drawback_words,
    drawbacks_in_words,
    first_lack,
    landing,
    landing_words,
    move_words,
    named,
    spare_words,
)
from noggin.core.planning import candidates
from noggin.core.planning.lighting import spill
from noggin.core.planning.plan import where_it_works
from noggin.core.planning.ranking import RULES, deciding_rule
from noggin.core.planning.verdicts import JUST, background_error, dark_weight
from noggin.core.planning.way import Plan, Way
from noggin.core.planning.ways import WITHIN_SYNC
from noggin.core.setup.intent import PREFERENCES
from noggin.core.setup.setup import SetUp
from noggin.core.tables import BACKLIT
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import percent, signed, stops

EQUAL: Stops = 0.05
"""Reserves closer than this look the same when written to a tenth."""

HARDLY_SHARE = 0.15
"""Share of the subject's light up to which flash hardly matters. Common practice, no source."""

SHOWS: Stops = 1 / 3
"""A difference in stops that shows, and is said aloud. Common practice, no source."""

RULE = (
    "Methods that make the picture as you mean it come first: your aperture within a stop, and a subject"
    " that smears by no more than a stop. Of those, what spoils the picture ranks a method lower, by how"
    " much: movement, a time too slow for the hand, a face out of focus, too little blur, a battery that"
    " runs out. Then your aperture: the method that keeps it, or comes nearest, unless you said that any"
    " will do. Then what works before what only just works, within a third of a stop. Then what you prefer:"
    " “reach first” the most flash to spare, as far as it is of use (a stop, or as much as the figure is"
    " uncertain by), then the fewest filters; “speed first” the least to handle; “fewest filters” just"
    " that. A method that only needs a light moved closer comes before those that give up more than a stop."
    " Methods that fall short come last, the nearest first."
)
"""The rule of the recommendation as the page says it."""


def advice(plan: Plan, helps: Remedy | None = None) -> str:
    """Which way is recommended, with its margin and its price, against the others; what comes closest where
    no way works, and the one thing that would make it work, where that is known. See RULE."""
    return " ".join([verdict(plan, helps), *against_others(plan)])


def verdict(plan: Plan, helps: Remedy | None = None) -> str:
    """Which way is recommended, with what spoils it first, then its margin and its price; or what comes
    closest and would make it work."""
    chosen, setup = plan.chosen, plan.setup
    if chosen is None:
        closest = plan.shown
        said = f"No method quite makes this picture. Closest: {closest.label}, {first_lack(closest)}."
        return f"{said} {helping_words(helps)}" if helps else said
    parts = list(_warnings(setup, chosen))
    if chosen.mend:
        parts.append(_settings_and_move(chosen))
        return " ".join(parts)
    parts.append(f"{'Best of the methods' if parts else 'Recommended'}: {chosen.label}.")
    if chosen.verdict == JUST:
        parts.append(f"It only just works: {landing_words(chosen)}.")
    if chosen.kind is WITHIN_SYNC and not candidates.surplus(setup):
        parts.append("Your settings already work within sync speed.")
    parts.append(_margin(chosen, setup))
    costs = price(setup, chosen)
    if costs != "nothing":
        parts.append(f"The price: {costs}.")
    others = [drawback for drawback in chosen.drawbacks if drawback.kind not in RUINS]
    parts += [f"Watch out: {drawback_words(drawback)}." for drawback in others]
    return " ".join(parts)


def _warnings(setup: SetUp, way: Way) -> Iterator[str]:
    """What ruins the picture of the way that is recommended, movement first."""
    for kind in RUINS:
        for drawback in way.drawbacks:
            if drawback.kind == kind:
                yield f"Warning: {drawback_words(drawback)}."
    skin = clipping_skin(setup, way)
    if skin is not None:
        yield f"Warning: skin clips, at {signed(skin)}."


RUINS = ("movement", "focus")
"""Drawbacks that no picture is kept with; the others are said after the recommendation. Common practice, no
source."""


def _settings_and_move(way: Way) -> str:
    """What to dial and what to move, in one breath."""
    assert way.mend is not None  # noqa: S101 - asked before
    there = where_it_works(way)
    settings = there.settings
    parts = [f"{settings.shutter.label} s at f/{settings.aperture.label}", f"ISO {settings.iso.label}"]
    if settings.stack.names:
        parts.append(settings.stack.words)
    parts.append(f"{there.lighting.key.power_words} power")
    stands = "it stands" if len(way.mend.moves) == 1 else "they stand"
    short = max(move.shortage for move in way.mend.moves)
    return (
        f"Recommended: {way.label} with {move_words(way.mend)}: {', '.join(parts)}."
        f" Where {stands} now, the light is {stops(short)} short."
    )


def against_others(plan: Plan) -> tuple[str, ...]:
    """Why the other ways that work come after the recommended one, a sentence each."""
    chosen = plan.chosen
    if chosen is None:
        return ()
    others = [way for way in plan.ways if way.feasible and way is not chosen]
    moved = [way for way in plan.ways if way.mend and way is not chosen]
    said = list(_compared(chosen, others, plan.setup))
    for way in moved:
        assert way.mend is not None  # noqa: S101 - chosen by it
        at = "at your aperture " if way.settings.aperture == plan.setup.wanted_aperture else ""
        said.append(f"{way.label} {at}needs {move_words(way.mend)}.")
    if not said and chosen.kind is not WITHIN_SYNC:
        return ("Nothing else works as it stands.",)
    return tuple(said)


def helping_words(remedy: Remedy) -> str:
    """The one thing that would make the closest way work, as a sentence."""
    return f"What would mend it: {remedy.to}."


def decided(plan: Plan) -> str:
    """Which rule put the recommended way first; empty where there is nothing to decide."""
    works = [way for way in plan.ways if way.advisable]
    if len(works) < 2 or works[1].mend:
        return ""
    rule = deciding_rule(works[0], works[1], plan.setup)
    if not rule:
        return f"{works[0].label} and {works[1].label} come out alike; the simpler one is named first."
    return _DECIDED[rule](plan.setup, works[1])


_DECIDED: Mapping[str, Callable[[SetUp, Way], str]] = {
    "given_up": lambda _, second: (
        f"Decided by what you want: {second.label} gives up more than a stop of it."
    ),
    "drawbacks": lambda _, second: f"Decided by what spoils the picture, before {second.label}.",
    "aperture": lambda setup, second: (
        f"Decided by your aperture, f/{setup.wanted_aperture.label}, before {second.label}."
    ),
    "verdict": lambda _, second: f"Decided by the verdict: {second.label} only just works.",
    "preference": lambda setup, second: (
        f"Decided by your preference, {PREFERENCES[setup.intent.prefer]}, before {second.label}."
    ),
}
"""A sentence for each of the ranking's rules."""


def _margin(way: Way, setup: SetUp) -> str:
    wanted, aperture = setup.wanted_aperture, way.settings.aperture
    where = f"at your f/{wanted.label}"
    if aperture != wanted:
        where = f"at f/{aperture.label} instead of your f/{wanted.label}"
    if way.reserve is None:
        return f"No flash is needed, {where}."
    if way.reserve < -EQUAL:
        return f"The flash is {stops(-way.reserve)} under at full power, {where}."
    if way.reserve < EQUAL:
        return f"Just enough flash {where}."
    return f"{stops(way.reserve)} of flash to spare {where}."


def _compared(chosen: Way, others: Sequence[Way], setup: SetUp) -> Iterator[str]:
    """The others, by the rule that puts each after the chosen one."""
    after: dict[str, list[Way]] = {rule: [] for rule in (*RULES, "")}
    for way in others:
        after[deciding_rule(chosen, way, setup)].append(way)
    met = [(others.index(ways[0]), rule) for rule, ways in after.items() if ways]
    for _, rule in sorted(met):
        yield from _BEHIND[rule](chosen, after[rule], setup)


def _spoilt(_: Way, ways: list[Way], __: SetUp) -> Iterator[str]:
    by_words: dict[str, list[Way]] = {}
    for way in ways:
        if way.drawbacks:
            worst = max(way.drawbacks, key=lambda drawback: drawback.stops)
            by_words.setdefault(drawback_words(worst), []).append(way)
    for words, alike in by_words.items():
        yield f"{named(alike)} {'ranks' if len(alike) == 1 else 'rank'} lower: {words}."


def _other_aperture(_: Way, ways: list[Way], __: SetUp) -> Iterator[str]:
    for way in ways:
        said = way.kind.said
        yield f"{said[:1].upper()}{said[1:]} would mean f/{way.settings.aperture.label}."


def _only_just(_: Way, ways: list[Way], __: SetUp) -> Iterator[str]:
    yield f"{named(ways)} would only just work."


def _less_preferred(chosen: Way, ways: list[Way], setup: SetUp) -> Iterator[str]:
    yield from _COMPARED[setup.intent.prefer](chosen, ways)


def _given_up(chosen: Way, ways: list[Way], setup: SetUp) -> Iterator[str]:
    """Those that take the aperture away, and those that smear."""
    smearing = [way for way in ways if any(drawback.kind == "movement" for drawback in way.drawbacks)]
    yield from _spoilt(chosen, smearing, setup)
    yield from _other_aperture(chosen, [way for way in ways if way not in smearing], setup)


_BEHIND: Mapping[str, Callable[[Way, list[Way], SetUp], Iterator[str]]] = {
    "given_up": _given_up,
    "drawbacks": _spoilt,
    "aperture": _other_aperture,
    "verdict": _only_just,
    "preference": _less_preferred,
    "": _less_preferred,
}


def _by_reserve(chosen: Way, others: list[Way]) -> Iterator[str]:
    alike = [way for way in others if abs(_gap(way, chosen)) <= SHOWS + TOLERANCE]
    if alike:
        yield f"{named(alike)} {'has' if len(alike) == 1 else 'have'} about the same."
    for way in others:
        if way not in alike:
            more = _gap(way, chosen)
            said = f"{way.label} has {stops(abs(more))} {'more' if more > 0 else 'less'}"
            yield f"{said}, which is of no use here." if more > 0 else f"{said}."


def _by_speed(_: Way, others: list[Way]) -> Iterator[str]:
    if others:
        yield f"It has less to handle than {named(others)}."


def _by_filters(chosen: Way, others: list[Way]) -> Iterator[str]:
    stack = chosen.settings.stack
    yield f"It needs the fewest filters: {stack.words}." if stack.names else "It needs no filter."
    bare = [way for way in others if not way.settings.stack.names]
    if bare and not stack.names:
        yield f"{named(bare)} {'needs' if len(bare) == 1 else 'need'} none either."


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
    """The reasons for one way's figures: where it lands when it is just there, what takes the surplus, what
    the flash must do, what lands on the background."""
    just = (f"Only just, within a third of a stop: {words}." for words in landing(way))
    lower = (f"Ranked lower: {words}." for words in drawbacks_in_words(way) if way.advisable)
    own = way.kind.reasons(setup, way)
    return (*just, *own, *_flash_reasons(setup, way), *_background_reasons(setup, way), *lower)


def reasons_of(plan: Plan, way: Way) -> tuple[str, ...]:
    """The reasons for one way's figures; for the chosen one the recommendation first."""
    own = reasons(plan.setup, way)
    return (advice(plan), *own) if way is plan.chosen else own


def _background_reasons(setup: SetUp, way: Way) -> Iterator[str]:
    """What flash does to the background, where it shows."""
    levels = way.lighting.levels
    added = levels.background - levels.background_ambient
    if levels.spill is not None and added > EQUAL:
        yield (
            f"Flash meant for the faces lands on the background at {signed(levels.spill)}: with daylight"
            f" ({signed(levels.background_ambient)}) it reaches {signed(levels.background)}."
        )
    topping = [firing for firing in way.lighting.firings if firing.light.tops_up]
    for firing in topping:
        if firing.level is None and firing.full is not None:
            yield f"The background needs no light of its own: {firing.light.says} stays off."
        elif firing.level is not None:
            yield (
                f"{firing.light.says} tops the background up with {signed(spill(setup, firing))}, to"
                f" {signed(levels.background)} in all."
            )
    if not topping and background_error(setup, way.lighting) < -SHOWS and way.advisable:
        harm = "; meant all but black, that does no harm" if dark_weight(setup) < 1 else ""
        yield f"The background comes out darker than meant{harm}."


def _flash_reasons(setup: SetUp, way: Way) -> Iterator[str]:
    lighting = way.lighting
    ambient = signed(lighting.levels.subject_ambient)
    if lighting.left_off:
        least = lighting.key.light
        yield (
            f"Daylight alone brings the faces to {ambient}, near enough to"
            f" {signed(setup.intent.subject_level)}; {least.says} would be too"
            " strong even at its least power, so it stays off."
        )
        return
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
    left = spare_words(key.reserve)
    yield (
        f"Full power gives {signed(key.full)}; you need {signed(key.needed)}: {left}. Set"
        f" {key.power_words}."
    )
    if lighting.flash_share <= HARDLY_SHARE:
        yield "Daylight does nearly all of it: the flash hardly matters here."
    elif way.uncertainty is not None and key.reserve >= 0:
        yield _uncertainty_words(key.reserve, way.uncertainty)


def _uncertainty_words(reserve: Stops, uncertainty: Stops) -> str:
    """How far to trust a reserve: two times in forty it is off by more than its ±."""
    if reserve >= uncertainty:
        return f"That margin is known to ± {stops(uncertainty)}: it holds even at its worst."
    return (
        f"That margin is only known to ± {stops(uncertainty)}, so it may be as little as"
        f" {signed(reserve - uncertainty)}. Metering the light will narrow this."
    )


def share_words(setup: SetUp, way: Way) -> str:
    """What flash by share does to a backlit face, where it leaves it far from the level meant; empty
    elsewhere."""
    intent, levels = setup.intent, way.lighting.levels
    backlit = setup.scene.background - setup.scene.subject >= BACKLIT
    if intent.school != "share" or not backlit or abs(levels.subject - intent.subject_level) <= SHOWS:
        return ""
    return (
        "Flash by share is for filling shadows in light that is right already. Against the light it"
        f" leaves the faces at {signed(levels.subject)}; you want {signed(intent.subject_level)}."
    )


def lesson(plan: Plan) -> str:
    """What this very comparison teaches about flash and daylight."""
    if not candidates.surplus(plan.setup):
        return (
            "Up to sync speed the shutter changes daylight only: a longer time lifts the"
            " background and leaves the flash as it is."
        )
    at_sync = [
        way for way in plan.ways if way.feasible and not way.lighting.hss and way.reserve is not None
    ]
    most = max(at_sync, key=lambda way: way.reserve or 0.0, default=None)
    same = [way for way in at_sync if most and abs(_gap(way, most)) < EQUAL]
    past_sync = next(way for way in plan.ways if way.kind.past_sync)
    toll = plan.setup.key.hss_toll
    best = same[0].reserve if same else None
    words = "Filter, aperture and ISO dim daylight and flash together"
    if best is not None and past_sync.reserve is not None and toll is not None:
        keep = "keep" if len(same) > 1 else "keeps"
        # Compared at one background: what was dialled may leave it a third of a stop elsewhere.
        return (
            f"{words}, so {named(same)} {keep} the full reach ({signed(best)})."
            f" At the same background high-speed sync pays its toll of {stops(toll)} on top, which leaves"
            f" {signed(best - toll)}. It never adds reach."
        )
    return (
        f"{words}. Only power, distance, number of lights, modifier and, up to sync speed, the"
        " shutter change the balance."
    )
