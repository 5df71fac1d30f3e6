"""What can still be read of a damaged database, row by row: a row on a broken page is left out, and so
takes no other with it."""

import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import closing, suppress
from pathlib import Path
from typing import Any, NamedTuple

LOST_IN_A_ROW_MOST = 2_000
"""Numbers tried one after another without finding a row before that is thought to be the end."""


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


def frames(path: Path) -> Iterator[str]:
    """Every frame of the log that can be read, as its text."""
    with suppress(sqlite3.DatabaseError):  # a database from before there was a log
        for _, text in _rows(path, "frame", ("id", "document")):
            if isinstance(text, str):
                yield text


def _rows(path: Path, table: str, columns: Sequence[str]) -> Iterator[tuple[Any, ...]]:
    wanted = f"SELECT {', '.join(columns)} FROM {table} WHERE id = ?"  # noqa: S608 - names of ours
    with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as connection:
        connection.text_factory = lambda raw: raw.decode(errors="replace")
        number, missed = 0, 0
        while missed < LOST_IN_A_ROW_MOST:
            number += 1
            row = None
            with suppress(sqlite3.DatabaseError):
                row = connection.execute(wanted, (number,)).fetchone()
            missed = 0 if row else missed + 1
            if row:
                yield row
