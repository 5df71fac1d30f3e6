"""Every figure of a shoot and of the set-ups on it, as a person types it."""

from collections.abc import Mapping
from datetime import date, timedelta
from functools import lru_cache
from types import MappingProxyType
from typing import Any, cast

from noggin.core.daylight.forecast import SURROUNDINGS
from noggin.core.tables import GROUNDS, SKIES
from noggin.core.typed import parse_quantities
from noggin.core.typed.parse_dates import read_date, with_year_of
from noggin.core.typed.parse_places import read_clock, read_minutes, show_coordinates
from noggin.core.wording import date_words, number
from noggin.documents.written import ShootWritten
from noggin.forms.entry import Document, Entry, distance, read_name
from noggin.forms.places import Whereabouts, near_words, read_place, read_zone

STEP_MIN = 5
"""Step of a start and of a length of time, minutes."""

DAY_MIN = 24 * 60


def _stripped(text: str) -> str:
    return text.strip()


def _date_step(_: Any, value: str, by: int) -> str:
    return (date.fromisoformat(value) + timedelta(days=by)).isoformat()


def _put_date(document: ShootWritten, read: str) -> None:
    document["date"] = with_year_of(read, document["date"])


def _where(document: Document) -> Any:
    return document["place"]


def _put_where(document: ShootWritten, read: Whereabouts) -> None:
    """The place with its zone, and with its name where it was found by that or has none yet."""
    place = {
        **document["place"],
        "lat": round(read.lat, 5),
        "lon": round(read.lon, 5),
        "tz": read.local_zone,
    }
    if read.town:
        place["name"] = read.town
    document["place"] = cast(Any, place)
    if read.date:
        _put_date(document, read.date)


SHOOT_ENTRIES = {
    entry.key: entry
    for entry in (
        Entry("name", "Name", ("name",), read_name, str),
        Entry("date", "Date", ("date",), read_date, date_words, stepped=_date_step, puts=_put_date),
        Entry(
            "place",
            "Place",
            ("place",),
            read_place,
            lambda place: show_coordinates(place["lat"], place["lon"]),
            puts=_put_where,
            gives=_where,
            says=lambda document: near_words(document["place"]["lat"], document["place"]["lon"]),
            finds="towns",
        ),
        Entry("place_name", "Place name", ("place", "name"), _stripped, str, blank="no name", empty=""),
        Entry("tz", "Time zone", ("place", "tz"), read_zone, str, suggests="zones"),
        Entry(
            "elevation",
            "Height above the horizon",
            ("place", "elevation_m"),
            parse_quantities.read_distance,
            distance,
            "m",
            blank="level with it",
            empty=0.0,
        ),
        Entry(
            "sky",
            "Expected sky",
            ("sky",),
            str,
            str,
            choices={key: sky.label for key, sky in SKIES.items()},
        ),
        Entry(
            "ground",
            "Ground",
            ("ground",),
            str,
            str,
            choices={key: one.label for key, one in GROUNDS.items()},
        ),
        Entry("bag", "Bag", ("bag",), _stripped, str, blank="the whole kit", empty="", suggests="bags"),
        Entry("people", "People, by role", ("people",), _stripped, str, blank="none given", empty=""),
        Entry("notes", "Notes", ("notes",), _stripped, str, blank="none", empty=""),
    )
}
"""Every figure of the day itself."""


def _clock_step(_: Any, value: str, by: int) -> str:
    """Five minutes on or back, held inside the day."""
    hours, minutes = map(int, value.split(":"))
    moved = (round((60 * hours + minutes) / STEP_MIN) + by) * STEP_MIN
    moved = max(0, min(moved, DAY_MIN - STEP_MIN))
    return f"{moved // 60:02}:{moved % 60:02}"


def _minutes_step(_: Any, value: int, by: int) -> int:
    return max(STEP_MIN, (round(value / STEP_MIN) + by) * STEP_MIN)


_SLOT_ENTRIES = (
    Entry("start", "Starts", ("start",), read_clock, str, stepped=_clock_step),
    Entry("minutes", "Minutes", ("minutes",), read_minutes, str, "min", stepped=_minutes_step),
    Entry(
        "facing",
        "Camera looks toward",
        ("facing_deg",),
        parse_quantities.read_degrees,
        lambda value: number(value, 1),
        "°",
        lambda _, value, by: (value + 5 * by) % 360,
        blank="not given: the sunlit side faces the sun",
    ),
    Entry("spot", "Surroundings", ("spot", "kind"), str, str, choices=SURROUNDINGS),
    Entry("shade_from", "Shade from", ("spot", "shade_from"), read_clock, str, blank="first light"),
    Entry("shade_till", "Shade until", ("spot", "shade_till"), read_clock, str, blank="last light"),
)
"""Every figure of one set-up on the day."""


def shoot_entries(document: Document) -> Mapping[str, Entry]:
    """Every figure by its key; those of set-up n on the day are called `…-n`."""
    return _with_slots(len(document["slots"]))


@lru_cache(maxsize=64)
def _with_slots(count: int) -> Mapping[str, Entry]:
    found = dict(SHOOT_ENTRIES)
    for index in range(count):
        for entry in _SLOT_ENTRIES:
            found[f"{entry.key}-{index}"] = entry.under(f"{entry.key}-{index}", ("slots", index))
    return MappingProxyType(found)
