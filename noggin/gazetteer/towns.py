"""Towns of the world by name, as people write it, and the town beside a place.

From GeoNames (CC BY 4.0; see LICENCE.md), towns of a thousand people and more, made by `tools.gazetteer`.
"""

import re
import sqlite3
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from math import cos, hypot, radians
from pathlib import Path
from threading import local

from noggin.core.errors import Unreadable
from noggin.gazetteer.names import folded

TOWNS_FILE = Path(__file__).parent / "towns.sqlite3"

PER_DEGREE = 10_000
"""Places are kept as whole numbers, so many to a degree (11 m)."""

KM_PER_DEGREE = 111.2

NEAR_KM = 40.0
"""A town farther away says little of where a place is."""

AS_KNOWN = 0.35
"""Where a second town of a name is so well known beside the first (by people, and by how many names it has
in other languages), it is asked which of them is meant."""

OWN_NAME = 4
"""A town that is called so in its own country is so many times as likely meant."""

SHOWN = 7
"""Towns that are suggested."""

_LONGEST = 80

_LAST = "\U0010ffff"
"""Comes after every letter."""

_LEAST_FOR_A_SLIP = 4
"""From how many letters on a name may have a wrong one."""


@dataclass(frozen=True)
class Town:
    """A town: its name, its country in English, with the state for those of the United States, degrees, and
    a figure for how well known it is."""

    name: str
    country: str
    lat: float
    lon: float
    weight: int

    @property
    def label(self) -> str:
        """The name with the country, as it is understood again."""
        return f"{self.name}, {self.country}"


class _Files(local):
    """The file as each thread has it open."""

    @cached_property
    def towns(self) -> sqlite3.Connection:
        return sqlite3.connect(f"{TOWNS_FILE.as_uri()}?mode=ro&immutable=1", uri=True)


_files = _Files()

KNOWS_TOWNS = TOWNS_FILE.is_file()
"""Whether the file came along: on a phone it does not."""


def suggested(text: str) -> tuple[Town, ...]:
    """Towns whose name is, or begins with, what is typed, the best known first; with one letter wrong where
    there is none."""
    return _suggested(" ".join(text.split())[:_LONGEST]) if KNOWS_TOWNS else ()


@lru_cache(maxsize=512)
def _suggested(text: str) -> tuple[Town, ...]:
    for name, codes in _understood(text, begun=True):
        if len(name) > 1:
            exact = _called(name, codes)
            longer = _called(name, codes, begins=True)
            found = [*exact, *(town for town in longer if town not in exact)]
            if found:
                return tuple(found[:SHOWN])
    return tuple(_with_a_slip(text)[:SHOWN])


def town_of(text: str) -> Town:
    """The one town that is meant by a name, with its country where it is needed.

    Raises Unreadable: none is called so, or several are and none is much better known.

    >>> town_of("Ronda, Spain").label, town_of("Wien").label
    ('Ronda, Spain', 'Vienna, Austria')
    """
    if not KNOWS_TOWNS:
        raise Unreadable("towns are not known by name on a phone. Type latitude and longitude, 42.46, 0.71")
    tidy = " ".join(text.split())[:_LONGEST]
    found = next((found for name, codes in _understood(tidy) if (found := _called(name, codes))), None)
    found = found or _with_a_slip(tidy)
    if not found:
        raise Unreadable(f"no town called ‘{tidy}’ is known here. Try a town nearby, or 42.46, 0.71")
    first, *others = found
    rivals = [town for town in others if town.weight >= AS_KNOWN * first.weight]
    if rivals:
        which = "; ".join(town.label for town in (first, *rivals[:2]))
        raise Unreadable(f"which one is meant? {which}")
    return first


def town_beside(lat: float, lon: float) -> tuple[Town, float] | None:
    """The nearest town to a place and how far away it is in km; None where there is none near."""
    return _beside(round(lat, 2), round(lon, 2)) if KNOWS_TOWNS else None


@lru_cache(maxsize=256)
def _beside(lat: float, lon: float) -> tuple[Town, float] | None:
    high = NEAR_KM / KM_PER_DEGREE
    wide = high / max(cos(radians(lat)), 0.05)
    bounds = [round(PER_DEGREE * edge) for edge in (lat - high, lat + high, lon - wide, lon + wide)]
    rows = _files.towns.execute(
        "SELECT name, country, part, lat, lon, weight FROM towns"
        " WHERE lat BETWEEN ? AND ? AND lon BETWEEN ? AND ?",
        bounds,
    )
    distances = [(_km(town, lat, lon), town) for town in map(_town, rows)]
    near = min(distances, key=lambda pair: pair[0], default=None)
    return (near[1], near[0]) if near and near[0] <= NEAR_KM else None


def _km(town: Town, lat: float, lon: float) -> float:
    east = (town.lon - lon) * cos(radians(lat))
    return KM_PER_DEGREE * hypot(town.lat - lat, east)


def _understood(text: str, *, begun: bool = False) -> Iterator[tuple[str, tuple[str, ...]]]:
    """What a text may mean, the likeliest first: the folded name of a town and the codes of the country (or
    the state) that it is followed by, or whose name is `begun`; a part of a country that is not known is
    left aside."""
    parts = [part for part in map(folded, re.split(r"[,;()]", text)) if part]
    if len(parts) > 1:
        codes = next((codes for part in parts[1:] if (codes := _codes(part))), ())
        if not codes and begun:
            codes = _codes(parts[-1], begun=True)
        yield parts[0], codes
        return
    words = parts[0].split() if parts else []
    yield " ".join(words), ()
    for count in (1, 2, 3):
        codes = _codes(" ".join(words[-count:])) if len(words) > count else ()
        if codes:
            yield " ".join(words[:-count]), codes


def _codes(name: str, *, begun: bool = False) -> tuple[str, ...]:
    if not begun:
        found = _files.towns.execute("SELECT code FROM countries WHERE name = ?", (name,))
    else:
        # Of two letters in English, of three in any language.
        found = _files.towns.execute(
            "SELECT DISTINCT code FROM countries"
            " WHERE own BETWEEN ? AND ? OR (length(?) > 2 AND name BETWEEN ? AND ?)",
            (name.title(), name.title() + _LAST, name, name, name + _LAST),
        )
    return tuple(code for (code,) in found)


@lru_cache(maxsize=1)
def _own_names() -> dict[str, str]:
    return dict(_files.towns.execute("SELECT code, own FROM countries"))


def _called(name: str, codes: Sequence[str], *, begins: bool = False) -> list[Town]:
    """Towns of a name, or whose own name begins so, the best known first."""
    if begins:
        return _towns("names.own AND names.name > ? AND names.name < ?", (name, f"{name}{_LAST}"), codes)
    return _towns("names.name = ?", (name,), codes)


def _towns(where: str, values: Sequence[object], codes: Sequence[str] = ()) -> list[Town]:
    """Towns by their names; one that is called so itself comes before one that is so in another
    language."""
    if codes:
        marks = ", ".join("?" * len(codes))
        where += f" AND (towns.country IN ({marks}) OR 'US-' || towns.part IN ({marks}))"
        values = (*values, *codes, *codes)
    # The conditions are those above; whatever was typed is a value.
    query = f"""
        SELECT towns.name, towns.country, towns.part, towns.lat, towns.lon,
               towns.weight * (1 + {OWN_NAME - 1} * max(names.own)) AS known
        FROM names JOIN towns ON towns.id = names.town WHERE {where}
        GROUP BY towns.id ORDER BY known DESC LIMIT {SHOWN}"""  # noqa: S608
    return [_town(row) for row in _files.towns.execute(query, values)]


def _town(row: tuple[str, str, str, int, int, int]) -> Town:
    name, country, part, lat, lon, weight = row
    lands = [_own_names().get(code, code) for code in ((f"US-{part}",) if part else ()) + (country,)]
    return Town(name, ", ".join(lands), lat / PER_DEGREE, lon / PER_DEGREE, weight)


def _with_a_slip(text: str) -> list[Town]:
    """Towns whose name differs by one letter: another, one too many, one left out, or two exchanged."""
    found: dict[Town, None] = {}
    for name, codes in _understood(text):
        if len(name) >= _LEAST_FOR_A_SLIP:
            for start, pattern in sorted(set(_slips(name))):
                where = "names.name >= ? AND names.name < ? AND names.name GLOB ?"
                found |= dict.fromkeys(_towns(where, (start, f"{start}{_LAST}", pattern), codes))
    return sorted(found, key=lambda town: -town.weight)


def _slips(name: str) -> Iterator[tuple[str, str]]:
    """Patterns of such names, each with what they begin with."""
    for place in range(len(name) + 1):
        before, after = name[:place], name[place:]
        yield before, f"{before}?{after}"
        if after:
            yield before, f"{before}?{after[1:]}"
            yield before, f"{before}{after[1:]}"
        if len(after) > 1:
            yield before, f"{before}{after[1]}{after[0]}{after[2:]}"
