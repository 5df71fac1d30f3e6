"""Where and when as people type it: a town's name is a place too, and a place has its time zone."""

from dataclasses import dataclass

from noggin.core.errors import Unreadable
from noggin.core.typed.parse_places import read_coordinates, split_where
from noggin.core.wording import number
from noggin.documents.fields import is_zone
from noggin.gazetteer.towns import NEAR_KM, town_beside, town_of
from noggin.gazetteer.zones import zone_at

HERE_KM = 1.5
"""As near to the middle of a town, a place is there."""


@dataclass(frozen=True)
class Whereabouts:
    """A place in degrees, the town that was named (empty where it was coordinates), and what was said with
    it: date (ISO 8601, perhaps without a year), time of day and zone, empty where they were not."""

    lat: float
    lon: float
    town: str = ""
    date: str = ""
    clock: str = ""
    zone: str = ""

    @property
    def local_zone(self) -> str:
        """The zone that was said, else that of the place."""
        return self.zone or zone_at(self.lat, self.lon)


def read_place(text: str) -> Whereabouts:
    """A place by coordinates, by a map's link or by a town's name, perhaps with date, time and zone on the
    same line. Raises Unreadable.

    >>> read_place("42.46, 0.71").local_zone, read_place("Ronda, Spain").town
    ('Europe/Madrid', 'Ronda, Spain')
    """
    parts = split_where(text)
    if parts.zone:
        read_zone(parts.zone)
    if not parts.place:
        raise Unreadable("says no place. Try Ronda, Spain or 42.46, 0.71")
    town = ""
    if _has_letters(parts.place):
        found = town_of(parts.place)
        (lat, lon), town = (found.lat, found.lon), found.label
    else:
        lat, lon = read_coordinates(parts.place)
    return Whereabouts(lat, lon, town, parts.date, parts.clock, parts.zone)


def _has_letters(text: str) -> bool:
    """Whether it is a name, not figures with the letters that coordinates have."""
    if "://" in text or text.lower().startswith("geo:"):
        return False
    return sum(letter.isalpha() for letter in text) > sum(letter.isdigit() for letter in text)


def read_zone(text: str) -> str:
    """A time zone by its name. Raises Unreadable.

    >>> read_zone("europe/madrid".title())
    'Europe/Madrid'
    """
    tidy = text.strip()
    if not is_zone(tidy):
        raise Unreadable(f"‘{tidy}’ is not a time zone. Choose one from the list, like Europe/Madrid")
    return tidy


def near_words(lat: float, lon: float) -> str:
    """What is near a place, so that one sees that it is the right one.

    >>> near_words(42.46, 0.71)
    '5 km from Bonansa, Spain'
    """
    found = town_beside(lat, lon)
    if not found:
        return f"no town within {number(NEAR_KM)} km"
    town, far_km = found
    return town.label if far_km < HERE_KM else f"{far_km:.0f} km from {town.label}"
