"""A little of what `tools/crowd.py` does at length."""

import subprocess
import sys
import unittest


class Crowd(unittest.TestCase):
    def test_nothing_is_doubled_and_nothing_lost(self) -> None:
        command = [sys.executable, "-m", "tools.crowd", "2"]
        done = subprocess.run(command, capture_output=True, text=True, timeout=900, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        self.assertRegex(done.stdout, "^2 browsers, [1-9][0-9]* answers, 0 faults")
