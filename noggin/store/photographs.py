"""Pictures of places: the queries. A picture is kept once, by its content; documents say which is
theirs."""

from collections.abc import Iterable, Iterator
from hashlib import sha256

from sqlalchemy import text
from sqlmodel import col, select

from noggin.store.tables import PhotographRow
from noggin.store.transactions import Transactions

NAMED_NOWHERE = """
DELETE FROM photograph WHERE sha256 != :kept
  AND NOT EXISTS (SELECT 1 FROM kept
                  WHERE instr(document, photograph.sha256) OR instr(coalesce(pinned, ''),
                  photograph.sha256)) AND NOT EXISTS (SELECT 1 FROM step WHERE instr(document,
                  photograph.sha256)) AND NOT EXISTS (SELECT 1 FROM take WHERE instr(document,
                  photograph.sha256)) """
"""A picture goes when the last document that names it is gone, what can be undone among them."""


class Photographs:
    """Pictures of places, by their names."""

    def __init__(self, transactions: Transactions) -> None:
        self._transactions = transactions

    def put(self, jpeg: bytes) -> str:
        """Keep a picture: its name. What no document names any more is let go."""
        name = sha256(jpeg).hexdigest()
        with self._transactions.write_transaction() as session:
            session.merge(PhotographRow(sha256=name, jpeg=jpeg))
            session.flush()
            session.connection().execute(text(NAMED_NOWHERE), {"kept": name})
        return name

    def get(self, name: str) -> bytes | None:
        """A picture; None where it is not here."""
        with self._transactions.read_transaction() as session:
            row = session.get(PhotographRow, name)
            return row.jpeg if row else None

    def some(self, names: Iterable[str]) -> Iterator[tuple[str, bytes]]:
        """Pictures of names, as far as they are here, one after the other."""
        for name in sorted(set(names)):
            jpeg = self.get(name)
            if jpeg is not None:
                yield name, jpeg

    def names(self) -> frozenset[str]:
        """What is here."""
        with self._transactions.read_transaction() as session:
            return frozenset(session.exec(select(col(PhotographRow.sha256))))
