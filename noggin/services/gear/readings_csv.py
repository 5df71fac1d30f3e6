"""Readings of gear as CSV, out and in."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from noggin.core.gear.sheets import SHEETS
from noggin.documents import csv_table
from noggin.documents.kit import canonical_measurement
from noggin.documents.problems import BadDocument, Problem
from noggin.services.gear.kit import all_gear, kind_of
from noggin.services.gear.measuring import filled, written_sheet
from noggin.services.keeping.kept import KeptItem
from noggin.store.store import Store

UNKNOWN = "?"
"""A face whose size is to be found from the readings; nothing at all means a point."""

COLUMNS = ("gear", "sheet", "taken", "taken_with", "about", "across_m", "sync_s", "droop", "reading")
"""Columns of the CSV of readings: one reading a row."""


def readings_csv(store: Store) -> str:
    """Every reading that was ever kept, one a row."""
    return csv_table.written([COLUMNS, *_written_rows(store)])


def _written_rows(store: Store) -> Iterator[Sequence[object]]:
    for item in all_gear(store):
        for _, one in store.measurements.of(item.id):
            for line in filter(None, map(str.strip, one["readings"].splitlines())):
                given = {"gear": item.name, "reading": line, "droop": False, **one}
                if "across" in SHEETS[one["sheet"]].asks and one.get("across_m") is None:
                    given["across_m"] = UNKNOWN
                yield [given.get(name) for name in COLUMNS]


@dataclass
class _Rows:
    """Rows of one measurement, gathered."""

    item: KeptItem
    given: dict[str, Any]
    lines: list[str] = field(default_factory=list)


def read_readings_csv(store: Store, text: str) -> int:
    """Keep the readings of a CSV that are not kept yet; how many measurements are new. Rows that say the
    same but for the reading are one measurement.

    Raises BadDocument with the row of what cannot be; then nothing is kept.
    """
    columns, rows = csv_table.read(text)
    missing = [name for name in ("gear", "sheet", "reading") if name not in columns]
    if missing:
        raise BadDocument([Problem("", f"the first row names no column {', '.join(missing)}")])
    gear = {item.name: item for item in all_gear(store)}
    gathered: dict[tuple[str, ...], _Rows] = {}
    problems = []
    for number, row in rows:
        try:
            given = _given(row)
            item = gear[row["gear"]]
            key = tuple(str(row.get(name) or "") for name in COLUMNS[:-1])
            gathered.setdefault(key, _Rows(item, given)).lines.append((row["reading"] or "").strip())
        except KeyError:
            problems.append(Problem(f"row {number}", f"no gear in the kit is called ‘{row['gear']}’"))
        except ValueError:
            problems.append(Problem(f"row {number}", "across_m and sync_s must be numbers"))
    ready = []
    for rows_together in gathered.values():
        try:
            ready.append(_ready(rows_together))
        except BadDocument as bad:
            problems += [Problem(rows_together.item.name, str(problem)) for problem in bad.problems]
    if problems:
        raise BadDocument(problems)
    new = 0
    with store.write_transaction():
        for item, measurement in ready:
            if measurement not in [kept for _, kept in store.measurements.of(item.id)]:
                store.measurements.add(item.id, measurement)
                new += 1
    return new


def _given(row: Mapping[str, str | None]) -> dict[str, Any]:
    across, sync = row.get("across_m"), row.get("sync_s")
    return {
        "sheet": row["sheet"] or "",
        "taken": row.get("taken") or "",
        "taken_with": row.get("taken_with") or "",
        "about": row.get("about") or "",
        "across_m": None if across == UNKNOWN else float(across or 0),
        "sync_s": float(sync) if sync else None,
        "droop": (row.get("droop") or "").lower() in ("true", "1", "yes"),
    }


def _ready(rows: _Rows) -> tuple[KeptItem, dict[str, Any]]:
    """One measurement checked, also that its readings can be read."""
    found = canonical_measurement({**rows.given, "readings": "\n".join(rows.lines)})
    sheet = SHEETS[found["sheet"]]
    if sheet.kind != kind_of(rows.item):
        raise BadDocument([Problem("sheet", f"{sheet.title} does not apply to this gear")])
    if "across" not in sheet.asks:
        found.pop("across_m", None)
    problem = filled(rows.item, written_sheet(found)).problem
    if problem:
        raise BadDocument([Problem("reading", problem)])
    return rows.item, found
