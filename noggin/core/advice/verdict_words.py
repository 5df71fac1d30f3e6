"""What a way lacks and what ranks it lower, in words: the only place that says them, for the screen, the
terminal and the documents."""

from collections.abc import Callable, Mapping

from noggin.core.planning.drawbacks import Drawback
from noggin.core.planning.verdicts import Lack
from noggin.core.planning.way import Way
from noggin.core.wording import NONE, listed, metres_span, plain, signed, stops

LackWords = Callable[[Lack], str]


def _background(lack: Lack) -> str:
    return f"{_off(lack)}: the background lands at {signed(lack.reached)}, meant {signed(lack.meant)}"


def _off(lack: Lack) -> str:
    off = lack.stops or 0.0
    return f"{stops(abs(off))} too {'bright' if off > 0 else 'dark'}"


def _high_speed(lack: Lack) -> str:
    who = f"{lack.light} cannot do it" if lack.light else "camera and trigger cannot do it"
    return f"no high-speed sync: {who}"


LACK_WORDS: Mapping[str, tuple[LackWords, LackWords]] = {
    "not_needed": (
        lambda _: "not needed here: your settings already work within sync speed",
        lambda _: "not needed here",
    ),
    "filter": (
        lambda lack: f"no filter: {stops(lack.stops or 0)} to take away, and the bag has none that fits",
        lambda _: "no filter",
    ),
    "aperture": (lambda _: "no smaller aperture on this lens", lambda _: "no smaller aperture"),
    "faster_time": (
        lambda _: "no time past sync: the sync speed is the fastest time already",
        lambda _: "no time past sync",
    ),
    "high_speed": (_high_speed, lambda _: "no high-speed sync"),
    "background": (_background, _off),
    "flash": (
        lambda lack: f"{stops(lack.stops or 0)} of flash short: {lack.light} at full power is not enough",
        lambda lack: f"{stops(lack.stops or 0)} of flash short",
    ),
    "too_strong": (
        lambda lack: (
            f"too much flash: {lack.light} is {stops(lack.stops or 0)} too strong at {lack.dialled}"
        ),
        lambda _: "too much flash",
    ),
    "power_steps": (
        lambda lack: (
            f"coarse power steps: {lack.light} misses by {stops(lack.stops or 0)} at {lack.dialled}"
        ),
        lambda _: "coarse power steps",
    ),
}
"""Every kind of LACK_KINDS, in full and where there is little room."""


def lack_words(lack: Lack) -> str:
    """What is lacking, in full.

    >>> lack_words(Lack("flash", 0.3, "Speedlight"))
    '0.3 stop of flash short: Speedlight at full power is not enough'
    """
    return LACK_WORDS[lack.kind][0](lack)


def lack_brief(lack: Lack) -> str:
    """What is lacking, where there is little room.

    >>> lack_brief(Lack("background", 1.4))
    '1.4 stops too bright'
    """
    return LACK_WORDS[lack.kind][1](lack)


def first_lack(way: Way) -> str:
    """The first thing a way lacks, in full; empty where it lacks nothing."""
    return lack_words(way.lacks[0]) if way.lacks else ""


def lacks_in_words(way: Way) -> tuple[str, ...]:
    """Everything a way lacks, in full."""
    return tuple(lack_words(lack) for lack in way.lacks)


def reserve_or_lack(way: Way) -> str:
    """A way in a few words: what it has to spare, or what it lacks."""
    if way.lacks:
        return lack_brief(way.lacks[0])
    return NONE if way.reserve is None else f"{stops(way.reserve)} to spare"


DRAWBACK_WORDS: Mapping[str, Callable[[Drawback], str]] = {
    "movement": lambda it: f"the subject smears over {plain(it.got[0])} times the sharp limit",
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

    >>> drawback_words(Drawback("blur", (1.2, None), (3.0, None)))
    'it blurs the background by 1.2% of the frame; you want 3.0%'
    """
    return DRAWBACK_WORDS[drawback.kind](drawback)


def drawbacks_in_words(way: Way) -> tuple[str, ...]:
    """Everything that ranks a way lower."""
    return tuple(drawback_words(drawback) for drawback in way.drawbacks)


def named(ways: list[Way]) -> str:
    """Ways by what they are called, one after another."""
    return listed([way.label for way in ways])
