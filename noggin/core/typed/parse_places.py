"""Places and times as people type them: coordinates in the usual forms, time of day, length of time, and
where and when in one line.

Readers raise Unreadable with what would have been understood; limits are checked elsewhere.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from noggin.core.errors import Unreadable, unlike
from noggin.core.typed.parse_dates import read_date
from noggin.core.typed.parse_quantities import read_distance
from noggin.core.typed.text import matched
from noggin.core.units import Metres
from noggin.core.wording import number

_NUMBER = r"\d{1,9}(?:\.\d{0,9})?|\.\d{1,9}"
_TWICE = {one + other for pair in ("NS", "EW") for one in pair for other in pair}
_COORDINATES = str.maketrans(
    {"−": "-", "–": "-", "’": "'", "′": "'", "″": '"', "”": '"', "º": "°", "˚": "°"}
)


@dataclass(frozen=True)
class WhereWritten:
    """Where and when as one line has it, each part as it is written; empty where it is not said."""

    place: str
    date: str = ""
    clock: str = ""
    zone: str = ""


_ZONE = re.compile(r"(?<!\S)((?:[A-Z][A-Za-z_]+/)+[A-Za-z_+\-0-9]+|UTC)(?!\S)")

_CLOCK = re.compile(
    r"(?<!\S)(?:at )?(\d{1,2}[:h]\d{2}(?: ?[ap]\.?m\b\.?)?|\d{1,2} ?(?:[ap]\.?m\b\.?|h\b)"
    r"|noon|midday|midnight)(?=[\s,;]|$)",
    re.IGNORECASE,
)


def split_where(text: str) -> WhereWritten:
    """Where and when on one line, taken apart: a place by coordinates, name or link, with a date, a time
    and a zone, in any order that is usual.

    >>> split_where("42.46, 0.71 2027-06-19 13:10 Europe/Madrid")
    WhereWritten(place='42.46, 0.71', date='2027-06-19', clock='13:10', zone='Europe/Madrid')
    >>> split_where("Ronda, Spain, Saturday 19 June 2027 at 1 pm")
    WhereWritten(place='Ronda, Spain', date='2027-06-19', clock='13:00', zone='')
    """
    tidy = re.sub(r"(\d{4}-\d{2}-\d{2})T(?=\d)", r"\1 ", " ".join(text.split()))
    if "://" in tidy or tidy.lower().startswith("geo:"):
        return WhereWritten(tidy)
    zone, tidy = _taken_out(_ZONE, tidy)
    clock, tidy = _taken_out(_CLOCK, tidy)
    words = tidy.split()
    for count in range(len(words), 0, -1):
        for dated, rest in ((words[-count:], words[:-count]), (words[:count], words[count:])):
            place = " ".join(rest).strip(" ,;")
            # A letter of a compass belongs to the coordinates before it.
            apart = len(dated[0].strip(",;")) > 1 or dated[0].isdigit()
            if not apart or (place and not _may_be_place(place)):
                continue
            found = _date_or_none(" ".join(dated).strip(" ,;"))
            if found:
                return WhereWritten(place, found, clock and read_clock(clock), zone)
    return WhereWritten(tidy, "", clock and read_clock(clock), zone)


def _taken_out(pattern: re.Pattern[str], text: str) -> tuple[str, str]:
    """The last that a pattern finds, and the text without it."""
    found = list(pattern.finditer(text))
    if not found:
        return "", text
    last = found[-1]
    return last[1], " ".join(f"{text[: last.start()]} {text[last.end() :]}".split()).strip(" ,;")


def _date_or_none(text: str) -> str | None:
    try:
        return read_date(text)
    except Unreadable:
        return None


def _may_be_place(text: str) -> bool:
    if re.search(r"[^\W\d_]{3}", text):
        return True
    try:
        read_coordinates(text)
    except Unreadable:
        return False
    return True


def read_coordinates(text: str) -> tuple[float, float]:
    """A place as latitude and longitude in degrees, north and east positive: decimal degrees, degrees with
    minutes and seconds, with N, S, E, W before or after; a `geo:` address (RFC 5870), ISO 6709, or the link
    that a map gives for a place.

    >>> read_coordinates("42.46, 0.71"), read_coordinates("33.45 S 70.66 W")
    ((42.46, 0.71), (-33.45, -70.66))
    >>> read_coordinates("42° 27′ 36″ N, 0° 42′ 36″ E")
    (42.46, 0.71)
    >>> read_coordinates("geo:-33.5,70.25;u=20"), read_coordinates("+42.46-000.71/")
    ((-33.5, 70.25), (42.46, -0.71))
    """
    if "://" in text:
        return _of_link(text)
    tidy = " ".join(text.translate(_COORDINATES).upper().split())
    tidy = re.sub(r";.*", "", tidy[4:]) if tidy.startswith("GEO:") else tidy.removesuffix("/")
    if re.fullmatch(r"[^,]*\d,\d+[^,\d]+\d+,\d+[^,]*", tidy):
        tidy = tidy.replace(",", ".")  # decimal commas
    size = rf"([+-]?(?:{_NUMBER}))(?: ?°)?(?: ?({_NUMBER}) ?')?(?: ?({_NUMBER}) ?\")?"
    between = r"(?: ?[,;] ?| |(?=[+NSEW-]))"
    plainly = re.fullmatch(rf"{size} ?([NSEW]?){between}{size} ?([NSEW]?)(?:,[+-]?[\d.]+)?", tidy)
    lettered = re.fullmatch(rf"([NSEW]) ?{size}{between}([NSEW]) ?{size}", tidy)
    if plainly:
        letters = plainly[4], plainly[8]
        first, other = _angle(letters[0], plainly.groups()[:3]), _angle(letters[1], plainly.groups()[4:7])
    elif lettered:
        letters = lettered[1], lettered[5]
        first, other = _angle(letters[0], lettered.groups()[1:4]), _angle(letters[1], lettered.groups()[5:])
    else:
        letters = "", ""
        first = other = None
    if first is None or other is None or "".join(letters) in _TWICE:
        raise unlike(text, ("a place", "42.46, 0.71 or 42°27′36″ N 0°42′36″ E"))
    return (other, first) if letters[0] in ("E", "W") or letters[1] in ("N", "S") else (first, other)


_DEGREES = r"(-?\d{1,3}\.\d{2,})"

_IN_LINKS = (
    rf"[?&#]m?lat(?:itude)?={_DEGREES}&m?(?:lon|lng)(?:gitude)?={_DEGREES}",
    rf"{_DEGREES}(?:,|%2C|~|/|\+|%20)+{_DEGREES}",
)
"""How the links of maps carry a place: by name, or side by side."""


def _of_link(text: str) -> tuple[float, float]:
    """The coordinates in a link, which is not followed."""
    for pattern in _IN_LINKS:
        found = re.search(pattern, text, re.IGNORECASE)
        if found:
            return float(found[1]), float(found[2])
    raise unlike("this link", ("one that holds coordinates", "42.46, 0.71 or the name of a town"))


def _angle(letter: str, parts: Sequence[str | None]) -> float | None:
    """Degrees, minutes and seconds as degrees, south and west negative; None where they cannot be."""
    degrees, minutes, seconds = (part or "0" for part in parts)
    signed_too = letter and degrees[0] in "+-"
    if signed_too or float(minutes) >= 60 or float(seconds) >= 60:
        return None
    size = abs(float(degrees)) + float(minutes) / 60 + float(seconds) / 3600
    negative = degrees.startswith("-") or letter in ("S", "W")
    return round(-size if negative else size, 9)


def show_coordinates(lat: float, lon: float) -> str:
    """A place as decimal degrees with their letters.

    >>> show_coordinates(-33.45, 70.66)
    '33.45° S, 70.66° E'
    """
    north = "S" if lat < 0 else "N"
    east = "W" if lon < 0 else "E"
    return f"{number(abs(lat))}° {north}, {number(abs(lon))}° {east}"


_NAMED_CLOCKS = {"noon": "12:00", "midday": "12:00", "midnight": "00:00"}


def read_clock(text: str) -> str:
    """A time of day as `HH:MM`: `9:40`, `0940`, `9.40`, `21h15`, `1 pm`, `noon`.

    >>> read_clock("9:40"), read_clock("2115"), read_clock("7h"), read_clock("noon")
    ('09:40', '21:15', '07:00', '12:00')
    >>> read_clock("1 pm"), read_clock("12:05 a.m."), read_clock("13:10:00")
    ('13:00', '00:05', '13:10')
    """
    tidy = " ".join(text.lower().split()).removeprefix("at ")
    if tidy in _NAMED_CLOCKS:
        return _NAMED_CLOCKS[tidy]
    half = re.search(r" ?([ap])\.? ?m\.?$", tidy)
    figures = tidy[: half.start()] if half else tidy
    found = re.fullmatch(r"(\d{1,2})(?:[:.h] ?(\d{2})?|(\d{2}))?(?::00)? ?(?:h|uhr)?", figures)
    hour, minute = (int(found[1]), int(found[2] or found[3] or 0)) if found else (24, 0)
    if half:
        hour = hour % 12 + (12 if half[1] == "p" else 0) if 1 <= hour <= 12 else 24
    if hour > 23 or minute > 59:
        raise unlike(text, ("a time of day", "9:40"))
    return f"{hour:02}:{minute:02}"


def read_minutes(text: str) -> int:
    """A length of time in whole minutes: `25`, `25 min`, `1 h 20`, `1:20`.

    >>> read_minutes("25 min"), read_minutes("1 h 20"), read_minutes("1:20")
    (25, 80, 80)
    """
    found = re.fullmatch(
        r"(?:(\d{1,2}) ?(?:h|:) ?)?(\d{1,4})? ?(?:m|min|minutes)?", " ".join(text.lower().split())
    )
    if not found or not (found[1] or found[2]):
        raise unlike(text, ("a number of minutes", "25"))
    return 60 * int(found[1] or 0) + int(found[2] or 0)


def read_coordinate(text: str) -> Metres:
    """A place along an axis of a plan: a distance, to the other side with a minus.

    >>> read_coordinate("−1.5 m"), read_coordinate("80 cm"), read_coordinate("0")
    (-1.5, 0.8, 0.0)
    """
    bare = text.strip()
    away = bare.lstrip("-−–+ ")
    return -read_distance(away) if bare[:1] in ("-", "−", "–") else read_distance(away)


def read_angle(text: str) -> float:
    """Degrees, to the left with a minus.

    >>> read_angle("−45°"), read_angle("30")
    (-45.0, 30.0)
    """
    found = matched(r"(-)? ?(NUM) ?(?:°|deg|degrees)?", text, ("an angle", "45 or −30"))
    return -float(found[2]) if found[1] else float(found[2])


def read_percentage(text: str) -> float:
    """A part, written as a percentage.

    >>> read_percentage("40%"), read_percentage("80")
    (0.4, 0.8)
    """
    found = matched(r"(NUM) ?%?", text, ("a percentage", "40%"))
    return float(found[1]) / 100
