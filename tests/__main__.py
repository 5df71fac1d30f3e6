"""Runs every test with warnings as errors, prints the ten slowest, and closes with one plain line of
counts.

Without names all classes of tests are shared out among as many workers as there are processors. Modules are
imported once, before the workers are forked off.
"""

import multiprocessing
import os
import sys
import time
import unittest
import warnings
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import redirect_stderr
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).parent.parent

LONGEST = (
    "tests.e2e.test_everybody",
    "tests.e2e.test_keys",
    "tests.core.planning.test_many_setups",
    "tests.e2e.test_keeping",
    "tests.e2e.test_walk",
    "tests.e2e.test_bench",
    "tests.e2e",
    "tests.web.test_acts",
    "tests.core.shoot.test_many_days",
    "tests.documents.test_mutated",
)
"""Beginnings of the names of what takes longest, so that it does not start last."""

SLOWEST_SHOWN = 10


@dataclass
class Outcome:
    """What running some tests came to: counts, what failed in words, and seconds by test."""

    passed: int = 0
    failed: int = 0
    skipped: int = 0
    said: list[str] = field(default_factory=list)
    seconds: dict[str, float] = field(default_factory=dict)

    def add(self, other: "Outcome") -> None:
        """Both together."""
        self.passed += other.passed
        self.failed += other.failed
        self.skipped += other.skipped
        self.said += other.said
        self.seconds |= other.seconds


class Timed(unittest.TestResult):
    """A result that knows how long each test took."""

    def __init__(self) -> None:
        super().__init__()
        self.seconds: dict[str, float] = {}

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802 - unittest's own name
        self._started = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802 - unittest's own name
        super().stopTest(test)
        self.seconds[test.id()] = time.monotonic() - self._started


def main(names: list[str]) -> int:
    """0 when everything passed, else 1."""
    started = time.monotonic()
    loader = unittest.defaultTestLoader
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        suite = (
            loader.loadTestsFromNames(names) if names else loader.discover("tests", top_level_dir=str(ROOT))
        )
    groups = grouped(suite)
    total = Outcome()
    for outcome in (run(group) for group in groups.values()) if names else shared_out(groups):
        total.add(outcome)
        for text in outcome.said:
            print(text, flush=True)
    slowest = sorted(total.seconds, key=lambda name: -total.seconds[name])[:SLOWEST_SHOWN]
    for name in slowest:
        print(f"{total.seconds[name]:6.1f} s  {name}")
    print(f"{time.monotonic() - started:6.1f} s  in all")
    print(f"{total.passed} passed, {total.failed} failed, {total.skipped} skipped")
    return 0 if total.passed and not total.failed else 1


def grouped(suite: unittest.TestSuite) -> dict[str, list[unittest.TestCase]]:
    """Tests by their class, for what a class sets up is set up once; what takes longest comes first."""
    groups: dict[str, list[unittest.TestCase]] = {}
    for test in _flat(suite):
        groups.setdefault(f"{type(test).__module__}.{type(test).__qualname__}", []).append(test)
    return dict(sorted(groups.items(), key=lambda group: _turn(group[0])))


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from _flat(test)
        else:
            yield test


def _turn(name: str) -> int:
    return next((turn for turn, long in enumerate(LONGEST) if name.startswith(long)), len(LONGEST))


def _on_the_terminal(found: "sys.UnraisableHookArgs") -> None:
    """What is left unclosed is told when it is thrown away, on the terminal: never to whichever test then
    reads what a command says."""
    with redirect_stderr(sys.__stderr__):
        sys.__unraisablehook__(found)


def run(tests: list[unittest.TestCase]) -> Outcome:
    """Run some tests in this process."""
    sys.unraisablehook = _on_the_terminal
    result = Timed()
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        # It warns of forks after LibRaw's threads (OpenMP) have begun: none has, before the workers fork.
        warnings.filterwarnings("ignore", "rawpy is being used in a process", RuntimeWarning)
        unittest.TestSuite(tests).run(result)
    wrong = [*result.failures, *result.errors]
    said = [f"{test}\n{text}" for test, text in wrong]
    said += [f"{test}\nwas expected to fail" for test in result.unexpectedSuccesses]
    skipped = len(result.skipped)
    failing = {
        test.id().split(" ")[0] for test, _ in wrong
    }  # a test fails once, however many of its cases do
    failed = max(len(failing), bool(wrong)) + len(result.unexpectedSuccesses)
    return Outcome(max(result.testsRun - failed - skipped, 0), failed, skipped, said, result.seconds)


_groups: dict[str, list[unittest.TestCase]] = {}


def _run_group(name: str) -> Outcome:
    return run(_groups[name])


def shared_out(groups: dict[str, list[unittest.TestCase]]) -> Iterator[Outcome]:
    """Run every group in one of the workers; one that ends a worker has failed."""
    _groups.update(groups)
    workers = max(os.cpu_count() or 1, 2)
    with ProcessPoolExecutor(workers, multiprocessing.get_context("fork")) as pool:
        for name, future in [(name, pool.submit(_run_group, name)) for name in groups]:
            try:
                yield future.result()
            except BrokenProcessPool as broken:
                yield Outcome(failed=1, said=[f"{name}\nended its worker: {broken}"])


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
