"""Runs every test with warnings as errors, and closes with one plain line of counts.

Without names, each module of tests runs in a process of its own, as many at once as there are
processors, the longest first.
"""

import os
import re
import subprocess
import sys
import unittest
import warnings
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parent.parent

LONGEST = ("tests.e2e.test_walk", "tests.core.test_many", "tests.e2e.test_bench", "tests.web.test_acts")
"""Modules that take longest, so that they do not start last."""

COUNTS = re.compile(r"(\d+) passed, (\d+) failed, (\d+) skipped\s*$")


def main() -> int:
    """0 when everything passed, else 1."""
    names = sys.argv[1:]
    return run_here(names) if names else run_all()


def run_here(names: list[str]) -> int:
    """Run the named tests in this process."""
    suite = unittest.defaultTestLoader.loadTestsFromNames(names)
    warnings.simplefilter("error")
    result = unittest.TextTestRunner(verbosity=1, warnings="error").run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 0 if result.wasSuccessful() and result.testsRun else 1


def run_all() -> int:
    """Run every module in a process of its own; a module that ends without its counts has failed."""
    modules = [
        ".".join(path.relative_to(ROOT).with_suffix("").parts)
        for path in sorted((ROOT / "tests").rglob("test_*.py"))
    ]
    modules.sort(key=lambda name: LONGEST.index(name) if name in LONGEST else len(LONGEST))
    totals = [0, 0, 0]
    with ThreadPoolExecutor(max_workers=os.cpu_count()) as pool:
        for name, status, said in pool.map(_run_module, modules):
            counts = COUNTS.search(said)
            found = [int(count) for count in counts.groups()] if counts else [0, 1, 0]
            if status and not found[1]:
                found[1] = 1
            totals = [total + count for total, count in zip(totals, found, strict=True)]
            print(f"{name}: {counts[0].strip() if counts else 'ended without its counts'}", flush=True)
            if found[1]:
                print(said, flush=True)
    print(f"{totals[0]} passed, {totals[1]} failed, {totals[2]} skipped")
    return 1 if totals[1] or not totals[0] else 0


def _run_module(name: str) -> tuple[str, int, str]:
    command = [sys.executable, "-m", "tests", name]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    return name, done.returncode, done.stderr + done.stdout


if __name__ == "__main__":
    sys.exit(main())
