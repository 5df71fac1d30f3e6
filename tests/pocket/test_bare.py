"""What is done standing there needs nothing that a phone has no build of."""

import json
import subprocess
import sys

from noggin.documents.archive import zipped
from noggin.services.whole.pocket_site import PACKAGE, for_a_phone
from tests.support import AppCase

AT_THE_SPOT = ("planning", "pops", "shoot", "advice", "setup", "layout", "daylight", "typed")
FILES_ALONE = {"pops/tone_curve.py"}
"""Reads pictures, which a phone does not."""

PAGES = [
    *("/", "/setups", "/kit", "/bags", "/reach", "/log", "/practice", "/keep", "/find?q=wall", "/shoots"),
    *(f"/setups/SETUP{place}" for place in range(8)),
    *(f"/setups/SETUP{place}/{page}" for place in (0, 2, 4) for page in ("plan", "shoot")),
    *("/setups/SETUP0/setup.html", "/setups/SETUP0/setup.json", "/setups/SETUP1?look=hss"),
    *("/shoots/SHOOT", "/shoots/SHOOT/live", "/shoots/SHOOT/day.html", "/shoots/SHOOT/calendar.ics"),
]


class Bare(AppCase):
    database = "demo"

    def test_the_rooms_of_the_core_that_are_used_there_name_no_numpy(self) -> None:
        for room in AT_THE_SPOT:
            for path in (PACKAGE / "core" / room).rglob("*.py"):
                inside = path.relative_to(PACKAGE / "core").as_posix()
                if inside not in FILES_ALONE:
                    self.assertNotIn("import numpy", path.read_text("utf-8"), inside)

    def test_pages_are_answered_where_nothing_of_that_can_be_imported(self) -> None:
        brought = self.path.with_name("given.zip")
        brought.write_bytes(zipped(for_a_phone(self.store, self.wiring.clock)))
        command = [sys.executable, "-m", "tests.pocket.bare", str(brought), *PAGES]
        done = subprocess.run(command, cwd=PACKAGE.parent, capture_output=True, text=True, check=False)
        answers = dict(map(json.loads, done.stdout.splitlines()))
        self.assertEqual(answers, dict.fromkeys(PAGES, 200), done.stderr[-600:])
