"""One caution: what it weighs, when it applies and what it says."""

from collections.abc import Callable
from dataclasses import dataclass

from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp

HARM, SPOILS, SHOWS, HABIT = 4, 3, 2, 1
"""What a caution weighs: somebody may be hurt; the picture is lost; it shows in the picture; a good
habit."""


@dataclass(frozen=True)
class Rule:
    """One caution: what it weighs, `stands` says in words when it applies, `when` and `say` see the set-up
    and the way."""

    key: str
    weight: int
    stands: str
    when: Callable[[SetUp, Way], bool]
    say: Callable[[SetUp, Way], str]
