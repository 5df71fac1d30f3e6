"""Frames that are proofs: what the simulated camera writes says what the picture holds."""

import unittest
from dataclasses import replace
from datetime import UTC, datetime
from io import BytesIO
from math import log2

import numpy as np
import rawpy
from PIL import Image

from noggin.core.planning.plan import plan
from noggin.core.proof.develop import develop
from noggin.core.proof.mixture import Mixture, as_it_came_out, level_of, total_on_card
from noggin.devices.simulated_camera import BLACK_COUNT, WHITE_COUNT, Exposure, FileCamera, View
from noggin.services.setups.proofs import Proofs, card_in, recipe_of
from tests.support import noon

TAKEN = Exposure(1 / 200, 2.0, 100, 85, True, datetime(2027, 6, 19, 11, tzinfo=UTC))


def came_out(made: Mixture, *, subject: float = 0.3, flash: bool = True) -> Mixture:
    """A picture whose zones came out otherwise than planned."""
    return as_it_came_out(made, -0.6, subject, -2.5, None, flash)


class ProofFrames(unittest.TestCase):
    def setUp(self) -> None:
        setup = noon()
        self.made = recipe_of(setup, plan(setup).way("nd"), (240, 160))
        self.plates = Proofs().plates(self.made)
        self.mixture = came_out(self.made.mixture)
        self.card = card_in(self.made.stage, self.plates, self.made)
        self.proof = develop(self.plates, self.mixture, self.card).linear

    def test_zones_lie_where_they_came_out(self) -> None:
        parts = self.mixture.parts
        self.assertAlmostEqual(level_of(total_on_card(parts)), 0.3, places=5)
        daylight = tuple(part for part in parts if not part.flash)
        self.assertAlmostEqual(level_of(total_on_card(daylight)), -2.5, places=5)
        self.assertAlmostEqual(level_of(sum(part.amount for part in self.mixture.behind)), -0.6, places=5)

    def test_without_flash_all_light_is_daylight(self) -> None:
        off = came_out(self.made.mixture, subject=-2.5, flash=False)
        self.assertFalse(any(part.flash for part in off.parts))
        self.assertFalse(any(part.flash for part in off.behind))
        self.assertAlmostEqual(level_of(total_on_card(off.parts)), -2.5, places=5)

    def test_a_card_in_a_raw_file_within_a_twentieth_of_a_stop(self) -> None:
        content = FileCamera(3, noise=0.01).dng(View({}, proof=self.proof), TAKEN)
        with rawpy.imread(BytesIO(content)) as raw:
            counts = raw.raw_image_visible.astype(float)
        row, column = self.card.at
        near = slice(row - 2, row + 3), slice(column - 2, column + 3)
        # Only green, which flash of the white balance's own colour leaves as it is.
        rows, columns = np.mgrid[near]
        green = counts[near][(rows + columns) % 2 == 1]
        part = (green.mean() - BLACK_COUNT) / (WHITE_COUNT - BLACK_COUNT)
        self.assertAlmostEqual(log2(part) + log2(78 / 10), 0.3, delta=0.05)

    def test_a_jpeg_is_in_colour_and_knows_how_it_was_taken(self) -> None:
        content = FileCamera(3).jpeg(View({}, proof=self.proof), TAKEN)
        with Image.open(BytesIO(content)) as image:
            self.assertEqual((image.size, image.mode), ((240, 160), "RGB"))
            self.assertEqual(image.getexif().get_ifd(0x8769)[0x829D], 2.0)
            channels = np.asarray(image, float)
        self.assertGreater(float(np.abs(channels[..., 0] - channels[..., 2]).mean()), 2)

    def test_the_smear_of_noise_is_as_large_as_it_is_said(self) -> None:
        bare = np.full((3, 60, 60), 0.18, np.float32)
        for noise in (0.01, 0.05):
            content = FileCamera(5, noise=noise).dng(View({}, proof=bare), TAKEN)
            with rawpy.imread(BytesIO(content)) as raw:
                counts = raw.raw_image_visible.astype(float) - BLACK_COUNT
            self.assertAlmostEqual(counts.std() / counts.mean() / noise, 1, delta=0.1)

    def test_a_view_without_a_proof_is_drawn_as_before(self) -> None:
        plain = View({"background": -1.0, "subject": 0.0})
        self.assertNotEqual(
            FileCamera(1).jpeg(plain, TAKEN), FileCamera(1).jpeg(replace(plain, proof=self.proof), TAKEN)
        )


if __name__ == "__main__":
    unittest.main()
