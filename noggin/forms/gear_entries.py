"""Every figure of a piece of gear as a person types it, by kind.

A figure that can be measured has three entries: itself, where it comes from, and its ±. Typing the figure
again makes it what a person read somewhere: its old ± and measurement no longer count.
"""

from collections.abc import Callable, Iterator, Mapping
from functools import partial
from typing import Any

from noggin.core.errors import unlike
from noggin.core.gear.compatibility import TRIGGER_PARTS
from noggin.core.physics.curtains import SHUTTERS
from noggin.core.physics.filters import FILTER_KINDS
from noggin.core.physics.power import SCALES
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.setup.light import BEAMS
from noggin.core.tables import SOURCES
from noggin.core.typed import parse_quantities
from noggin.core.wording import number, plain, shutter_time, signed
from noggin.documents.gear import uncertainty_of_figure
from noggin.documents.paths import Steps, value_at
from noggin.forms.classes import LIGHTS
from noggin.forms.entry import (
    Document,
    Entry,
    amount,
    distance,
    read_dial_time,
    read_name,
    show_dial_time,
    show_power,
)

ReadText = Callable[[str], Any]
ShowValue = Callable[[Any], str]

SHAPES = {
    "reflector": "reflector or bare",
    "zoom": "zoom reflector",
    "softbox": "softbox",
    "deep": "deep softbox",
    "octa": "octagon",
    "strip": "strip",
    "umbrella": "umbrella",
    "shoot_through": "shoot-through umbrella",
    "covered_umbrella": "umbrella with cover",
    "dish": "beauty dish",
    "parabolic": "parabolic",
    "lantern": "lantern",
    "other": "something else",
}
"""Shapes of modifiers."""

ACCESSORIES = {
    "grid": "grid",
    "snoot": "snoot",
    "gel": "gel",
    "flag": "flag",
    "reflector": "reflector",
    "scrim": "scrim",
    "boom": "boom arm",
    "pole": "pole, held by a helper",
    "bracket": "bracket",
    "adapter": "mount adapter",
    "battery": "spare battery",
    "meter": "light meter",
    "tripod": "tripod",
}
"""Kinds of accessories."""

FIGURE_SOURCES = {key: source.label for key, source in SOURCES.items() if key != "assumed"}

YES_NO = {"yes": "yes", "no": "no"}

HEAD_CHOICES = {
    "": "not known",
    "cut": "cuts the pulse: shorter at less power",
    "voltage": "by voltage: longer at less",
}


def gear_entries(document: Document) -> Mapping[str, Entry]:
    """Every figure of a piece of gear by its key, in the order of its page."""
    return {entry.key: entry for entry in (*_COMMON, *_OF_KIND[document["kind"]](document), _NOTES)}


def _plain(
    key: str,
    label: str,
    read: ReadText,
    show: ShowValue,
    unit: str = "",
    path: Steps | None = None,
    **more: Any,
) -> Entry:
    return Entry(key, label, path or (key,), read, show, unit, **more)


def _choice(key: str, label: str, choices: Mapping[str, str], path: Steps | None = None) -> Entry:
    return Entry(key, label, path or (key,), str, str, choices=choices)


def _switch(key: str, label: str) -> Entry:
    return Entry(
        key, label, (key,), lambda text: text == "yes", lambda on: "yes" if on else "no", choices=YES_NO
    )


def _figure(
    document: Document,
    key: str,
    label: str,
    path: Steps,
    read: ReadText,
    show: ShowValue,
    unit: str = "",
    blank: str = "",
) -> Iterator[Entry]:
    """A figure, where it comes from, and its ± where it has one in stops."""

    def gives(document: Document) -> Any:
        return value_at(document, (*path, "value"))

    def puts(document: dict[str, Any], value: Any) -> None:
        *way, last = path
        owner = value_at(document, tuple(way))
        before = owner.get(last) or {}
        if value is None:
            owner[last] = None
        elif value != before.get("value"):
            kept = {"sync_s": before["sync_s"]} if "sync_s" in before else {}
            owner[last] = {"value": value, "source": "brochure", **kept}

    yield Entry(key, label, path, read, show, unit, blank=blank, gives=gives, puts=puts)
    if value_at(document, path) is None:
        return
    yield Entry(
        f"{key}:source",
        f"{label}, source",
        (*path, "source"),
        str,
        str,
        choices=FIGURE_SOURCES,
        puts=lambda document, value: value_at(document, path).update(source=value, plus_minus=None),
    )
    if unit in ("s", "ms"):
        return
    yield Entry(
        f"{key}:off",
        f"{label}, ±",
        (*path, "plus_minus"),
        parse_quantities.read_amount,
        lambda value: plain(value, 2),
        "stops" if unit == "m" else unit,
        blank=f"usual: ± {plain(uncertainty_of_figure(value_at(document, path)))}",
    )


def _dial(key: str, label: str) -> Entry:
    return _plain(key, label, read_dial_time, show_dial_time, "s")


def _mm(key: str, label: str) -> Entry:
    return _plain(key, label, parse_quantities.read_focal, number, "mm")


def _thread() -> Entry:
    return _plain(
        "thread_mm", "Filter thread", parse_quantities.read_focal, number, "mm", blank="not known, or none"
    )


def _read_system(text: str) -> str:
    return " ".join(text.split())


def _system(key: str, label: str, blank: str) -> Entry:
    return _plain(key, label, _read_system, str, blank=blank, empty="")


def _f_number(key: str, label: str) -> Entry:
    return _plain(key, label, parse_quantities.read_aperture, lambda value: f"f/{number(value, 2)}")


def _read_sides(text: str) -> list[float]:
    parts = [part for part in text.lower().replace("×", "x").replace("mm", "").split("x") if part.strip()]
    if len(parts) != 2:
        raise unlike(text, ("a sensor size", "36 × 24"))
    return [parse_quantities.read_focal(part) for part in parts]


def _read_span(read: ReadText) -> ReadText:
    """One figure, or two with a dash between them."""

    def both(text: str) -> list[float]:
        parts = text.replace("–", "-").replace("—", "-").split("-")
        ends = [read(part) for part in parts]
        return [ends[0], ends[-1]]

    return both


def _show_span(pair: Any) -> str:
    return number(pair[0]) if pair[0] == pair[1] else f"{number(pair[0])}–{number(pair[1])}"


def _body(document: Document) -> Iterator[Entry]:
    yield from _figure(document, "sync_s", "Sync speed", ("sync_s",), read_dial_time, show_dial_time, "s")
    yield _dial("fastest_s", "Fastest shutter time")
    yield _dial("slowest_s", "Slowest shutter time wanted")
    yield _plain("iso_lowest", "Lowest ISO", parse_quantities.read_iso, number)
    yield _plain(
        "iso_base", "Lowest ISO that is not extended", parse_quantities.read_iso, number, blank="the lowest"
    )
    yield _plain("iso_highest", "Highest ISO wanted", parse_quantities.read_iso, number)
    steps = {"3": "thirds of a stop", "2": "halves", "1": "whole stops"}
    yield Entry("dial_steps", "Dial steps", ("dial_steps",), int, str, choices=steps)
    yield _plain(
        "sensor_mm", "Sensor", _read_sides, lambda sides: " × ".join(number(side) for side in sides), "mm"
    )
    yield _choice("shutter", "Shutter", SHUTTERS)
    yield from _figure(
        document,
        "curtain_s",
        "Curtain travel time",
        ("curtain_s",),
        _read_ms,
        lambda value: number(
            1000 * parse_quantities.read_fraction(value) if isinstance(value, str) else 1000 * value, 2
        ),
        "ms",
        blank="usual: 0.85 of the sync time",
    )
    yield _switch("hss", "High-speed sync")
    yield _system("system", "Flash system of the hot shoe", "not given: no trigger is known to match")


def _read_ms(text: str) -> float:
    return parse_quantities.read_focal(text.lower().replace("ms", "")) / 1000


def _lens(_: Document) -> Iterator[Entry]:
    yield _plain("focal_mm", "Focal length", _read_span(parse_quantities.read_focal), _show_span, "mm")
    yield _f_number("widest", "Widest aperture, as mounted")
    yield _f_number("smallest", "Smallest aperture")
    yield _thread()


def _read_marked(text: str) -> list[float]:
    return list(parse_quantities.read_filter(text))


def _show_marked(ends: Any) -> str:
    return f"{parse_quantities.show_filters([(ends[0], ends[1])]).removesuffix(' stops')} stops"


def _filter(document: Document) -> Iterator[Entry]:
    yield _choice("type", "Kind", FILTER_KINDS)
    yield _plain("stops", "Marked", _read_marked, _show_marked)
    variable = document["type"] == "variable"
    least = "Measured at its weakest" if variable else "Measured"
    amounts = parse_quantities.read_amount, amount, "stops"
    yield from _figure(document, "least", least, ("least",), *amounts, blank="as marked")
    if variable:
        yield from _figure(
            document, "most", "Measured at its strongest", ("most",), *amounts, blank="as marked"
        )
    yield from _figure(
        document,
        "colour",
        "Colour",
        ("colour",),
        lambda text: float(parse_quantities.read_amount(text.lower().replace("mired", ""))),
        lambda value: signed(value, 0),
        "mired",
        blank="not known",
    )
    yield _thread()


def _ring(_: Document) -> Iterator[Entry]:
    yield _mm("lens_mm", "Lens thread")
    yield _mm("filter_mm", "Filter thread")


def _light(document: Document) -> Iterator[Entry]:
    kinds = {key: one["name"] for key, one in LIGHTS.items()} | {"other": "something else"}
    yield _choice("light_class", "Class", kinds)
    for index, row in enumerate(document["reflectors"]):
        path: Steps = ("reflectors", index)
        several = f" {index + 1}" if len(document["reflectors"]) > 1 else ""
        yield _plain(
            f"reflector-{index}", f"Reflector or zoom{several}", read_name, str, path=(*path, "name")
        )
        yield from _figure(
            document,
            f"gn_m-{index}",
            f"Guide number, {row['name']}",
            (*path, "gn_m"),
            parse_quantities.read_guide_number,
            lambda value: number(value, 1),
            "m",
        )
        yield Entry(
            f"beam-{index}",
            f"Beam{several}",
            (*path, "beam"),
            str,
            str,
            choices=BEAMS,
            gives=partial(_or_usual, path=(*path, "beam"), usual="bare"),
        )
    yield from _figure(
        document,
        "hss_toll",
        "High-speed toll",
        ("hss_toll",),
        parse_quantities.read_amount,
        amount,
        "stops",
        blank="no high-speed sync",
    )
    if document["hss_toll"]:
        yield _plain(
            "toll_sync",
            "Toll measured at a sync speed of",
            _dial_s,
            _show_dial_s,
            "s",
            ("hss_toll", "sync_s"),
        )
    yield _plain(
        "power_min", "Least power", lambda text: show_power(parse_quantities.read_power(text)), show_power
    )
    steps = {"1/3": "thirds of a stop", "1/10": "tenths", "1/2": "halves", "1": "whole stops"}
    yield Entry("power_step", "Power steps", ("power_step",), str, _show_step, choices=steps)
    yield _choice("scale", "Power shown as", SCALES)
    yield from _figure(
        document,
        "power_off",
        "Power scale error",
        ("power_off",),
        parse_quantities.read_amount,
        amount,
        "stops",
        blank="not measured",
    )
    yield _part(
        "pops",
        "Full-power shots per charge",
        "battery",
        {"recycle_s": 1.5},
        parse_quantities.read_count,
        "",
    )
    yield _part("recycle_s", "Recycles after full power in", "battery", {"pops": 200}, _seconds, "s")
    yield _plain(
        "energy_ws",
        "Energy of a full pop",
        parse_quantities.read_energy,
        lambda value: number(value, 0),
        "Ws",
        blank="not known",
    )
    yield Entry(
        "head",
        "Kind of head",
        ("head",),
        str,
        str,
        choices={key: kind.label for key, kind in PULSE_CLASSES.items()},
        gives=partial(_or_usual, path=("head",), usual="cut"),
    )
    yield Entry(
        "pulse",
        "Its own flash duration",
        ("pulse",),
        str,
        str,
        choices=HEAD_CHOICES,
        gives=lambda document: (document.get("pulse") or {}).get("head", ""),
        puts=_put_head,
    )
    if document.get("pulse"):
        yield _plain("t05", "t0.5 at full power", read_dial_time, show_dial_time, "s", ("pulse", "t05_s"))
        yield _plain(
            "durations",
            "t0.1 by power",
            _read_durations,
            _show_durations,
            path=("pulse", "table"),
            blank="typical for its kind",
            empty=[],
        )
    yield _system("system", "Built-in radio", "none: it needs a receiver")


def _or_usual(document: Document, path: Steps, usual: str) -> str:
    """A choice that is left out of a document where it is the usual one."""
    return value_at(document, path) or usual


def _show_step(value: Any) -> str:
    return str(value) if isinstance(value, str) else parse_quantities.as_fraction(value) or number(value)


def _dial_s(text: str) -> float:
    return parse_quantities.read_shutter(text)


def _show_dial_s(value: Any) -> str:
    return shutter_time(value)


def _seconds(text: str) -> float:
    return parse_quantities.read_focal(text.lower().removesuffix("s"))


def _part(key: str, label: str, part: str, besides: Mapping[str, Any], read: ReadText, unit: str) -> Entry:
    """A figure of a part that may be missing; the first one that is typed makes the part."""

    def puts(document: dict[str, Any], value: Any) -> None:
        if value is None:
            document[part] = None
        else:
            document[part] = {**besides, **(document.get(part) or {}), key: value}

    return Entry(
        key,
        label,
        (part, key),
        read,
        number,
        unit,
        blank="not known",
        gives=lambda document: (document.get(part) or {}).get(key),
        puts=puts,
    )


def _put_head(document: dict[str, Any], head: str) -> None:
    before = document.get("pulse") or {"t05_s": "1/1000"}
    document["pulse"] = {**before, "head": head} if head else None


def _read_durations(text: str) -> list[list[float]]:
    """Rows like `1/1 1/300, 1/2 1/600`: power and t0.1."""
    rows = []
    for row in text.split(","):
        parts = row.split()
        if len(parts) != 2:
            raise unlike(row, ("a power and a time", "1/2 1/600"))
        rows.append([parse_quantities.read_power(parts[0]), parse_quantities.read_shutter(parts[1])])
    return rows


def _show_durations(rows: Any) -> str:
    return ", ".join(f"{_show_step(power)} {show_dial_time(time)}" for power, time in rows)


def _modifier(document: Document) -> Iterator[Entry]:
    yield _choice("shape", "Shape", SHAPES)
    yield _plain(
        "across_m",
        "Size across",
        parse_quantities.read_distance,
        distance,
        "m",
        blank="point source",
        empty=0.0,
    )
    losses = parse_quantities.read_amount, amount, "stops"
    yield from _figure(document, "loss", "Loses", ("loss",), *losses)
    yield from _figure(
        document, "narrow", "Loses with a narrow head", ("narrow",), *losses, blank="the same"
    )
    for index, row in enumerate(document.get("losses", ())):
        yield from _figure(
            document, f"loss-{index}", f"Loses with {row['light']}", ("losses", index, "loss"), *losses
        )
    yield from _figure(document, "grid", "Its grid loses, on top", ("grid",), *losses, blank="no grid")
    yield _plain(
        "sail_m2",
        "Area that catches wind",
        parse_quantities.read_focal,
        number,
        "m²",
        blank="the size of its face",
    )


def _trigger(document: Document) -> Iterator[Entry]:
    yield _choice("part", "Part", TRIGGER_PARTS)
    yield _plain("system", "Radio system", read_name, str)
    yield _switch("hss", "High-speed sync")
    if document["part"] == "transmitter":
        yield _system("shoe", "Made for flash system", "any: middle contact only")
        yield _plain("groups", "Groups", parse_quantities.read_count, number)
        yield _plain("channels", "Channels", parse_quantities.read_count, number)


def _stand(_: Document) -> Iterator[Entry]:
    yield _plain("height_m", "Height of the tube", parse_quantities.read_distance, distance, "m")
    yield _plain("footprint_m", "Radius of the feet", parse_quantities.read_distance, distance, "m")


def _sandbag(_: Document) -> Iterator[Entry]:
    yield _plain("kg", "Weight", parse_quantities.read_focal, number, "kg")


def _accessory(_: Document) -> Iterator[Entry]:
    yield _choice("type", "Kind", ACCESSORIES)
    yield _plain("for_gear", "Belongs to", lambda text: text.strip(), str, blank="nothing else", empty="")


_COMMON = (
    _plain("name", "Name", read_name, str),
    _plain("count", "How many", parse_quantities.read_count, number),
    _plain(
        "weight_kg",
        "Weight of one",
        parse_quantities.read_weight,
        lambda value: number(value, 2),
        "kg",
        blank="not known",
    ),
)
_NOTES = _plain("notes", "Notes", lambda text: text.strip(), str, blank="none", empty="")

_OF_KIND: Mapping[str, Callable[[Document], Iterator[Entry]]] = {
    "body": _body,
    "lens": _lens,
    "filter": _filter,
    "ring": _ring,
    "light": _light,
    "modifier": _modifier,
    "trigger": _trigger,
    "stand": _stand,
    "sandbag": _sandbag,
    "accessory": _accessory,
}
