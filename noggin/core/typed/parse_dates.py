"""Dates as people write them, in most languages of Europe and some others."""

import re
from datetime import date, datetime
from functools import lru_cache
from typing import Any

from noggin.core.errors import Unreadable, unlike
from noggin.core.wording import date_words

LANGUAGES = [
    "en",
    "de",
    "fr",
    "es",
    "it",
    "pt",
    "nl",
    "sv",
    "da",
    "nb",
    "fi",
    "pl",
    "cs",
    "sk",
    "hu",
    "ro",
    "hr",
    "sl",
    "sr",
    "el",
    "bg",
    "uk",
    "ru",
    "lt",
    "lv",
    "et",
    "tr",
    "ca",
    "eu",
    "ga",
    "is",
    "ja",
    "zh",
    "ko",
    "ar",
    "he",
    "hi",
]
"""Languages whose months are understood. Where a date is all figures, the day comes before the month."""

WANTED = ("a date", "19 June 2027")

_ANY_YEAR = 2000
"""A leap year, in which every day of a year is."""


def read_date(text: str) -> str:
    """A date as ISO 8601; without a year where none is given (`--06-19`, as in vCard, RFC 6350).

    >>> read_date("19 June 2027"), read_date("19.6.2027"), read_date("Samstag, 19. Juni 2027")
    ('2027-06-19', '2027-06-19', '2027-06-19')
    >>> read_date("2027-06-19"), read_date("6/19/2027"), read_date("19 de junio")
    ('2027-06-19', '2027-06-19', '--06-19')
    """
    tidy = " ".join(text.split())
    try:
        return date.fromisoformat(tidy).isoformat()
    except ValueError:
        found = _read(tidy) if len(tidy) <= 40 and re.search(r"\d", tidy) else None
    if found is None:
        raise unlike(tidy, WANTED)
    return found


def with_year_of(found: str, earlier: str) -> str:
    """A date that may lack its year, in the year of another date. Raises Unreadable where neither has one.

    >>> with_year_of("--06-19", "2027-01-02"), with_year_of("2028-06-19", "2027-01-02")
    ('2027-06-19', '2028-06-19')
    """
    if not found.startswith("--"):
        return found
    if not earlier:
        raise Unreadable(f"lacks the year. Try {date_words(f'2027{found[1:]}')}")
    return f"{earlier[:4]}{found[1:]}"


@lru_cache(maxsize=256)
def _read(text: str) -> str | None:
    whole = _found(text, ("day", "month", "year"))
    if whole:
        return whole.date().isoformat()
    # Of two figures, the second would be taken for an hour.
    if re.search(r"\d{3}|\d\D+\d", text):
        return None
    part = _found(text, ("day", "month"))
    return f"-{part:-%m-%d}" if part else None


def _found(text: str, parts: tuple[str, ...]) -> datetime | None:
    reader = _reader(parts)
    if reader is None:
        return in_english(text, parts)
    parsed = reader.get_date_data(text).date_obj
    return parsed if isinstance(parsed, datetime) else None


def in_english(text: str, parts: tuple[str, ...]) -> datetime | None:
    """A date in English or in figures that states so many parts (day, month, year); None for what is none.

    >>> in_english("19 June 2027", ("day", "month", "year"))
    datetime.datetime(2027, 6, 19, 0, 0)
    >>> in_english("19 June", ("day", "month", "year")) is None
    True
    """
    from dateutil.parser import ParserError, parse

    try:
        # What the text does not state comes from the date it is read beside.
        beside = [parse(text, dayfirst=True, default=default) for default in (_EARLY, _LATE)]
    except (ParserError, OverflowError):
        return None
    stated = all(len({getattr(found, part) for found in beside}) == 1 for part in parts)
    return beside[0] if stated else None


_EARLY, _LATE = datetime(_ANY_YEAR, 1, 1), datetime(_ANY_YEAR + 4, 2, 2)  # noqa: DTZ001 - dates, no instants


@lru_cache(maxsize=2)
def _reader(parts: tuple[str, ...]) -> Any:
    """What reads a date that states so many parts, in all languages; None where that is not installed: a
    phone has no build of what it needs."""
    # Takes a third of a second to import: only who types a date waits for it.
    try:
        from dateparser.date import DateDataParser
    except ModuleNotFoundError:
        return None

    settings = {
        "DATE_ORDER": "DMY",
        "PREFER_LOCALE_DATE_ORDER": False,
        "REQUIRE_PARTS": list(parts),
        "PARSERS": ["absolute-time"],
        "RELATIVE_BASE": datetime(_ANY_YEAR, 1, 1),  # noqa: DTZ001 - a date, no instant
    }
    return DateDataParser(languages=LANGUAGES, settings=settings)
