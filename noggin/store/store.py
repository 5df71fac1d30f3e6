"""The database of one photographer: everything that is kept, in one place."""

import json
import os
from collections.abc import Mapping
from contextlib import AbstractContextManager, closing, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from sqlalchemy import Engine
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, delete, select

from noggin.store import database_file
from noggin.store.engine import open_engine
from noggin.store.errors import DATABASE_ERRORS, StoreFailed
from noggin.store.frames import Frames, Takes
from noggin.store.guide import Guides
from noggin.store.photographs import Photographs
from noggin.store.practice import PracticeAnswers
from noggin.store.repository import KeptDocument, Repository, kept_of
from noggin.store.tables import FrameRow, KeptRow, MarkRow, MeasurementRow, PhotographRow, ResultRow
from noggin.store.transactions import Transactions

_RESULT = insert(ResultRow)
_PUT_RESULT = _RESULT.on_conflict_do_update(
    index_elements=["kept_id"],
    set_={name: _RESULT.excluded[name] for name in ("revision", "rules", "result")},
)


class Results:
    """What planning gave, kept beside the document it came from."""

    def __init__(self, transactions: Transactions) -> None:
        self._transactions = transactions

    def put(self, kept: KeptDocument, rules: int, result: Mapping[str, Any]) -> None:
        """Keep a result at its document's present revision."""
        given = {"revision": kept.revision, "rules": rules, "result": json.dumps(result)}
        with self._transactions.write_transaction() as session:
            session.connection().execute(_PUT_RESULT, {"kept_id": kept.id, **given})

    def stale(self, kind: str, rules: int, most: int) -> tuple[KeptDocument, ...]:
        """Some documents of a kind, archived ones too, whose result is missing, or of another revision or
        other rules."""
        fresh = (col(ResultRow.revision) == col(KeptRow.revision)) & (col(ResultRow.rules) == rules)
        wanted = select(KeptRow).outerjoin(ResultRow, (col(ResultRow.kept_id) == col(KeptRow.id)) & fresh)
        wanted = wanted.where(KeptRow.kind == kind, col(ResultRow.kept_id).is_(None)).limit(most)
        with self._transactions.read_transaction() as session:
            return tuple(kept_of(row) for row in session.exec(wanted))


class Measurements:
    """Readings of gear and what they said. They are only ever added: raw readings are never lost."""

    def __init__(self, transactions: Transactions) -> None:
        self._transactions = transactions

    def of(self, gear_id: int) -> tuple[tuple[int, Mapping[str, Any]], ...]:
        """Number and document of every measurement of a piece of gear, the first one first."""
        wanted = select(MeasurementRow).where(MeasurementRow.gear_id == gear_id)
        with self._transactions.read_transaction() as session:
            rows = session.exec(wanted.order_by(col(MeasurementRow.id)))
            return tuple((row.id or 0, json.loads(row.document)) for row in rows)

    def add(self, gear_id: int, document: Mapping[str, Any]) -> int:
        """Keep one for good; its number, which is that of the same one where it was kept before."""
        with self._transactions.write_transaction() as session:
            same = select(MeasurementRow.id).where(
                MeasurementRow.gear_id == gear_id, MeasurementRow.document == json.dumps(document)
            )
            known = session.exec(same).first()
            if known is not None:
                return known
            row = MeasurementRow(gear_id=gear_id, document=json.dumps(document))
            session.add(row)
            session.flush()
            return row.id or 0


SET_ASIDE = "unreadable/"
"""Stands before the kind of a document that was set aside."""


@dataclass(frozen=True)
class RawDocument:
    """A document as it lies in the file."""

    id: int
    kind: str
    name: str
    text: str


class Store:
    """The database of one photographer: a repository for each kind of document."""

    def __init__(self, engine: Engine) -> None:
        self._engine, self._transactions = engine, Transactions(engine)
        self.path = Path(str(engine.url.database))
        self._file = _identity(os.stat(self.path))
        self.setups = Repository(self._transactions, "setup")
        self.gear = Repository(self._transactions, "gear")
        self.bags = Repository(self._transactions, "bag")
        self.shoots = Repository(self._transactions, "shoot")
        self.measurements = Measurements(self._transactions)
        self.results = Results(self._transactions)
        self.takes = Takes(self._transactions)
        self.frames = Frames(self._transactions)
        self.practice = PracticeAnswers(self._transactions)
        self.guides = Guides(self._transactions)
        self.photographs = Photographs(self._transactions)

    @classmethod
    def on_file(cls, path: Path, now: datetime | None = None) -> "Store":
        """The store on a file, made or brought up to date as needed; what is there is copied aside `now`
        before that. Raises StoreTooNew, StoreUnreadable."""
        return cls(open_engine(path, now or datetime.now(UTC)))

    def of(self, kind: str) -> Repository:
        """The repository of a kind of DOCUMENT_KINDS."""
        return {"setup": self.setups, "gear": self.gear, "bag": self.bags, "shoot": self.shoots}[kind]

    def read_transaction(self) -> AbstractContextManager[Session]:
        """Everything that is read inside is of one moment, in one transaction that takes no lock."""
        return self._transactions.read_transaction()

    def write_transaction(self) -> AbstractContextManager[Session]:
        """Everything that is read and written inside is one change: all of it or none."""
        return self._transactions.write_transaction()

    def close(self) -> None:
        """Let go of the file, which then holds everything: nothing stays in a log beside it, unless another
        program has it open."""
        with suppress(*DATABASE_ERRORS), closing(self._engine.raw_connection()) as connection:
            connection.cursor().execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self._engine.dispose()

    def stamp(self) -> str:
        """A word that differs after every change, whoever made it; found without reading the database.
        Raises StoreFailed where the file is another one by now."""
        found = []
        for ending in ("", "-wal"):
            try:
                state = os.stat(f"{self.path}{ending}")
            except FileNotFoundError:
                if not ending:
                    raise StoreFailed(f"{self.path} was removed while Noggin runs. {PUT_BACK}") from None
                continue
            if not ending and _identity(state) != self._file:
                raise StoreFailed(f"{self.path} was replaced while Noggin runs. {PUT_BACK}")
            found.append(f"{state.st_mtime_ns:x}.{state.st_size:x}")
        return "-".join(found)

    def changed_since(self, instant: float) -> bool:
        """Whether anything was written after an instant (seconds since 1970)."""
        files = (Path(f"{self.path}{ending}") for ending in ("", "-wal"))
        return any(file.stat().st_mtime > instant for file in files if file.exists())

    def unproven(self, rules: int) -> tuple[RawDocument, ...]:
        """Documents, archived ones too, of which nothing shows that they can be read: all but set-ups that
        were planned by these rules at their present revision."""
        fresh = (col(ResultRow.revision) == col(KeptRow.revision)) & (col(ResultRow.rules) == rules)
        proof = (
            select(ResultRow.kept_id).where((col(ResultRow.kept_id) == col(KeptRow.id)) & fresh).exists()
        )
        return self._raw(~proof)

    def set_aside(self) -> tuple[RawDocument, ...]:
        """Documents that were set aside."""
        return self._raw(col(KeptRow.kind).startswith(SET_ASIDE))

    def _raw(self, where: Any) -> tuple[RawDocument, ...]:
        wanted = select(KeptRow.id, KeptRow.kind, KeptRow.name, KeptRow.document).where(where)
        with self._transactions.read_transaction() as session:
            found = session.exec(wanted).all()
        return tuple(RawDocument(number or 0, kind, name, text) for number, kind, name, text in found)

    def move_to_kind(self, number: int, kind: str) -> bool:
        """Make a document one of another kind: set it aside, or bring it back. False where another one has
        its name by now; then it stays."""
        try:
            with self._transactions.write_transaction() as session:
                session.info.clear()
                row = session.get_one(KeptRow, number)
                row.kind = kind
                session.add(row)
        except IntegrityError:
            return False
        return True

    def marked(self, mark: str) -> bool:
        """Whether something that is done once was done."""
        with self._transactions.read_transaction() as session:
            return session.get(MarkRow, mark) is not None

    def mark(self, mark: str) -> None:
        """Remember that something was done."""
        with self._transactions.write_transaction() as session:
            session.merge(MarkRow(name=mark))

    def clear(self) -> None:
        """Take out everything that is kept."""
        with self._transactions.write_transaction() as session:
            session.info.clear()
            session.exec(delete(FrameRow))
            session.exec(delete(KeptRow))
            session.exec(delete(MarkRow))
            session.exec(delete(PhotographRow))

    def copy_to(self, path: Path) -> None:
        """Write a whole copy of the database to a new file. Raises FileExistsError, OSError,
        StoreUnusable."""
        database_file.copy(self.path, path)

    def keep_copy(self, now: datetime, why: str) -> Path:
        """Make an automatic copy; only so many of them are kept. Raises OSError, StoreUnusable."""
        return database_file.keep_copy(self.path, now, why)


PUT_BACK = "Nothing was kept since. Put it back, or stop Noggin and start it again"


def _identity(state: os.stat_result) -> tuple[int, int]:
    return state.st_dev, state.st_ino
