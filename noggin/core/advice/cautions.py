"""Cautions raised by rule. The whole list is `RULES`; each row has its weight, its condition and its words.

They inform; local codes and licensed practice decide.
"""

from dataclasses import dataclass

from noggin.core.advice.cautions_camera import CAMERA_CAUTIONS
from noggin.core.advice.cautions_flash import FLASH_CAUTIONS
from noggin.core.advice.cautions_picture import PICTURE_CAUTIONS
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp

RULES = (*PICTURE_CAUTIONS, *FLASH_CAUTIONS, *CAMERA_CAUTIONS)
"""Every caution there is; of equal weight the first comes first."""

MATTERS = 3
"""So many cautions are said first."""


@dataclass(frozen=True)
class Caution:
    """A caution that applies: its key in RULES, what it weighs, and what it says."""

    key: str
    weight: int
    text: str


def weighed(setup: SetUp, way: Way) -> tuple[Caution, ...]:
    """The cautions that apply to one way, the weightiest first."""
    found = (
        Caution(rule.key, rule.weight, rule.say(setup, way)) for rule in RULES if rule.when(setup, way)
    )
    return tuple(sorted(found, key=lambda caution: -caution.weight))


def cautions(setup: SetUp, way: Way) -> tuple[str, ...]:
    """What they say."""
    return tuple(caution.text for caution in weighed(setup, way))
