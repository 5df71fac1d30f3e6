"""Whatever is kept, found by its name from anywhere."""

import json
from dataclasses import dataclass

from noggin.store.repository import Holder, Listed, Repository
from noggin.store.store import Store

MOST = 8
"""Finds of each kind that are shown."""


@dataclass(frozen=True)
class FoundSetUp:
    """A set-up, and the day it is part of."""

    id: int
    name: str
    day: Holder | None


@dataclass(frozen=True)
class Finds:
    """What has the words in its name, by kind; set-ups also by the name of their day."""

    setups: tuple[FoundSetUp, ...]
    shoots: tuple[Listed, ...]
    kit: tuple[Listed, ...]
    bags: tuple[Listed, ...]

    @property
    def is_empty(self) -> bool:
        """Whether nothing was found."""
        return not (self.setups or self.shoots or self.kit or self.bags)


def find(store: Store, words: str) -> Finds:
    """What has these words in its name, what was worked on last first, then set-ups of a day that has them;
    blank: what was worked on last."""
    words = words.strip()

    def named(repository: Repository) -> tuple[Listed, ...]:
        return repository.page(MOST, 0, words).rows

    with store.read_transaction():
        shoots = named(store.shoots)
        setups = {row.id: row.name for row in named(store.setups)}
        if words:
            setups |= _of_days(store, [shoot.id for shoot in shoots])
        days = store.shoots.holders("slots", "setup", list(setups))
        return Finds(
            tuple(FoundSetUp(number, name, days.get(number)) for number, name in setups.items()),
            shoots,
            named(store.gear),
            named(store.bags),
        )


def _of_days(store: Store, shoots: list[int]) -> dict[int, str]:
    """Number and name of the set-ups of some days."""
    slots = [slot for text in store.shoots.texts(shoots).values() for slot in json.loads(text)["slots"]]
    texts = store.setups.texts(sorted({slot["setup"] for slot in slots}))
    return {number: json.loads(text)["name"] for number, text in texts.items()}
