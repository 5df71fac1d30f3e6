"""Documents kept, with the steps they took: the queries, each in one transaction."""

import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import Engine
from sqlmodel import Session, col, delete, select

from noggin.core.errors import NogginError
from noggin.store.engine import open_engine
from noggin.store.tables import KeptRow, MarkRow, MeasurementRow, StepRow

ONE_GO = timedelta(seconds=3)
"""Entries of the same figure that follow one another this closely are one step to undo."""

STEPS_KEPT = 200
"""Steps of a document that can be undone; older ones are forgotten."""

KINDS = {"setup": "set-up", "gear": "piece of gear", "bag": "bag", "shoot": "shoot"}
"""Kinds of document that are kept, and what one is called."""


class NotKept(NogginError, LookupError):
    """No document of this kind has this number."""


class NoSuchStep(NogginError, LookupError):
    """There is nothing to undo or to do again."""


@dataclass(frozen=True)
class Step:
    """What leads to a state: words for it, and the key of the figure that was entered ("" for others)."""

    label: str
    figure: str = ""


UNNAMED = Step("")
"""A step that nobody named."""


@dataclass(frozen=True)
class Kept:
    """A document as it is kept. `entries` is what was typed and not taken, by the figure's key; `undo` and
    `redo` are the steps that can be taken back and done again, `pinned` a version to compare with."""

    id: int
    document: Mapping[str, Any]
    entries: Mapping[str, str]
    revision: int
    undo: Step | None = None
    redo: Step | None = None
    pinned: Mapping[str, Any] | None = None


Change = Callable[[Kept], tuple[Mapping[str, Any], Mapping[str, str]]]
"""From what is kept to the new document and entries."""

Documents = Mapping[str, Sequence[Mapping[str, Any]]]
"""Documents by kind."""


class Shelf:
    """The documents of one kind."""

    def __init__(self, engine: Engine, kind: str) -> None:
        self._engine, self._kind = engine, kind

    def all(self) -> tuple[Kept, ...]:
        """Every one, the one worked on last first."""
        with _session(self._engine) as session:
            return tuple(_kept(row) for row in session.exec(self._latest_first()))

    def texts(self) -> dict[int, str]:
        """Every document as its text, by its number: to know fast whether anything has changed."""
        present = select(KeptRow.id, KeptRow.document).where(
            KeptRow.kind == self._kind, col(KeptRow.removed_at).is_(None)
        )
        with _session(self._engine) as session:
            return {number: text for number, text in session.exec(present) if number is not None}

    def removed(self) -> tuple[Kept, ...]:
        """Those that were laid aside, the last one first."""
        laid_aside = self._of_kind().where(col(KeptRow.removed_at).is_not(None))
        with _session(self._engine) as session:
            rows = session.exec(laid_aside.order_by(col(KeptRow.removed_at).desc()))
            return tuple(_kept(row) for row in rows)

    def latest(self) -> Kept | None:
        """The one worked on last."""
        with _session(self._engine) as session:
            row = session.exec(self._latest_first().limit(1)).first()
            return _kept(row) if row else None

    def get(self, kept_id: int) -> Kept:
        """One document. Raises NotKept."""
        with _session(self._engine) as session:
            return _kept_with_steps(session, self._row(session, kept_id))

    def add(self, document: Mapping[str, Any], now: datetime) -> Kept:
        """Keep a new one."""
        with _session(self._engine) as session:
            return _kept(_new_row(session, self._kind, document, now))

    def change(self, kept_id: int, change: Change, now: datetime, step: Step = UNNAMED) -> Kept:
        """Read, change and write one document with nobody in between; what changes it is a step that can
        be undone. Raises NotKept."""
        with _session(self._engine) as session:
            row = self._row(session, kept_id)
            document, entries = change(_kept(row))
            written = json.dumps(document)
            if written != row.document:
                _take_step(session, row, written, step, now)
            row.document, row.entries = written, json.dumps(dict(entries))
            return _touched(session, row, now)

    def move(self, kept_id: int, by: int, now: datetime) -> Kept:
        """Undo (`by` -1) or do again (+1) one step; what waits beside figures is dropped.

        Raises NotKept, NoSuchStep.
        """
        with _session(self._engine) as session:
            row = self._row(session, kept_id)
            to = _step(session, row, row.step + by)
            if to is None:
                raise NoSuchStep("There is nothing to undo." if by < 0 else "There is nothing to do again.")
            row.step, row.document, row.entries = to.number, to.document, "{}"
            return _touched(session, row, now)

    def pin(self, kept_id: int, pinned: bool, now: datetime) -> Kept:
        """Keep the present version to compare with, or let it go. Raises NotKept."""
        with _session(self._engine) as session:
            row = self._row(session, kept_id)
            row.pinned = row.document if pinned else None
            return _touched(session, row, now)

    def remove(self, kept_id: int, now: datetime) -> None:
        """Lay one aside; it can be brought back. Raises NotKept."""
        with _session(self._engine) as session:
            row = self._row(session, kept_id)
            row.removed_at = now
            session.add(row)

    def bring_back(self, kept_id: int, now: datetime) -> Kept:
        """Bring back what was laid aside. Raises NotKept."""
        with _session(self._engine) as session:
            row = session.get(KeptRow, kept_id)
            if row is None or row.kind != self._kind or row.removed_at is None:
                raise NotKept(f"No {KINDS[self._kind]} {kept_id} was laid aside.")
            row.removed_at = None
            return _touched(session, row, now)

    def _of_kind(self) -> Any:
        return select(KeptRow).where(KeptRow.kind == self._kind)

    def _latest_first(self) -> Any:
        present = self._of_kind().where(col(KeptRow.removed_at).is_(None))
        return present.order_by(col(KeptRow.changed_at).desc(), col(KeptRow.id))

    def _row(self, session: Session, kept_id: int) -> KeptRow:
        row = session.get(KeptRow, kept_id)
        if row is None or row.kind != self._kind or row.removed_at is not None:
            raise NotKept(f"There is no {KINDS[self._kind]} {kept_id}.")
        return row


class Measurements:
    """Readings of gear and what they said. They are only ever added: raw readings are never lost."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def of(self, gear_id: int) -> tuple[tuple[int, Mapping[str, Any]], ...]:
        """Number and document of every measurement of a piece of gear, the first one first."""
        wanted = select(MeasurementRow).where(MeasurementRow.gear_id == gear_id)
        with _session(self._engine) as session:
            rows = session.exec(wanted.order_by(col(MeasurementRow.id)))
            return tuple((row.id or 0, json.loads(row.document)) for row in rows)

    def add(self, gear_id: int, document: Mapping[str, Any]) -> int:
        """Keep one for good; its number."""
        with _session(self._engine) as session:
            row = MeasurementRow(gear_id=gear_id, document=json.dumps(document))
            session.add(row)
            session.flush()
            return row.id or 0


class Store:
    """The database of one photographer: a shelf for each kind of document."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self.setups = Shelf(engine, "setup")
        self.gear = Shelf(engine, "gear")
        self.bags = Shelf(engine, "bag")
        self.shoots = Shelf(engine, "shoot")
        self.measurements = Measurements(engine)

    @classmethod
    def on_file(cls, path: Path) -> "Store":
        """The store on a file, made or brought up to date as needed."""
        return cls(open_engine(path))

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    def load_once(self, mark: str, documents: Documents, now: datetime) -> bool:
        """Keep these documents unless the mark is set, and set it; says whether they were kept."""
        with _session(self._engine) as session:
            if session.get(MarkRow, mark):
                return False
            _load(session, mark, documents, now)
            return True

    def load_anew(self, mark: str, documents: Documents, now: datetime) -> None:
        """Put these documents in the place of everything that is kept, and set the mark."""
        with _session(self._engine) as session:
            session.exec(delete(KeptRow))
            session.exec(delete(MarkRow))
            _load(session, mark, documents, now)

    def copy_to(self, path: Path) -> None:
        """Write a whole copy of the database to a new file."""
        connection = self._engine.raw_connection()
        try:
            connection.cursor().execute("VACUUM INTO ?", (str(path),))
        finally:
            connection.close()


@contextmanager
def _session(engine: Engine) -> Iterator[Session]:
    with Session(engine) as session, session.begin():
        yield session


def _new_row(session: Session, kind: str, document: Mapping[str, Any], now: datetime) -> KeptRow:
    written = json.dumps(document)
    row = KeptRow(kind=kind, document=written, entries="{}", revision=1, changed_at=now)
    session.add(row)
    session.flush()
    assert row.id is not None  # noqa: S101 - it was flushed
    session.add(_step_row(row.id, 1, written, Step("new"), now))
    session.flush()
    return row


def _step_row(kept_id: int, number: int, written: str, step: Step, now: datetime) -> StepRow:
    return StepRow(
        kept_id=kept_id,
        number=number,
        document=written,
        figure=step.figure,
        label=step.label,
        taken_at=now,
    )


def _take_step(session: Session, row: KeptRow, written: str, step: Step, now: datetime) -> None:
    """Record a new state after the present one; what had been undone is gone, and entries of one figure
    in one go are one step."""
    assert row.id is not None  # noqa: S101 - it was read
    present, of_row = _step(session, row, row.step), col(StepRow.kept_id) == row.id
    if _step(session, row, row.step + 1):
        session.exec(delete(StepRow).where(of_row, col(StepRow.number) > row.step))
    if present and step.figure and present.figure == step.figure and _since(present, now) <= ONE_GO:
        present.document, present.taken_at = written, now
        session.add(present)
        return
    row.step += 1
    session.add(_step_row(row.id, row.step, written, step, now))
    if row.step > STEPS_KEPT:
        session.exec(delete(StepRow).where(of_row, col(StepRow.number) <= row.step - STEPS_KEPT))


def _since(step: StepRow, now: datetime) -> timedelta:
    taken = step.taken_at  # SQLite gives instants back without their zone; all are kept in UTC
    return now - (taken if taken.tzinfo else taken.replace(tzinfo=UTC))


def _step(session: Session, row: KeptRow, number: int) -> StepRow | None:
    wanted = select(StepRow).where(StepRow.kept_id == row.id, StepRow.number == number)
    return session.exec(wanted).first()


def _touched(session: Session, row: KeptRow, now: datetime) -> Kept:
    row.revision += 1
    row.changed_at = now
    session.add(row)
    session.flush()
    return _kept_with_steps(session, row)


def _kept_with_steps(session: Session, row: KeptRow) -> Kept:
    """A set-up with what can be undone (the step that led here, where one stands before it) and done
    again."""
    around = select(StepRow.number, StepRow.label, StepRow.figure).where(
        StepRow.kept_id == row.id, col(StepRow.number).between(row.step - 1, row.step + 1)
    )
    found = {number: Step(label, figure) for number, label, figure in session.exec(around)}
    undo = found.get(row.step) if row.step - 1 in found else None
    return replace(_kept(row), undo=undo, redo=found.get(row.step + 1))


def _load(session: Session, mark: str, documents: Documents, now: datetime) -> None:
    session.add(MarkRow(name=mark))
    for kind, of_kind in documents.items():
        for document in of_kind:  # one instant for all, so that the first of the day stands first
            _new_row(session, kind, document, now)


def _kept(row: KeptRow) -> Kept:
    assert row.id is not None  # noqa: S101 - a row that was read or flushed has its number
    pinned = None if row.pinned is None else json.loads(row.pinned)
    return Kept(row.id, json.loads(row.document), json.loads(row.entries), row.revision, pinned=pinned)
