"""Transactions of a store: readers never take the write lock, writers take it at once."""

from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from threading import local

from sqlalchemy import Engine
from sqlmodel import Session

from noggin.store.engine import WRITES
from noggin.store.errors import DATABASE_ERRORS, failure


class Transactions:
    """The transactions of one database. What is asked for inside one belongs to it, so that a use case
    reads and writes as a whole, all of it or none. What the file is to blame for is raised as
    StoreUnusable."""

    def __init__(self, engine: Engine) -> None:
        self._reader, self._writer = engine, engine.execution_options(**{WRITES: True})
        self._present = local()

    @contextmanager
    def read_transaction(self) -> Iterator[Session]:
        """One moment of the database, whatever is written meanwhile."""
        with self._meant():
            session: Session | None = getattr(self._present, "session", None)
            if session is not None:
                yield session
                return
            with self._begun(self._reader, writes=False) as session:
                yield session

    @contextmanager
    def write_transaction(self) -> Iterator[Session]:
        """A change and let nobody else in between. It cannot begin while reading: what was read might be
        old by then."""
        with self._meant():
            session: Session | None = getattr(self._present, "session", None)
            if session is not None:
                if not self._present.writes:
                    raise RuntimeError("a change was begun inside a reading transaction")
                yield session
                return
            with self._begun(self._writer, writes=True) as session:
                yield session

    @contextmanager
    def _begun(self, engine: Engine, *, writes: bool) -> Iterator[Session]:
        # What only reads has nothing to commit: closing the session ends it.
        with Session(engine) as session, session.begin() if writes else nullcontext():
            self._present.session, self._present.writes = session, writes
            try:
                yield session
            finally:
                self._present.session = None

    @contextmanager
    def _meant(self) -> Iterator[None]:
        try:
            yield
        except DATABASE_ERRORS as error:
            meant = failure(error, self._reader.url.database)
            if meant is None:
                raise
            raise meant from error
