"""Tables as CSV: what goes out comes in, nothing is a formula. Lines and quotes by RFC 4180; the first
characters that make a spreadsheet calculate by OWASP, CSV Injection."""

import csv
import io
import unittest

from hypothesis import given
from hypothesis import strategies as st

from noggin.documents import csv_table
from noggin.documents.problems import BadDocument

CELLS = st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\r\x00"), max_size=30)
FORMULAS = ("=1+1", "+cmd", "-2+3", "@SUM(A1)", "\t=1", "'=1", "'", "-", "=")


class Table(unittest.TestCase):
    @given(st.lists(st.tuples(CELLS, CELLS), min_size=1, max_size=6))
    def test_what_goes_out_comes_in(self, rows: list[tuple[str, str]]) -> None:
        columns, found = csv_table.read(csv_table.written([("a", "b"), *rows]))
        self.assertEqual(columns, ["a", "b"])
        self.assertEqual([(row["a"], row["b"]) for _, row in found], rows)

    def test_nothing_is_a_formula(self) -> None:
        rows = csv.reader(io.StringIO(csv_table.written([FORMULAS])))
        for cell, formula in zip(next(rows), FORMULAS, strict=True):
            self.assertNotIn(cell[0], "=+-@\t\r", formula)

    def test_plain_numbers_stay_numbers(self) -> None:
        self.assertEqual(csv_table.written([["-0.3", "+1", "2", -0.5]]), "-0.3,+1,2,-0.5\r\n")

    def test_lines_may_end_in_any_way(self) -> None:
        for end in ("\n", "\r", "\r\n"):
            with self.subTest(end=end):
                _, rows = csv_table.read(f"\ufeffa,b{end}1,2{end}{end}3,4{end}")
                self.assertEqual(list(rows), [(2, {"a": "1", "b": "2"}), (4, {"a": "3", "b": "4"})])

    def test_too_long_a_cell_is_named_by_its_row(self) -> None:
        for length in (100_001, 131_073):  # ours, and where Python's own reader gives up
            _, rows = csv_table.read(f"a,b\n1,2\n{'x' * length},y\n")
            with self.assertRaisesRegex(BadDocument, "row 3"):
                list(rows)

    def test_nothing_at_all(self) -> None:
        columns, rows = csv_table.read("")
        self.assertEqual((list(columns), list(rows)), ([], []))
