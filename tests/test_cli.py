"""The command line, run as a person runs it."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from noggin.core.board import figures
from noggin.core.ways import plan
from tests.support import NOON, noon, noon_with, raw


def run(*arguments: str, given: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    """What the console script answers."""
    command = [sys.executable, "-m", "noggin.cli", *arguments]
    return subprocess.run(command, input=given, capture_output=True, timeout=60, check=False)


class PlanCommand(unittest.TestCase):
    def test_table_says_what_the_core_computes(self) -> None:
        answer = run("plan", "-", given=raw(NOON))
        self.assertEqual((answer.returncode, answer.stderr), (0, b""))
        lines = answer.stdout.decode().splitlines()
        planned = plan(noon())
        for key, label in (("camera", "shutter, aperture"), ("reserve", "reserve"), ("focus", "in focus")):
            row = next(line for line in lines if line.startswith(label))
            for way in planned.ways:
                self.assertIn(figures(way)[key], row)
        self.assertIn("ND at sync *", "".join(lines))

    def test_json_is_the_plan_document(self) -> None:
        answer = run("plan", "-", "--json", given=raw({**NOON, "notes": "mine"}))
        found = json.loads(answer.stdout)
        self.assertEqual((found["format"], found["chosen"], found["notes"]), ("noggin-plan", "nd", "mine"))

    def test_a_file_by_name(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "noon.json"
            path.write_bytes(raw(NOON))
            self.assertEqual(run("plan", str(path)).returncode, 0)

    def test_faults_are_told_one_a_line_with_status_2_and_nothing_written(self) -> None:
        document = noon_with("scene.ev100.background", 41)
        document["lens"]["widest"] = "wide"
        answer = run("plan", "-", "--json", given=raw(document))
        self.assertEqual((answer.returncode, answer.stdout), (2, b""))
        self.assertEqual(
            answer.stderr.decode().splitlines(),
            ["scene.ev100.background: 41 is outside −10 … 20", 'lens.widest: "wide" is not a number'],
        )

    def test_what_is_no_document_at_all(self) -> None:
        for given in (b"", b"{", b" " * (2 << 20), b"[" * 99999):
            answer = run("plan", "-", given=given)
            with self.subTest(start=given[:3]):
                self.assertEqual((answer.returncode, answer.stdout), (2, b""))
                self.assertEqual(len(answer.stderr.decode().splitlines()), 1)


class DemoCommand(unittest.TestCase):
    def test_loads_once_keeps_changes_and_starts_over_with_a_copy_aside(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            database = str(Path(folder) / "noggin.sqlite3")
            self.assertIn("are loaded", run("demo", "--database", database).stdout.decode())
            self.assertIn("changes are kept", run("demo", "--database", database).stdout.decode())
            self.assertIn("as new", run("demo", "--database", database, "--reset").stdout.decode())
            self.assertEqual(len(list(Path(folder).glob("noggin-*.sqlite3"))), 1)

    def test_a_file_that_is_no_database_is_refused_in_one_line(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "holiday.sqlite3"
            path.write_text("dear diary " * 99)
            for command in ("demo", "serve"):
                answer = run(command, "--database", str(path))
                with self.subTest(command=command):
                    self.assertEqual(answer.returncode, 1)
                    self.assertIn("cannot be used as a database", answer.stderr.decode())
                    self.assertEqual(len(answer.stderr.decode().splitlines()), 1)
            self.assertTrue(path.read_text().startswith("dear diary"))
