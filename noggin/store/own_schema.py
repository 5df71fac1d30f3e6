"""Whether a database file has the tables, and nothing else, that Noggin's migrations make: what is not ours
may do anything when it is opened."""

import re
import sqlite3
import tempfile
from collections.abc import Sequence
from contextlib import closing
from functools import cache
from pathlib import Path
from typing import NamedTuple

from noggin.store import database_file
from noggin.store.engine import known_versions, migrate


class SchemaPart(NamedTuple):
    """A table, index, trigger or view: its kind, its name, and what makes it up."""

    kind: str
    name: str
    made_of: tuple[object, ...]


def foreign_parts(path: Path) -> Sequence[str]:
    """What of a file is not as its migrations make it, in words; empty for a file that is ours alone, or is
    empty. Raises StoreUnusable for one that cannot be looked into."""
    version = database_file.version(path)
    if version is None or version not in known_versions():
        return []
    own = {(part.kind, part.name): part for part in parts_at(version)}
    with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as connection:
        there = {(part.kind, part.name): part for part in _parts(connection)}
    said = [
        f"there is a {kind} ‘{name}’, which is not Noggin's" for kind, name in there.keys() - own.keys()
    ]
    said += [f"the {kind} ‘{name}’ is missing" for kind, name in own.keys() - there.keys()]
    said += [
        f"the {kind} ‘{name}’ is not as Noggin makes it"
        for kind, name in own.keys() & there.keys()
        if own[kind, name] != there[kind, name]
    ]
    return sorted(said, key=lambda one: (len(one), one))  # what others hang on before what hangs on it


@cache
def parts_at(version: str) -> tuple[SchemaPart, ...]:
    """What a database at a migration has."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "own.sqlite3"
        database_file.made(path)
        migrate(path, version)
        with closing(sqlite3.connect(path)) as connection:
            return tuple(_parts(connection))


def _parts(connection: sqlite3.Connection) -> Sequence[SchemaPart]:
    rows = connection.execute(
        "SELECT type, name, tbl_name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\'"
    ).fetchall()
    return [
        SchemaPart(kind, name, _made_of(connection, kind, name, table, sql))
        for kind, name, table, sql in rows
    ]


def _made_of(
    connection: sqlite3.Connection, kind: str, name: str, table: str, sql: str | None
) -> tuple[object, ...]:
    """Columns of a table, whose text depends on which library wrote it; the text of everything else."""
    text = re.sub(r"[\s\"`\[\]]+", " ", sql or "").strip().lower()
    if kind != "table" or text.startswith("create virtual"):
        return table, text
    columns = connection.execute(
        'SELECT name, type, "notnull", pk, hidden FROM pragma_table_xinfo(?)', (name,)
    )
    return (table, *columns.fetchall())
