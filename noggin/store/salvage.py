"""What can still be read of a damaged database, row by row: a row on a broken page is left out, and so
takes no other with it."""

import shutil
import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import closing, suppress
from pathlib import Path
from typing import Any, NamedTuple

from noggin.store.errors import StoreUnreadable, failure

LOST_IN_A_ROW_MOST = 2_000
"""Numbers tried one after another on broken pages without finding a row."""


class Row(NamedTuple):
    """A document as it lies in the file: its kind, its text, and whether it is in a list (not archived)."""

    id: int
    kind: str
    text: str
    present: bool


class KeptReading(NamedTuple):
    """A measurement as it lies in the file, and the gear it is of."""

    gear_id: int
    text: str


class LoggedRow(NamedTuple):
    """A frame as it lies in the file, with the numbers of itself and its take, and its file's SHA-256."""

    id: int
    take_id: int | None
    sha256: str | None
    text: str


class TakenRow(NamedTuple):
    """A take as it lies in the file: its set-up's number, when it was begun (UTC), and its text."""

    id: int
    setup_id: int
    begun: str
    text: str


def documents(path: Path) -> Iterator[Row]:
    """Every document that can be read."""
    for number, kind, text, removed in _rows(path, "kept", ("id", "kind", "document", "removed_at")):
        if isinstance(kind, str) and isinstance(text, str):
            yield Row(number, kind, text, removed is None)


def measurements(path: Path) -> Iterator[KeptReading]:
    """Every measurement that can be read."""
    for _, gear_id, text in _rows(path, "measurement", ("id", "gear_id", "document")):
        if isinstance(gear_id, int) and isinstance(text, str):
            yield KeptReading(gear_id, text)


def frames(path: Path) -> Iterator[LoggedRow]:
    """Every frame of the log that can be read."""
    for number, take_id, sha256, text in _rows(path, "frame", ("id", "take_id", "sha256", "document")):
        if isinstance(text, str):
            yield LoggedRow(number, take_id, sha256, text)


def takes(path: Path) -> Iterator[TakenRow]:
    """Every take that can be read."""
    for number, setup_id, begun, text in _rows(path, "take", ("id", "setup_id", "begun_at", "document")):
        if isinstance(begun, str) and isinstance(text, str):
            yield TakenRow(number, setup_id, begun, text)


def pictures(path: Path) -> Iterator[tuple[int, bytes]]:
    """Every small picture that can be read, with the number of its frame."""
    for number, jpeg in _rows(path, "frame_picture", ("frame_id", "jpeg")):
        if isinstance(jpeg, bytes):
            yield number, jpeg


def photographs(path: Path) -> Iterator[bytes]:
    """Every picture of a place that can be read."""
    for _, jpeg in _rows(path, "photograph", ("sha256", "jpeg")):
        if isinstance(jpeg, bytes):
            yield jpeg


def beside(path: Path, folder: Path) -> Path:
    """A copy of a file, and of the log beside it, to be read where SQLite may write: it reads none with a
    log in a folder that it may not write to. Raises OSError."""
    copied = folder / path.name
    shutil.copyfile(path, copied)
    with suppress(FileNotFoundError):
        shutil.copyfile(f"{path}-wal", f"{copied}-wal")
    return copied


def _rows(path: Path, table: str, columns: Sequence[str]) -> Iterator[tuple[Any, ...]]:
    """Rows from the first to the last; where a page is broken, each number that may be on it is tried, and
    then the rows from the last one down to there. Raises StoreUnusable for what is not a database at
    all."""
    with closing(sqlite3.connect(path)) as connection:
        connection.text_factory = lambda raw: raw.decode(errors="replace")
        try:
            # Never a view in a table's place, which may have no end.
            sql = "SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = ?"
            there = connection.execute(sql, (table,)).fetchone()
        except sqlite3.DatabaseError as error:
            raise (failure(error, path) or StoreUnreadable(f"{path} cannot be read: {error}")) from None
        if there:
            yield from _of_table(connection, f"SELECT {', '.join(columns)} FROM {table}")  # noqa: S608 - ours


def _of_table(connection: sqlite3.Connection, select: str) -> Iterator[tuple[Any, ...]]:
    number = 0
    while True:
        try:
            row = connection.execute(
                f"{select} WHERE rowid > ? ORDER BY rowid LIMIT 1", (number,)
            ).fetchone()
            if row is None:
                return
        except sqlite3.DatabaseError:
            row = _tried(connection, select, number)
        if row is None:
            break
        number = row[0]
        yield row
    yield from _down_to(connection, select, number)


def _tried(connection: sqlite3.Connection, select: str, number: int) -> tuple[Any, ...] | None:
    """The first row that can be read after a number, trying one number after another."""
    for tried in range(number + 1, number + 1 + LOST_IN_A_ROW_MOST):
        with suppress(sqlite3.DatabaseError):
            row: tuple[Any, ...] | None = connection.execute(
                f"{select} WHERE rowid = ?", (tried,)
            ).fetchone()
            if row:
                return row
    return None


def _down_to(connection: sqlite3.Connection, select: str, number: int) -> Iterator[tuple[Any, ...]]:
    """Rows from the last one down to a number, or to where a page is broken."""
    after = (1 << 63) - 1
    with suppress(sqlite3.DatabaseError):
        while True:
            row = connection.execute(
                f"{select} WHERE rowid < ? ORDER BY rowid DESC LIMIT 1", (after,)
            ).fetchone()
            if row is None or row[0] <= number:
                return
            after = row[0]
            yield row
