"""Places and times as people type them: coordinates in the usual forms, time of day, length of time.

Readers raise Unreadable with what would have been understood; limits are checked elsewhere.
"""

import re
from collections.abc import Sequence

from noggin.core.errors import unlike
from noggin.core.typed.parse_quantities import read_distance
from noggin.core.typed.text import matched
from noggin.core.units import Metres
from noggin.core.wording import number

_NUMBER = r"\d{1,9}(?:\.\d{0,9})?|\.\d{1,9}"
_TWICE = {one + other for pair in ("NS", "EW") for one in pair for other in pair}
_COORDINATES = str.maketrans(
    {"−": "-", "–": "-", "’": "'", "′": "'", "″": '"', "”": '"', "º": "°", "˚": "°"}
)


def read_where(text: str) -> tuple[float, float, str, str]:
    """Where and when on one line, as latitude, longitude (degrees), local time and zone.

    >>> read_where("42.46, 0.71 2027-06-19 13:10 Europe/Madrid")
    (42.46, 0.71, '2027-06-19T13:10', 'Europe/Madrid')
    >>> read_where("33.5 S 70.6 W 2027-01-09 7:05 America/Santiago")[:3]
    (-33.5, -70.6, '2027-01-09T07:05')
    """
    found = re.fullmatch(
        r"(.+?)[ ,;]+(\d{4}-\d{2}-\d{2})[ ,T]+(\d{1,2}):(\d{2})[ ,]+(\S+)", " ".join(text.split())
    )
    if not found:
        raise unlike(text, ("a place with a time", "42.46, 0.71 2027-06-19 13:10 Europe/Madrid"))
    return *read_coordinates(found[1]), f"{found[2]}T{int(found[3]):02}:{found[4]}", found[5]


def read_coordinates(text: str) -> tuple[float, float]:
    """A place as latitude and longitude in degrees, north and east positive: decimal degrees, degrees with
    minutes and seconds, with N, S, E, W before or after; a `geo:` address (RFC 5870) or ISO 6709.

    >>> read_coordinates("42.46, 0.71"), read_coordinates("33.45 S 70.66 W")
    ((42.46, 0.71), (-33.45, -70.66))
    >>> read_coordinates("42° 27′ 36″ N, 0° 42′ 36″ E")
    (42.46, 0.71)
    >>> read_coordinates("geo:-33.5,70.25;u=20"), read_coordinates("+42.46-000.71/")
    ((-33.5, 70.25), (42.46, -0.71))
    """
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


def read_clock(text: str) -> str:
    """A time of day as `HH:MM`: `9:40`, `0940`, `9.40`, `21h15`.

    >>> read_clock("9:40"), read_clock("2115"), read_clock("7h")
    ('09:40', '21:15', '07:00')
    """
    found = re.fullmatch(r"(\d{1,2})(?:[:.h] ?(\d{2})?|(\d{2}))? ?(?:h)?", " ".join(text.lower().split()))
    hour, minute = (int(found[1]), int(found[2] or found[3] or 0)) if found else (24, 0)
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
