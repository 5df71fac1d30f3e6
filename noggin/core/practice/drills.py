"""Every drill with one question to a task, by its key."""

from noggin.core.errors import Refused
from noggin.core.practice.cases import CASES
from noggin.core.practice.controls import MOVED
from noggin.core.practice.light_reading import LIGHT_SEEN
from noggin.core.practice.questions import QUESTIONS
from noggin.core.practice.task import Drill, Task

DRILLS: dict[str, Drill] = {drill.key: drill for drill in (*QUESTIONS, *MOVED, *CASES, *LIGHT_SEEN)}
"""Every drill by its key."""


def task(drill: str, seed: int) -> Task:
    """The task of a drill that a seed gives, the same each time. Raises Refused."""
    if drill not in DRILLS:
        raise Refused("drill", f"'{drill}' is none of {', '.join(DRILLS)}")
    return DRILLS[drill].task(seed)
