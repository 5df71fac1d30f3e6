"""Pictures as they are taken, and their frames: the queries. Frames are listed by keyset, so that a page
costs the same however many there are."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property
from typing import Any

from sqlalchemy import func, text
from sqlmodel import Session, col, delete, select

from noggin.store.repository import NUMBER_MOST, NotKept
from noggin.store.tables import FramePictureRow, FrameRow, FrameTagRow, TakeRow
from noggin.store.transactions import Transactions

PLACES_PER_MS = 1000
"""Frames that one millisecond has room for."""

AT_ONCE = 500
"""Frames that are read in one go when all are."""


@dataclass(frozen=True)
class KeptTake:
    """A take as it is kept: its number, its set-up's, when it was begun, and its document."""

    id: int
    setup_id: int
    begun_at: datetime
    document: Mapping[str, Any]


@dataclass(frozen=True)
class KeptFrame:
    """A frame as it is kept: its number, its place in the order of time, its take (None: none yet), and its
    document as its text."""

    id: int
    place: int
    take_id: int | None
    text: str

    @cached_property
    def document(self) -> Mapping[str, Any]:
        """Its document."""
        found: Mapping[str, Any] = json.loads(self.text)
        return found


@dataclass(frozen=True)
class Wanted:
    """Which frames: those with every tag (kind and value), whose words hold every word of `find`."""

    tags: tuple[tuple[str, str], ...] = ()
    find: str = ""


class Takes:
    """Every take."""

    def __init__(self, transactions: Transactions) -> None:
        self._transactions = transactions

    def begin(self, setup_id: int, document: Mapping[str, Any], now: datetime) -> KeptTake:
        """Keep a new one."""
        with self._transactions.write_transaction() as session:
            row = TakeRow(setup_id=setup_id, begun_at=now, document=json.dumps(document))
            session.add(row)
            session.flush()
            return _take(row)

    def latest(self, setup_id: int, before: datetime | None = None) -> KeptTake | None:
        """The one begun last of a set-up, or last before a time."""
        wanted = select(TakeRow).where(TakeRow.setup_id == setup_id)
        if before is not None:
            wanted = wanted.where(col(TakeRow.begun_at) <= before)
        with self._transactions.read_transaction() as session:
            row = session.exec(
                wanted.order_by(col(TakeRow.begun_at).desc(), col(TakeRow.id).desc())
            ).first()
            return _take(row) if row else None

    def get(self, take_id: int) -> KeptTake:
        """One take. Raises NotKept."""
        with self._transactions.read_transaction() as session:
            return _take(self._row(session, take_id))

    def begun_between(self, first: datetime, last: datetime) -> tuple[KeptTake, ...]:
        """Those that were begun in a while, the latest first."""
        begun = col(TakeRow.begun_at)
        wanted = select(TakeRow).where(begun >= first, begun <= last)
        with self._transactions.read_transaction() as session:
            return tuple(_take(row) for row in session.exec(wanted.order_by(begun.desc(), col(TakeRow.id))))

    def latest_first(self, most: int) -> tuple[KeptTake, ...]:
        """Some takes of any set-up, the latest first."""
        wanted = select(TakeRow).order_by(col(TakeRow.begun_at).desc(), col(TakeRow.id).desc()).limit(most)
        with self._transactions.read_transaction() as session:
            return tuple(_take(row) for row in session.exec(wanted))

    def all(self) -> tuple[KeptTake, ...]:
        """Every take, in the order in which they were begun."""
        with self._transactions.read_transaction() as session:
            rows = session.exec(select(TakeRow).order_by(col(TakeRow.begun_at), col(TakeRow.id)))
            return tuple(_take(row) for row in rows)

    def write(self, take_id: int, document: Mapping[str, Any]) -> None:
        """Put another document in its place. Raises NotKept."""
        with self._transactions.write_transaction() as session:
            row = self._row(session, take_id)
            row.document = json.dumps(document)
            session.add(row)

    def _row(self, session: Session, take_id: int) -> TakeRow:
        row = session.get(TakeRow, take_id) if take_id <= NUMBER_MOST else None
        if row is None:
            raise NotKept("That take is no longer there.")
        return row


class Frames:
    """Every frame."""

    def __init__(self, transactions: Transactions) -> None:
        self._transactions = transactions

    def add(
        self,
        taken: datetime,
        document: Mapping[str, Any],
        tags: Sequence[tuple[str, str]],
        words: str,
        *,
        take_id: int | None = None,
        sha256: str | None = None,
        jpeg: bytes | None = None,
    ) -> KeptFrame | None:
        """Keep a new one; None where one of the same file is kept already."""
        with self._transactions.write_transaction() as session:
            if sha256 and session.exec(select(FrameRow.id).where(FrameRow.sha256 == sha256)).first():
                return None
            row = FrameRow(
                place=_free_place(session, taken),
                take_id=take_id,
                sha256=sha256,
                document=json.dumps(document),
            )
            session.add(row)
            session.flush()
            _find_by(session, row, tags, words)
            if jpeg:
                session.add(FramePictureRow(frame_id=row.id or 0, jpeg=jpeg))
            return _frame(row)

    def write(
        self,
        frame_id: int,
        document: Mapping[str, Any],
        tags: Sequence[tuple[str, str]],
        words: str,
        take_id: int | None,
    ) -> None:
        """Put another document in its place, and in a take or in none. Raises NotKept."""
        with self._transactions.write_transaction() as session:
            row = self._row(session, frame_id)
            row.document, row.take_id = json.dumps(document), take_id
            session.add(row)
            session.exec(delete(FrameTagRow).where(col(FrameTagRow.frame_id) == frame_id))
            session.connection().execute(
                text("DELETE FROM frame_text WHERE rowid = :place"), {"place": row.place}
            )
            session.flush()
            _find_by(session, row, tags, words)

    def remove(self, frame_id: int) -> None:
        """Take one out for good. Raises NotKept."""
        with self._transactions.write_transaction() as session:
            session.delete(self._row(session, frame_id))

    def get(self, frame_id: int) -> KeptFrame:
        """One frame. Raises NotKept."""
        with self._transactions.read_transaction() as session:
            return _frame(self._row(session, frame_id))

    def known(self, sha256: str) -> KeptFrame | None:
        """The frame of a file; None where none is kept."""
        with self._transactions.read_transaction() as session:
            row = session.exec(select(FrameRow).where(FrameRow.sha256 == sha256)).first()
            return _frame(row) if row else None

    def at(self, taken: datetime) -> tuple[KeptFrame, ...]:
        """Every frame of a moment."""
        place = _place_of(taken)
        wanted = select(FrameRow).where(FrameRow.place >= place, FrameRow.place < place + PLACES_PER_MS)
        with self._transactions.read_transaction() as session:
            return tuple(_frame(row) for row in session.exec(wanted))

    def same(self, taken: datetime, document: Mapping[str, Any]) -> bool:
        """Whether a frame of the same moment with the same document is kept, or one of the same file."""
        digest = document.get("sha256")
        if digest and self.known(str(digest)):
            return True
        return any(frame.document == document for frame in self.at(taken))

    def picture(self, frame_id: int) -> bytes:
        """The small picture of a frame. Raises NotKept where there is none."""
        with self._transactions.read_transaction() as session:
            row = session.get(FramePictureRow, frame_id) if frame_id <= NUMBER_MOST else None
            if row is None:
                raise NotKept("There is no picture of that frame.")
            return row.jpeg

    def with_pictures(self, frame_ids: Sequence[int]) -> frozenset[int]:
        """Which of some frames have a small picture."""
        wanted = select(FramePictureRow.frame_id).where(col(FramePictureRow.frame_id).in_(frame_ids))
        with self._transactions.read_transaction() as session:
            return frozenset(session.exec(wanted))

    def pictures(self, most: int) -> Iterator[dict[str, bytes]]:
        """Every small picture of a frame that has a file, by the file's SHA-256, so many at a time."""
        last = ""
        while True:
            wanted = (
                select(FrameRow.sha256, FramePictureRow.jpeg)
                .join(FramePictureRow, col(FrameRow.id) == FramePictureRow.frame_id)
                .where(col(FrameRow.sha256) > last)
                .order_by(col(FrameRow.sha256))
                .limit(most)
            )
            with self._transactions.read_transaction() as session:
                found = {str(digest): jpeg for digest, jpeg in session.exec(wanted)}
            if not found:
                return
            last = max(found)
            yield found

    def put_picture(self, sha256: str, jpeg: bytes) -> bool:
        """Keep the small picture of a file's frame; False where there is no such frame, or it has one."""
        with self._transactions.write_transaction() as session:
            number = session.exec(select(FrameRow.id).where(FrameRow.sha256 == sha256)).first()
            if number is None or session.get(FramePictureRow, number) is not None:
                return False
            session.add(FramePictureRow(frame_id=number, jpeg=jpeg))
            return True

    def of_take(self, take_id: int) -> tuple[KeptFrame, ...]:
        """Every frame of a take, the first one first."""
        wanted = select(FrameRow).where(FrameRow.take_id == take_id).order_by(col(FrameRow.place))
        with self._transactions.read_transaction() as session:
            return tuple(_frame(row) for row in session.exec(wanted))

    def sun_of_takes(self, take_ids: Sequence[int]) -> dict[int, float]:
        """The sun's height at the first frame of some takes, degrees; those without are left out."""
        height = func.json_extract(FrameRow.document, "$.sun_deg")
        wanted = select(FrameRow.take_id, height, func.min(FrameRow.place)).where(
            col(FrameRow.take_id).in_(take_ids), height.is_not(None)
        )
        with self._transactions.read_transaction() as session:
            rows = session.exec(wanted.group_by(col(FrameRow.take_id))).all()
            return {number: float(found) for number, found, _ in rows if number is not None}

    def any(self) -> bool:
        """Whether there is one."""
        with self._transactions.read_transaction() as session:
            return session.exec(select(FrameRow.id).limit(1)).first() is not None

    def count(self) -> int:
        """How many there are."""
        with self._transactions.read_transaction() as session:
            return int(session.connection().execute(text("SELECT count(*) FROM frame")).scalar_one())

    def page(self, most: int, wanted: Wanted, before: int | None = None) -> tuple[KeptFrame, ...]:
        """Some frames, newest first, from before a place on."""
        with self._transactions.read_transaction() as session:
            query, given = _asked(wanted, most, before)
            rows = session.connection().execute(text(query), given).all()
            return tuple(KeptFrame(row.id, row.place, row.take_id, row.document) for row in rows)

    def all(self, wanted: Wanted) -> Iterator[KeptFrame]:
        """Every frame that is wanted, newest first; some are read at a time."""
        before: int | None = None
        while found := self.page(AT_ONCE, wanted, before):
            yield from found
            before = found[-1].place

    def values(self, kind: str) -> tuple[str, ...]:
        """Every value that a kind of tag has. One step of the index for each, however many frames there
        are."""
        step = (
            "WITH RECURSIVE seen(value) AS ("
            " SELECT min(value) FROM frame_tag WHERE kind = :kind UNION ALL"
            " SELECT (SELECT min(value) FROM frame_tag WHERE kind = :kind AND value > seen.value)"
            " FROM seen WHERE seen.value IS NOT NULL)"
            " SELECT value FROM seen WHERE value IS NOT NULL"
        )
        with self._transactions.read_transaction() as session:
            return tuple(row.value for row in session.connection().execute(text(step), {"kind": kind}))

    def _row(self, session: Session, frame_id: int) -> FrameRow:
        row = session.get(FrameRow, frame_id) if frame_id <= NUMBER_MOST else None
        if row is None:
            raise NotKept("That frame is no longer there.")
        return row


def _asked(wanted: Wanted, most: int, before: int | None) -> tuple[str, dict[str, Any]]:
    """The question for a page: it walks one index in the order of time, and looks the rest up."""
    given: dict[str, Any] = {"most": most, "before": NUMBER_MOST if before is None else before}
    tags = list(wanted.tags)
    for index, (kind, value) in enumerate(tags):
        given |= {f"kind{index}": kind, f"value{index}": value}
    if wanted.find.strip():
        given["find"] = _match(wanted.find)
        source, order = "frame_text AS first JOIN frame ON frame.place = first.rowid", "first.rowid"
        conditions = ["frame_text MATCH :find"]
        others = range(len(tags))
    elif tags:
        source, order = "frame_tag AS first JOIN frame ON frame.id = first.frame_id", "first.place"
        conditions = ["first.kind = :kind0", "first.value = :value0"]
        others = range(1, len(tags))
    else:
        source, order, conditions, others = "frame", "frame.place", [], range(0)
    for index in others:
        conditions.append(
            "EXISTS (SELECT 1 FROM frame_tag WHERE frame_id = frame.id"  # noqa: S608 - its words are ours
            f" AND kind = :kind{index} AND value = :value{index})"
        )
    conditions.append(f"{order} < :before")
    columns = "frame.id, frame.place, frame.take_id, frame.document"
    where = " AND ".join(conditions)
    # Every word of it is ours; what is asked for goes in by name.
    query = f"SELECT {columns} FROM {source} WHERE {where} ORDER BY {order} DESC LIMIT :most"  # noqa: S608
    return query, given


def _match(find: str) -> str:
    """Every word as a prefix, whatever signs it has."""
    return " ".join('"' + word.replace('"', '""') + '"*' for word in find.split())


def _place_of(taken: datetime) -> int:
    return round(taken.timestamp() * 1000) * PLACES_PER_MS


def _free_place(session: Session, taken: datetime) -> int:
    place = _place_of(taken)
    next_one = select(FrameRow.place).where(FrameRow.place >= place, FrameRow.place < place + PLACES_PER_MS)
    last = session.exec(next_one.order_by(col(FrameRow.place).desc())).first()
    return place if last is None else last + 1


def _find_by(session: Session, row: FrameRow, tags: Sequence[tuple[str, str]], words: str) -> None:
    for kind, value in sorted(set(tags)):
        session.add(FrameTagRow(frame_id=row.id or 0, kind=kind, value=value, place=row.place))
    session.flush()
    session.connection().execute(
        text("INSERT INTO frame_text(rowid, words) VALUES (:place, :words)"),
        {"place": row.place, "words": words},
    )


def _take(row: TakeRow) -> KeptTake:
    begun = row.begun_at  # SQLite gives instants back without their zone; all are kept in UTC
    begun = begun if begun.tzinfo else begun.replace(tzinfo=UTC)
    return KeptTake(row.id or 0, row.setup_id, begun, json.loads(row.document))


def _frame(row: FrameRow) -> KeptFrame:
    return KeptFrame(row.id or 0, row.place, row.take_id, row.document)
