"""Documents kept, with the steps they took: the queries."""

import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import Row, Select, bindparam, func
from sqlalchemy import select as select_rows
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, delete, select

from noggin.core.errors import NogginError, Refused
from noggin.store.tables import KeptRow, ResultRow, UndoStepRow
from noggin.store.transactions import Transactions

ONE_GO = timedelta(seconds=3)
"""Entries of the same figure that follow one another this closely are one step to undo."""

STEPS_KEPT = 200
"""Steps of a document that can be undone; older ones are forgotten."""

DOCUMENT_KINDS = {"setup": "set-up", "gear": "piece of gear", "bag": "bag", "shoot": "shoot"}
"""Kinds of document that are kept, and what one is called."""

ARCHIVED_MOST = 50
"""Archived documents that are offered to be brought back."""

NUMBER_MOST = 2**63 - 1
"""The largest number a row can have."""


class NotKept(NogginError, LookupError):
    """No document of this kind has this number."""


class NothingToUndo(NogginError, LookupError):
    """There is nothing to undo or to redo."""


@dataclass(frozen=True)
class UndoStep:
    """What leads to a state: words for it, and the key of the figure that was entered ("" for others)."""

    label: str
    figure: str = ""


UNNAMED = UndoStep("")
"""A step that nobody named."""


@dataclass(frozen=True)
class KeptDocument:
    """A document as it is kept, and its text. `waiting` is what was typed and not taken, by the figure's
    key; `undo` and `redo` are the steps that can be taken back and done again, `pinned` a version to
    compare with, `acted` the revision that the last act made (0: none)."""

    id: int
    text: str
    document: Mapping[str, Any]
    waiting: Mapping[str, str]
    revision: int
    undo: UndoStep | None = None
    redo: UndoStep | None = None
    pinned: Mapping[str, Any] | None = None
    acted: int = 0


@dataclass(frozen=True)
class Listed:
    """A kept document as a list shows it: its name, and what planning gave for it (None: not worked
    out)."""

    id: int
    name: str
    result: Mapping[str, Any] | None = None


@dataclass(frozen=True)
class Holder:
    """A document that holds another: its number, its name and its date (ISO 8601)."""

    id: int
    name: str
    date: str


@dataclass(frozen=True)
class Page:
    """A part of a list, and where the next one begins (None: this is the last)."""

    rows: tuple[Listed, ...]
    next_offset: int | None


Change = Callable[[KeptDocument], tuple[Mapping[str, Any], Mapping[str, str]]]
"""From what is kept to the new document and entries."""


# What is asked for at every turn is put together once and read as plain rows, in a third of the time.
_KEPT_TABLE = KeptRow.__table__  # type: ignore[attr-defined]  # SQLModel does not say so
_KEPT, _UNDO_STEP = _KEPT_TABLE.c, UndoStepRow.__table__.c  # type: ignore[attr-defined]  # SQLModel does not say so
_IN_KIND = (_KEPT.kind == bindparam("kind")) & _KEPT.removed_at.is_(None)
_ONE = select_rows(*_KEPT).where(_IN_KIND, _KEPT.id == bindparam("number"))
_TEXTS = select_rows(_KEPT.id, _KEPT.document).where(_IN_KIND)
_SOME_TEXTS = _TEXTS.where(_KEPT.id.in_(bindparam("numbers", expanding=True)))
_NEWEST = select_rows(_KEPT.id, _KEPT.name).where(_IN_KIND).order_by(_KEPT.changed_at.desc(), _KEPT.id)
_AROUND = select_rows(_UNDO_STEP.number, _UNDO_STEP.label, _UNDO_STEP.figure).where(
    _UNDO_STEP.kept_id == bindparam("number"),
    _UNDO_STEP.number.between(bindparam("step") - 1, bindparam("step") + 1),
)
_ELEMENTS = func.json_each(_KEPT.document, bindparam("part")).table_valued("value", name="elements")
_HOLDING = (
    _TEXTS.join(_ELEMENTS, onclause=_KEPT.id > 0)
    .where(func.json_extract(_ELEMENTS.c.value, bindparam("figure")) == bindparam("value"))
    .distinct()
)


_FIGURE = func.json_extract(_ELEMENTS.c.value, bindparam("figure"))
_HOLDERS = (
    select_rows(
        _KEPT.id,
        _KEPT.name,
        _FIGURE.label("value"),
        func.json_extract(_KEPT.document, "$.date").label("date"),
    )
    .select_from(_KEPT_TABLE.join(_ELEMENTS, onclause=_KEPT.id > 0))
    .where(_IN_KIND, _FIGURE.in_(bindparam("values", expanding=True)))
    .order_by(_KEPT.changed_at, _KEPT.id)
)


def _rows(session: Session, wanted: Select[Any], **given: object) -> Sequence[Row[Any]]:
    """Rows of a question that was put together before, in the present transaction."""
    session.flush()
    return session.connection().execute(wanted, given).all()


class Repository:
    """The documents of one kind."""

    def __init__(self, transactions: Transactions, kind: str) -> None:
        self._transactions, self._kind = transactions, kind

    def all(self) -> tuple[KeptDocument, ...]:
        """Every one, the one worked on last first; for kinds of which there are few."""
        with self._transactions.read_transaction() as session:
            return tuple(kept_of(row) for row in session.exec(self._latest_first(select(KeptRow))))

    def page(self, size: int, offset: int = 0, find: str = "") -> Page:
        """A part of the list, the one worked on last first, of those whose name holds some text."""
        if offset > NUMBER_MOST:
            return Page((), None)
        wanted = select(KeptRow.id, KeptRow.name, ResultRow.result, ResultRow.revision == KeptRow.revision)
        wanted = wanted.outerjoin(ResultRow, col(ResultRow.kept_id) == col(KeptRow.id))
        wanted = self._latest_first(_named_like(wanted, find)).offset(offset).limit(size + 1)
        with self._transactions.read_transaction() as session:
            found = list(session.exec(wanted))
        rows = tuple(
            Listed(number or 0, name, json.loads(result) if result and current else None)
            for number, name, result, current in found[:size]
        )
        return Page(rows, offset + size if len(found) > size else None)

    def named(self, name: str) -> int | None:
        """The number of the one of exactly this name."""
        wanted = self._present(select(KeptRow.id)).where(KeptRow.name == name)
        with self._transactions.read_transaction() as session:
            number: int | None = session.exec(wanted).first()
            return number

    def equal_to(self, document: Mapping[str, Any]) -> int | None:
        """The number of one that is figure for figure this document."""
        wanted = self._present(select(KeptRow.id)).where(KeptRow.name == str(document["name"]))
        with self._transactions.read_transaction() as session:
            number: int | None = session.exec(
                wanted.where(KeptRow.document == json.dumps(document))
            ).first()
            return number

    def names(self, without: int | None = None) -> set[str]:
        """Every name, but for that of one."""
        wanted = self._present(select(KeptRow.name)).where(col(KeptRow.id) != (without or 0))
        with self._transactions.read_transaction() as session:
            return set(session.exec(wanted))

    def texts(self, numbers: Sequence[int] | None = None) -> dict[int, str]:
        """Documents as their texts, by their numbers: all of them, or those that are asked for. All of them
        are read once in a transaction, unless something of this kind is written."""
        with self._transactions.read_transaction() as session:
            known: dict[int, str] | None = session.info.get(self._all_texts)
            if numbers is None and known is not None:
                return dict(known)
            if numbers is not None:
                some = _rows(session, _SOME_TEXTS, kind=self._kind, numbers=list(numbers))
                return {row.id: row.document for row in some}
            found = {row.id: row.document for row in _rows(session, _TEXTS, kind=self._kind)}
            session.info[self._all_texts] = found
            return dict(found)

    @property
    def _all_texts(self) -> tuple[str, str]:
        """Where a transaction remembers every text of this kind."""
        return ("texts", self._kind)

    def holding(self, part: str, figure: str, value: object) -> dict[int, str]:
        """Texts of the documents that have, in a list of theirs, an element with this figure."""
        given = {"kind": self._kind, "part": f"$.{part}", "figure": f"$.{figure}", "value": value}
        with self._transactions.read_transaction() as session:
            return {row.id: row.document for row in _rows(session, _HOLDING, **given)}

    def holders(self, part: str, figure: str, values: Sequence[object]) -> dict[Any, Holder]:
        """For each value, the document worked on last that has an element with it in a list of its."""
        given = {"kind": self._kind, "part": f"$.{part}", "figure": f"$.{figure}", "values": list(values)}
        with self._transactions.read_transaction() as session:
            found = _rows(session, _HOLDERS, **given)
            return {row.value: Holder(row.id, row.name, row.date) for row in found}

    def first_from(self, figure: str, least: str, most: int) -> tuple[KeptDocument, ...]:
        """Some documents in the order of a figure of theirs (a text), from `least` on."""
        found = func.json_extract(KeptRow.document, f"$.{figure}")
        wanted = self._present(select(KeptRow)).where(found >= least).order_by(found, col(KeptRow.id))
        with self._transactions.read_transaction() as session:
            return tuple(_kept_with_undo(session, row) for row in session.exec(wanted.limit(most)))

    def archived(self) -> tuple[Listed, ...]:
        """Those that were archived last, the last one first."""
        wanted = select(KeptRow.id, KeptRow.name).where(
            KeptRow.kind == self._kind, col(KeptRow.removed_at).is_not(None)
        )
        with self._transactions.read_transaction() as session:
            rows = session.exec(wanted.order_by(col(KeptRow.removed_at).desc()).limit(ARCHIVED_MOST))
            return tuple(Listed(number or 0, name) for number, name in rows)

    def latest(self) -> int | None:
        """The number of the one worked on last."""
        with self._transactions.read_transaction() as session:
            number: int | None = session.exec(self._latest_first(select(KeptRow.id)).limit(1)).first()
            return number

    def get(self, kept_id: int) -> KeptDocument:
        """One document. Raises NotKept."""
        with self._transactions.read_transaction() as session:
            return _kept_with_undo(session, self._seen(session, kept_id))

    def peek(self, kept_id: int) -> KeptDocument:
        """One document without what can be undone and redone. Raises NotKept."""
        with self._transactions.read_transaction() as session:
            return kept_of(self._seen(session, kept_id))

    def newest(self, most: int) -> tuple[tuple[int, str], ...]:
        """Number and name of those worked on last, the last one first."""
        with self._transactions.read_transaction() as session:
            rows = _rows(session, _NEWEST.limit(bindparam("most")), kind=self._kind, most=most)
            return tuple((row.id, row.name) for row in rows)

    def add(self, document: Mapping[str, Any], now: datetime) -> KeptDocument:
        """Keep a new one."""
        with self._writing() as session:
            return kept_of(_new_row(session, self._kind, document, now))

    def change(self, kept_id: int, change: Change, now: datetime, step: UndoStep = UNNAMED) -> KeptDocument:
        """Read, change and write one document and let nobody else in between; what changes it is a step
        that can be undone. Raises NotKept."""
        with self._writing() as session:
            row = self._row(session, kept_id)
            document, waiting = change(kept_of(row))
            written = json.dumps(document)
            differs = written != row.document
            if differs:
                _add_undo_step(session, row, written, step, now)
            _write(row, written, json.dumps(dict(waiting)))
            return _touched(session, row, now, act=differs and not step.figure)

    def move(self, kept_id: int, by: int, now: datetime) -> KeptDocument:
        """Undo (`by` -1) or redo (+1) one step; what waits beside figures is dropped.

        Raises NotKept, NoSuchRevision.
        """
        with self._writing() as session:
            row = self._row(session, kept_id)
            to = _undo_step(session, row, row.step + by)
            if to is None:
                raise NothingToUndo("There is nothing to undo." if by < 0 else "There is nothing to redo.")
            row.step = to.number
            _write(row, to.document, "{}")
            return _touched(session, row, now, act=True)

    def pin(self, kept_id: int, pinned: bool, now: datetime) -> KeptDocument:
        """Keep the present version to compare with, or let it go. Raises NotKept."""
        with self._writing() as session:
            row = self._row(session, kept_id)
            row.pinned = row.document if pinned else None
            return _touched(session, row, now)

    def archive(self, kept_id: int, now: datetime) -> None:
        """Take one out of the lists; it can be brought back. Raises NotKept."""
        with self._writing() as session:
            row = self._row(session, kept_id)
            row.removed_at = now
            session.add(row)

    def bring_back(self, kept_id: int, now: datetime) -> KeptDocument:
        """Bring back what was archived. Raises NotKept."""
        with self._writing() as session:
            row = session.get(KeptRow, kept_id) if kept_id <= NUMBER_MOST else None
            if row is None or row.kind != self._kind or row.removed_at is None:
                raise NotKept(f"No {DOCUMENT_KINDS[self._kind]} {kept_id} was archived.")
            row.removed_at = None
            return _touched(session, row, now)

    @contextmanager
    def _writing(self) -> Iterator[Session]:
        """A change to something of this kind: what was read of it in this transaction counts no more."""
        with self._transactions.write_transaction() as session:
            session.info.pop(self._all_texts, None)
            try:
                yield session
            finally:
                session.info.pop(self._all_texts, None)

    def _present(self, wanted: Any) -> Any:
        return wanted.where(KeptRow.kind == self._kind, col(KeptRow.removed_at).is_(None))

    def _latest_first(self, wanted: Any) -> Any:
        return self._present(wanted).order_by(col(KeptRow.changed_at).desc(), col(KeptRow.id))

    def _seen(self, session: Session, kept_id: int) -> Row[Any]:
        """A row to be read only."""
        found = _rows(session, _ONE, kind=self._kind, number=kept_id) if kept_id <= NUMBER_MOST else ()
        if not found:
            raise NotKept(f"There is no {DOCUMENT_KINDS[self._kind]} {kept_id}.")
        return found[0]

    def _row(self, session: Session, kept_id: int) -> KeptRow:
        row = session.get(KeptRow, kept_id) if kept_id <= NUMBER_MOST else None
        if row is None or row.kind != self._kind or row.removed_at is not None:
            raise NotKept(f"There is no {DOCUMENT_KINDS[self._kind]} {kept_id}.")
        return row


def _named_like(wanted: Any, find: str) -> Any:
    return wanted.where(col(KeptRow.name).icontains(find, autoescape=True)) if find else wanted


def _new_row(session: Session, kind: str, document: Mapping[str, Any], now: datetime) -> KeptRow:
    written = json.dumps(document)
    row = KeptRow(kind=kind, name="", document="", waiting="{}", revision=1, changed_at=now)
    _write(row, written, "{}")
    session.add(row)
    _flush(session, row)
    assert row.id is not None  # noqa: S101 - it was flushed
    session.add(_undo_step_row(row.id, 1, written, UndoStep("new"), now))
    session.flush()
    return row


def _flush(session: Session, row: KeptRow) -> None:
    """Write; a name that another one has by now is refused by the database itself."""
    name = row.name
    try:
        session.flush()
    except IntegrityError as error:
        if "kept.kind, kept.name" not in str(error.orig):
            raise
        raise Refused(
            "name", f"‘{name}’ is taken. Rename the other one first, or choose another name"
        ) from None


def _write(row: KeptRow, document: str, waiting: str) -> None:
    row.document, row.waiting, row.name = document, waiting, str(json.loads(document).get("name", ""))


def _undo_step_row(kept_id: int, number: int, written: str, step: UndoStep, now: datetime) -> UndoStepRow:
    return UndoStepRow(
        kept_id=kept_id,
        number=number,
        document=written,
        figure=step.figure,
        label=step.label,
        taken_at=now,
    )


def _add_undo_step(session: Session, row: KeptRow, written: str, step: UndoStep, now: datetime) -> None:
    """Record a new state after the present one; what had been undone is gone, and entries of one figure
    in one go are one step."""
    assert row.id is not None  # noqa: S101 - it was read
    present, of_row = _undo_step(session, row, row.step), col(UndoStepRow.kept_id) == row.id
    if _undo_step(session, row, row.step + 1):
        session.exec(delete(UndoStepRow).where(of_row, col(UndoStepRow.number) > row.step))
    if present and step.figure and present.figure == step.figure and _since(present, now) <= ONE_GO:
        present.document, present.taken_at = written, now
        session.add(present)
        return
    row.step += 1
    session.add(_undo_step_row(row.id, row.step, written, step, now))
    if row.step > STEPS_KEPT:
        session.exec(delete(UndoStepRow).where(of_row, col(UndoStepRow.number) <= row.step - STEPS_KEPT))


def _since(step: UndoStepRow, now: datetime) -> timedelta:
    taken = step.taken_at  # SQLite gives instants back without their zone; all are kept in UTC
    return now - (taken if taken.tzinfo else taken.replace(tzinfo=UTC))


def _undo_step(session: Session, row: KeptRow, number: int) -> UndoStepRow | None:
    wanted = select(UndoStepRow).where(UndoStepRow.kept_id == row.id, UndoStepRow.number == number)
    return session.exec(wanted).first()


def _touched(session: Session, row: KeptRow, now: datetime, *, act: bool = False) -> KeptDocument:
    row.revision += 1
    if act:
        row.acted = row.revision
    row.changed_at = now
    session.add(row)
    _flush(session, row)
    return _kept_with_undo(session, row)


def _kept_with_undo(session: Session, row: KeptRow | Row[Any]) -> KeptDocument:
    """A document with what can be undone (the step that led here, where one comes before it) and redone."""
    around = _rows(session, _AROUND, number=row.id, step=row.step)
    found = {step.number: UndoStep(step.label, step.figure) for step in around}
    undo = found.get(row.step) if row.step - 1 in found else None
    return replace(kept_of(row), undo=undo, redo=found.get(row.step + 1))


def kept_of(row: KeptRow | Row[Any]) -> KeptDocument:
    """A row as it is handed out."""
    assert row.id is not None  # noqa: S101 - a row that was read or flushed has its number
    pinned = None if row.pinned is None else json.loads(row.pinned)
    document, waiting = json.loads(row.document), json.loads(row.waiting)
    return KeptDocument(
        row.id, row.document, document, waiting, row.revision, pinned=pinned, acted=row.acted
    )
