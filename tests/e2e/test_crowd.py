"""A little of what `tools/crowd.py` does at length."""

import shutil
import tempfile
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from tests.support import ready_database
from tools.crowd import crowded


class Crowd(unittest.TestCase):
    def test_nothing_is_doubled_and_nothing_lost(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        database = Path(folder.name) / "noggin.sqlite3"
        shutil.copy(ready_database("demo"), database)
        # On a thread: the loop of its browsers is another one than that of the tests'.
        with ThreadPoolExecutor(1) as apart:
            faults, answers = apart.submit(crowded, database, 2).result()
        self.assertEqual(faults, [])
        self.assertGreater(answers, 20)
