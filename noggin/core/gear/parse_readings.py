"""Readings as a person writes them down: one pop a line, such as `2 m, 1/1, f/28` or
`2 m, 1/1, 1/1000, f/11, ISO 200`, with the time only where it was fired in high-speed sync.

Without a flash meter a frame of an 18% card does: its settings and where the card came out,
`2 m, 1/1, f/8, card +0.3`. Sheets that compare have a word before each line: `with: 2 m, 1/1, f/9.5`.
"""

import re
from collections.abc import Callable, Sequence
from typing import TypeVar

from noggin.core.errors import Refused, Unreadable, unlike
from noggin.core.gear.calibrate import Reading
from noggin.core.physics.metering import off_card
from noggin.core.typed.parse_quantities import (
    read_amount,
    read_aperture,
    read_distance,
    read_iso,
    read_power,
    read_shutter,
)
from noggin.core.wording import listed, number

Read = TypeVar("Read")

_LINE = re.compile(
    r"(?P<distance>[^,;/]+?)\s*[,;]\s*(?P<power>[^,;]+?)\s*[,;]\s*(?:(?P<time>1/\d+|[\d.]+ ?s)\s*[,;]\s*)?"
    r"(?P<aperture>f[^,;]+?)\s*(?:[,;]\s*(?P<iso>(?:iso ?)?[\d.]+)\s*)?"
    r"(?:[,;]\s*card\s+(?P<card>[^,;]+?)\s*)?",
    re.IGNORECASE,
)


def read_readings(text: str) -> tuple[Reading, ...]:
    """Every line that is not blank. Raises Unreadable with the line's number and what is wrong.

    >>> [one.f_number for one in read_readings("2 m, 1/1, f/28\\n4 m; 1/2; 1/1000; f/5.6; ISO 200")]
    [28.0, 5.6]
    """
    return tuple(reading for _, reading in lines_of(text, reading_of))


def lines_of(text: str, read: Callable[[str], Read], labels: Sequence[str] = ()) -> list[tuple[str, Read]]:
    """Every line that is not blank, with its label where labels are asked for (`with: …`), read by `read`.

    Raises Unreadable with the line's number and what is wrong.

    >>> lines_of("without: 3\\n\\nWith: 2", float, ("without", "with"))
    [('without', 3.0), ('with', 2.0)]
    """
    found = []
    for row, line in enumerate(text.splitlines(), start=1):
        label, rest = "", line.strip()
        if not rest:
            continue
        if labels:
            label, _, rest = rest.partition(":")
            label, rest = label.strip().lower(), rest.strip()
            if label not in labels or not rest:
                starts = listed([f"‘{known}:’" for known in labels], "or")
                raise Unreadable(f"line {row}: ‘{line.strip()}’ does not begin with {starts}")
        try:
            found.append((label, read(rest)))
        except Unreadable as error:
            raise Unreadable(f"line {row}: {error}") from None
        except Refused as error:
            raise Unreadable(f"line {row}: {error.problem}") from None
    return found


def reading_of(line: str) -> Reading:
    """One pop. A card's level shifts the aperture to what a flash meter would have said.

    >>> round(reading_of("2 m, 1/1, f/8, card +0.6").f_number, 1)
    8.0
    """
    found = _LINE.fullmatch(line)
    if not found:
        raise unlike(line, ("a reading", "2 m, 1/1, f/28"))
    off = off_card(read_amount(found["card"])) if found["card"] else 0.0
    return Reading(
        read_distance(found["distance"]),
        read_power(found["power"]),
        read_aperture(found["aperture"]) * 2 ** (off / 2),
        read_iso(found["iso"]) if found["iso"] else 100,
        read_shutter(found["time"]) if found["time"] else None,
    )


def show_readings(readings: Sequence[Reading]) -> str:
    """Readings as they would be written down.

    >>> show_readings([Reading(2, 1, 28), Reading(2, 0.5, 11.31, shutter_s=1 / 1000)])
    '2 m, 1/1, f/28\\n2 m, 1/2, 1/1000, f/11.3'
    """
    lines = []
    for reading in readings:
        time = "" if reading.shutter_s is None else f", 1/{round(1 / reading.shutter_s)}"
        iso = "" if reading.iso == 100 else f", ISO {number(reading.iso)}"
        power = f"1/{number(1 / reading.power, 2)}"
        lines.append(
            f"{number(reading.distance_m, 2)} m, {power}{time}, f/{number(reading.f_number, 1)}{iso}"
        )
    return "\n".join(lines)
