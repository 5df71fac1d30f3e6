"""Two thousand spoilt documents: exit status 2, the field's name, nothing written, never a trace."""

import json
import unittest
from collections.abc import Callable
from copy import deepcopy
from random import Random
from typing import Any

from click.testing import CliRunner

from noggin.cli import main
from noggin.demo import demo_documents
from noggin.documents.paths import path_of
from noggin.documents.setup import canonical
from tests.support import EXPLORE

COUNT = 10_000 if EXPLORE else 600
Path = tuple[str | int, ...]


def whole() -> Any:
    """A document with every kind of field in it."""
    found = canonical(demo_documents()[0])
    del found["notes"]
    found["scene"]["uncertainty"] = {"background": 0.3, "subject": "measured"}
    found["camera"] |= {"iso_base": 100, "curtain_s": "1/250", "shutter": "focal_plane"}
    found["lights"][0] |= {
        "pulse": {"head": "cut", "t05_s": "1/800", "table": [["1/1", "1/300"], ["1/2", "1/900"]]},
        "gel": "half_cto",
        "hss_droop": 0.2,
        "relative_level": None,
    }
    return canonical(found)


def leaves(part: Any, path: Path = ()) -> list[Path]:
    """Paths of every value that is not itself a list or an object."""
    if isinstance(part, dict):
        return [leaf for key, value in part.items() for leaf in leaves(value, (*path, key))]
    if isinstance(part, list):
        return [leaf for at, value in enumerate(part) for leaf in leaves(value, (*path, at))]
    return [path]


def at(part: Any, path: Path) -> Any:
    """The value at a path."""
    for step in path:
        part = part[step]
    return part


def put(document: dict[str, Any], path: Path, value: Any) -> None:
    """Set the value at a path."""
    at(document, path[:-1])[path[-1]] = value


def deep(levels: int) -> Any:
    """A list in a list in a list."""
    found: Any = 1
    for _ in range(levels):
        found = [found]
    return found


SPOILERS: dict[str, Callable[[Random], Any]] = {
    "object for a value": lambda rng: {"what": rng.random()},
    # Not two or three: a variable filter's stops are a pair, and places have two or three figures.
    "list for a value": lambda rng: [rng.random()] * rng.choice((0, 1, 4, 5)),
    "NaN": lambda _: float("nan"),
    "infinity": lambda rng: rng.choice([1, -1]) * float("inf"),
    "huge": lambda rng: rng.choice([1, -1]) * 10.0 ** rng.randint(7, 300),
    "deep": lambda rng: deep(rng.randint(1, 20)),
    "control characters": lambda rng: chr(rng.randint(0, 31)) + "x" * rng.randint(0, 200),
}
"""Values that no field can hold, wherever they are put."""


class Mutated(unittest.TestCase):
    def setUp(self) -> None:
        self.runner = CliRunner()
        self.rng = Random(1230)  # noqa: S311 - a fixed seed is what a test wants

    def refused(self, raw: bytes) -> list[str]:
        """The lines of the refusal of a document; anything else fails."""
        answer = self.runner.invoke(main, ["plan", "-", "--json"], input=raw)
        self.assertIsInstance(answer.exception, SystemExit, answer.exception)
        self.assertEqual((answer.exit_code, answer.stdout), (2, ""))
        self.assertNotIn("Traceback", answer.stderr)
        self.assertTrue(answer.stderr.strip())
        return answer.stderr.splitlines()

    def test_the_whole_document_can_be_planned(self) -> None:
        answer = self.runner.invoke(main, ["plan", "-", "--json"], input=json.dumps(whole()).encode())
        self.assertEqual(answer.exit_code, 0, answer.stderr)

    def test_spoilt_values_are_named_by_their_field(self) -> None:
        document = whole()
        paths = leaves(document)
        self.assertGreater(len(paths), 70)
        for number in range(COUNT - 300):
            path = self.rng.choice(paths)
            kind = self.rng.choice(list(SPOILERS))
            spoilt = deepcopy(document)
            put(spoilt, path, SPOILERS[kind](self.rng))
            with self.subTest(number=number, path=path_of(path), kind=kind):
                # Of a pair, such as the sensor's sides, a fault may name the pair.
                names = (path_of(path), path_of(path[:-1]) if isinstance(path[-1], int) else path_of(path))
                lines = self.refused(json.dumps(spoilt).encode())
                self.assertTrue(any(line.startswith(names) for line in lines), lines)

    def test_truncated_documents(self) -> None:
        raw = json.dumps(whole(), indent=1).encode()
        for _ in range(200):
            (line,) = self.refused(raw[: self.rng.randrange(len(raw) - 1)])
            self.assertRegex(line, "not JSON|is empty")

    def test_missing_and_unknown_fields(self) -> None:
        document = whole()
        needed = [("scene",), ("scene", "ev100", "background"), ("camera", "sync_s"), ("lights", 0, "gn_m")]
        for path in needed:
            spoilt = deepcopy(document)
            del at(spoilt, path[:-1])[path[-1]]
            with self.subTest(path=path_of(path)):
                self.assertEqual(
                    self.refused(json.dumps(spoilt).encode()), [f"{path_of(path)}: is missing"]
                )
        for number in range(96):
            spoilt = deepcopy(document)
            parent = self.rng.choice([path[:-1] for path in leaves(document)])
            if isinstance(at(spoilt, parent), list):
                continue
            put(spoilt, (*parent, "surprise"), number)
            with self.subTest(parent=parent):
                line = f"{path_of((*parent, 'surprise'))}: is not a field of this document"
                self.assertIn(line, self.refused(json.dumps(spoilt).encode()))
