"""A little of what `tools/kills.py` does at length."""

import subprocess
import sys
import unittest


class Killed(unittest.TestCase):
    def test_nothing_acknowledged_is_lost_and_nothing_is_there_by_half(self) -> None:
        command = [sys.executable, "-m", "tools.kills", "7", "3"]
        done = subprocess.run(command, capture_output=True, text=True, timeout=900, check=False)
        self.assertEqual((done.returncode, done.stderr), (0, ""), done.stdout)
        self.assertRegex(done.stdout, "^7 kills, [1-9][0-9]* acknowledged, 0 faults")
