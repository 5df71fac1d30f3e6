"""The ways of a set-up as CSV."""

from noggin.core.advice import way_table
from noggin.core.advice.verdict_words import lacks_in_words
from noggin.documents import csv_table
from noggin.services.setups.setups import OpenSetUp


def ways_csv(opened: OpenSetUp) -> str:
    """The table of ways as CSV: one row for each way."""
    rows: list[list[object]] = [
        ["set-up", "method", "works", *(row.label for row in way_table.ROWS), "lacks"]
    ]
    for way in opened.plan.ways:
        figures = [row.text(way) for row in way_table.ROWS]
        lacks = "; ".join(lacks_in_words(way))
        rows.append([opened.setup.name, way.label, way.feasible, *figures, lacks])
    return csv_table.written(rows)
