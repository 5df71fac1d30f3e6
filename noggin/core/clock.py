"""Arithmetic on times that keep a zone. Two times of one zone are subtracted by their clock faces, and a
clock change between them would count: here real time passes."""

from collections.abc import Callable, Iterator
from datetime import UTC, date, datetime, timedelta, tzinfo
from functools import lru_cache, wraps
from typing import ParamSpec, TypeVar

from noggin.core import limits


def later(time: datetime, by: timedelta) -> datetime:
    """So much later, in the same zone.

    >>> from zoneinfo import ZoneInfo
    >>> spring = datetime(2027, 3, 28, 1, 50, tzinfo=ZoneInfo("Europe/Madrid"))
    >>> later(spring, timedelta(minutes=20)).isoformat()
    '2027-03-28T03:10:00+02:00'
    """
    return (time.astimezone(UTC) + by).astimezone(time.tzinfo)


def apart(first: datetime, other: datetime) -> timedelta:
    """How long after `one` the `other` is; negative before it.

    >>> from zoneinfo import ZoneInfo
    >>> zone = ZoneInfo("Europe/Madrid")
    >>> spring = datetime(2027, 3, 28, 1, 50, tzinfo=zone), datetime(2027, 3, 28, 3, 10, tzinfo=zone)
    >>> apart(*spring) / timedelta(minutes=1)
    20.0
    """
    return other.astimezone(UTC) - first.astimezone(UTC)


P = ParamSpec("P")
T = TypeVar("T")


def remembered(most: int) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """An `lru_cache` for functions of times: an instant is equal to itself in any zone, but an answer that
    is written on a clock is not."""

    def decorate(function: Callable[P, T]) -> Callable[P, T]:
        @lru_cache(maxsize=most)
        def in_zones(_: tuple[tzinfo | None, ...], *given: P.args, **named: P.kwargs) -> T:
            return function(*given, **named)

        @wraps(function)
        def called(*given: P.args, **named: P.kwargs) -> T:
            zones = tuple(value.tzinfo for value in given if isinstance(value, datetime))
            return in_zones(zones, *given, **named)  # type: ignore[arg-type]  # whatever is given is hashable

        called.cache_clear = in_zones.cache_clear  # type: ignore[attr-defined]  # as of any lru_cache
        return called

    return decorate


MINUTE = timedelta(minutes=1)


def half_way(start: datetime, end: datetime, step: timedelta = MINUTE) -> datetime:
    """The middle of two times in whole steps from the first, at least one step after it."""
    steps = apart(start, end) // (2 * step)
    return later(start, max(1, steps) * step)


def turning_point(
    before: datetime, after: datetime, is_after: Callable[[datetime], bool], step: timedelta = MINUTE
) -> datetime:
    """The first time, in whole steps from the first, at which something is as it is after; it is so at
    `after` and not yet at `before`, and changes once.

    >>> noon = datetime(2027, 6, 19, 12, tzinfo=UTC)
    >>> changes = later(noon, 17 * MINUTE)
    >>> turning_point(noon, later(noon, 60 * MINUTE), lambda time: time >= changes).minute
    17
    """
    while apart(before, after) > step:
        middle = half_way(before, after, step)
        if is_after(middle):
            after = middle
        else:
            before = middle
    return after


def instants(day: date, zone: tzinfo, every_min: int = 15) -> Iterator[datetime]:
    """Every so many minutes of a local day from its first instant; with a clock change a day has more
    or fewer of them, and each carries its offset."""
    limits.EVERY.check("every", every_min)
    at, end = _first_instant(day, zone), _first_instant(day + timedelta(days=1), zone)
    while at < end:
        yield at.astimezone(zone)
        at += timedelta(minutes=every_min)


def _first_instant(day: date, zone: tzinfo) -> datetime:
    """The first instant of a local day; where the clock skips midnight, the one it skips to."""
    return datetime(day.year, day.month, day.day, tzinfo=zone).astimezone(UTC)
