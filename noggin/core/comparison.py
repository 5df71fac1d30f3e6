"""What changed between two versions of a set-up, row by row, for the ways that each advises."""

from dataclasses import dataclass

from noggin.core.board import ROWS, reserve_text
from noggin.core.plan import METHODS, Plan, Way
from noggin.core.wording import NONE


@dataclass(frozen=True)
class Difference:
    """One row that differs, as it is written before and after."""

    label: str
    before: str
    after: str


def comparison(before: Plan, after: Plan) -> tuple[Difference, ...]:
    """The advised way and its rows where they differ, then the reserve of every way that changed."""
    one, other = _shown(before), _shown(after)
    found = [Difference("advised", _advised(before), _advised(after))]
    found += [Difference(row.label, row.text(one), row.text(other)) for row in ROWS]
    for key, method in METHODS.items():
        texts = (_reserve(before.way(key)), _reserve(after.way(key)))
        found.append(Difference(f"reserve, {method.label}", *texts))
    return tuple(row for row in found if row.before != row.after)


def _shown(plan: Plan) -> Way:
    return plan.chosen or plan.ways[0]


def _advised(plan: Plan) -> str:
    return plan.chosen.label if plan.chosen else "no way fits"


def _reserve(way: Way) -> str:
    return reserve_text(way) if way.feasible else f"{NONE} {way.lacks[0].split(':')[0]}"
