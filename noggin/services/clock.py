"""The clock that is passed in."""

from collections.abc import Callable
from datetime import UTC, datetime

Clock = Callable[[], datetime]
"""Gives the present instant, with its time zone."""


def system_clock() -> datetime:
    """The present instant."""
    return datetime.now(UTC)
