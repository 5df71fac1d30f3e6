"""Runs every test with warnings as errors, and closes with one plain line of counts."""

import sys
import unittest
import warnings
from pathlib import Path

ROOT = Path(__file__).parent.parent


def main() -> int:
    """0 when everything passed, else 1."""
    names = sys.argv[1:]
    loader = unittest.defaultTestLoader
    suite = (
        loader.loadTestsFromNames(names)
        if names
        else loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))
    )
    warnings.simplefilter("error")
    result = unittest.TextTestRunner(verbosity=1, warnings="error").run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 0 if result.wasSuccessful() and result.testsRun else 1


if __name__ == "__main__":
    sys.exit(main())
