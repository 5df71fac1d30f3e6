"""Use cases, one function each. Store, clock and devices are passed in."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property
from pathlib import Path
from typing import Any

from noggin.core.errors import NogginError, Refused, Unreadable
from noggin.core.plan import Plan
from noggin.core.remedies import Remedy, remedies
from noggin.core.setup import SetUp
from noggin.core.ways import plan
from noggin.demo import demo_documents, starting_document
from noggin.documents.entry import ENTRIES, Document, Entry
from noggin.documents.faults import BadDocument, path_of
from noggin.documents.setup import normal, setup_of
from noggin.store.setups import Kept, Store

Clock = Callable[[], datetime]
"""Gives the present instant, with its time zone."""

DEMO_LOADED = "demo loaded"


class NoSuchFigure(NogginError, LookupError):
    """No figure has this key, or it cannot be stepped."""


def system_clock() -> datetime:
    """The present instant."""
    return datetime.now(UTC)


@dataclass(frozen=True)
class Pending:
    """Something typed that could not be taken: the text as typed, and why."""

    text: str
    problem: str


@dataclass(frozen=True)
class Opened:
    """A set-up on the Bench: as kept, planned, and what was typed that could not be taken."""

    id: int
    document: Mapping[str, Any]
    plan: Plan
    pending: Mapping[str, Pending]

    @property
    def setup(self) -> SetUp:
        """The set-up that was planned."""
        return self.plan.setup

    @cached_property
    def remedies(self) -> Mapping[str, tuple[Remedy, ...]]:
        """What would help each way that lacks something, worked out when it is asked for."""
        return remedies(self.plan)


def all_setups(store: Store) -> tuple[Opened, ...]:
    """Every set-up with its plan, the one worked on last first."""
    return tuple(map(_opened, store.all()))


def open_setup(store: Store, setup_id: int) -> Opened:
    """One set-up. Raises NoSuchSetUp."""
    return _opened(store.get(setup_id))


def latest_setup(store: Store) -> int | None:
    """The number of the set-up worked on last; None where there is none."""
    kept = store.latest()
    return kept.id if kept else None


def example() -> Plan:
    """A plan to show to someone who has none: that of a fresh set-up."""
    return plan(setup_of(starting_document()))


def new_setup(store: Store, clock: Clock) -> int:
    """Keep a fresh set-up that can be planned at once, and give its number."""
    return store.add(starting_document(), clock()).id


def enter(store: Store, clock: Clock, setup_id: int, key: str, text: str) -> Opened:
    """Take what was typed for one figure; keep it beside the figure when it cannot be taken.

    Figures that wait are tried again with every entry, for two that contradict the set-up alone may
    be right together. Raises NoSuchSetUp, NoSuchFigure.
    """
    _entry(key)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        return _taken(kept.document, {**kept.entries, key: text}, newest=key)

    return _opened(store.change(setup_id, change, clock()))


def step(store: Store, clock: Clock, setup_id: int, key: str, by: int) -> Opened:
    """Move one figure by so many steps of its dial. Raises NoSuchSetUp, NoSuchFigure."""
    entry = _entry(key)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        if entry.stepped is None:
            raise NoSuchFigure(f"{entry.label} has no steps.")
        setup = setup_of(dict(kept.document))
        value = entry.value(kept.document)
        if value is None:
            value = entry.start_from(setup)
        moved = entry.show(entry.stepped(setup, value, by))
        return _taken(kept.document, {**kept.entries, key: moved}, newest=key)

    return _opened(store.change(setup_id, change, clock()))


def load_demo_once(store: Store, clock: Clock) -> bool:
    """Load the demo unless that was done before; says whether it was loaded now."""
    return store.load_once(DEMO_LOADED, demo_documents(), clock())


def start_demo_over(store: Store, clock: Clock, aside: Path) -> None:
    """Copy the database aside, then put the demo's set-ups in the place of everything in it."""
    store.copy_to(aside)
    store.load_anew(DEMO_LOADED, demo_documents(), clock())


def _entry(key: str) -> Entry:
    try:
        return ENTRIES[key]
    except KeyError:
        raise NoSuchFigure(f"There is no figure ‘{key}’.") from None


def _opened(kept: Kept) -> Opened:
    pending = {}
    for key, text in kept.entries.items():
        problem = _problem(kept.document, ENTRIES[key], text)
        pending[key] = Pending(text, problem or "was not taken; try it again")
    return Opened(kept.id, kept.document, plan(setup_of(dict(kept.document))), pending)


def _taken(
    document: Document, entries: Mapping[str, str], newest: str
) -> tuple[Document, Mapping[str, str]]:
    """The document with every entry that can be taken, and the entries that still wait."""
    together = _with(document, entries)
    if together is not None:
        return together, {}
    waiting = dict(entries)
    for key in sorted(entries, key=lambda key: key != newest):
        alone = _with(document, {key: entries[key]})
        if alone is not None:
            document = alone
            del waiting[key]
    return document, waiting


def _with(document: Document, entries: Mapping[str, str]) -> Document | None:
    try:
        return _entered(document, entries)
    except (Unreadable, Refused, BadDocument):
        return None


def _entered(document: Document, entries: Mapping[str, str]) -> Document:
    changed = document
    for key, text in entries.items():
        entry = ENTRIES[key]
        changed = entry.put(changed, entry.parsed(text))
    return normal(dict(changed))


def _problem(document: Document, entry: Entry, text: str) -> str | None:
    """Why this text cannot be taken for this figure, in words to stand beside it."""
    try:
        _entered(document, {entry.key: text})
    except Unreadable as error:
        return str(error)
    except Refused as error:
        return error.problem
    except BadDocument as error:
        own = path_of(entry.document_path(document))
        labels = {path_of(e.document_path(document)): e.label for e in ENTRIES.values()}
        fault = error.faults[0]
        if fault.path.startswith(own):
            return fault.problem
        return f"{labels.get(fault.path, fault.path)}: {fault.problem}"
    return None
