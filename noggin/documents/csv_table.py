"""Tables as CSV (RFC 4180), out and in.

A cell that a spreadsheet would take for a formula gets an apostrophe before it, which comes off again when
it is read here; plain numbers are left as they are (OWASP, CSV Injection; the apostrophe is common
practice).
"""

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence

from noggin.documents.problems import BadDocument, Problem

FIELD_MOST = 100_000
"""Characters of a cell that is read."""

_FORMULA = re.compile(r"[=+\-@\t\r']")
_NUMBER = re.compile(r"[+-]?\d+(\.\d+)?")


def harmless(cell: object) -> object:
    """A cell as it is written.

    >>> harmless("=1+1"), harmless("-0.3"), harmless("two")
    ("'=1+1", '-0.3', 'two')
    """
    if isinstance(cell, str) and _FORMULA.match(cell) and not _NUMBER.fullmatch(cell):
        return f"'{cell}"
    return cell


def as_it_was(cell: str) -> str:
    """A cell as it was before it was made harmless.

    >>> as_it_was("'=1+1"), as_it_was("o'clock")
    ('=1+1', "o'clock")
    """
    return cell[1:] if cell[:1] == "'" and _FORMULA.match(cell[1:]) else cell


def written(rows: Iterable[Sequence[object]]) -> str:
    """Rows as CSV text."""
    out = io.StringIO()
    csv.writer(out).writerows([harmless(cell) for cell in row] for row in rows)
    return out.getvalue()


def read(text: str) -> tuple[Sequence[str], Iterator[tuple[int, dict[str, str]]]]:
    """The columns of a CSV text, and its rows by their numbers, the first after the heads being 2; lines
    may end in any way. Raises BadDocument, also while the rows are read."""
    rows = _rows(re.sub(r"\r\n?", "\n", text.removeprefix("\ufeff")))
    columns = next(rows, (1, []))[1]
    return columns, ((number, dict(zip(columns, cells, strict=False))) for number, cells in rows)


def _rows(text: str) -> Iterator[tuple[int, list[str]]]:
    reader = csv.reader(io.StringIO(text))
    number = 0
    while True:
        number += 1
        try:
            cells = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            raise BadDocument([Problem(f"row {number}", str(error))]) from None
        if any(len(cell) > FIELD_MOST for cell in cells):
            raise BadDocument(
                [Problem(f"row {number}", f"a cell is longer than {FIELD_MOST:,} characters")]
            )
        if cells or number == 1:
            yield number, [as_it_was(cell) for cell in cells]
