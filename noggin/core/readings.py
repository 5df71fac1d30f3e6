"""Readings as a person writes them down: one pop a line, such as `2 m, 1/1, f/28` or
`2 m, 1/1, 1/1000, f/11, ISO 200`, with the time only where it was fired in high-speed sync."""

import re
from collections.abc import Iterator, Sequence

from noggin.core.calibrate import Reading
from noggin.core.errors import Refused, Unreadable
from noggin.core.quantities import read_aperture, read_distance, read_iso, read_power, read_shutter
from noggin.core.wording import number

_LINE = re.compile(
    r"(?P<distance>[^,;/]+?)\s*[,;]\s*(?P<power>[^,;]+?)\s*[,;]\s*(?:(?P<time>1/\d+|[\d.]+ ?s)\s*[,;]\s*)?"
    r"(?P<aperture>f[^,;]+?)\s*(?:[,;]\s*(?P<iso>(?:iso ?)?[\d.]+)\s*)?",
    re.IGNORECASE,
)


def read_readings(text: str) -> tuple[Reading, ...]:
    """Every line that is not blank. Raises Unreadable with the line's number and what is wrong.

    >>> [one.f_number for one in read_readings("2 m, 1/1, f/28\\n4 m; 1/2; 1/1000; f/5.6; ISO 200")]
    [28.0, 5.6]
    """
    return tuple(_readings(text))


def _readings(text: str) -> Iterator[Reading]:
    for at, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        found = _LINE.fullmatch(line.strip())
        if not found:
            raise Unreadable(f"line {at}: ‘{line.strip()}’ is not like 2 m, 1/1, f/28")
        try:
            yield Reading(
                read_distance(found["distance"]),
                read_power(found["power"]),
                read_aperture(found["aperture"]),
                read_iso(found["iso"]) if found["iso"] else 100,
                read_shutter(found["time"]) if found["time"] else None,
            )
        except Unreadable as error:
            raise Unreadable(f"line {at}: {error}") from None
        except Refused as error:
            raise Unreadable(f"line {at}: {error.problem}") from None


def show_readings(readings: Sequence[Reading]) -> str:
    """Readings as they would be written down.

    >>> show_readings([Reading(2, 1, 28), Reading(2, 0.5, 11.31, shutter_s=1 / 1000)])
    '2 m, 1/1, f/28\\n2 m, 1/2, 1/1000, f/11.3'
    """
    lines = []
    for one in readings:
        time = "" if one.shutter_s is None else f", 1/{round(1 / one.shutter_s)}"
        iso = "" if one.iso == 100 else f", ISO {number(one.iso)}"
        power = f"1/{number(1 / one.power, 2)}"
        lines.append(f"{number(one.distance_m, 2)} m, {power}{time}, f/{number(one.f_number, 1)}{iso}")
    return "\n".join(lines)
