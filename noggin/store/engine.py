"""The SQLite engine as Noggin needs it: write-ahead log, foreign keys, transactions that say what they are
for."""

import sqlite3
from functools import cache
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from alembic.util import CommandError
from sqlalchemy import Engine, NullPool, event
from sqlalchemy.exc import DatabaseError
from sqlmodel import create_engine

from noggin.core.errors import NogginError

BUSY_MS = 10_000
"""How long a writer waits for another before it gives up."""

WRITES = "writes"
"""Option of a connection that is going to write: its transactions take the lock at once."""

MIGRATIONS = Path(__file__).parent / "migrations"


class StoreTooNew(NogginError):
    """The database was written by a newer Noggin than this one."""


class StoreUnreadable(NogginError):
    """The file cannot be opened, or is not a database."""


def open_engine(path: Path) -> Engine:
    """An engine on a database file that is at the newest migration.

    Raises StoreTooNew or StoreUnreadable.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if _version(path) != _newest_version():
            _migrate(path)
    except (OSError, DatabaseError) as error:
        reason = getattr(error, "orig", error)
        raise StoreUnreadable(f"{path} cannot be used as a database: {reason}") from None
    return _engine(path, foreign_keys=True)


def _engine(path: Path, *, foreign_keys: bool, **options: Any) -> Engine:
    engine = create_engine(f"sqlite:///{path}", **options)

    @event.listens_for(engine, "connect")
    def prepare(connection: Any, _: Any) -> None:
        # Python's own transaction handling begins late and loses updates between threads: it is switched
        # off here. Writers take the lock with BEGIN IMMEDIATE below; readers need none, the log keeps their
        # moment.
        connection.isolation_level = None
        connection.execute(f"PRAGMA busy_timeout={BUSY_MS}")
        connection.execute("PRAGMA journal_mode=WAL")
        # With the log this is safe against a crash of the program; figures are saved as they are typed.
        connection.execute("PRAGMA synchronous=NORMAL")
        connection.execute(f"PRAGMA foreign_keys={'ON' if foreign_keys else 'OFF'}")

    @event.listens_for(engine, "begin")
    def begin(connection: Any) -> None:
        writes = connection.get_execution_options().get(WRITES)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine


def _version(path: Path) -> str | None:
    """The migration a file is at; None for one that has none yet."""
    if not path.exists():
        return None
    connection = sqlite3.connect(path, timeout=BUSY_MS / 1000)
    try:
        found = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.DatabaseError:
        return None  # no table yet; anything worse is met again in migrating
    finally:
        connection.close()
    return str(found[0]) if found else None


@cache
def _newest_version() -> str | None:
    return ScriptDirectory(str(MIGRATIONS)).get_current_head()


def _migrate(path: Path) -> None:
    # A batch migration of a parent table drops its children by cascade while foreign keys are on.
    engine = _engine(path, foreign_keys=False, poolclass=NullPool).execution_options(**{WRITES: True})
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    try:
        with engine.connect() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
    except CommandError as error:
        if "Can't locate revision" in str(error):
            problem = f"{path} was written by a newer Noggin; this one cannot read it"
            raise StoreTooNew(problem) from None
        raise
    finally:
        engine.dispose()
