"""The file that everything is kept in: whose it is, whether it is whole, copies of it.

A copy is made by SQLite's backup interface (sqlite.org, Online Backup API): of one moment, whatever is
being written, and one file that needs none beside it.
"""

import os
import re
import sqlite3
from collections.abc import Sequence
from contextlib import closing, suppress
from datetime import datetime
from pathlib import Path

from noggin.store.errors import StoreDamaged, StoreUnreadable, failure

APPLICATION_ID = 0x4E6F6767
"""Marks a database as Noggin's (PRAGMA application_id): the letters N, o, g, g."""

OURS_BEFORE = {"alembic_version"}
"""The table that a Noggin database has had from the first, also before it was marked."""

BUSY_S = 10.0
"""Seconds to wait for another program."""

OWNER_ONLY = 0o600

COPIES = "copies"
"""Folder beside the database that automatic copies go to."""

COPIES_KEPT = 14


def made(path: Path) -> None:
    """An empty file that its owner alone may read, where there is none. Raises OSError."""
    path.parent.mkdir(parents=True, exist_ok=True)
    with suppress(FileExistsError):
        os.close(os.open(path, os.O_CREAT | os.O_EXCL, OWNER_ONLY))
    if path.stat().st_mode & 0o077:
        with suppress(PermissionError):  # somebody else's, who let us in
            path.chmod(OWNER_ONLY)


def version(path: Path) -> str | None:
    """The migration that a file of ours is at; None for an empty one. Raises StoreUnreadable for another
    program's, StoreDamaged for a broken one."""
    try:
        with closing(sqlite3.connect(path, timeout=BUSY_S)) as connection:
            return _version(connection, path)
    except sqlite3.Error as error:
        if getattr(error, "sqlite_errorcode", 0) == sqlite3.SQLITE_NOTADB:
            raise StoreUnreadable(f"{path} is not a database") from None
        raise (failure(error, path) or StoreUnreadable(f"{path} cannot be used: {error}")) from None


def _version(connection: sqlite3.Connection, path: Path) -> str | None:
    tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    (mark,) = connection.execute("PRAGMA application_id").fetchone()
    if mark not in (0, APPLICATION_ID) or (tables and not tables >= OURS_BEFORE):
        raise StoreUnreadable(f"{path} belongs to another program. Choose another file with --database")
    if not tables:
        return None
    (first,) = connection.execute("PRAGMA quick_check(1)").fetchone()
    if first != "ok":
        raise StoreDamaged(path, first)
    found = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    return str(found[0]) if found else None


def problems(path: Path) -> Sequence[str]:
    """Everything that SQLite finds wrong in a file, at most a hundred things; thorough, and so slow."""
    try:
        with closing(sqlite3.connect(path, timeout=BUSY_S)) as connection:
            found = [line for (line,) in connection.execute("PRAGMA integrity_check") if line != "ok"]
            for table, row, parent, _ in connection.execute("PRAGMA foreign_key_check"):
                found.append(f"row {row} of {table} belongs to a row of {parent} that is not there")
            return found
    except sqlite3.DatabaseError as error:
        return [str(error)]


def copy(source: Path, target: Path) -> None:
    """Copy a database as it is at one moment to a new file, which is there whole or not at all; a damaged
    one is not copied. Raises FileExistsError, OSError, StoreUnusable."""
    target.parent.mkdir(parents=True, exist_ok=True)
    if target.exists():
        raise FileExistsError(f"{target} is there already")
    partly = target.with_name(f".{target.name}.{os.getpid()}")
    try:
        made(partly)
        with (
            closing(sqlite3.connect(source, timeout=BUSY_S)) as old,
            closing(sqlite3.connect(partly)) as new,
        ):
            old.backup(new)
            new.execute("PRAGMA journal_mode=DELETE")  # a file on its own, with no log beside it
            (first,) = new.execute("PRAGMA quick_check(1)").fetchone()
            if first != "ok":
                raise StoreDamaged(source, first)
        _on_disk(partly)
        partly.rename(target)
        _on_disk(target.parent)
    except sqlite3.Error as error:
        raise (failure(error, source) or StoreUnreadable(f"{source} cannot be copied: {error}")) from None
    finally:
        partly.unlink(missing_ok=True)


def put_back(source: Path, target: Path) -> None:
    """Put what is in one database in the place of everything in another, in one transaction: programs that
    have it open see the one or the other. Raises StoreUnusable."""
    try:
        with (
            closing(sqlite3.connect(source, timeout=BUSY_S)) as old,
            closing(sqlite3.connect(target, timeout=BUSY_S)) as new,
        ):
            old.backup(new)
            new.execute("PRAGMA journal_mode=WAL")
    except sqlite3.Error as error:
        raise (failure(error, target) or StoreUnreadable(f"{target} cannot be written: {error}")) from None


def keep_aside(path: Path, aside: Path) -> None:
    """Give a file that cannot be read a second name, and take along what lies beside it; it stays where it
    is. Raises OSError."""
    aside.parent.mkdir(parents=True, exist_ok=True)
    os.link(path, aside)
    for ending in ("-wal", "-shm"):
        with suppress(FileNotFoundError):
            Path(f"{path}{ending}").rename(f"{aside}{ending}")
    _on_disk(aside.parent)


def take_place(ready: Path, path: Path) -> None:
    """Put a file in the place of another in one step, so that there is always one. Raises OSError."""
    path.parent.mkdir(parents=True, exist_ok=True)
    ready.replace(path)
    _on_disk(path.parent)


def copy_name(path: Path, now: datetime, why: str) -> Path:
    """Where an automatic copy of a database goes."""
    return path.parent / COPIES / f"{path.stem}-{now:%Y%m%d-%H%M%S-%f}-{why}{path.suffix}"


def copies(path: Path) -> Sequence[Path]:
    """The automatic copies of a database that are there, the newest first."""
    own = re.compile(rf"{re.escape(path.stem)}-\d{{8}}-\d{{6}}-\d{{6}}-.+{re.escape(path.suffix)}")
    there = (path.parent / COPIES).glob("*") if (path.parent / COPIES).is_dir() else ()
    return sorted((copy for copy in there if own.fullmatch(copy.name)), reverse=True)


def keep_copy(path: Path, now: datetime, why: str) -> Path:
    """Make an automatic copy, and let go of the oldest where there are more than are kept."""
    target = copy_name(path, now, why)
    copy(path, target)
    for old in copies(path)[COPIES_KEPT:]:
        old.unlink(missing_ok=True)
    return target


def _on_disk(path: Path) -> None:
    """Wait until what was written to a file, or the names in a folder, are on the disk."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
