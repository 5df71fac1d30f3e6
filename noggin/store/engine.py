"""The SQLite engine as Noggin needs it: write-ahead log, foreign keys, transactions that say what they are
for."""

from datetime import datetime
from functools import cache
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, NullPool, event
from sqlalchemy.exc import DatabaseError
from sqlmodel import create_engine

from noggin.store import database_file
from noggin.store.errors import StoreTooNew, StoreUnreadable, failure

BUSY_MS = round(1000 * database_file.BUSY_S)
"""How long a writer waits for another before it gives up."""

WRITES = "writes"
"""Option of a connection that is going to write: its transactions take the lock at once."""

MIGRATIONS = Path(__file__).parent / "migrations"


def open_engine(path: Path, now: datetime) -> Engine:
    """An engine on a database file that is at the newest migration. What is there is copied aside before
    it is brought up to date.

    Raises StoreTooNew or StoreUnreadable.
    """
    try:
        database_file.made(path)
        found = database_file.version(path)
        if found is not None and found not in known_versions():
            raise StoreTooNew(f"{path} was written by a newer Noggin; this one cannot read it")
        if found != _newest_version():
            if found is not None:
                database_file.keep_copy(path, now, f"before-{_newest_version()}")
            migrate(path)
    except (OSError, DatabaseError) as error:
        reason = getattr(error, "orig", error)
        problem = failure(error, path) or StoreUnreadable(f"{path} cannot be used as a database: {reason}")
        raise problem from None
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
        # What was acknowledged outlasts a power cut, too: with the log, NORMAL would lose the last changes.
        connection.execute("PRAGMA synchronous=FULL")
        connection.execute(f"PRAGMA foreign_keys={'ON' if foreign_keys else 'OFF'}")

    @event.listens_for(engine, "begin")
    def begin(connection: Any) -> None:
        writes = connection.get_execution_options().get(WRITES)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine


@cache
def _newest_version() -> str | None:
    return ScriptDirectory(str(MIGRATIONS)).get_current_head()


@cache
def known_versions() -> frozenset[str]:
    """Every migration that there is."""
    return frozenset(script.revision for script in ScriptDirectory(str(MIGRATIONS)).walk_revisions())


def migrate(path: Path, version: str = "head") -> None:
    """Bring a file up to a migration."""
    # A batch migration of a parent table drops its children by cascade while foreign keys are on.
    engine = _engine(path, foreign_keys=False, poolclass=NullPool).execution_options(**{WRITES: True})
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    try:
        with engine.connect() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, version)
    finally:
        engine.dispose()
