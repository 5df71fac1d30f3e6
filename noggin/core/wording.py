"""How figures are written, once, for the screen, the table on the terminal and the reasons."""

import re
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date, timedelta
from math import ceil, isinf, isnan, log10

from noggin.core.units import METRES_PER_FOOT, Seconds

MINUS = "−"
NONE = "—"

UNITS = {"m": "metres", "ft": "feet"}
"""Units that distances can be read and written in."""

_unit: ContextVar[str] = ContextVar("unit", default="m")


def distance_unit() -> str:
    """The unit that distances are read and written in here and now: "m" or "ft"."""
    return _unit.get()


@contextmanager
def distances_in(unit: str) -> Iterator[None]:
    """Read and write distances in a unit of UNITS, for as long as this lasts.

    >>> with distances_in("ft"):
    ...     metres(3.2)
    '10.5 ft'
    """
    token = _unit.set(unit if unit in UNITS else "m")
    try:
        yield
    finally:
        _unit.reset(token)


def number(value: float, places: int = 6) -> str:
    """A plain figure without needless zeros, with a true minus sign.

    >>> number(41.0), number(-10), number(0.125), number(1e400)
    ('41', '−10', '0.125', 'infinity')
    """
    if isnan(value):
        return "not a number"
    if isinf(value):
        return "infinity" if value > 0 else f"{MINUS}infinity"
    if value == 0:
        return "0"
    if abs(value) >= 1e9:
        text = f"{value:.3g}"
    else:
        small = max(0, ceil(-log10(abs(value))))
        text = f"{value:.{places + small}f}"
        if "." in text:
            text = text.rstrip("0").rstrip(".")
    return text.replace("-", MINUS)


def plain(value: float, places: int = 1) -> str:
    """A figure to fixed places with a true minus sign and no minus on zero.

    >>> plain(14.6), plain(-0.04), plain(-3.667)
    ('14.6', '0.0', '−3.7')
    """
    text = f"{value:.{places}f}"
    if float(text) == 0:
        text = text.lstrip("-")
    return text.replace("-", MINUS)


def signed(stops: float | None, places: int = 1) -> str:
    """A level or reserve in stops with its sign, or a dash where there is none.

    >>> signed(1.288), signed(-0.118), signed(0.01), signed(None)
    ('+1.3', '−0.1', '0.0', '—')
    """
    if stops is None:
        return NONE
    text = plain(stops, places)
    return text if text.startswith(MINUS) or float(text) == 0 else f"+{text}"


def stops(value: float, places: int = 1) -> str:
    """An amount of stops with its unit; up to one it is said in the singular.

    >>> stops(1.0), stops(6), stops(0.333), stops(1.3)
    ('1 stop', '6 stops', '0.3 stop', '1.3 stops')
    """
    text = plain(value, places).removesuffix(".0")
    singular = 0 < abs(float(text.replace(MINUS, "-"))) <= 1
    return f"{text} {'stop' if singular else 'stops'}"


def signed_stops(value: float) -> str:
    """A level or a change with its sign and unit.

    >>> signed_stops(1.0), signed_stops(-0.4)
    ('+1.0 stop', '−0.4 stop')
    """
    return f"{signed(value)} {stops(value).rpartition(' ')[2]}"


def metres(value: float | None) -> str:
    """A distance with as many figures as a person can use, or ∞ for None.

    >>> metres(3.1234), metres(40.0), metres(None)
    ('3.12 m', '40 m', '∞')
    """
    return "∞" if value is None else f"{_metres(value)} {distance_unit()}"


def said_distance(value: float) -> str:
    """A distance as it would be said, without noughts at its end.

    >>> said_distance(3.2), said_distance(3.0), said_distance(40.0), said_distance(3.25)
    ('3.2 m', '3 m', '40 m', '3.25 m')
    """
    said = metres(value)
    return re.sub(r"\.?0+ ", " ", said) if "." in said else said


def lasting(length: timedelta) -> str:
    """A length of time in hours and minutes, whole minutes begun not counted.

    >>> lasting(timedelta(minutes=25)), lasting(timedelta(hours=2, minutes=5, seconds=50))
    ('25 min', '2 h 05 min')
    """
    hours, minutes = divmod(int(length / timedelta(minutes=1)), 60)
    return f"{hours} h {minutes:02} min" if hours else f"{minutes} min"


def metres_span(near: float, far: float | None) -> str:
    """Two distances of one span: "3.12–3.28 m", "10.5 m – ∞".

    >>> metres_span(3.12, 3.28), metres_span(10.47, None)
    ('3.12–3.28 m', '10.5 m – ∞')
    """
    if far is None:
        return f"{metres(near)} – ∞"
    return f"{_metres(near)}–{metres(far)}"


def _metres(value: float) -> str:
    if distance_unit() == "ft":
        feet = value / METRES_PER_FOOT
        return f"{feet:.1f}" if feet < 100 else f"{feet:,.0f}"
    if value < 10:
        return f"{value:.2f}"
    if value < 100:
        return f"{value:.1f}".removesuffix(".0")
    return f"{value:,.0f}"


def percent(share: float) -> str:
    """A share as whole per cent.

    >>> percent(0.928)
    '93%'
    """
    return f"{share * 100:.0f}%"


def listed(items: Sequence[str], joint: str = "and") -> str:
    """Items as a person would say them.

    >>> listed(["ND at sync", "Stop down", "Mixed"])
    'ND at sync, Stop down and Mixed'
    """
    if len(items) < 2:
        return "".join(items)
    return f"{', '.join(items[:-1])} {joint} {items[-1]}"


def shutter_time(time_s: Seconds) -> str:
    """A time as on the dial, else as a fraction or seconds.

    >>> shutter_time(1 / 180), shutter_time(0.5), shutter_time(1 / 200)
    ('1/180', '0.5', '1/200')
    """
    whole = round(1 / time_s)
    if time_s < 0.3 and abs(whole * time_s - 1) < 1e-6:
        return f"1/{whole}"
    return number(time_s)


def duration(time_s: Seconds) -> str:
    """A short time to as many figures as a person can use, with its unit.

    >>> duration(1 / 1500), duration(1 / 11_000), duration(0.5)
    ('1/1500 s', '1/11,000 s', '0.5 s')
    """
    if time_s >= 0.3:
        return f"{plain(time_s)} s"
    whole = round(1 / time_s)
    return f"1/{whole:,} s" if whole >= 10_000 else f"1/{whole} s"


def slug(name: str) -> str:
    """A name as part of a file's name, at most 60 characters.

    >>> slug("Terrace, bride & groom"), slug("…")
    ('terrace-bride-groom', 'noggin')
    """
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60] or "noggin"


def date_words(value: str) -> str:
    """A date (ISO 8601) in words.

    >>> date_words("2027-06-19")
    '19 June 2027'
    """
    day = date.fromisoformat(value)
    return f"{day.day} {day:%B %Y}"
