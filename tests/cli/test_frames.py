"""Frames in and the log out, by the terminal."""

import json
import os
import subprocess
import sys
import tempfile
import unittest
from datetime import datetime, timedelta, timezone
from pathlib import Path

from noggin.devices.simulated_camera import Exposure, FileCamera, View
from tests.cli.test_documents import run

AT = datetime(2027, 6, 19, 13, 20, tzinfo=timezone(timedelta(hours=2)))


class Frames(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "card"
        (self.folder / "below").mkdir(parents=True)
        self.database = str(Path(folder.name) / "noggin.sqlite3")
        view = View({"background": -1.0, "subject": 0.0, "sky": 0.3}, card=True)
        for index in range(3):
            taken = Exposure(1 / 160, 2.0, 100, 85, index > 0, AT + timedelta(minutes=index))
            camera = FileCamera(index)
            (self.folder / f"{index}.jpg").write_bytes(camera.jpeg(view, taken))
            (self.folder / "below" / f"{index}.dng").write_bytes(camera.dng(view, taken))
        (self.folder / "cut.jpg").write_bytes((self.folder / "0.jpg").read_bytes()[:700])
        (self.folder / "notes.txt").write_text("no picture")

    def frames(self, *more: str) -> list[str]:
        answer = run("frames", str(self.folder), "--database", self.database, *more)
        self.assertEqual((answer.returncode, answer.stderr), (0, b""))
        return answer.stdout.decode().splitlines()

    def test_a_line_for_each_file_with_settings_and_tones(self) -> None:
        lines = self.frames()
        self.assertEqual(lines[-1], "6 new, 0 known already, 1 skipped")
        self.assertEqual(len(lines), 8)
        raw = next(line for line in lines if line.startswith("below/0.dng"))
        self.assertIn("below/0.dng: 2027-06-19 13:20, 1/160 f/2 ISO 100 no flash; face ", raw)
        self.assertIn("background −1.0 ± 0.2", raw)
        self.assertTrue(any(line.startswith("cut.jpg: skipped, is cut off") for line in lines))
        self.assertFalse(any("notes.txt" in line for line in lines))

    def test_as_objects(self) -> None:
        found = {one["file"]: one for one in map(json.loads, self.frames("--json"))}
        self.assertEqual(found["1.jpg"]["taken"], "2027-06-19T13:21:00+02:00")
        self.assertEqual(found["1.jpg"]["settings"]["aperture"], 2.0)
        self.assertAlmostEqual(found["1.jpg"]["patches"]["background"]["level"], -1.0, delta=0.1)
        self.assertIn("cut off", found["cut.jpg"]["skipped"])

    def test_an_odd_file_is_named_and_skipped_and_the_rest_comes_in(self) -> None:
        whole = (self.folder / "0.jpg").read_bytes()
        for year in (b"0001", b"1899", b"9999"):
            odd = whole.replace(b"2027:06:19", year + b":06:19")
            self.assertNotEqual(odd, whole)
            (self.folder / f"year{year.decode()}.jpg").write_bytes(odd)
        for index, name in enumerate((b"bell\x07.jpg", b"half\xe2\x82.jpg", b"n" * 240 + b".jpg")):
            folder = os.fsencode(self.folder) + (b"/" + b"f" * 200 if len(name) > 200 else b"")
            os.makedirs(folder, exist_ok=True)
            Path(os.fsdecode(folder + b"/" + name)).write_bytes(whole + bytes([index]))
        lines = self.frames()
        self.assertEqual(lines[-1], "6 new, 0 known already, 7 skipped")
        self.assertEqual(sum("taken in the year" in line for line in lines), 3)
        self.assertTrue(any(line.startswith("bell\ufffd.jpg: skipped") for line in lines))
        self.assertEqual(self.frames()[-1], "0 new, 6 known already, 7 skipped")

    def test_a_run_that_was_stopped_goes_on_where_it_was(self) -> None:
        first = run("frames", str(self.folder / "0.jpg"), "--database", self.database)
        self.assertIn(b"1 new", first.stdout)
        self.assertEqual(self.frames()[-1], "5 new, 1 known already, 1 skipped")
        self.assertEqual(self.frames()[-1], "0 new, 6 known already, 1 skipped")

    def test_killed_in_the_middle_none_is_lost_and_none_in_twice(self) -> None:
        view = View({"background": -1.0, "subject": 0.0, "sky": 0.3})
        for index in range(10, 24):
            taken = Exposure(1 / 160, 2.0, 100, 85, True, AT + timedelta(seconds=index))
            (self.folder / f"{index}.jpg").write_bytes(FileCamera(index).jpeg(view, taken))
        command = [
            sys.executable,
            "-m",
            "noggin.cli",
            "frames",
            str(self.folder),
            "--database",
            self.database,
        ]
        with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as running:
            assert running.stdout is not None
            told = [running.stdout.readline().decode().split(":")[0] for _ in range(5)]
            running.kill()
        document = json.loads(run("log", "--json", "--database", self.database).stdout)
        names = [frame["file"] for frame in document["frames"]]
        self.assertLessEqual(set(told), set(names), "what was told is kept")
        self.assertEqual(len(set(names)), len(names))
        self.assertEqual(self.frames()[-1], f"{20 - len(names)} new, {len(names)} known already, 1 skipped")

    def test_the_log_comes_out_newest_first_in_every_form(self) -> None:
        self.frames()
        plain = run("log", "--database", self.database).stdout.decode().splitlines()
        self.assertEqual(len(plain), 6)
        self.assertEqual(sorted(plain, reverse=True)[0][:16], plain[0][:16])
        document = json.loads(run("log", "--json", "--database", self.database).stdout)
        self.assertEqual((document["format"], len(document["frames"])), ("noggin-log", 6))
        self.assertEqual(document["frames"][0]["dialled"]["shutter"], "1/160")
        self.assertEqual(len(run("log", "--csv", "--database", self.database).stdout.splitlines()), 7)
        since = run("log", "--since", "2027-06-20", "--database", self.database)
        self.assertEqual(since.stdout, b"")
        self.assertEqual(run("log", "--setup", "none", "--database", self.database).stdout.count(b"\n"), 6)
        self.assertEqual(run("log", "--light", "Key", "--database", self.database).stdout, b"")

    def test_a_zone_that_is_none_is_said(self) -> None:
        answer = run("frames", str(self.folder), "--zone", "Mars", "--database", self.database)
        self.assertEqual(answer.returncode, 1)
        self.assertIn(b"Mars is not a time zone", answer.stderr)


if __name__ == "__main__":
    unittest.main()
