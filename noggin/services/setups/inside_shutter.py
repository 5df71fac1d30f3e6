"""Inside the shutter of a set-up's camera, or of one that is typed: the figures that were asked for, and
the picture that comes of them, moment by moment."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from hashlib import sha256
from math import log2
from typing import Any

from noggin.core.advice.inside_shutter import CURTAINS, MODES, InsideShutter, inside_of
from noggin.core.advice.shutter_words import (
    QUESTIONS,
    SEEN_INSIDE,
    ShutterQuestion,
    Sum,
    said_time,
    state,
    sums,
)
from noggin.core.errors import Refused, Unreadable
from noggin.core.physics.curtains import SHUTTERS, curtain_travel
from noggin.core.physics.power import power_label
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.planning.lighting import FACES_AT
from noggin.core.planning.way import Plan, Way
from noggin.core.typed.parse_quantities import read_milliseconds, read_power, read_shutter, read_stops
from noggin.core.wording import plain
from noggin.services.setups.proofs import SHARED, ProofRecipe, RowGains, recipe_of
from noggin.services.setups.setups import OpenSetUp

__all__ = [
    "FIGURES",
    "QUESTIONS",
    "SEEN_INSIDE",
    "ShutterFigure",
    "ShutterPage",
    "inside_shutter",
    "pictures_of",
]

OWN_HEAD = "own"
"""The set-up's own light, as a choice of head."""


@dataclass(frozen=True)
class ShutterFigure:
    """One figure of the page: the part of an exposure that it is, what it is called, how it is read, what
    can be chosen (None: it is typed), and for which exposures it matters."""

    key: str
    part: str
    label: str
    read: Callable[[str], Any]
    options: Mapping[str, str] | None = None
    unit: str = ""
    matters: Callable[[InsideShutter], bool] = lambda _: True


def _milliseconds(text: str) -> float | None:
    return read_milliseconds(text) if text.strip() else None


def _has_curtains(inside: InsideShutter) -> bool:
    return inside.has_curtains


def _pops(inside: InsideShutter) -> bool:
    return inside.mode == "pop"


def _pulses(inside: InsideShutter) -> bool:
    return inside.mode == "hss"


FIGURES = (
    ShutterFigure("shutter", "kind", "Shutter", str, SHUTTERS),
    ShutterFigure("time", "time_s", "Shutter time", read_shutter, unit="s"),
    ShutterFigure("sync", "sync_s", "Sync speed", read_shutter, unit="s"),
    ShutterFigure("mode", "mode", "Flash", str, MODES),
    ShutterFigure(
        "head",
        "pulse",
        "Head",
        str,
        {OWN_HEAD: "the set-up's own", **{key: row.label for key, row in PULSE_CLASSES.items()}},
    ),
    ShutterFigure("power", "power", "Power", read_power),
    ShutterFigure("curtain", "curtain", "Fired by the", str, CURTAINS, matters=_pops),
    ShutterFigure("travel", "travel_s", "Curtain travel", _milliseconds, unit="ms", matters=_has_curtains),
    ShutterFigure("delay", "delay_s", "Trigger delay", read_milliseconds, unit="ms", matters=_pops),
    ShutterFigure("toll", "toll", "High-speed toll", read_stops, unit="stops", matters=_pulses),
    ShutterFigure("droop", "droop", "Droop", read_stops, unit="stops", matters=_pulses),
)
"""Every figure, in the order of the page."""


@dataclass(frozen=True)
class ShutterPage:
    """What the page shows: the exposure, its figures as typed, what was wrong with them by their keys, and
    whose picture it is, by which way."""

    inside: InsideShutter
    texts: Mapping[str, str]
    problems: Mapping[str, str]
    opened: OpenSetUp
    way: Way

    @property
    def sums(self) -> tuple[Sum, ...]:
        """What daylight got, what the flash got, and where the rest went."""
        return sums(self.inside)

    @property
    def figures(self) -> tuple[ShutterFigure, ...]:
        """The figures that matter for it."""
        return tuple(figure for figure in FIGURES if figure.matters(self.inside))

    @property
    def states(self) -> tuple[str, ...]:
        """What is to be seen at every moment, as sentences."""
        return tuple(state(self.inside, at) for at in self.inside.moments)

    @property
    def question(self) -> ShutterQuestion | None:
        """The question whose figures these are; None where they are nobody's."""
        return next((one for one in QUESTIONS if one.given.items() <= self.texts.items()), None)

    @property
    def recipe(self) -> ProofRecipe:
        """What the picture is made of."""
        return recipe_of(self.opened.setup, self.way)

    @property
    def name(self) -> str:
        """A name of what its pictures show."""
        return sha256(f"{self.recipe.name} {self.inside!r}".encode()).hexdigest()[:20]


def inside_shutter(opened: OpenSetUp, key: str, given: Mapping[str, str]) -> ShutterPage:
    """Inside the shutter for a way of a set-up (by its key; empty: one that fires its key light, the
    recommended one where it does), with the figures that were typed instead of its own. What cannot be read
    is left as it is in the set-up, and said."""
    way = _way(opened.plan, key)
    own = inside_of(opened.setup, way)
    as_planned = _texts(own)
    texts = {**as_planned, **{key: text for key, text in given.items() if key in as_planned}}
    problems: dict[str, str] = {}
    parts: dict[str, Any] = {}
    for figure in FIGURES:
        text = texts[figure.key]
        if text == as_planned[figure.key]:
            continue  # as it is, not as it is rounded to be read
        try:
            parts[figure.part] = _read(figure, text, own)
        except Unreadable as error:
            problems[figure.key] = str(error)
        except Refused as error:
            problems[figure.key] = error.problem
    if parts.get("kind", own.kind) not in ("focal_plane", "rolling"):
        parts["travel_s"] = None
    return ShutterPage(_exposure(own, parts, problems), texts, problems, opened, way)


def _way(plan: Plan, key: str) -> Way:
    if key in plan.by_key:
        return plan.by_key[key]
    fires = [way for way in plan.ways if way.lighting.key.down is not None]
    return plan.shown if plan.shown in fires or not fires else fires[0]


def _read(figure: ShutterFigure, text: str, own: InsideShutter) -> object:
    if figure.key == "head":
        if text == OWN_HEAD:
            return own.pulse
        if text in PULSE_CLASSES:
            return PULSE_CLASSES[text].pulse
    if figure.options is not None and text not in figure.options:
        raise Refused(figure.key, f"{text!r} is not one of {', '.join(figure.options.values())}")
    return figure.read(text)


def _exposure(own: InsideShutter, parts: dict[str, Any], problems: dict[str, str]) -> InsideShutter:
    """The exposure of the parts that can be; what is refused is left out, and said at its figure."""
    keys = {figure.part: figure.key for figure in FIGURES}
    while parts:
        try:
            return replace(own, **parts)
        except Refused as error:
            part = PART_OF.get(error.name, error.name)
            problems[keys[part]] = error.problem
            if parts.pop(part, None) is None:
                break
    return own


PART_OF = {"shutter": "kind", "ramp_s": "time_s"}
"""Parts of an exposure that are refused by another name."""


def _texts(inside: InsideShutter) -> dict[str, str]:
    """An exposure's figures as they are typed."""
    travel = "" if inside.travel_s is None else plain(1000 * inside.travel_s, 2)
    return {
        "shutter": inside.kind,
        "time": said_time(inside.time_s),
        "sync": said_time(inside.sync_s),
        "mode": inside.mode,
        "head": OWN_HEAD,
        "power": power_label(-log2(inside.power), "fraction", 10.0),
        "curtain": inside.curtain,
        "travel": travel,
        "delay": plain(1000 * inside.delay_s, 2),
        "toll": plain(inside.toll),
        "droop": plain(inside.droop),
    }


def usual_travel_ms(inside: InsideShutter) -> str:
    """The travel that is usual for a sync time, in milliseconds."""
    return plain(1000 * curtain_travel(inside.sync_s), 2)


def pictures_of(page: ShutterPage) -> bytes:
    """The picture as it comes about, at every moment, one below another as one file; the last is the frame.
    The picture stands upside down in the camera: the rows that open first are at its foot."""
    return SHARED.by_rows(page.name, page.recipe, gains_of(page))


def gains_of(page: ShutterPage) -> list[RowGains]:
    """What rows get of the way's daylight and flash at every moment, from the top of the picture down."""
    inside, planned = page.inside, inside_of(page.opened.setup, page.way)
    day = planned.daylight(0.5)
    flash = planned.flash(1 - FACES_AT) or 1.0
    rows = tuple(reversed(inside.rows))
    return [
        (
            [inside.daylight(row, at) / day for row in rows],
            [inside.flash(row, at) / flash for row in rows],
        )
        for at in inside.moments
    ]
