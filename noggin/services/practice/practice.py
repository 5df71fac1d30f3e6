"""Drills as use cases: which comes next, an answer taken, how one stands, all of it as an open document.

How one stands is worked out from the answers alone, which are only ever added."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Any

from fsrs import Card, Rating, Scheduler

from noggin.core.practice.beliefs import BELIEFS, BY_KEY, Belief
from noggin.core.practice.drills import SEEDS, Task, task
from noggin.core.units import Stops
from noggin.documents.practice import AnswerDocument, practice_document, read_practice
from noggin.services.clock import Clock
from noggin.services.keeping.kept import Brought
from noggin.store.store import Store

__all__ = [
    "Answered",
    "BeliefStanding",
    "answer",
    "answered",
    "document",
    "import_practice",
    "next_task",
    "practised",
    "standing",
]

SCHEDULER = Scheduler(
    learning_steps=(timedelta(minutes=10),), relearning_steps=(timedelta(minutes=10),), enable_fuzzing=False
)
"""When what comes again: the free spaced repetition scheduler as its package has it, one step of learning,
and without chance, so that the same answers give the same days."""

NEARLY: Stops = 0.6
"""A wrong answer that is off by no more than this is a near miss."""


@dataclass(frozen=True)
class BeliefStanding:
    """How one stands with a belief: how many of its drills were answered, how many right, how often with
    what the belief says, by how many stops wrong ones were off (None: none was), and when it comes again
    (None: it was never asked)."""

    belief: Belief
    asked: int = 0
    right: int = 0
    believed: int = 0
    off: Stops | None = None
    due: datetime | None = None
    holds: bool = False

    @property
    def share(self) -> float:
        """Part of the answers that was right."""
        return self.right / self.asked if self.asked else 0.0


@dataclass(frozen=True)
class Practised:
    """How one stands with every belief at a moment."""

    beliefs: tuple[BeliefStanding, ...]
    now: datetime

    @property
    def due(self) -> tuple[BeliefStanding, ...]:
        """Those that come again now, the one that has waited longest first."""
        return tuple(one for one in self._known if one.due and one.due <= self.now)

    @property
    def fresh(self) -> tuple[BeliefStanding, ...]:
        """Those that were never asked about."""
        return tuple(one for one in self.beliefs if one.due is None)

    @property
    def first_due(self) -> BeliefStanding:
        """The one that comes again first, where all were asked about."""
        return self._known[0]

    @property
    def _known(self) -> list[BeliefStanding]:
        return sorted((one for one in self.beliefs if one.due), key=lambda one: one.due or self.now)


@dataclass(frozen=True)
class Answered:
    """A task with the answer that was given to it."""

    task: Task
    given: Mapping[str, Any]

    @property
    def belief(self) -> Belief:
        """The belief of its drill."""
        return BY_KEY[self.task.belief]


def practised(store: Store, clock: Clock) -> Practised:
    """How one stands now."""
    return Practised(standing(store), clock())


def standing(store: Store) -> tuple[BeliefStanding, ...]:
    """How one stands with every belief, in their order."""
    by_belief: dict[str, list[Mapping[str, Any]]] = {belief.key: [] for belief in BELIEFS}
    for one in store.practice.all():
        by_belief.get(one["belief"], []).append(one)
    return tuple(_standing(BY_KEY[key], answers) for key, answers in by_belief.items())


def _standing(belief: Belief, answers: list[Mapping[str, Any]]) -> BeliefStanding:
    if not answers:
        return BeliefStanding(belief)
    card, last = Card(card_id=1), None
    in_order = sorted(answers, key=_at)
    for one in in_order:
        card, _ = SCHEDULER.review_card(card, _rating(one), _at(one))
        last = one
    wrong = [one["off"] for one in answers if one["off"]]
    return BeliefStanding(
        belief,
        len(answers),
        sum(one["right"] for one in answers),
        sum(one["believed"] for one in answers),
        sum(wrong) / len(wrong) if wrong else None,
        card.due,
        bool(last and last["believed"]),
    )


def _at(one: Mapping[str, Any]) -> datetime:
    return datetime.fromisoformat(one["at"]).astimezone(UTC)


def _rating(one: Mapping[str, Any]) -> Rating:
    if one["right"]:
        return Rating.Good
    near = one["off"] is not None and one["off"] <= NEARLY and not one["believed"]
    return Rating.Hard if near else Rating.Again


def next_task(store: Store, clock: Clock, chance: Random) -> Task:
    """The next task: of a belief that is due, else of one that was never asked about, else of the one that
    is due first. Its seed is new."""
    found = practised(store, clock)
    if found.due:
        wanted = found.due[0]
    elif found.fresh:
        wanted = chance.choice(found.fresh)
    else:
        wanted = found.first_due
    while True:
        seed = chance.randrange(SEEDS)
        if store.practice.of(wanted.belief.key, seed) is None:
            return task(wanted.belief.key, seed)


def answered(store: Store, belief: str, seed: int) -> tuple[Task, Answered | None]:
    """A task, and the answer that it has. Raises Refused for a task that is none."""
    asked = task(belief, seed)
    given = store.practice.of(belief, seed)
    return asked, None if given is None else Answered(asked, given)


def answer(store: Store, clock: Clock, belief: str, seed: int, given: int) -> Answered:
    """Take an answer, by its place; the first one to a task counts. Raises Refused."""
    asked = task(belief, seed)
    off = asked.off(given)
    kept = {
        "belief": belief,
        "seed": seed,
        "at": clock().astimezone(UTC).isoformat(timespec="seconds"),
        "right": given == asked.right,
        "believed": given == asked.believed,
        "off": None if off is None else round(off, 2),
    }
    with store.write_transaction():
        store.practice.add(belief, seed, kept)
        found = store.practice.of(belief, seed)
    return Answered(asked, found or kept)


def document(store: Store) -> dict[str, Any]:
    """Every answer as a document."""
    return practice_document(store.practice.all())


def import_practice(store: Store, found: Mapping[str, Any]) -> Brought:
    """Take a document's answers in; what is there already is not taken twice. Raises BadDocument."""
    answers = read_practice(found)
    with store.write_transaction():
        new = sum(_add(store, answers))
    known = len(answers) - new
    return Brought(new=_counted(new), same=_counted(known))


def _counted(answers: int) -> tuple[str, ...]:
    return (f"{answers} answer{'s' if answers != 1 else ''} to drills",) if answers else ()


def _add(store: Store, answers: Iterable[AnswerDocument]) -> Iterable[bool]:
    for one in answers:
        yield store.practice.add(one.belief, one.seed, one.model_dump(mode="json"))
