"""Where a visit begins: the next shoot and what it still needs, what was worked on last; and for who has
nothing yet, three questions that lead to a plan."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from noggin.core.clock import apart
from noggin.core.pops.faults import MEASURED
from noggin.core.shoot.timetable import known_name, left_behind
from noggin.core.wording import lasting
from noggin.demo import starting_document
from noggin.forms.change import with_estimate
from noggin.forms.entry import Entry
from noggin.services.clock import Clock
from noggin.services.day.shoots import Mistyped, PlacedSetUp, ShootDay, next_shoot
from noggin.services.keeping import kept
from noggin.services.keeping.results import ListedSetUp, listed
from noggin.services.setups.setups import SETUPS
from noggin.store.store import Store

RECENT = 5
"""Set-ups worked on last that are shown."""


@dataclass(frozen=True)
class Today:
    """What is next, what it still needs, and where one was.

    `ahead` says how long it is until the next shoot, `unmeasured` names the lights of it whose power nobody
    measured with their numbers in the kit (None: not in it), `missing` what is not in its bag, `no_way`
    the set-ups that no method works for.
    """

    day: ShootDay | None
    ahead: str
    unmeasured: tuple[tuple[str, int | None], ...]
    missing: tuple[str, ...]
    no_way: tuple[PlacedSetUp, ...]
    recent: tuple[ListedSetUp, ...]


def today(store: Store, clock: Clock) -> Today:
    """The start of a visit."""
    now = clock()
    with store.read_transaction():
        recent = listed(store, most=RECENT)[0]
        day = next_shoot(store, now)
        if day is None:
            return Today(None, "", (), (), (), recent)
        slots = [placed.slot for placed in day.slots if placed.slot]
        return Today(
            day,
            ahead_words(now, day),
            tuple(_unmeasured(store, day)),
            tuple(left_behind(slots, day.along)) if day.packed else (),
            tuple(placed for placed in day.slots if placed.way and not placed.way.advisable),
            recent,
        )


def ahead_words(now: datetime, day: ShootDay) -> str:
    """How long it is until a shoot begins: in days, from the eve of it in hours, at last in minutes."""
    begins, here = day.begins, now.astimezone(day.zone)
    if begins <= now:
        return "now"
    days = (begins.date() - here.date()).days
    if days > 1:
        return f"in {days} days"
    ahead = apart(now, begins)
    if days == 1 and ahead > timedelta(hours=12):
        return f"tomorrow at {begins:%H:%M}"
    return f"in {lasting(ahead)}"


def _unmeasured(store: Store, day: ShootDay) -> Iterator[tuple[str, int | None]]:
    """The lights of a day whose guide number was not measured, each once. What counts is the figure that
    the set-up has: a class stays a class though a light of that name was measured."""
    gear = {item["name"]: number for number, item in _gear(store)}
    named = {
        known_name(light.name, gear)
        for placed in day.slots
        if placed.slot
        for light in placed.slot.setup.lights
        if light.name and light.uncertainty.gn > MEASURED
    }
    for name in sorted(named):
        yield name, gear.get(name)


def _gear(store: Store) -> Iterator[tuple[int, dict[str, Any]]]:
    for number, text in store.gear.texts().items():
        yield number, json.loads(text)


@dataclass(frozen=True)
class Question:
    """One of the three questions: what is asked, and the figures of a set-up that answer it."""

    asks: str
    keys: tuple[str, ...]


QUESTIONS = (
    Question("What do you bring?", ("camera", "lens", "class-0", "modifier-0")),
    Question("Where and when?", ("where", "day", "clock", "sky_kind")),
    Question("What picture?", ("framing", "mood", "aperture")),
)
"""In the order in which they are asked."""


@dataclass(frozen=True)
class Asked:
    """A question's figure as it is asked: its entry, what is answered so far, and what is wrong with it."""

    entry: Entry
    text: str
    options: Mapping[str, str]
    problem: str


def asked(
    store: Store, answers: Mapping[str, str], problems: Mapping[str, str]
) -> tuple[tuple[Question, tuple[Asked, ...]], ...]:
    """The questions with what was answered, else with what a fresh set-up has."""
    document = starting_document()
    entries = SETUPS.entries(store)(document)

    def one(key: str) -> Asked:
        entry = entries[key]
        options = {value: label for value, label in (entry.choices or {}).items() if value}
        return Asked(entry, answers.get(key, entry.text(document)), options, problems.get(key, ""))

    return tuple((question, tuple(map(one, question.keys))) for question in QUESTIONS)


def first_setup(store: Store, clock: Clock, answers: Mapping[str, str]) -> int:
    """A set-up from the answers to the three questions; its number. With place and time its light is
    estimated, else it is assumed. Raises Mistyped."""
    form = SETUPS.form(store)
    typed = {key: answers.get(key, "").strip() for question in QUESTIONS for key in question.keys}
    nowhere = not typed["where"]
    typed = {key: text for key, text in typed.items() if text and not (nowhere and key == "sky_kind")}
    with store.write_transaction():
        document, waiting = form.taken(starting_document(), typed, newest="")
        if waiting:
            entries = {key: form.entry(document, key) for key in waiting}
            raise Mistyped(
                {key: form.problem(document, entries[key], waiting[key], waiting) for key in waiting}
            )
        if document["scene"].get("place"):
            document = form.canonical(with_estimate(document))
        return kept.add(store, clock, SETUPS, document).id
