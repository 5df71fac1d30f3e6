"""What can be wrong with the file that everything is kept in, each said in one sentence that also says what
can be done.

StoreUnusable
├── StoreUnreadable   cannot be opened, is not a database, or is another program's
│   └── StoreDamaged  is Noggin's, and broken
├── StoreTooNew       a newer Noggin wrote it
└── StoreFailed       was whole and cannot be used now: full, read-only, busy, gone
"""

import sqlite3

from sqlalchemy.exc import DBAPIError

from noggin.core.errors import NogginError


class StoreUnusable(NogginError):
    """The database cannot be used."""


class StoreTooNew(StoreUnusable):
    """The database was written by a newer Noggin than this one."""


class StoreUnreadable(StoreUnusable):
    """The file cannot be opened, is not a database, or is another program's."""


class StoreDamaged(StoreUnreadable):
    """The file is Noggin's and is broken."""

    def __init__(self, path: object, problem: str) -> None:
        super().__init__(
            f"{path} is damaged ({problem}). ‘noggin salvage’ writes out what can still be read; ‘noggin"
            " restore’ puts a copy in its place; copies are in the folder ‘copies’ beside it"
        )


class StoreFailed(StoreUnusable):
    """The database was whole and cannot be used now."""


DATABASE_ERRORS = (DBAPIError, sqlite3.Error)
"""What SQLAlchemy raises, and what SQLite raises while a connection is opened."""

NOT_KEPT = "Nothing of this was kept"

FAILURES = {
    sqlite3.SQLITE_FULL: f"The disk is full. {NOT_KEPT}. Make room, then do it again",
    sqlite3.SQLITE_READONLY: f"The database may not be written. {NOT_KEPT}. Give yourself the right to"
    " write the file and its folder, then do it again",
    sqlite3.SQLITE_IOERR: f"The disk gives an error. {NOT_KEPT}. Check the disk, then do it again",
    sqlite3.SQLITE_CANTOPEN: "The database cannot be opened. Check that its folder is there and that you"
    " may write to it",
    sqlite3.SQLITE_PERM: "The database may not be opened. Give yourself the right to it",
    sqlite3.SQLITE_BUSY: f"Another program has held the database for too long. {NOT_KEPT}. Do it again",
    sqlite3.SQLITE_LOCKED: f"Another program has held the database for too long. {NOT_KEPT}. Do it again",
}
"""What SQLite's primary result codes (sqlite.org, Result and Error Codes) mean to who uses Noggin."""

BROKEN = (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB)


def failure(error: BaseException, path: object) -> StoreUnusable | None:
    """What an error of the database means; None for one that the file is not to blame for."""
    cause = error.orig if isinstance(error, DBAPIError) else error
    if not isinstance(cause, sqlite3.Error):
        return None
    code = getattr(cause, "sqlite_errorcode", 0) & 0xFF
    if code in BROKEN:
        return StoreDamaged(path, str(cause))
    return StoreFailed(FAILURES[code]) if code in FAILURES else None
