"""The verdict on a way, what it misses and what ranks it lower, in words: the only place that says them,
for the screen, the terminal and the documents."""

from collections.abc import Callable, Iterator, Mapping

from noggin.core.planning.drawbacks import Drawback
from noggin.core.planning.mend import Mend
from noggin.core.planning.verdicts import HOLDS, JUST, MEND, NOT_NEEDED, SHORT, Miss
from noggin.core.planning.way import Way
from noggin.core.units import Stops
from noggin.core.wording import NONE, duration, listed, metres, metres_span, plain, signed, stops

VERDICT_WORDS: Mapping[str, str] = {
    HOLDS: "works",
    JUST: "only just works",
    MEND: "one move away",
    SHORT: "falls short",
    NOT_NEEDED: "not needed here",
}
"""Every verdict in a word or two."""

NOT_NEEDED_WORDS = "not needed here: at sync speed the background is no brighter than you want"

HAIR: Stops = 0.05
"""What is missed by less than this does not show in a figure to a tenth."""

MissWords = Callable[[Miss], str]


def _background(miss: Miss) -> str:
    return f"{_off(miss)}: the background lands at {signed(miss.reached)}, meant {signed(miss.meant)}"


def _off(miss: Miss) -> str:
    return f"{stops(abs(miss.by))} too {'bright' if miss.by > 0 else 'dark'}"


def _high_speed(miss: Miss) -> str:
    who = f"{miss.light} cannot do it" if miss.light else "camera and trigger cannot do it"
    return f"no high-speed sync: {who}"


def _of_flash(miss: Miss) -> str:
    return "a hair short of flash" if miss.by < HAIR else f"{stops(miss.by)} of flash short"


MISS_WORDS: Mapping[str, tuple[MissWords, MissWords]] = {
    "filter": (
        lambda miss: f"no filter: {stops(miss.by)} to take away, and the bag has none that fits",
        lambda _: "no filter",
    ),
    "aperture": (lambda _: "no smaller aperture on this lens", lambda _: "no smaller aperture"),
    "faster_time": (
        lambda _: "the sync speed is the fastest shutter time already",
        lambda _: "no time past sync",
    ),
    "high_speed": (_high_speed, lambda _: "no high-speed sync"),
    "background": (_background, _off),
    "spill": (
        lambda miss: (
            f"flash spills on the background: it lands at {signed(miss.reached)},"
            f" meant {signed(miss.meant)}"
        ),
        lambda miss: f"{stops(miss.by)} of spill too much",
    ),
    "flash": (
        lambda miss: f"{_of_flash(miss)}: {miss.light} at full power is not enough",
        lambda miss: _of_flash(miss),
    ),
    "too_strong": (
        lambda miss: (
            f"{miss.light} is {stops(miss.by)} too strong at {miss.dialled}: move it back or diffuse it"
        ),
        lambda _: "too much flash",
    ),
}
"""Every kind of MISS_KINDS, in full and where there is little room."""


def miss_words(miss: Miss) -> str:
    """What is missed, in full.

    >>> miss_words(Miss("flash", 0.3, 0.3, "Speedlight"))
    '0.3 stop of flash short: Speedlight at full power is not enough'
    """
    return MISS_WORDS[miss.kind][0](miss)


def miss_brief(miss: Miss) -> str:
    """What is missed, where there is little room.

    >>> miss_brief(Miss("background", 1.2, 1.4))
    '1.4 stops too bright'
    """
    return MISS_WORDS[miss.kind][1](miss)


def lacks_in_words(way: Way) -> tuple[str, ...]:
    """Everything that keeps a way from working, in full; empty where it works."""
    if way.not_needed:
        return (NOT_NEEDED_WORDS,)
    return () if way.feasible else tuple(miss_words(miss) for miss in way.misses)


def move_words(mend: Mend) -> str:
    """What the lights of a mend need, to follow "with" or "needs": "Speedlight at 0.65 m"."""
    return listed([f"{move.light} at {metres(move.distance_m)}" for move in mend.moves])


def first_lack(way: Way) -> str:
    """The first thing that keeps a way from working, in full, or the move that it needs; empty where it
    works."""
    if way.mend:
        return f"needs {move_words(way.mend)}"
    return next(iter(lacks_in_words(way)), "")


def lack_brief(way: Way) -> str:
    """The first thing that keeps a way from working, or the move that it needs, where there is little room;
    empty where it works."""
    if way.not_needed:
        return VERDICT_WORDS[NOT_NEEDED]
    if way.mend:
        return first_lack(way)
    return "" if way.feasible else miss_brief(way.misses[0])


def landing(way: Way) -> Iterator[str]:
    """Where the picture lands of a way that is just there."""
    if way.verdict != JUST:
        return
    kinds = {miss.kind for miss in way.misses}
    levels = way.lighting.levels
    if kinds & {"background", "spill"}:
        yield f"background at {signed(levels.background)}"
    short = [miss.light for miss in way.misses if miss.kind == "flash"]
    lights = {firing.light.says: firing for firing in way.lighting.firings}
    on_faces = [name for name in short if lights[name].light.lights_subject]
    if on_faces:
        hair = all(miss.by < HAIR for miss in way.misses if miss.light in on_faces)
        yield "faces just as meant" if hair else f"faces at {signed(levels.subject)}"
    for name in short:
        if name not in on_faces:
            yield f"{lights[name].light.role} light at {signed(lights[name].level)}"


def landing_words(way: Way) -> str:
    """`landing` as one phrase; empty where the way is not just there."""
    return listed(list(landing(way)))


def only_just(way: Way) -> str:
    """The same, and that it only just works."""
    return f"only just: {landing_words(way)}"


def reserve_or_lack(way: Way) -> str:
    """A way in a few words: what it has to spare, where it lands where it is just there, or what it
    lacks."""
    if not way.feasible:
        return lack_brief(way)
    if way.verdict == JUST:
        return only_just(way)
    return NONE if way.reserve is None else spare_words(way.reserve)


def then_words(way: Way) -> str:
    """What a way comes to at a later time, to follow "then"; empty where it is no longer needed, so that
    nothing is lost."""
    if way.not_needed:
        return ""
    if way.verdict == HOLDS:
        return "it works"
    miss = way.misses[0]
    if miss.kind in ("background", "spill"):
        return f"the background is {_off(miss)}"
    if miss.kind == "flash":
        return f"{miss.light} is {stops(max(miss.by, HAIR))} short"
    return miss_brief(miss)


def spare_words(reserve: Stops) -> str:
    """What is to spare, or short.

    >>> spare_words(1.3), spare_words(0.01), spare_words(-0.4)
    ('1.3 stops to spare', 'just enough', '0.4 stop short')
    """
    if abs(reserve) < HAIR:
        return "just enough"
    return f"{stops(reserve)} to spare" if reserve > 0 else f"{stops(-reserve)} short"


DRAWBACK_WORDS: Mapping[str, Callable[[Drawback], str]] = {
    "movement": lambda it: f"the subject smears, {plain(it.got[0])} times the sharp limit",
    "hand": lambda it: f"{it.dialled} s is too slow to hand-hold (limit {duration(it.wanted[0])})",
    "focus": lambda it: (
        f"not every face is in focus: {metres_span(*it.got)} is sharp, the faces are at"
        f" {metres_span(*it.wanted)}"
    ),
    "blur": lambda it: (
        f"it blurs the background by {plain(it.got[0])}% of the frame; you want {plain(it.wanted[0])}%"
    ),
    "battery": lambda it: f"the battery of {it.light} gives {it.got[0]:.0f} of {it.wanted[0]:.0f} frames",
}
"""Every kind of DRAWBACK_KINDS."""


def drawback_words(drawback: Drawback) -> str:
    """What ranks a way lower.

    >>> drawback_words(Drawback("blur", 1.3, (1.2, None), (3.0, None)))
    'it blurs the background by 1.2% of the frame; you want 3.0%'
    """
    return DRAWBACK_WORDS[drawback.kind](drawback)


def drawbacks_in_words(way: Way) -> tuple[str, ...]:
    """Everything that ranks a way lower."""
    return tuple(drawback_words(drawback) for drawback in way.drawbacks)


def named(ways: list[Way]) -> str:
    """Ways by what they are called, one after another."""
    return listed([way.label for way in ways])
