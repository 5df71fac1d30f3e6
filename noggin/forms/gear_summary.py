"""A piece of gear in a few words, each figure with its ±."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from noggin.core.tables import SOURCES
from noggin.core.units import Stops
from noggin.core.wording import metres, number, plain, stops
from noggin.documents.gear import uncertainty_of_figure
from noggin.forms.entry import Document, show_dial_time, show_power
from noggin.forms.gear_entries import ACCESSORIES, SHAPES


@dataclass(frozen=True)
class Shown:
    """One thing said of a piece of gear; where it is a figure that can be measured, its ± in stops and its
    source, a key of SOURCES."""

    text: str
    uncertainty: Stops | None = None
    source: str = ""
    when: str = ""

    @property
    def known(self) -> str:
        """Where it comes from and its ±, in words."""
        if not self.source:
            return ""
        known = SOURCES[self.source].label + (f" {self.when}" if self.when else "")
        return (
            known
            if self.uncertainty is None
            else f"± {plain(self.uncertainty, 2).removesuffix('0')}, {known}"
        )


def summary(document: Document) -> tuple[Shown, ...]:
    """What matters of a piece of gear, the most telling figure first."""
    return tuple(_SAID[document["kind"]](document))


def _figure(figure: Mapping[str, Any], text: str, *, in_stops: bool = True) -> Shown:
    uncertainty = uncertainty_of_figure(figure) if in_stops else None
    return Shown(text, uncertainty, figure["source"], figure.get("on") or "")


def _body(item: Document) -> Iterator[Shown]:
    yield _figure(item["sync_s"], f"sync {show_dial_time(item['sync_s']['value'])} s", in_stops=False)
    yield Shown(f"fastest {show_dial_time(item['fastest_s'])} s")
    yield Shown("high-speed sync" if item["hss"] else "no high-speed sync")
    if item["system"]:
        yield Shown(f"flash system {item['system']}")


def _lens(item: Document) -> Iterator[Shown]:
    yield Shown(f"widest f/{number(item['widest'], 2)}")
    if item["thread_mm"]:
        yield Shown(f"thread {number(item['thread_mm'])} mm")


def _filter(item: Document) -> Iterator[Shown]:
    ends = item["stops"]
    marked = f"{number(ends[0], 2)}–{stops(ends[1])}" if item["type"] == "variable" else stops(ends[0])
    if item.get("least"):
        most = item.get("most")
        till = f"–{plain(most['value'], 2)}" if most else ""
        yield _figure(item["least"], f"{plain(item['least']['value'], 2)}{till} stops")
    else:
        yield Shown(f"marked {marked}")
    if item["thread_mm"]:
        yield Shown(f"thread {number(item['thread_mm'])} mm")


def _ring(item: Document) -> Iterator[Shown]:
    yield Shown(f"lens {number(item['lens_mm'])} mm, filter {number(item['filter_mm'])} mm")


def _light(item: Document) -> Iterator[Shown]:
    several = len(item["reflectors"]) > 1
    for row in item["reflectors"]:
        where = f", {row['name']}" if several else ""
        yield _figure(row["gn_m"], f"guide number {plain(row['gn_m']['value'])} m{where}")
    toll = item["hss_toll"]
    yield _figure(toll, f"toll {stops(toll['value'], 2)}") if toll else Shown("no high-speed sync")
    yield Shown(f"down to {show_power(item['power_min'])}")
    if item["system"]:
        yield Shown(f"listens to {item['system']}")


def _modifier(item: Document) -> Iterator[Shown]:
    yield _figure(item["loss"], f"loses {stops(item['loss']['value'], 2)}")
    yield Shown(
        f"{SHAPES[item['shape']]}, {metres(item['across_m'])} across"
        if item["across_m"]
        else "point source"
    )
    for row in item.get("losses", ()):
        yield _figure(row["loss"], f"with {row['light']} {stops(row['loss']['value'], 2)}")


def _trigger(item: Document) -> Iterator[Shown]:
    yield Shown(f"{item['part']}, {item['system']}")
    yield Shown("high-speed sync" if item["hss"] else "no high-speed sync")
    if item["shoe"]:
        yield Shown(f"made for {item['shoe']}")


def _stand(item: Document) -> Iterator[Shown]:
    yield Shown(f"up to {metres(item['height_m'])}, feet {metres(item['footprint_m'])}")


def _accessory(item: Document) -> Iterator[Shown]:
    belongs = f", for {item['for_gear']}" if item.get("for_gear") else ""
    yield Shown(f"{ACCESSORIES[item['type']]}{belongs}")


def _sandbag(item: Document) -> Iterator[Shown]:
    yield Shown(f"{number(item['kg'])} kg")


_SAID: Mapping[str, Callable[[Document], Iterator[Shown]]] = {
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
