"""Every figure of a light as a piece of gear."""

import re
from collections.abc import Iterator, Mapping
from functools import partial
from typing import Any, Literal

from noggin.core.errors import unlike
from noggin.core.physics.power import SCALES
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.setup.light import BEAMS
from noggin.core.typed import parse_quantities
from noggin.core.wording import number, shutter_time
from noggin.documents.paths import FieldPath
from noggin.documents.written import GearWritten
from noggin.forms.class_figures import LIGHTS
from noggin.forms.entry import (
    Document,
    Entry,
    amount,
    read_dial_time,
    read_name,
    show_dial_time,
    show_power,
)
from noggin.forms.gear_fields import (
    ReadText,
    choice,
    measured,
    or_usual,
    show_step,
    system,
    typed,
)

HEAD_CHOICES = {
    "": "not known",
    "cut": "cuts the pulse: shorter at less power",
    "voltage": "by voltage: longer at less",
}


def light_gear(document: Document) -> Iterator[Entry]:
    kinds = {key: one["name"] for key, one in LIGHTS.items()} | {"other": "something else"}
    yield choice("light_class", "Class", kinds)
    for index, row in enumerate(document["reflectors"]):
        path: FieldPath = ("reflectors", index)
        several = f" {index + 1}" if len(document["reflectors"]) > 1 else ""
        yield typed(
            f"reflector-{index}", f"Reflector or zoom{several}", read_name, str, path=(*path, "name")
        )
        yield from measured(
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
            gives=partial(or_usual, path=(*path, "beam"), usual="bare"),
        )
    yield from measured(
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
        yield typed(
            "toll_sync",
            "Toll measured at a sync speed of",
            _dial_s,
            _show_dial_s,
            "s",
            ("hss_toll", "sync_s"),
        )
    yield typed(
        "power_min", "Least power", lambda text: show_power(parse_quantities.read_power(text)), show_power
    )
    steps = {"1/3": "thirds of a stop", "1/10": "tenths", "1/2": "halves", "1": "whole stops"}
    yield Entry("power_step", "Power steps", ("power_step",), str, show_step, choices=steps)
    yield choice("scale", "Power shown as", SCALES)
    yield from measured(
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
    yield typed(
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
        gives=partial(or_usual, path=("head",), usual="cut"),
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
        yield typed("t05", "t0.5 at full power", read_dial_time, show_dial_time, "s", ("pulse", "t05_s"))
        yield typed(
            "durations",
            "t0.1 by power",
            _read_durations,
            _show_durations,
            path=("pulse", "table"),
            blank="typical for its kind",
            empty=[],
        )
    yield system("system", "Built-in radio", "none: it needs a receiver")


def _dial_s(text: str) -> float:
    return parse_quantities.read_shutter(text)


def _show_dial_s(value: Any) -> str:
    return shutter_time(value)


def _seconds(text: str) -> float:
    return parse_quantities.read_focal(text.lower().removesuffix("s"))


def _part(
    key: str,
    label: str,
    part: Literal["pulse", "battery"],
    besides: Mapping[str, Any],
    read: ReadText,
    unit: str,
) -> Entry:
    """A figure of a part that may be missing; the first one that is typed makes the part."""

    def puts(document: GearWritten, value: Any) -> None:
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


def _put_head(document: GearWritten, head: str) -> None:
    before = document.get("pulse") or {"t05_s": "1/1000"}
    document["pulse"] = {**before, "head": head} if head else None


def _read_durations(text: str) -> list[list[float]]:
    """Rows like `1/1 1/300, 1/2 1/1,200`: power and t0.1."""
    rows = []
    for row in re.split(r";|,(?!\d)|,(?=\d+/)", text):
        parts = row.split()
        if len(parts) != 2:
            raise unlike(row, ("a power and a time", "1/2 1/600"))
        rows.append([parse_quantities.read_power(parts[0]), parse_quantities.read_shutter(parts[1])])
    return rows


def _show_durations(rows: Any) -> str:
    return ", ".join(f"{show_step(power)} {show_dial_time(time)}" for power, time in rows)
