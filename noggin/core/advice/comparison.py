"""What changed between two versions of a set-up, row by row, for the way that each recommends, and for
every other."""

from dataclasses import dataclass

from noggin.core.advice.verdict_words import first_lack, reserve_or_lack
from noggin.core.advice.way_table import ROWS
from noggin.core.planning.way import Plan
from noggin.core.planning.ways import WAYS


@dataclass(frozen=True)
class Difference:
    """One row that differs, as it is written before and after."""

    label: str
    before: str
    after: str


def comparison(before: Plan, after: Plan) -> tuple[Difference, ...]:
    """The recommended way and its rows where they differ, then what every way has to spare or lacks."""
    shown, shown_now = before.shown, after.shown
    found = [Difference("recommended", _recommended(before), _recommended(after))]
    found += [Difference(row.label, row.text(shown), row.text(shown_now)) for row in ROWS]
    for key, kind in WAYS.items():
        texts = reserve_or_lack(before.way(key)), reserve_or_lack(after.way(key))
        found.append(Difference(kind.label, *texts))
    return tuple(row for row in found if row.before != row.after)


def _recommended(plan: Plan) -> str:
    chosen = plan.chosen
    if chosen is None:
        return "no method works"
    return f"{chosen.label}, {first_lack(chosen)}" if chosen.mend else chosen.label
