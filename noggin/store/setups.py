"""Set-ups kept, with the steps they took: the queries, each in one transaction."""

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
from noggin.store.tables import MarkRow, SetUpRow, StepRow

ONE_GO = timedelta(seconds=3)
"""Entries of the same figure that follow one another this closely are one step to undo."""

STEPS_KEPT = 200
"""Steps of a set-up that can be undone; older ones are forgotten."""


class NoSuchSetUp(NogginError, LookupError):
    """No set-up has this number."""


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
    """A set-up as it is kept. `entries` is what was typed and not taken, by the figure's key; `undo` and
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


class Store:
    """The database of one photographer."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    @classmethod
    def on_file(cls, path: Path) -> "Store":
        """The store on a file, made or brought up to date as needed."""
        return cls(open_engine(path))

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    def all(self) -> tuple[Kept, ...]:
        """Every set-up, the one worked on last first."""
        with self._session() as session:
            return tuple(_kept(row) for row in session.exec(_latest_first()))

    def removed(self) -> tuple[Kept, ...]:
        """Set-ups that were laid aside, the last one first."""
        laid_aside = select(SetUpRow).where(col(SetUpRow.removed_at).is_not(None))
        with self._session() as session:
            rows = session.exec(laid_aside.order_by(col(SetUpRow.removed_at).desc()))
            return tuple(_kept(row) for row in rows)

    def latest(self) -> Kept | None:
        """The set-up worked on last."""
        with self._session() as session:
            row = session.exec(_latest_first().limit(1)).first()
            return _kept(row) if row else None

    def get(self, setup_id: int) -> Kept:
        """One set-up. Raises NoSuchSetUp."""
        with self._session() as session:
            return _kept_with_steps(session, _row(session, setup_id))

    def add(self, document: Mapping[str, Any], now: datetime) -> Kept:
        """Keep a new set-up."""
        with self._session() as session:
            return _kept(_new_row(session, document, now))

    def change(self, setup_id: int, change: Change, now: datetime, step: Step = UNNAMED) -> Kept:
        """Read, change and write one set-up with nobody in between; what changes the document is a step
        that can be undone. Raises NoSuchSetUp."""
        with self._session() as session:
            row = _row(session, setup_id)
            document, entries = change(_kept(row))
            written = json.dumps(document)
            if written != row.document:
                _take_step(session, row, written, step, now)
            row.document, row.entries = written, json.dumps(dict(entries))
            return _touched(session, row, now)

    def move(self, setup_id: int, by: int, now: datetime) -> Kept:
        """Undo (`by` -1) or do again (+1) one step; what waits beside figures is dropped.

        Raises NoSuchSetUp, NoSuchStep.
        """
        with self._session() as session:
            row = _row(session, setup_id)
            to = _step(session, row, row.step + by)
            if to is None:
                raise NoSuchStep("There is nothing to undo." if by < 0 else "There is nothing to do again.")
            row.step, row.document, row.entries = to.number, to.document, "{}"
            return _touched(session, row, now)

    def pin(self, setup_id: int, pinned: bool, now: datetime) -> Kept:
        """Keep the present version to compare with, or let it go. Raises NoSuchSetUp."""
        with self._session() as session:
            row = _row(session, setup_id)
            row.pinned = row.document if pinned else None
            return _touched(session, row, now)

    def remove(self, setup_id: int, now: datetime) -> None:
        """Lay a set-up aside; it can be brought back. Raises NoSuchSetUp."""
        with self._session() as session:
            row = _row(session, setup_id)
            row.removed_at = now
            session.add(row)

    def bring_back(self, setup_id: int, now: datetime) -> Kept:
        """Bring back a set-up that was laid aside. Raises NoSuchSetUp."""
        with self._session() as session:
            row = session.get(SetUpRow, setup_id)
            if row is None or row.removed_at is None:
                raise NoSuchSetUp(f"No set-up {setup_id} was laid aside.")
            row.removed_at = None
            return _touched(session, row, now)

    def load_once(self, mark: str, documents: Sequence[Mapping[str, Any]], now: datetime) -> bool:
        """Keep these set-ups unless the mark is set, and set it; says whether they were kept."""
        with self._session() as session:
            if session.get(MarkRow, mark):
                return False
            _load(session, mark, documents, now)
            return True

    def load_anew(self, mark: str, documents: Sequence[Mapping[str, Any]], now: datetime) -> None:
        """Put these set-ups in the place of everything that is kept, and set the mark."""
        with self._session() as session:
            session.exec(delete(SetUpRow))
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
    def _session(self) -> Iterator[Session]:
        with Session(self._engine) as session, session.begin():
            yield session


def _new_row(session: Session, document: Mapping[str, Any], now: datetime) -> SetUpRow:
    written = json.dumps(document)
    row = SetUpRow(document=written, entries="{}", revision=1, changed_at=now)
    session.add(row)
    session.flush()
    assert row.id is not None  # noqa: S101 - it was flushed
    session.add(_step_row(row.id, 1, written, Step("new"), now))
    session.flush()
    return row


def _step_row(setup_id: int, number: int, written: str, step: Step, now: datetime) -> StepRow:
    return StepRow(
        setup_id=setup_id,
        number=number,
        document=written,
        figure=step.figure,
        label=step.label,
        taken_at=now,
    )


def _take_step(session: Session, row: SetUpRow, written: str, step: Step, now: datetime) -> None:
    """Record a new state after the present one; what had been undone is gone, and entries of one figure
    in one go are one step."""
    assert row.id is not None  # noqa: S101 - it was read
    present, of_row = _step(session, row, row.step), col(StepRow.setup_id) == row.id
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


def _step(session: Session, row: SetUpRow, number: int) -> StepRow | None:
    wanted = select(StepRow).where(StepRow.setup_id == row.id, StepRow.number == number)
    return session.exec(wanted).first()


def _touched(session: Session, row: SetUpRow, now: datetime) -> Kept:
    row.revision += 1
    row.changed_at = now
    session.add(row)
    session.flush()
    return _kept_with_steps(session, row)


def _kept_with_steps(session: Session, row: SetUpRow) -> Kept:
    """A set-up with what can be undone (the step that led here, where one stands before it) and done
    again."""
    around = select(StepRow.number, StepRow.label, StepRow.figure).where(
        StepRow.setup_id == row.id, col(StepRow.number).between(row.step - 1, row.step + 1)
    )
    found = {number: Step(label, figure) for number, label, figure in session.exec(around)}
    undo = found.get(row.step) if row.step - 1 in found else None
    return replace(_kept(row), undo=undo, redo=found.get(row.step + 1))


def _load(session: Session, mark: str, documents: Sequence[Mapping[str, Any]], now: datetime) -> None:
    session.add(MarkRow(name=mark))
    for document in documents:  # one instant for all, so that the first of the day stands first
        _new_row(session, document, now)


def _latest_first() -> Any:
    present = select(SetUpRow).where(col(SetUpRow.removed_at).is_(None))
    return present.order_by(col(SetUpRow.changed_at).desc(), col(SetUpRow.id))


def _row(session: Session, setup_id: int) -> SetUpRow:
    row = session.get(SetUpRow, setup_id)
    if row is None or row.removed_at is not None:
        raise NoSuchSetUp(f"There is no set-up {setup_id}.")
    return row


def _kept(row: SetUpRow) -> Kept:
    assert row.id is not None  # noqa: S101 - a row that was read or flushed has its number
    pinned = None if row.pinned is None else json.loads(row.pinned)
    return Kept(row.id, json.loads(row.document), json.loads(row.entries), row.revision, pinned=pinned)
