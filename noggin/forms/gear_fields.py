"""Makers of a gear's figures: plain ones, choices, and those that can be measured."""

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from noggin.core.tables import SOURCES
from noggin.core.typed import parse_quantities
from noggin.core.wording import number, plain
from noggin.documents.gear import uncertainty_of_figure
from noggin.documents.paths import FieldPath, value_at
from noggin.documents.written import GearWritten
from noggin.forms.entry import (
    Document,
    Entry,
    read_dial_time,
    show_dial_time,
)

ReadText = Callable[[str], Any]


ShowValue = Callable[[Any], str]


FIGURE_SOURCES = {key: source.label for key, source in SOURCES.items() if key != "assumed"}


YES_NO = {"yes": "yes", "no": "no"}


def typed(
    key: str,
    label: str,
    read: ReadText,
    show: ShowValue,
    unit: str = "",
    path: FieldPath | None = None,
    **more: Any,
) -> Entry:
    return Entry(key, label, path or (key,), read, show, unit, **more)


def choice(key: str, label: str, choices: Mapping[str, str], path: FieldPath | None = None) -> Entry:
    return Entry(key, label, path or (key,), str, str, choices=choices)


def switch(key: str, label: str) -> Entry:
    return Entry(
        key, label, (key,), lambda text: text == "yes", lambda on: "yes" if on else "no", choices=YES_NO
    )


def measured(
    document: Document,
    key: str,
    label: str,
    path: FieldPath,
    read: ReadText,
    show: ShowValue,
    unit: str = "",
    blank: str = "",
) -> Iterator[Entry]:
    """A figure, where it comes from, and its ± where it has one in stops."""

    def gives(document: Document) -> Any:
        return value_at(document, (*path, "value"))

    def puts(document: GearWritten, value: Any) -> None:
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


def dial_time(key: str, label: str) -> Entry:
    return typed(key, label, read_dial_time, show_dial_time, "s")


def millimetres(key: str, label: str) -> Entry:
    return typed(key, label, parse_quantities.read_focal, number, "mm")


def thread() -> Entry:
    return typed(
        "thread_mm", "Filter thread", parse_quantities.read_focal, number, "mm", blank="not known, or none"
    )


def _read_system(text: str) -> str:
    return " ".join(text.split())


def system(key: str, label: str, blank: str) -> Entry:
    return typed(key, label, _read_system, str, blank=blank, empty="")


def f_number(key: str, label: str) -> Entry:
    return typed(key, label, parse_quantities.read_aperture, lambda value: f"f/{number(value, 2)}")


def or_usual(document: Document, path: FieldPath, usual: str) -> str:
    """A choice that is left out of a document where it is the usual one."""
    return value_at(document, path) or usual


def show_step(value: Any) -> str:
    return str(value) if isinstance(value, str) else parse_quantities.as_fraction(value) or number(value)
