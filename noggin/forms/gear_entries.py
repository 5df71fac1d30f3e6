"""Every figure of a piece of gear as a person types it, by kind.

A figure that can be measured has three entries: itself, where it comes from, and its ±. Typing the figure
again makes it what a person read somewhere: its old ± and measurement no longer count.
"""

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from noggin.core.errors import unlike
from noggin.core.gear.compatibility import TRIGGER_PARTS
from noggin.core.physics.curtains import SHUTTERS
from noggin.core.physics.filters import FILTER_KINDS
from noggin.core.typed import parse_quantities
from noggin.core.wording import number, signed
from noggin.forms.entry import (
    Document,
    Entry,
    amount,
    distance,
    read_dial_time,
    read_name,
    show_dial_time,
)
from noggin.forms.gear_fields import (
    ReadText,
    choice,
    dial_time,
    f_number,
    measured,
    millimetres,
    switch,
    system,
    thread,
    typed,
)
from noggin.forms.gear_light_entries import light_gear

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


def gear_entries(document: Document) -> Mapping[str, Entry]:
    """Every figure of a piece of gear by its key, in the order of its page."""
    return {entry.key: entry for entry in (*_COMMON, *_OF_KIND[document["kind"]](document), _NOTES)}


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
    yield from measured(document, "sync_s", "Sync speed", ("sync_s",), read_dial_time, show_dial_time, "s")
    yield dial_time("fastest_s", "Fastest shutter time")
    yield dial_time("slowest_s", "Slowest shutter time wanted")
    yield typed("iso_lowest", "Lowest ISO", parse_quantities.read_iso, number)
    yield typed(
        "iso_base", "Lowest ISO that is not extended", parse_quantities.read_iso, number, blank="the lowest"
    )
    yield typed("iso_highest", "Highest ISO wanted", parse_quantities.read_iso, number)
    steps = {"3": "thirds of a stop", "2": "halves", "1": "whole stops"}
    yield Entry("dial_steps", "Dial steps", ("dial_steps",), int, str, choices=steps)
    yield typed(
        "sensor_mm", "Sensor", _read_sides, lambda sides: " × ".join(number(side) for side in sides), "mm"
    )
    yield choice("shutter", "Shutter", SHUTTERS)
    yield from measured(
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
    yield switch("hss", "High-speed sync")
    yield system("system", "Flash system of the hot shoe", "not given: no trigger is known to match")


def _read_ms(text: str) -> float:
    return parse_quantities.read_focal(text.lower().replace("ms", "")) / 1000


def _lens(_: Document) -> Iterator[Entry]:
    yield typed("focal_mm", "Focal length", _read_span(parse_quantities.read_focal), _show_span, "mm")
    yield f_number("widest", "Widest aperture, as mounted")
    yield f_number("smallest", "Smallest aperture")
    yield thread()


def _read_marked(text: str) -> list[float]:
    return list(parse_quantities.read_filter(text))


def _show_marked(ends: Any) -> str:
    return f"{parse_quantities.show_filters([(ends[0], ends[1])]).removesuffix(' stops')} stops"


def _filter(document: Document) -> Iterator[Entry]:
    yield choice("type", "Kind", FILTER_KINDS)
    yield typed("stops", "Marked", _read_marked, _show_marked)
    variable = document["type"] == "variable"
    least = "Measured at its weakest" if variable else "Measured"
    amounts = parse_quantities.read_amount, amount, "stops"
    yield from measured(document, "least", least, ("least",), *amounts, blank="as marked")
    if variable:
        yield from measured(
            document, "most", "Measured at its strongest", ("most",), *amounts, blank="as marked"
        )
    yield from measured(
        document,
        "colour",
        "Colour",
        ("colour",),
        lambda text: float(parse_quantities.read_amount(text.lower().replace("mired", ""))),
        lambda value: signed(value, 0),
        "mired",
        blank="not known",
    )
    yield thread()


def _ring(_: Document) -> Iterator[Entry]:
    yield millimetres("lens_mm", "Lens thread")
    yield millimetres("filter_mm", "Filter thread")


def _modifier(document: Document) -> Iterator[Entry]:
    yield choice("shape", "Shape", SHAPES)
    yield typed(
        "across_m",
        "Size across",
        parse_quantities.read_distance,
        distance,
        "m",
        blank="point source",
        empty=0.0,
    )
    losses = parse_quantities.read_amount, amount, "stops"
    yield from measured(document, "loss", "Loses", ("loss",), *losses)
    yield from measured(
        document, "narrow", "Loses with a narrow head", ("narrow",), *losses, blank="the same"
    )
    for index, row in enumerate(document.get("losses", ())):
        yield from measured(
            document, f"loss-{index}", f"Loses with {row['light']}", ("losses", index, "loss"), *losses
        )
    yield from measured(document, "grid", "Its grid loses, on top", ("grid",), *losses, blank="no grid")
    yield typed(
        "sail_m2",
        "Area that catches wind",
        parse_quantities.read_focal,
        number,
        "m²",
        blank="the size of its face",
    )


def _trigger(document: Document) -> Iterator[Entry]:
    yield choice("part", "Part", TRIGGER_PARTS)
    yield typed("system", "Radio system", read_name, str)
    yield switch("hss", "High-speed sync")
    if document["part"] == "transmitter":
        yield system("shoe", "Made for flash system", "any: middle contact only")
        yield typed("groups", "Groups", parse_quantities.read_count, number)
        yield typed("channels", "Channels", parse_quantities.read_count, number)


def _stand(_: Document) -> Iterator[Entry]:
    yield typed("height_m", "Height of the tube", parse_quantities.read_distance, distance, "m")
    yield typed("footprint_m", "Radius of the feet", parse_quantities.read_distance, distance, "m")


def _sandbag(_: Document) -> Iterator[Entry]:
    yield typed("kg", "Weight", parse_quantities.read_focal, number, "kg")


def _accessory(_: Document) -> Iterator[Entry]:
    yield choice("type", "Kind", ACCESSORIES)
    yield typed("for_gear", "Belongs to", lambda text: text.strip(), str, blank="nothing else", empty="")


_COMMON = (
    typed("name", "Name", read_name, str),
    typed("count", "How many", parse_quantities.read_count, number),
    typed(
        "weight_kg",
        "Weight of one",
        parse_quantities.read_weight,
        lambda value: number(value, 2),
        "kg",
        blank="not known",
    ),
)


_NOTES = typed("notes", "Notes", lambda text: text.strip(), str, blank="none", empty="")


_OF_KIND: Mapping[str, Callable[[Document], Iterator[Entry]]] = {
    "body": _body,
    "lens": _lens,
    "filter": _filter,
    "ring": _ring,
    "light": light_gear,
    "modifier": _modifier,
    "trigger": _trigger,
    "stand": _stand,
    "sandbag": _sandbag,
    "accessory": _accessory,
}
