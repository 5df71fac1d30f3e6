"""`noggin proof`: a picture out, and what can be read off it."""

import gc
import json
import tempfile
import unittest
from io import BytesIO
from math import log2
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from noggin.core.planning.plan import plan
from tests.cli.test_documents import Answer, run
from tests.documents.test_layout import standing
from tests.support import NOON, noon, noon_with, raw

WEIGHTS = (0.2126, 0.7152, 0.0722)
"""Luminance of linear red, green and blue: ITU-R BT.709."""


class ProofCommand(unittest.TestCase):
    def setUp(self) -> None:
        # What earlier tests left unclosed is told on standard error when it is collected: not in here.
        gc.collect()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.out = Path(folder.name) / "P.png"

    def proof(self, document: Any, *more: str, out: str = "") -> Answer:
        where = str(self.out.with_name(out) if out else self.out)
        return run("proof", "-", "--out", where, "--size", "300x200", *more, given=raw(document))

    def read(self, document: Any, *more: str) -> dict[str, Any]:
        answer = self.proof(document, "--json", *more)
        self.assertEqual((answer.returncode, answer.stderr), (0, b""))
        found: dict[str, Any] = json.loads(answer.stdout)
        return found

    def level(self, point: dict[str, Any]) -> float:
        """What the picture says at a point, through linear 0.18·2^level·R/0.119 (FORMAT of the command)."""
        with Image.open(self.out) as image:
            column, row = point["pixel"]
            value = np.asarray(image.convert("RGB"), float)[row, column] / 255
        light = np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)
        return log2(float(light @ WEIGHTS) / 0.18 / point["reflectance"] * 0.119)

    def test_a_card_reads_the_plans_level_and_its_parts(self) -> None:
        for document in (NOON, standing(), noon_with("intent.background_level", -2.0)):
            found = self.read(document, "--card", "--way", "nd")
            card = found["points"]["card"]
            self.assertAlmostEqual(self.level(card), card["level"], delta=0.02)
            self.assertAlmostEqual(2 ** card["flash"] + 2 ** card["daylight"], 2 ** card["level"], places=6)
        levels = plan(noon()).way("nd").lighting.levels
        found = self.read(NOON, "--card", "--way", "nd")
        self.assertAlmostEqual(found["points"]["card"]["level"], levels.subject, delta=0.001)
        self.assertAlmostEqual(found["points"]["card"]["daylight"], levels.subject_ambient, delta=0.001)
        self.assertAlmostEqual(found["points"]["background"]["level"], levels.background, delta=0.001)
        self.assertAlmostEqual(self.level(found["points"]["background"]), levels.background, delta=0.03)
        self.assertAlmostEqual(
            self.level(found["points"]["face"]), found["points"]["face"]["level"], delta=0.06
        )

    def test_size_way_and_histogram(self) -> None:
        found = self.read(NOON, "--way", "stop_down")
        self.assertEqual((found["way"], found["size"]), ("stop_down", [300, 200]))
        self.assertEqual((len(found["histogram"]), sum(found["histogram"])), (256, 300 * 200))
        with Image.open(self.out) as image:
            self.assertEqual((image.format, image.size), ("PNG", (300, 200)))
        self.assertEqual(self.read(NOON)["way"], plan(noon()).shown.key)

    def test_one_part_of_the_light_alone(self) -> None:
        whole = self.read(NOON, "--card", "--way", "nd")["points"]["card"]
        for only, part in (("flash", "flash"), ("daylight", "daylight"), ("Large head", "flash")):
            found = self.read(NOON, "--card", "--way", "nd", "--only", only)["points"]["card"]
            self.assertAlmostEqual(found["level"], whole[part], places=6)
            self.assertAlmostEqual(self.level(found), whole[part], delta=0.05)
        self.assertIsNone(
            self.read(NOON, "--card", "--way", "nd", "--only", "flash")["points"]["card"]["daylight"]
        )

    def test_webp_by_its_ending(self) -> None:
        self.assertEqual(self.proof(NOON, out="P.webp").returncode, 0)
        content = self.out.with_name("P.webp").read_bytes()
        with Image.open(BytesIO(content)) as image:
            self.assertEqual(image.format, "WEBP")

    def test_what_cannot_be_is_one_line_and_status_2(self) -> None:
        for more, out, said in (
            (("--way", "magic"), "", "way: 'magic' is not one of"),
            (("--only", "Moon"), "", "only: no light is called 'Moon'"),
            (("--size", "10x10"), "", "size: a width of 10 is outside 60 … 2400"),
            (("--size", "2400x2400"), "", "size: 2400 × 2400 takes 1.8 GB to make: 1.2 GB is the most"),
            ((), "P.gif", "out: P.gif does not end in .png or .webp"),
        ):
            with self.subTest(said=said):
                answer = self.proof(NOON, *more, out=out)
                self.assertEqual((answer.returncode, answer.stdout), (2, b""))
                self.assertEqual(len(answer.stderr.decode().strip().splitlines()), 1)
                self.assertIn(said, answer.stderr.decode())
        answer = run("proof", "-", "--out", "/no/such/folder/P.png", given=raw(NOON))
        self.assertEqual((answer.returncode, answer.stdout), (2, b""))
        self.assertIn("out: /no/such/folder/P.png", answer.stderr.decode())
        self.assertEqual(self.proof(noon_with("scene.ev100.background", 41)).returncode, 2)
        self.assertFalse(self.out.exists())


if __name__ == "__main__":
    unittest.main()
