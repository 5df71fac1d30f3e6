"""Arithmetic on times that keep a zone. Two times of one zone are subtracted by their clock faces, and a
clock change between them would count: here real time passes."""

from datetime import UTC, datetime, timedelta


def later(time: datetime, by: timedelta) -> datetime:
    """So much later, in the same zone.

    >>> from zoneinfo import ZoneInfo
    >>> spring = datetime(2027, 3, 28, 1, 50, tzinfo=ZoneInfo("Europe/Madrid"))
    >>> later(spring, timedelta(minutes=20)).isoformat()
    '2027-03-28T03:10:00+02:00'
    """
    return (time.astimezone(UTC) + by).astimezone(time.tzinfo)


def apart(one: datetime, other: datetime) -> timedelta:
    """How long after `one` the `other` is; negative before it.

    >>> from zoneinfo import ZoneInfo
    >>> zone = ZoneInfo("Europe/Madrid")
    >>> spring = datetime(2027, 3, 28, 1, 50, tzinfo=zone), datetime(2027, 3, 28, 3, 10, tzinfo=zone)
    >>> apart(*spring) / timedelta(minutes=1)
    20.0
    """
    return other.astimezone(UTC) - one.astimezone(UTC)


def half_way(one: datetime, other: datetime) -> datetime:
    """The minute in the middle, or the first after `one`."""
    minutes = apart(one, other) // (2 * MINUTE)
    return later(one, max(1, minutes) * MINUTE)


MINUTE = timedelta(minutes=1)
