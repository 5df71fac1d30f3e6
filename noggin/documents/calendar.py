"""The set-ups of a day as iCalendar (RFC 5545), written by the `icalendar` library with the zone's own
rules, so that every calendar shows them at the right instant."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

import icalendar

PRODUCT = "-//Noggin//noggin-shoot 1//EN"


@dataclass(frozen=True)
class Event:
    """One set-up: a name that stays its own, when, what it is called, and its settings in words."""

    uid: str
    start: datetime
    end: datetime
    name: str
    words: str


def calendar(
    events: Sequence[Event], name: str, where: tuple[float, float], place: str, now: datetime
) -> bytes:
    """A calendar file of events that all happen at one place (degrees north and east)."""
    whole = icalendar.Calendar()
    whole.add("prodid", PRODUCT)
    whole.add("version", "2.0")
    whole.add("x-wr-calname", name)
    for planned in events:
        entry = icalendar.Event()
        entry.add("uid", planned.uid)
        entry.add("dtstamp", now)
        entry.add("dtstart", planned.start)
        entry.add("dtend", planned.end)
        entry.add("summary", planned.name)
        entry.add("description", planned.words)
        entry.add("geo", where)
        if place:
            entry.add("location", place)
        whole.add_component(entry)
    if events:
        year = events[0].start.year
        whole.add_missing_timezones(date(year, 1, 1), date(year + 1, 12, 31))
    return bytes(whole.to_ical())
