"""Inside the shutter in words: what is to be seen at a moment, the sums, and what people ask."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import log2

from noggin.core.advice.inside_shutter import InsideShutter
from noggin.core.physics import dials
from noggin.core.physics.rows import floor_of_toll
from noggin.core.units import Seconds, Stops
from noggin.core.wording import percent, shutter_time, signed_stops, stops

UNEVEN: Stops = 0.3
"""Rows further apart than this show it."""


def state(inside: InsideShutter, at_s: Seconds) -> str:
    """What is to be seen at a moment, as a sentence.

    >>> state(InsideShutter("global", 1 / 1000, "off", 1 / 200), 0.0005)
    'At 0.50 ms: all rows are open. No flash.'
    """
    return f"At {1000 * at_s:.2f} ms: {_shutter_state(inside, at_s)}. {_flash_state(inside, at_s)}"


def _shutter_state(inside: InsideShutter, at_s: Seconds) -> str:
    opening = inside.opening
    first, second = opening.passed(at_s)
    if at_s >= opening.whole_s:
        return "the frame is closed"
    if not opening.travel_s:
        if first < 1:
            return f"the blades are {percent(first)} open"
        return "all rows are open" if second == 0 else f"the blades are {percent(second)} closed"
    if first >= 1 and second == 0:
        return "the whole frame is open"
    if second == 0:
        return f"the first curtain is {percent(first)} across, the rows it has passed are open"
    if first >= 1:
        return f"the second curtain is {percent(second)} across, the rows it has passed are closed"
    return f"a slit is open from {percent(second)} to {percent(first)} of the way across"


def _flash_state(inside: InsideShutter, at_s: Seconds) -> str:
    if inside.mode == "off":
        return "No flash."
    if inside.mode == "hss":
        if at_s >= inside.opening.whole_s:
            return "The pulses are over."
        return "The flash pulses evenly." if inside.droop < UNEVEN else "The flash pulses, and droops."
    given = inside.pop.given(at_s)
    if at_s < inside.pop.starts_s:
        return "The flash waits."
    return "The pop is over." if given > 0.99 else f"{percent(given)} of the pop is out."


def said_time(time_s: Seconds) -> str:
    """A shutter time by the label of its dial, where it is on one.

    >>> said_time(2 ** -(22 / 3)), said_time(1 / 180)
    ('1/160', '1/180')
    """
    step = dials.shutter_dial(3).nearest(dials.shutter_stops(time_s))
    return (
        step.label if abs(step.stops - dials.shutter_stops(time_s)) < ON_THE_DIAL else shutter_time(time_s)
    )


ON_THE_DIAL: Stops = 0.005
"""A time nearer than this to a step of the dial is that step."""


@dataclass(frozen=True)
class Sum:
    """One line of the sums: what it is, its figure, and why it is so."""

    what: str
    figure: str
    why: str


def sums(inside: InsideShutter) -> tuple[Sum, ...]:
    """What daylight got, what the flash got, and where the rest went."""
    return (_of_daylight(inside), *_of_flash(inside))


def _of_daylight(inside: InsideShutter) -> Sum:
    against = log2(inside.time_s / inside.sync_s)
    return Sum(
        "daylight",
        signed_stops(against),
        f"every row is open for {said_time(inside.time_s)} s; against {said_time(inside.sync_s)} s,"
        " the sync speed",
    )


def _of_flash(inside: InsideShutter) -> tuple[Sum, ...]:
    if inside.mode == "off":
        return ()
    if inside.mode == "pop":
        return _of_pop(inside)
    opening = inside.opening
    floor = floor_of_toll(inside.sync_s, opening.travel_s)
    shorter = log2(inside.sync_s / inside.time_s)
    travel, whole = 1000 * opening.travel_s, 1000 * opening.whole_s
    found = [
        Sum(
            "a row's share",
            percent(inside.share(0.5)),
            f"open for {1000 * inside.time_s:.2f} ms of the {whole:.2f} ms that the pulses last",
        ),
        Sum(
            "toll, at the sync speed",
            signed_stops(-inside.toll),
            "against one full pop; measured, or usual for the light",
        ),
        Sum(
            "of that by geometry",
            signed_stops(-floor),
            f"the light must last for the travel of {travel:.2f} ms as well: no light does better",
        ),
        Sum(
            "of that by the light",
            signed_stops(floor - inside.toll),
            "what regulating the pulses takes"
            if inside.toll >= floor
            else "better than geometry allows: was the toll measured at this camera?",
        ),
        Sum("shorter than sync", signed_stops(-shorter), "each stop of time takes a stop of flash"),
        Sum("flash, mid-frame", signed_stops(-inside.toll - shorter), "against one full pop at sync"),
    ]
    if inside.droop:
        found.append(Sum("droop", stops(inside.droop), "from the rows that open first to the last"))
    return tuple(found)


def _of_pop(inside: InsideShutter) -> tuple[Sum, ...]:
    first, last = inside.lit_rows
    lit = last - first
    found = [
        Sum(
            "rows with flash",
            percent(lit),
            "every row is open when the pop begins"
            if lit >= 1
            else "the others are closed again before the first curtain has arrived, and stay dark",
        ),
        Sum(
            "flash, best row",
            signed_stops(inside.best),
            "all of the pop is caught" if inside.best > -0.05 else "the row closes before the pop is over",
        ),
    ]
    if lit > 0 and inside.uneven > UNEVEN / 3:
        found.append(
            Sum(
                "from row to row",
                stops(inside.uneven),
                "the pop lasts while rows open or close: a soft edge or a gradient",
            )
        )
    found.append(
        Sum(
            "t0.1 of the pop",
            f"{shutter_time(inside.pulse.t01_s(inside.power))} s",
            "what freezes movement where the flash makes the picture",
        )
    )
    return tuple(found)


@dataclass(frozen=True)
class ShutterQuestion:
    """A question that opens the drawing where the answer is seen: what is set for it, as it is typed, and
    what to look at."""

    key: str
    asks: str
    given: Mapping[str, str]
    look: str


_FOCAL = {"shutter": "focal_plane", "sync": "1/200", "mode": "pop"}

QUESTIONS = (
    ShutterQuestion(
        "black_bar",
        "Why a black bar?",
        _FOCAL | {"time": "1/500", "head": "cut"},
        "The pop begins as the first curtain arrives; by then the second one has closed the rows that it"
        " has passed. A bar means time, not a weak flash.",
    ),
    ShutterQuestion(
        "within_sync",
        "Why does a shorter time within sync not dim the flash?",
        _FOCAL | {"time": "1/125", "head": "speedlight", "power": "1/4"},
        "The pop is over before any row closes: at 1/60 s as at 1/200 s each row catches all of it. Only"
        " daylight gets less.",
    ),
    ShutterQuestion(
        "hss_costs",
        "Why does high-speed sync cost two stops?",
        _FOCAL | {"time": "1/400", "mode": "hss", "toll": "1.1"},
        "The same charge must last while the slit crosses the frame, and each row is open for a part of"
        " that only: nearly a stop by geometry, a little by the light, and one more for each stop of time.",
    ),
    ShutterQuestion(
        "leaf_short",
        "Why does a leaf shutter at 1/1600 lose flash?",
        {
            "shutter": "leaf",
            "sync": "1/1600",
            "time": "1/1600",
            "mode": "pop",
            "head": "cut",
            "power": "1/1",
        },
        "All rows open at once, so there is no bar; but at full power the pop lasts longer than the blades"
        " are open, and the rest of it falls on closed blades.",
    ),
    ShutterQuestion(
        "smears",
        "Why does a speedlight at 1/1 smear?",
        _FOCAL | {"time": "1/200", "head": "speedlight", "power": "1/1"},
        "At full power the pop glows through a large part of the opening; at 1/16 it is cut after a"
        " fraction of that. Its t0.1 is what freezes movement.",
    ),
)
"""What people ask, and where it is seen."""

_BY_KEY = {question.key: question for question in QUESTIONS}

SEEN_INSIDE = {
    "hss_off": _BY_KEY["black_bar"],
    "hss_left_on": _BY_KEY["hss_costs"],
    "sync_fallback": _BY_KEY["within_sync"],
}
"""What goes wrong with a frame by the shutter, by the keys of faults, and the question that shows it."""
