"""Answers to drills, as they were given: the queries."""

import json
from collections.abc import Mapping
from typing import Any

from sqlmodel import col, select

from noggin.store.tables import PracticeAnswerRow
from noggin.store.transactions import Transactions


class PracticeAnswers:
    """Answers to drills. They are only ever added, one for each task: a second answer to the same task
    changes nothing."""

    def __init__(self, transactions: Transactions) -> None:
        self._transactions = transactions

    def add(self, drill: str, seed: int, document: Mapping[str, Any]) -> bool:
        """Keep one; whether it is new."""
        with self._transactions.write_transaction() as session:
            if self.of(drill, seed) is not None:
                return False
            session.add(PracticeAnswerRow(drill=drill, seed=seed, document=json.dumps(document)))
            session.flush()
            return True

    def of(self, drill: str, seed: int) -> Mapping[str, Any] | None:
        """The answer to one task; None where there is none yet."""
        row = PracticeAnswerRow
        wanted = select(row.document).where(col(row.drill) == drill, col(row.seed) == seed)
        with self._transactions.read_transaction() as session:
            text = session.exec(wanted).first()
        return None if text is None else dict(json.loads(text))

    def all(self) -> tuple[Mapping[str, Any], ...]:
        """Every answer, in the order in which they were kept."""
        row = PracticeAnswerRow
        with self._transactions.read_transaction() as session:
            found = session.exec(select(row.document).order_by(col(row.id)))
            return tuple(json.loads(text) for text in found)
