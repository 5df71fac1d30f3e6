"""Measuring sheets: what to set, what to write down, and what the readings then say.

One row for each sheet; the pages, the kit document and the CSV of readings read these rows.
"""

import re
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import log2

from noggin.core import limits
from noggin.core.errors import Refused, unlike
from noggin.core.gear import measuring
from noggin.core.gear.calibrate import Calibration, Measured, Reading, calibrate
from noggin.core.gear.parse_readings import lines_of, read_readings, reading_of
from noggin.core.physics.metering import off_card
from noggin.core.typed.parse_quantities import (
    read_amount,
    read_aperture,
    read_iso,
    read_percent_figure,
    read_power,
    read_shutter,
)
from noggin.core.typed.parse_scene import read_zone
from noggin.core.units import Metres, Seconds, Stops
from noggin.core.wording import number, plain, shutter_time, signed, stops


@dataclass(frozen=True)
class Terms:
    """What a sheet asks in addition to readings: face across in m (None: to be found), sync speed in s,
    whether a droop is looked for, and stops that a filter is marked with (least and most)."""

    across_m: Metres | None = 0.0
    sync_s: Seconds = 1 / 200
    droop: bool = False
    marked: tuple[Stops, Stops] = (0.0, 0.0)


@dataclass(frozen=True)
class Found:
    """One figure that readings gave: its place in the gear's document (None: only to be read), what it is
    called, its unit and that of its ±, and how to write both."""

    figure: str | None
    label: str
    measured: Measured
    unit: str
    uncertainty_unit: str
    show: Callable[[float], str] = lambda value: plain(value, 2)
    show_uncertainty: Callable[[float], str] = lambda value: plain(value, 2)


@dataclass(frozen=True)
class Outcome:
    """What a sheet says: figures, each reading with what it says, findings and doubts in words."""

    found: tuple[Found, ...]
    rows: tuple[tuple[str, str], ...] = ()
    words: tuple[str, ...] = ()
    questions: tuple[str, ...] = ()


@dataclass(frozen=True)
class Sheet:
    """One measuring sheet: the kind of gear it is for, what to do with a flash meter and with camera and
    grey card alone, how a reading is written, an example, and what else it asks (`asks`)."""

    title: str
    kind: str
    needs: str
    steps: tuple[str, ...]
    by_camera: str
    write: str
    example: str
    asks: tuple[str, ...]
    work: Callable[[str, Terms], Outcome]


def _guide_number(text: str, terms: Terms) -> Outcome:
    readings = read_readings(text)
    radius = None if terms.across_m is None else terms.across_m / 2
    said = calibrate(readings, terms.sync_s, radius, with_droop=terms.droop)
    found = [
        Found("gn_m", "guide number", said.gn_m, "m", "stops", lambda value: plain(value, 1)),
        *_of_light(said),
    ]
    rows = tuple(
        (line.strip(), f"{signed(off, 2)} stops off")
        for line, off in zip(_written(text), said.residuals, strict=True)
    )
    return Outcome(tuple(found), rows, (f"They scatter by {stops(said.scatter, 2)}.",), said.questions)


def _of_light(said: Calibration) -> list[Found]:
    found = []
    if said.toll:
        found.append(Found("hss_toll", "high-speed toll", said.toll, "stops", "stops"))
    if said.radius_m.uncertainty:
        across = Measured(2 * said.radius_m.value, 2 * said.radius_m.uncertainty)
        found.append(Found(None, "face across", across, "m", "m"))
    if said.droop:
        found.append(Found(None, "droop, stops more lost for a stop of time", said.droop, "stops", "stops"))
    return found


def _modifier(text: str, terms: Terms) -> Outcome:
    lines = lines_of(text, reading_of, ("without", "with"))
    radius = (terms.across_m or 0.0) / 2
    bare = [reading for label, reading in lines if label == "without"]
    through = [reading for label, reading in lines if label == "with"]
    said = measuring.modifier_loss(bare, through, radius)
    rows = tuple(
        zip(_written(text), (f"{plain(one.level, 1)} stops over f/1" for _, one in lines), strict=True)
    )
    found = Found("loss", "loss", said.figure, "stops", "stops")
    return Outcome((found,), rows, said.words, said.questions)


def _toll(text: str, terms: Terms) -> Outcome:
    readings = read_readings(text)
    said = measuring.toll(readings, terms.sync_s, (terms.across_m or 0.0) / 2)
    rows = tuple(
        zip(_written(text), (_against(reading, readings[0], terms) for reading in readings), strict=True)
    )
    found = Found("hss_toll", "high-speed toll", said.figure, "stops", "stops")
    return Outcome((found,), rows, said.words, said.questions)


def _against(reading: Reading, first: Reading, terms: Terms) -> str:
    past = (
        f", {stops(log2(terms.sync_s / reading.shutter_s))} past sync" if reading.shutter_s else ", at sync"
    )
    return f"{signed(reading.level - first.level)} stops from the first{past}"


_KELVIN = re.compile(r"(.+?)[,;]?\s+(\d{4,5})\s*K", re.IGNORECASE)
FILTER_LABELS = ("without", "with", "least", "most")


@dataclass(frozen=True)
class _Lit:
    ev: float
    kelvin: float | None


def _lit(line: str) -> _Lit:
    found = _KELVIN.fullmatch(line)
    kelvin = float(found[2]) if found else None
    if kelvin is not None:
        limits.KELVIN.check("kelvin", kelvin)
    return _Lit(read_zone(found[1] if found else line)[0], kelvin)


def _filter(text: str, terms: Terms) -> Outcome:
    heaps: dict[str, list[_Lit]] = defaultdict(list)
    lines = lines_of(text, _lit, FILTER_LABELS)
    for label, lit in lines:
        heaps[label].append(lit)
    without = [lit.ev for lit in heaps["without"]]
    found: list[Found] = []
    words: list[str] = []
    questions: list[str] = []
    for label, figure, marked in (
        ("with", "least", terms.marked[0]),
        ("least", "least", terms.marked[0]),
        ("most", "most", terms.marked[1]),
    ):
        if not heaps[label]:
            continue
        said = measuring.filter_strength(without, [lit.ev for lit in heaps[label]], marked)
        name = "strength" if label == "with" else f"strength at its {label}"
        found.append(Found(figure, name, said.figure, "stops", "stops"))
        words += said.words
        questions += said.questions
    if not found:
        raise Refused("readings", "write readings through the filter: with:, or least: and most:")
    balances = [[lit.kelvin for lit in heaps[label] if lit.kelvin] for label in ("without", "with")]
    if all(balances):
        colour = measuring.colour_shift(*balances)
        found.append(Found("colour", "colour", colour.figure, "mired", "mired", lambda v: signed(v, 0)))
        words += colour.words
    rows = tuple(zip(_written(text), (f"EV {plain(lit.ev)}" for _, lit in lines), strict=True))
    return Outcome(tuple(found), rows, tuple(words), tuple(questions))


def _frame(line: str) -> tuple[Seconds, float]:
    time, colon, lit = line.partition(":")
    if not colon:
        raise unlike(line, ("a time and a brightness", "1/250: 80%"))
    share = read_percent_figure(lit)
    limits.LIT.check("lit", share)
    return read_shutter(time.strip()), share


def _sync(text: str, _: Terms) -> Outcome:
    frames = dict(frame for _, frame in lines_of(text, _frame))
    if not frames:
        raise Refused("readings", "write at least one frame")
    said = measuring.sync_of_frames(frames)
    found = []
    if said.sync_s:
        found.append(Found("sync_s", "sync speed", Measured(said.sync_s, 0.0), "s", "", shutter_time))
    if said.travel_s:
        found.append(Found("curtain_s", "curtains' travel", said.travel_s, "ms", "ms", _as_ms, _as_ms))
    rows = tuple(
        (shutter_time(time), f"{number(lit, 0)}% lit") for time, lit in sorted(frames.items())[::-1]
    )
    return Outcome(tuple(found), rows, (), said.questions)


def _as_ms(seconds: Seconds) -> str:
    return plain(1000 * seconds, 1)


_POP = re.compile(
    r"([^,;]+?)\s*[,;]\s*(f[^,;]+?)\s*(?:[,;]\s*((?:iso ?)?[\d.]+)\s*)?(?:[,;]\s*card\s+(.+?))?", re.I
)


def _pop(line: str) -> tuple[float, Stops]:
    found = _POP.fullmatch(line)
    if not found:
        raise unlike(line, ("a power and an aperture", "1/4, f/14"))
    power, aperture = read_power(found[1]), read_aperture(found[2])
    limits.LEAST_POWER.check("power", power)
    limits.METERED.check("f_number", aperture)
    iso = read_iso(found[3]) if found[3] else 100.0
    limits.ISO.check("iso", iso)
    return power, 2 * log2(aperture) - log2(iso / 100) + (
        off_card(read_amount(found[4])) if found[4] else 0.0
    )


def _scale(text: str, _: Terms) -> Outcome:
    heaps: dict[float, list[Stops]] = defaultdict(list)
    for _label, (power, level) in lines_of(text, _pop):
        heaps[power].append(level)
    said = measuring.power_scale(heaps)
    rows = tuple(
        (
            f"1/{number(1 / power, 1)}",
            f"{signed(off, 2)} stops off"
            + ("" if step is None else f", {plain(step, 2)} under the one before"),
        )
        for power, off, step in zip(said.powers, said.off, said.steps, strict=True)
    )
    found = Found("power_off", "power scale off by at most", said.worst, "stops", "stops")
    return Outcome((found,), rows, (), said.questions)


def _written(text: str) -> list[str]:
    return [line.strip() for line in text.splitlines() if line.strip()]


SHEETS: Mapping[str, Sheet] = {
    "guide_number": Sheet(
        "Guide number",
        "light",
        "the light without its modifier, its reflector or zoom as chosen below, and no other light",
        (
            "Point the meter's dome at the light. Keep the shutter at sync speed or slower.",
            "Fire it at full power from three or more distances, 1.5 to 5 m, and note each aperture.",
            "Add two times past sync at one distance to find the high-speed toll as well.",
        ),
        "Photograph an 18% card square to the light, filling the middle of the frame. Note the settings"
        " and where the card lands, in stops from mid-tone.",
        "distance, power, time if past sync, aperture",
        "1.5 m, 1/1, f/40\n2.5 m, 1/1, f/24\n4 m, 1/1, f/15",
        ("about", "across", "sync", "droop"),
        _guide_number,
    ),
    "toll": Sheet(
        "High-speed toll",
        "light",
        "the light at one power and in one place, with no other light",
        (
            "Fire once at sync speed.",
            "Fire again in high-speed sync, the time a third of a stop shorter and ISO a third higher: the"
            " two differ by the toll alone.",
            "Better still, add two or three shorter times. Each stop of time should cost one stop of"
            " flash.",
        ),
        "Most flash meters cannot read high-speed sync: use the camera and an 18% card."
        " Note the settings and where the card lands.",
        "distance, power, time if past sync, aperture, ISO if not 100, card",
        "2 m, 1/1, f/11, card 0.0\n2 m, 1/1, 1/250, f/11, ISO 125, card -1.2",
        ("across", "sync"),
        _toll,
    ),
    "power_scale": Sheet(
        "Power scale",
        "light",
        "the light in one place, with no other light",
        ("Fire it at full power, then a stop lower each time down to its least, and note each aperture.",),
        "With a card: keep the aperture and note where the card lands at each power.",
        "power, aperture",
        "1/1, f/22\n1/2, f/16\n1/4, f/11",
        (),
        _scale,
    ),
    "modifier_loss": Sheet(
        "Modifier loss",
        "modifier",
        "one light in one place, metered without and with the modifier",
        (
            "Without it: two or three pops with the reflector you compare against.",
            "With it: two or three pops. Measure the distance from its front face.",
        ),
        "With a card: the same, noting the settings and where the card lands.",
        "without: or with:, then distance, power, aperture",
        "without: 2 m, 1/1, f/16\nwith: 2 m, 1/1, f/9.5",
        ("about", "across"),
        _modifier,
    ),
    "filter": Sheet(
        "Filter",
        "filter",
        "steady light: a lit wall indoors, or an even sky for a minute",
        (
            "Without it, two or three times: the settings at which a card looks right, or an EV from"
            " a meter.",
            "With it: the same. Read a variable filter at its weakest and at its strongest.",
            "To find its colour, add the white balance at which the card is neutral, such as 5500 K.",
        ),
        "No meter needed: camera and card are enough.",
        "without:, with:, least: or most:, then settings, white balance",
        "without: 1/125 f/8, 5500 K\nwith: 0.5 s f/8, 5350 K",
        (),
        _filter,
    ),
    "sync_speed": Sheet(
        "Sync speed",
        "body",
        "one light set to a plain pop, not to high-speed sync, on a white wall in the dark",
        (
            "Take a frame at each time from a stop slower than sync speed to two stops faster.",
            "Note how much of the frame's height is lit: 100% until a dark band appears.",
        ),
        "No meter needed: magnify the camera's screen and see where the band begins.",
        "time: percentage of the height that is lit",
        "1/160: 100%\n1/200: 100%\n1/250: 94%\n1/320: 74%",
        (),
        _sync,
    ),
}
"""Every sheet, by its key."""


def work_out(key: str, text: str, terms: Terms) -> Outcome:
    """What the readings of a sheet say. Raises Unreadable for a line, Refused for what is missing."""
    limits.check_choice("sheet", key, SHEETS)
    return SHEETS[key].work(text, terms)


def sheets_for(kind: str) -> Sequence[tuple[str, Sheet]]:
    """The sheets that a kind of gear has."""
    return [(key, sheet) for key, sheet in SHEETS.items() if sheet.kind == kind]
