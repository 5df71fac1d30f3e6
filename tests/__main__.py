"""Runs every test with warnings as errors, prints the ten slowest and what all came to in seconds and
memory, and closes with one plain line of counts.

Without names all classes of tests are shared out among as many workers as there are processors, the
longest first by the seconds that were recorded (`--record` records them anew), and among them the slow
checks of the house (types, templates, dead names). Modules are imported once, before workers are forked.
"""

import faulthandler
import gc
import json
import multiprocessing
import os
import resource
import subprocess
import sys
import time
import unittest
import warnings
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from contextlib import redirect_stderr
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).parent.parent

SECONDS = ROOT / "tests" / "data" / "seconds.json"
"""How long each class of tests and each check took when last recorded; a new one counts as long."""

UNKNOWN_S = 20.0

CHECKS = {
    "types": ("mypy",),
    "templates": ("djlint", "--check", "--lint", "noggin/web/templates"),
    "dead names": ("tools.dead_names",),
}
"""What is checked beside the tests, each by a module of its own; settings stand in pyproject.toml."""

STUCK_S = 1200
"""A class of tests that takes so long waits for what never comes: its worker says where, and ends."""

SLOWEST_SHOWN = 10

LONG_S = 1.0
"""From how many seconds of tests on a worker looks for what it can give back."""


@dataclass
class Outcome:
    """What running some tests came to: counts, what failed in words, seconds by test, and the most memory
    that each worker held."""

    passed: int = 0
    failed: int = 0
    skipped: int = 0
    said: list[str] = field(default_factory=list)
    seconds: dict[str, float] = field(default_factory=dict)
    group: str = ""
    took: float = 0.0
    memory_mb: dict[int, float] = field(default_factory=dict)

    def add(self, other: "Outcome") -> None:
        """Both together."""
        self.passed += other.passed
        self.failed += other.failed
        self.skipped += other.skipped
        self.said += other.said
        self.seconds |= other.seconds
        self.memory_mb |= other.memory_mb


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
    record = "--record" in names
    names = [name for name in names if name != "--record"]
    loader = unittest.defaultTestLoader
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        suite = (
            loader.loadTestsFromNames(names) if names else loader.discover("tests", top_level_dir=str(ROOT))
        )
    groups = grouped(suite)
    total, took = Outcome(), dict[str, float]()
    for outcome in (run(group) for group in groups.values()) if names else shared_out(groups):
        total.add(outcome)
        took[outcome.group] = round(outcome.took, 1)
        for text in outcome.said:
            print(text, flush=True)
    if record:
        SECONDS.write_text(json.dumps(dict(sorted(took.items())), indent=1) + "\n", encoding="utf-8")
    _print_figures(total, started)
    print(f"{total.passed} passed, {total.failed} failed, {total.skipped} skipped")
    return 0 if total.passed and not total.failed else 1


def _print_figures(total: Outcome, started: float) -> None:
    slowest = sorted(total.seconds, key=lambda name: -total.seconds[name])[:SLOWEST_SHOWN]
    for name in slowest:
        print(f"{total.seconds[name]:6.1f} s  {name}")
    spent = [resource.getrusage(who) for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)]
    processor_s = sum(usage.ru_utime + usage.ru_stime for usage in spent)
    print(f"{time.monotonic() - started:6.1f} s  in all, {processor_s:.0f} s of processor time")
    if total.memory_mb:
        most = ", ".join(f"{memory:.0f}" for memory in total.memory_mb.values())
        print(f"workers held at most {most} MB")


def grouped(suite: unittest.TestSuite) -> dict[str, list[unittest.TestCase]]:
    """Tests by their class, for what a class sets up is set up once."""
    groups: dict[str, list[unittest.TestCase]] = {}
    for test in _flat(suite):
        groups.setdefault(f"{type(test).__module__}.{type(test).__qualname__}", []).append(test)
    return groups


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from _flat(test)
        else:
            yield test


def _on_the_terminal(found: "sys.UnraisableHookArgs") -> None:
    """What is left unclosed is told when it is thrown away, on the terminal: never to whichever test then
    reads what a command says. What is told so comes from Werkzeug's test client, which spools a large form
    into a file of its own and leaves that to the collector (`stream_encode_multipart`), and from answers
    with a file that a closed page no longer reads."""
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


def _keep_small() -> None:
    # Imported by then; up here it would be before warnings are errors.
    from noggin.web.shared.memory import keep_small

    keep_small()


def _give_back() -> None:
    from noggin.web.shared.memory import give_back

    give_back()


def _run_group(name: str) -> Outcome:
    """A class of tests, or a check, in a worker, which gives back what it holds no more after a long
    one."""
    started = time.monotonic()
    faulthandler.dump_traceback_later(STUCK_S, exit=True)
    outcome = _checked(name) if name in CHECKS else run(_groups[name])
    faulthandler.cancel_dump_traceback_later()
    outcome.group, outcome.took = name, time.monotonic() - started
    if outcome.took > LONG_S:
        _give_back()
    outcome.memory_mb[os.getpid()] = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return outcome


def _checked(name: str) -> Outcome:
    command = [sys.executable, "-m", *CHECKS[name]]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    if done.returncode == 0:
        return Outcome(passed=1)
    return Outcome(failed=1, said=[f"{name}\n{done.stdout}{done.stderr}"])


def shared_out(groups: dict[str, list[unittest.TestCase]]) -> Iterator[Outcome]:
    """Run every group and every check in one of the workers, the longest first; one that ends a worker has
    failed."""
    _groups.update(groups)
    known: dict[str, float] = json.loads(SECONDS.read_text(encoding="utf-8")) if SECONDS.exists() else {}
    dealt = sorted((*CHECKS, *groups), key=lambda name: -known.get(name, UNKNOWN_S))
    workers = max(os.cpu_count() or 1, 2)
    gc.freeze()  # what was imported stays, and is not looked through again and again
    with ProcessPoolExecutor(workers, multiprocessing.get_context("fork"), _keep_small) as pool:
        names = {pool.submit(_run_group, name): name for name in dealt}
        for future in as_completed(names):
            try:
                yield future.result()
            except BrokenProcessPool as broken:
                yield Outcome(failed=1, said=[f"{names[future]}\nended its worker: {broken}"])


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
