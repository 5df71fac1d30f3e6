"""Drills as use cases: which comes next, an answer taken, how one stands, all of it as an open document.

How one stands is worked out from the answers alone, which are only ever added."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Any

from fsrs import Card, Rating, Scheduler

from noggin.core.errors import Refused
from noggin.core.practice.assignments import CAMERA_DRILLS, CameraDrill
from noggin.core.practice.beliefs import BELIEFS, BY_KEY, Belief
from noggin.core.practice.cases import CASES
from noggin.core.practice.controls import MOVED
from noggin.core.practice.drills import DRILLS, task
from noggin.core.practice.light_reading import LIGHT_SEEN
from noggin.core.practice.questions import QUESTIONS
from noggin.core.practice.task import SEEDS, Drill, Task
from noggin.core.units import Stops
from noggin.documents.practice import AnswerDocument, practice_document, read_practice
from noggin.services.clock import Clock
from noggin.services.keeping.kept import Brought
from noggin.store.store import Store

__all__ = [
    "BY_KEY",
    "EVERY",
    "SHELVES",
    "Answered",
    "BeliefStanding",
    "answer",
    "answered",
    "document",
    "import_practice",
    "keep",
    "kept_answer",
    "new_seed",
    "next_drill",
    "now_text",
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
    given: AnswerDocument

    @property
    def belief(self) -> Belief:
        """The belief that the answer counts for."""
        return BY_KEY[self.given.belief]


def practised(store: Store, clock: Clock) -> Practised:
    """How one stands now."""
    return Practised(standing(store), clock())


def standing(store: Store) -> tuple[BeliefStanding, ...]:
    """How one stands with every belief, in their order."""
    by_belief: dict[str, list[AnswerDocument]] = {belief.key: [] for belief in BELIEFS}
    for one in map(AnswerDocument.model_validate, store.practice.all()):
        for belief in one.speaks_against if one.right else (one.belief,):
            by_belief[belief].append(one)
    return tuple(_standing(BY_KEY[key], answers) for key, answers in by_belief.items())


def _standing(belief: Belief, answers: list[AnswerDocument]) -> BeliefStanding:
    if not answers:
        return BeliefStanding(belief)
    card = Card(card_id=1)
    in_order = sorted(answers, key=_at)
    for one in in_order:
        card, _ = SCHEDULER.review_card(card, _rating(one), _at(one))
    wrong = [one.off for one in answers if one.off]
    return BeliefStanding(
        belief,
        len(answers),
        sum(one.right for one in answers),
        sum(one.believed for one in answers),
        sum(wrong) / len(wrong) if wrong else None,
        card.due,
        in_order[-1].believed,
    )


def _at(one: AnswerDocument) -> datetime:
    return datetime.fromisoformat(one.at).astimezone(UTC)


def _rating(one: AnswerDocument) -> Rating:
    if one.right:
        return Rating.Good
    near = one.off is not None and one.off <= NEARLY and not one.believed
    return Rating.Hard if near else Rating.Again


def next_drill(store: Store, clock: Clock, chance: Random) -> tuple[str, int]:
    """The next drill and a seed that is new: one of a belief that is due, else the one that tells most of
    the beliefs that were never asked about, else one of the belief that is due first."""
    found = practised(store, clock)
    if found.fresh and not found.due:
        fresh = {one.belief.key for one in found.fresh}
        told = {key: len(fresh & {*drill.beliefs}) for key, drill in DRILLS.items()}
        fit = [key for key, count in told.items() if count == max(told.values())]
    else:
        wanted = found.due[0] if found.due else found.first_due
        fit = [key for key, drill in EVERY.items() if wanted.belief.key in drill.beliefs]
    drill = chance.choice(fit)
    return drill, new_seed(store, drill, chance)


EVERY: dict[str, Drill | CameraDrill] = {**DRILLS, **CAMERA_DRILLS}
"""Every drill, with questions or with a camera."""

SHELVES: tuple[tuple[str, tuple[Drill | CameraDrill, ...]], ...] = (
    ("With the camera", tuple(CAMERA_DRILLS.values())),
    ("Cases", CASES),
    ("What moved", MOVED),
    ("Read the light", LIGHT_SEEN),
    ("In words and figures", QUESTIONS),
)
"""All of them by what they are done with."""


def new_seed(store: Store, drill: str, chance: Random) -> int:
    """A seed of a drill that was not answered yet. Raises Refused for a drill that is none."""
    if drill not in EVERY:
        raise Refused("drill", f"there is no drill '{drill}'")
    while True:
        seed = chance.randrange(SEEDS)
        if store.practice.of(drill, seed) is None:
            return seed


def kept_answer(store: Store, drill: str, seed: int) -> AnswerDocument | None:
    """The answer that a task has; None where it has none."""
    given = store.practice.of(drill, seed)
    return None if given is None else AnswerDocument.model_validate(given)


def answered(store: Store, drill: str, seed: int) -> tuple[Task, Answered | None]:
    """A task, and the answer that it has. Raises Refused for a task that is none."""
    asked, given = task(drill, seed), kept_answer(store, drill, seed)
    return asked, None if given is None else Answered(asked, given)


def answer(store: Store, clock: Clock, drill: str, seed: int, given: int) -> Answered:
    """Take an answer, by its place; the first one to a task counts. Raises Refused."""
    asked = task(drill, seed)
    chosen = asked.answer(given)
    kept = keep(
        store,
        AnswerDocument(
            drill=drill,
            belief=asked.belief_of(given),
            seed=seed,
            at=now_text(clock),
            right=given in asked.right,
            believed=chosen.belief is not None,
            off=None if chosen.off is None else round(chosen.off, 2),
            against=list(asked.beliefs),
        ),
    )
    return Answered(asked, kept)


def now_text(clock: Clock) -> str:
    """Now, as answers have it."""
    return clock().astimezone(UTC).isoformat(timespec="seconds")


def keep(store: Store, given: AnswerDocument) -> AnswerDocument:
    """Keep an answer to a task, unless it has one: the one that it has now."""
    with store.write_transaction():
        store.practice.add(given.drill_key, given.seed, given.model_dump(mode="json"))
        return kept_answer(store, given.drill_key, given.seed) or given


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
        yield store.practice.add(one.drill_key, one.seed, one.model_dump(mode="json"))
