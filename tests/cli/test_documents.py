"""The command line; once in a process of its own, else in this one."""

import json
import subprocess
import sys
import tempfile
import unittest
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path

from click.testing import CliRunner

from noggin.cli import main
from noggin.core.advice.way_table import figures
from noggin.core.planning.plan import plan
from noggin.demo import demo_shoot
from tests.support import NOON, noon, noon_with, raw


@dataclass(frozen=True)
class Answer:
    """What a command answers."""

    returncode: int
    stdout: bytes
    stderr: bytes


def run(*arguments: str, given: bytes = b"") -> Answer:
    """What a command answers, run in this process."""
    found = CliRunner().invoke(main, arguments, input=given)
    if found.exception and not isinstance(found.exception, SystemExit):
        raise found.exception
    return Answer(found.exit_code, found.stdout_bytes, found.stderr_bytes)


class ConsoleScript(unittest.TestCase):
    def test_it_runs_as_a_person_runs_it(self) -> None:
        command = [sys.executable, "-m", "noggin.cli", "plan", "-"]
        done = subprocess.run(command, input=raw(NOON), capture_output=True, timeout=600, check=False)
        self.assertEqual((done.returncode, done.stderr), (0, b""))
        self.assertEqual(done.stdout, run("plan", "-", given=raw(NOON)).stdout)


class ShootCommand(unittest.TestCase):
    def test_the_demo_that_ships_is_a_document_like_any_other(self) -> None:
        answer = run("shoot", str(files("noggin.demo") / "shoot.json"))
        self.assertEqual((answer.returncode, answer.stderr), (0, b""))
        self.assertIn("Wedding at the hilltop observatory", answer.stdout.decode())

    def test_the_day_as_a_table(self) -> None:
        answer = run("shoot", "-", given=raw(demo_shoot()))
        self.assertEqual((answer.returncode, answer.stderr), (0, b""))
        text = answer.stdout.decode()
        self.assertIn("sunrise 06:17, highest at 13:58, 71°, sunset 21:39", text)
        row = next(line for line in text.splitlines() if line.startswith("13:10–13:35"))
        for words in ("Orchard wall", "behind the subject", "ND at sync", "1/160 f/2 ISO 100", "to 21:25"):
            self.assertIn(words, row)
        self.assertNotIn("Watch out:", text)

    def test_what_is_wrong_with_it_and_what_cannot_be(self) -> None:
        document = demo_shoot()
        document["slots"][2]["start"] = "13:20"
        text = run("shoot", "-", given=raw(document)).stdout.decode()
        self.assertIn(
            "- ‘Orchard wall, both of them’ and ‘Same wall, speedlight in an umbrella’ overlap", text
        )
        document["place"]["lat"] = 95
        answer = run("shoot", "-", given=raw(document))
        self.assertEqual((answer.returncode, answer.stdout), (2, b""))
        self.assertIn("place.lat: 95 is outside", answer.stderr.decode())


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

    def test_what_helps_and_what_else_there_is_to_know_stand_under_the_table(self) -> None:
        text = run("plan", "-", given=raw(NOON)).stdout.decode()
        self.assertIn("stop down: to f/16 (+5.8 stops)", text)
        self.assertIn("- first to clip: white dress at +2.5", text)

    def test_json_is_the_plan_document(self) -> None:
        answer = run("plan", "-", "--json", given=raw({**NOON, "notes": "mine"}))
        found = json.loads(answer.stdout)
        within = next(way for way in found["ways"] if way["way"] == "within_sync")
        self.assertIn({"intent.aperture": 16.0}, [remedy["change"] for remedy in within["remedies"]])
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


class LightCommand(unittest.TestCase):
    PLACE = ("--lat", "42.46", "--lon", "0.71", "--date", "2027-06-19", "--tz", "Europe/Madrid")

    def test_table_and_document_say_the_same_day(self) -> None:
        found = json.loads(run("light", *self.PLACE, "--json").stdout)
        self.assertEqual((found["format"], found["version"]), ("noggin-light", 1))
        self.assertEqual(len(found["rows"]), 96)
        noon_row = next(row for row in found["rows"] if row["time"] == "2027-06-19T14:00:00+02:00")
        # Sun in the south near noon: 90 − 42.46 + 23.43 = 70.97° high (astronomical almanac, from memory).
        self.assertAlmostEqual(noon_row["sun_height_deg"], 70.97, delta=0.05)
        self.assertEqual(set(noon_row["ev100"]), {"sunlit", "shaded", "sky"})
        table = run("light", *self.PLACE).stdout.decode()
        line = next(line for line in table.splitlines() if line.startswith("14:00 +0200"))
        self.assertIn(f"{noon_row['ev100']['sunlit']:.1f}", line)

    def test_days_with_a_clock_change_have_more_or_fewer_rows(self) -> None:
        for day, count in (("2027-03-28", 23), ("2027-10-31", 25)):
            place = [*self.PLACE[:5], day, *self.PLACE[6:]]
            found = json.loads(run("light", *place, "--every", "60", "--json").stdout)
            self.assertEqual(len(found["rows"]), count)

    def test_facing_sky_and_ground_are_taken(self) -> None:
        options = ("--facing", "200", "--sky", "overcast", "--ground", "snow", "--every", "60")
        found = json.loads(run("light", *self.PLACE, *options, "--json").stdout)
        self.assertEqual(
            (found["place"]["facing_deg"], found["place"]["sky"], found["place"]["ground"]),
            (200, "overcast", "snow"),
        )
        self.assertTrue(all(r["ev100"]["sunlit"] == r["ev100"]["shaded"] for r in found["rows"]))

    def test_what_cannot_be_is_refused_with_status_2_and_nothing_written(self) -> None:
        for index, wrong, said in (
            (1, "95", "lat: 95 is outside −90 … 90 °"),
            (1, "nan", "lat: NaN is not a number"),
            (5, "2027-02-30", "is not a date. Try 2027-06-19"),
            (5, "1500-01-01", "1500 is outside 1900 … 2100"),
            (7, "Europe/Nowhere", "is not a time zone. Try Europe/Madrid"),
        ):
            place = list(self.PLACE)
            place[index] = wrong
            answer = run("light", *place, "--json")
            with self.subTest(wrong=wrong):
                self.assertEqual((answer.returncode, answer.stdout), (2, b""))
                self.assertIn(said, answer.stderr.decode())
        self.assertEqual(run("light", *self.PLACE, "--every", "0").returncode, 2)


class DemoCommand(unittest.TestCase):
    def test_loads_once_keeps_changes_and_starts_over_with_a_copy_aside(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            database = str(Path(folder) / "noggin.sqlite3")
            self.assertIn("is loaded", run("demo", "--database", database).stdout.decode())
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
                    self.assertIn("is not a database", answer.stderr.decode())
                    self.assertEqual(len(answer.stderr.decode().splitlines()), 1)
            self.assertTrue(path.read_text().startswith("dear diary"))
