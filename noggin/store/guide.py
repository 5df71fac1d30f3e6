"""How far somebody is led through a set-up: the queries."""

import json
from collections.abc import Collection
from dataclasses import dataclass

from noggin.store.tables import GuideRow
from noggin.store.transactions import Transactions


@dataclass(frozen=True)
class KeptGuide:
    """Whether the guide lies over a set-up, and which steps were said to be done."""

    is_on: bool
    said: frozenset[str]


class Guides:
    """Where the guide is, for each set-up."""

    def __init__(self, transactions: Transactions) -> None:
        self._transactions = transactions

    def of(self, setup_id: int) -> KeptGuide:
        """Where it is for one set-up; off where it was never asked for."""
        with self._transactions.read_transaction() as session:
            row = session.get(GuideRow, setup_id)
            return (
                KeptGuide(row.is_on, frozenset(json.loads(row.said)))
                if row
                else KeptGuide(False, frozenset())
            )

    def put(self, setup_id: int, *, is_on: bool, said: Collection[str]) -> None:
        """Keep where it is."""
        with self._transactions.write_transaction() as session:
            row = session.get(GuideRow, setup_id) or GuideRow(setup_id=setup_id, is_on=is_on, said="[]")
            row.is_on, row.said = is_on, json.dumps(sorted(said))
            session.add(row)
            session.flush()
