"""A task: a question made from a seed with figures that happen, its answers, pictures where they are asked
about, and why.

An answer that somebody gives who holds a belief names it. The rest are near misses."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from random import Random

from noggin.core.errors import Refused
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import signed_stops

APART: Stops = 0.3
"""Answers in stops lie at least this far apart: a third is what is dialled."""

OPTIONS = 4
"""Answers offered where they are in stops."""

SHORT = 14
"""Letters of an answer that is a word or two."""

SEEDS = 2**31
"""Seeds of tasks: 0 up to this."""


def chance_of(drill: str, seed: int) -> Random:
    """The chance from which a drill's task of a seed (0 to SEEDS − 1) is made, the same each time. Raises
    Refused."""
    if not 0 <= seed < SEEDS:
        raise Refused("seed", f"{seed} is outside 0 … {SEEDS - 1}")
    return Random(f"{drill} {seed}")  # noqa: S311 - repeatable, not secret


@dataclass(frozen=True)
class DrillAnswer:
    """One answer: in words, by how many stops it is off where it is one in stops (None: it is right or
    wrong), and the belief from which it comes (None: from none)."""

    words: str
    off: Stops | None = None
    belief: str | None = None


@dataclass(frozen=True)
class TaskPicture:
    """A picture of a task: what stands under it, what is in it for who does not see it, the way of a set-up
    that it shows, and where zones came out, where that is otherwise than by the way (with what the face has
    of daylight)."""

    caption: str
    words: str
    setup: SetUp
    way: Way
    came_out: Mapping[str, Stops] | None = None
    daylight: Stops = 0.0


@dataclass(frozen=True)
class Task:
    """What is asked: its drill and the seed it was made from, the question, its answers, which of them are
    right (several where they are as good), the reason, the beliefs that a right answer speaks against, the
    pictures that it is about, figures with which it is seen inside the shutter (None: it is not), and
    whether it `hides` what is in its pictures: it asks to see it."""

    drill: str
    seed: int
    asks: str
    answers: tuple[DrillAnswer, ...]
    right: frozenset[int]
    why: str
    beliefs: tuple[str, ...]
    pictures: tuple[TaskPicture, ...] = ()
    seen: Mapping[str, str] | None = None
    hides: bool = False

    def answer(self, given: int) -> DrillAnswer:
        """An answer by its place. Raises Refused."""
        if not 0 <= given < len(self.answers):
            raise Refused("answer", f"there is no answer {given}")
        return self.answers[given]

    @property
    def is_short(self) -> bool:
        """Whether every answer is a word or two."""
        return max(len(one.words) for one in self.answers) <= SHORT

    @property
    def right_words(self) -> str:
        """What is right, in words."""
        return " or ".join(self.answers[place].words for place in sorted(self.right))

    def belief_of(self, given: int) -> str:
        """The belief that an answer counts for: its own, else the first of the task."""
        return self.answer(given).belief or self.beliefs[0]


@dataclass(frozen=True)
class DrillQuestion:
    """A question before its answers are put in an order. `wrong` are answers with the belief each comes
    from, `as_good` what is right as well, `in_order` says that answers have an order of their own."""

    asks: str
    right: str
    wrong: tuple[tuple[str, str | None], ...]
    why: str
    as_good: tuple[str, ...] = ()
    pictures: tuple[TaskPicture, ...] = ()
    seen: Mapping[str, str] | None = None
    hides: bool = False
    in_order: bool = False

    def answers(self, chance: Random) -> Iterator[tuple[DrillAnswer, bool]]:
        """Its answers in some order, and whether each is right."""
        found = [(DrillAnswer(words), True) for words in (self.right, *self.as_good)]
        found += [(DrillAnswer(words, belief=belief), False) for words, belief in self.wrong]
        if self.in_order:
            found.sort(key=lambda one: one[0].words)
        else:
            chance.shuffle(found)
        yield from found


@dataclass(frozen=True)
class DrillQuestionInStops:
    """The same where answers are stops: the right one, and what beliefs say. `zero` is how none is said."""

    asks: str
    right: Stops
    believed: tuple[tuple[Stops, str], ...]
    why: str
    pictures: tuple[TaskPicture, ...] = ()
    seen: Mapping[str, str] | None = None
    hides: bool = False
    zero: str = "nothing changes"

    def answers(self, chance: Random) -> Iterator[tuple[DrillAnswer, bool]]:
        """The right level, the believed ones and near misses, in order; no two within APART."""
        held = dict(self.believed)
        found = [self.right, *held]
        steps = [1.0, -1.0, 0.5, -0.5, 2.0, -2.0, 3.0]
        chance.shuffle(steps)
        for miss in (self.right + step for step in steps):
            if len(found) < OPTIONS and all(abs(miss - one) >= APART for one in found):
                found.append(miss)
        for level in sorted(found):
            off = abs(level - self.right)
            words = self.zero if abs(level) < APART / 2 else signed_stops(level)
            yield DrillAnswer(words, off, held.get(level)), level == self.right


@dataclass(frozen=True)
class Drill:
    """A kind of question: its key, what it trains, the beliefs that it tells, and how a task is made of
    chance."""

    key: str
    label: str
    beliefs: tuple[str, ...]
    make: Callable[[Random], DrillQuestion | DrillQuestionInStops]

    def task(self, seed: int) -> Task:
        """The task that a seed (0 to SEEDS − 1) gives, the same each time. Raises Refused."""
        chance = chance_of(self.key, seed)
        asked = self.make(chance)
        answers = list(asked.answers(chance))
        return Task(
            self.key,
            seed,
            asked.asks,
            tuple(answer for answer, _ in answers),
            frozenset(place for place, (_, right) in enumerate(answers) if right),
            asked.why,
            self.beliefs,
            asked.pictures,
            asked.seen,
            asked.hides,
        )
