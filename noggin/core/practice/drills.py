"""Drills: a question made from a seed with figures that happen, the answers that may be given, and why.

One answer is right. Another is what a person says who holds the drill's belief; the rest are near
misses."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import log2
from random import Random

from noggin.core.advice.inside_shutter import InsideShutter
from noggin.core.errors import Refused
from noggin.core.physics import flash
from noggin.core.physics.appearance import CLOTHES
from noggin.core.physics.dials import shutter_dial
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.tables import TOLLS
from noggin.core.units import Stops
from noggin.core.wording import metres, percent, plain, signed_stops, stops

APART: Stops = 0.3
"""Answers in stops lie at least this far apart: a third is what is dialled."""

OPTIONS = 4
"""Answers offered where they are in stops."""


@dataclass(frozen=True)
class DrillAnswer:
    """One answer: in words, and by how many stops it is off where it is one in stops (None: it is right or
    wrong)."""

    words: str
    off: Stops | None = None


@dataclass(frozen=True)
class Task:
    """What is asked: the drill's belief, the seed it was made from, the question, its answers, which of
    them is right, which is the belief's, and the reason."""

    belief: str
    seed: int
    asks: str
    answers: tuple[DrillAnswer, ...]
    right: int
    believed: int
    why: str

    def off(self, given: int) -> Stops | None:
        """By how many stops an answer is off; None where it is no matter of stops. Raises Refused."""
        if not 0 <= given < len(self.answers):
            raise Refused("answer", f"there is no answer {given}")
        return self.answers[given].off


@dataclass(frozen=True)
class _Asked:
    """A question before its answers are put in an order."""

    asks: str
    right: str
    believed: str
    others: tuple[str, ...]
    why: str


@dataclass(frozen=True)
class _AskedInStops:
    """The same where answers are stops."""

    asks: str
    right: Stops
    believed: Stops
    why: str


Make = Callable[[Random], _Asked | _AskedInStops]


def _time(chance: Random, least: float, most: float) -> str:
    """A whole stop of time, as it is dialled, between two (1/s)."""
    return chance.choice(
        [f"1/{one}" for one in (30, 60, 125, 250, 500, 1000, 2000, 4000, 8000) if least <= one <= most]
    )


def _stops_between(slow: str, fast: str) -> float:
    """Stops from one dialled time to a faster one."""
    first, second = (shutter_dial(3).nearest(-log2(1 / float(one[2:]))).stops for one in (slow, fast))
    return second - first


def _hss_power(chance: Random) -> _AskedInStops:
    toll = chance.choice([row.toll for row in TOLLS.values()])
    sync, fast = "1/250", _time(chance, 1000, 4000)
    shorter = _stops_between(sync, fast)
    return _AskedInStops(
        f"At {sync} s, the sync speed, a full pop is right on the face. You go to {fast} s in high-speed"
        f" sync at full"
        f" power; the light's toll is {stops(toll)}. Where does the face land from flash alone?",
        -(toll + shorter),
        toll,
        f"The toll takes {stops(toll)}, and {stops(shorter)} of shorter time take as much again.",
    )


def _time_dims_flash(chance: Random) -> _AskedInStops:
    slow, fast = _time(chance, 30, 60), _time(chance, 125, 250)
    by = _stops_between(slow, fast)
    return _AskedInStops(
        f"Sync speed is 1/250 s. You go from {slow} s to {fast} s and change nothing else. What does the"
        f" flash on the"
        " face do?",
        0.0,
        -by,
        f"Within sync the whole pop falls into the opening at {slow} s as at {fast} s. Daylight loses"
        f" {stops(by)}.",
    )


def _iso_daylight(chance: Random) -> _Asked:
    low, high = chance.choice([(100, 200), (100, 400), (200, 800), (400, 1600)])
    by = log2(high / low)
    return _Asked(
        f"You go from ISO {low} to ISO {high}. What becomes brighter by {stops(by)}?",
        "daylight and flash alike",
        "daylight alone",
        ("flash alone", "neither: only the noise"),
        "ISO and aperture move both. Time within sync moves daylight alone, power moves flash alone.",
    )


def _nd_daylight(chance: Random) -> _AskedInStops:
    nd = chance.choice([2, 3, 4, 6])
    return _AskedInStops(
        f"A picture is right. You screw on a {nd}-stop ND and change nothing else. Where does the flash"
        f" on the face"
        " land?",
        -float(nd),
        0.0,
        f"Glass before the lens takes {stops(nd)} from everything. It lets you open the aperture at sync"
        f" speed.",
    )


def _half_light(chance: Random) -> _AskedInStops:
    near = chance.choice([1.0, 1.2, 1.5, 2.0])
    ratio = chance.choice([1.4, 2.0, 2.0, 2.8])
    far = round(near * ratio, 1)
    found = flash.by_distance(far) - flash.by_distance(near)
    return _AskedInStops(
        f"A bare head {metres(near)} from the face goes back to {metres(far)}. What does the face lose?",
        found,
        found / 2,
        f"Light falls with the square of the distance: 2·log2({plain(far)}/{plain(near)}) ="
        f" {stops(-found)}.",
    )


def _twice_as_far(chance: Random) -> _Asked:
    energy = chance.choice([100, 200, 300, 400])
    more = chance.choice([2, 4])
    reach = chance.choice([2.0, 3.0, 4.0, 5.0])
    right, believed = reach * more**0.5, reach * more
    return _Asked(
        f"A {energy} Ws head is enough at {metres(reach)}. How far is a {energy * more} Ws head of the"
        f" same make"
        " enough?",
        metres(round(right, 1)),
        metres(believed),
        (metres(round(reach * 1.1, 1)), metres(round(reach * more * 1.5, 1))),
        f"×{more} in energy is {stops(log2(more))}; in distance that is ×{plain(more**0.5)}.",
    )


def _large_is_soft(chance: Random) -> _Asked:
    large, small = chance.choice([(1.8, 0.6), (1.2, 0.6), (1.5, 0.4), (1.2, 0.4)])
    near = chance.choice([0.8, 1.0, 1.2])
    far = round(near * large / small * chance.choice([1.6, 2.0]), 1)
    angles = [
        flash.angular_size(distance, across / 2) for across, distance in ((large, far), (small, near))
    ]
    return _Asked(
        f"A box {metres(large)} across stands {metres(far)} away, one {metres(small)} across"
        f" {metres(near)} away. Whose"
        " shadows are softer?",
        f"those of the {metres(small)} box",
        f"those of the {metres(large)} box",
        ("both alike",),
        f"From the face the large one is {angles[0]:.0f}° across, the small one {angles[1]:.0f}°.",
    )


def _closer_brightens(chance: Random) -> _AskedInStops:
    far = chance.choice([2.0, 2.8, 4.0])
    near = far / chance.choice([1.6, 2.0])
    behind = chance.choice([2.0, 3.0, 4.0])
    before, after = (
        flash.by_distance(distance + behind) - flash.by_distance(distance) for distance in (far, near)
    )
    found = after - before
    return _AskedInStops(
        f"A wall {metres(behind)} behind the face. The light comes from {metres(far)} to {metres(near)},"
        f" and its power"
        " goes down until the face is as before. What does its light on the wall do?",
        found,
        -found,
        f"The wall was {plain((far + behind) / far)} times as far as the face, and is"
        f" {plain((near + behind) / near)} times"
        f" as far now: {stops(-found)} less.",
    )


def _weak_flash_bar(chance: Random) -> _Asked:
    sync, time = chance.choice(
        [("1/200", "1/400"), ("1/250", "1/500"), ("1/200", "1/500"), ("1/160", "1/320")]
    )
    inside = InsideShutter("focal_plane", 1 / float(time[2:]), "pop", 1 / float(sync[2:]))
    lit = inside.opening.lit_part
    return _Asked(
        f"Sync speed {sync} s, shot at {time} s, high-speed sync off. The lower {percent(1 - lit)} of the"
        f" frame has no"
        " flash, the rest is right. What mends it?",
        f"a time of {sync} s or longer, or high-speed sync",
        "more power",
        ("a wider aperture", "the light closer"),
        "The rows at the foot were closed again when the pop began: no power reaches them.",
    )


def _hss_freezes(chance: Random) -> _Asked:
    time = _time(chance, 1000, 4000)
    sync = chance.choice(["1/200", "1/250"])
    inside = InsideShutter("focal_plane", 1 / float(time[2:]), "hss", 1 / float(sync[2:]))
    whole = 1000 * inside.opening.whole_s
    return _Asked(
        f"A leap in high-speed sync at {time} s. What freezes it?",
        f"the shutter: every row is open for {time} s",
        "the flash: its light is shorter than that",
        ("the aperture", "ISO"),
        f"The light of high-speed sync lasts {plain(whole)} ms here, as long as the slit travels.",
    )


def _leaf_is_free(chance: Random) -> _AskedInStops:
    kind = chance.choice(["cut", "voltage"])
    time = chance.choice(["1/1000", "1/1600", "1/2000"])
    pulse = PULSE_CLASSES[kind].pulse
    inside = InsideShutter("leaf", 1 / float(time[2:]), "pop", 1 / float(time[2:]), pulse=pulse)
    return _AskedInStops(
        f"A leaf shutter at {time} s and a head whose pop at full power has a t0.1 of"
        f" 1/{round(1 / pulse.t01_s(1.0))} s. What does the flash lose to the shutter?",
        inside.best,
        0.0,
        f"The blades let through {percent(inside.share(0.5))} of the pop; the rest falls on them.",
    )


def _screen_shows(chance: Random) -> _Asked:
    place, looks, wrong = chance.choice(
        [
            ("At night", "bright", "one stop over"),
            ("In the midday sun", "dark", "one stop under"),
        ]
    )
    return _Asked(
        f"{place} the picture on the screen looks {looks}. The histogram ends well inside on the right,"
        f" and the spot on"
        " the face reads 0.0. What is the exposure?",
        "right",
        wrong,
        ("two stops off: both ends are empty", "nobody can say without a meter"),
        "The eye adapts to what is around the screen. Tones in the file do not change with it.",
    )


def _auto_knows(chance: Random) -> _AskedInStops:
    name = chance.choice(["white dress", "dark suit"])
    part = chance.choice([0.6, 0.7, 0.8])
    reflectance = part * CLOTHES[name].reflectance + (1 - part) * CLOTHES["mid-tone clothes"].reflectance
    found = log2(CLOTHES["mid-tone clothes"].reflectance / reflectance)
    return _AskedInStops(
        f"Automatic flash was right for mid-tone clothes. Now a {name} fills {percent(part)} of what it"
        f" measures. Where"
        " does the face land against before?",
        found,
        0.0,
        f"It brings the mean to the same tone; the mean throws back {percent(reflectance)} now, against"
        f" {percent(CLOTHES['mid-tone clothes'].reflectance)}.",
    )


def _half_power(chance: Random) -> _AskedInStops:
    start = chance.choice([1, 2, 4, 8])
    times = chance.choice([2, 2, 4])
    words = {2: "half of that", 4: "a quarter of that"}[times]
    found = -log2(times)
    return _AskedInStops(
        f"A light at 1/{start} is turned down to {words}. What does the face lose?",
        found,
        found / 2,
        f"Half the power is one stop, so 1/{start} to 1/{start * times} is {stops(-found)}.",
    )


MAKERS: dict[str, Make] = {
    "hss_power": _hss_power,
    "time_dims_flash": _time_dims_flash,
    "iso_daylight": _iso_daylight,
    "nd_daylight": _nd_daylight,
    "half_light": _half_light,
    "twice_as_far": _twice_as_far,
    "large_is_soft": _large_is_soft,
    "closer_brightens": _closer_brightens,
    "weak_flash_bar": _weak_flash_bar,
    "hss_freezes": _hss_freezes,
    "leaf_is_free": _leaf_is_free,
    "screen_shows": _screen_shows,
    "auto_knows": _auto_knows,
    "half_power": _half_power,
}
"""A drill for each belief."""


def task(belief: str, seed: int) -> Task:
    """The task of a belief's drill that a seed (0 to 2³¹ − 1) gives, the same each time. Raises Refused."""
    if belief not in MAKERS:
        raise Refused("belief", f"'{belief}' is none of {', '.join(MAKERS)}")
    if not 0 <= seed < SEEDS:
        raise Refused("seed", f"{seed} is outside 0 … {SEEDS - 1}")
    chance = Random(f"{belief} {seed}")  # noqa: S311 - repeatable, not secret
    asked = MAKERS[belief](chance)
    if isinstance(asked, _AskedInStops):
        levels = _levels(asked, chance)
        answers = [DrillAnswer(_said(level), abs(level - asked.right)) for level in levels]
        right, believed = levels.index(asked.right), levels.index(asked.believed)
    else:
        words = [asked.right, asked.believed, *asked.others]
        chance.shuffle(words)
        answers = [DrillAnswer(one) for one in words]
        right, believed = words.index(asked.right), words.index(asked.believed)
    return Task(belief, seed, asked.asks, tuple(answers), right, believed, asked.why)


SEEDS = 2**31


def _said(level: Stops) -> str:
    return "nothing changes" if abs(level) < APART / 2 else signed_stops(level)


def _levels(asked: _AskedInStops, chance: Random) -> list[Stops]:
    """The right level, the believed one and near misses, in order; no two within APART."""
    found = [asked.right, asked.believed]
    for miss in _misses(asked, chance):
        if all(abs(miss - one) >= APART for one in found):
            found.append(miss)
        if len(found) == OPTIONS:
            break
    return sorted(found)


def _misses(asked: _AskedInStops, chance: Random) -> Iterator[Stops]:
    steps = [1.0, -1.0, 0.5, -0.5, 2.0, -2.0, 3.0]
    chance.shuffle(steps)
    yield from (asked.right + step for step in steps)
