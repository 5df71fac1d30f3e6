"""Set-ups kept: the queries, each in one transaction."""

import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from sqlalchemy import Engine
from sqlmodel import Session, col, delete, select

from noggin.core.errors import NogginError
from noggin.store.engine import open_engine
from noggin.store.tables import MarkRow, SetUpRow


class NoSuchSetUp(NogginError, LookupError):
    """No set-up has this number."""


@dataclass(frozen=True)
class Kept:
    """A set-up as it is kept. `entries` is what was typed and not taken, by the figure's key."""

    id: int
    document: Mapping[str, Any]
    entries: Mapping[str, str]
    revision: int


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

    def latest(self) -> Kept | None:
        """The set-up worked on last."""
        with self._session() as session:
            row = session.exec(_latest_first().limit(1)).first()
            return _kept(row) if row else None

    def get(self, setup_id: int) -> Kept:
        """One set-up. Raises NoSuchSetUp."""
        with self._session() as session:
            return _kept(_row(session, setup_id))

    def add(self, document: Mapping[str, Any], now: datetime) -> Kept:
        """Keep a new set-up."""
        with self._session() as session:
            row = _new_row(document, now)
            session.add(row)
            session.flush()
            return _kept(row)

    def change(self, setup_id: int, change: Change, now: datetime) -> Kept:
        """Read, change and write one set-up with nobody in between. Raises NoSuchSetUp."""
        with self._session() as session:
            row = _row(session, setup_id)
            document, entries = change(_kept(row))
            row.document, row.entries = json.dumps(document), json.dumps(dict(entries))
            row.revision += 1
            row.changed_at = now
            session.add(row)
            session.flush()
            return _kept(row)

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


def _new_row(document: Mapping[str, Any], now: datetime) -> SetUpRow:
    return SetUpRow(document=json.dumps(document), entries="{}", revision=1, changed_at=now)


def _load(session: Session, mark: str, documents: Sequence[Mapping[str, Any]], now: datetime) -> None:
    session.add(MarkRow(name=mark))
    for document in documents:  # one instant for all, so that the first of the day stands first
        session.add(_new_row(document, now))
        session.flush()


def _latest_first() -> Any:
    return select(SetUpRow).order_by(col(SetUpRow.changed_at).desc(), col(SetUpRow.id))


def _row(session: Session, setup_id: int) -> SetUpRow:
    row = session.get(SetUpRow, setup_id)
    if row is None:
        raise NoSuchSetUp(f"There is no set-up {setup_id}.")
    return row


def _kept(row: SetUpRow) -> Kept:
    assert row.id is not None  # noqa: S101 - a row that was read or flushed has its number
    return Kept(row.id, json.loads(row.document), json.loads(row.entries), row.revision)
