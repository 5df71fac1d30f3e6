"""A proof that is sent on says how it was set and that it is computed, to readers that are not ours."""

import unittest
from dataclasses import replace
from io import BytesIO

import exifread
import numpy as np
from PIL import Image

from noggin.core.planning.plan import plan
from noggin.services.setups.proof_file import png_of
from noggin.services.setups.proofs import SHARED, recipe_of
from tests.support import noon


class Label(unittest.TestCase):
    def setUp(self) -> None:
        self.setup = replace(noon(), name="Łuk, para młoda")
        self.way = plan(self.setup).way("nd")
        self.png = png_of(self.setup, self.way)

    def test_its_settings_are_in_exif(self) -> None:
        """Exif 2.32 (CIPA DC-008), as exifread reads it."""
        tags = exifread.process_file(BytesIO(self.png))
        settings = self.way.settings
        self.assertAlmostEqual(
            float(tags["EXIF ExposureTime"].values[0]), settings.shutter.value, delta=1e-4
        )
        self.assertAlmostEqual(float(tags["EXIF FNumber"].values[0]), settings.aperture.value, delta=0.06)
        self.assertEqual(tags["EXIF ISOSpeedRatings"].values, [100])
        self.assertEqual(float(tags["EXIF FocalLength"].values[0]), 85.0)
        self.assertEqual(tags["EXIF Flash"].values, [1])
        self.assertIn("Computed, not photographed", str(tags["Image ImageDescription"]))

    def test_xmp_says_that_an_algorithm_made_it(self) -> None:
        """IPTC Photo Metadata Standard, Digital Source Type."""
        with Image.open(BytesIO(self.png)) as image:
            xmp = image.info["XML:com.adobe.xmp"]
        self.assertIn("digitalsourcetype/algorithmicMedia", xmp)
        self.assertIn("Łuk, para młoda", xmp)

    def test_its_pixels_are_the_proofs(self) -> None:
        with Image.open(BytesIO(self.png)) as image:
            pixels = np.asarray(image.convert("RGB"))
        wanted = SHARED.picture(recipe_of(self.setup, self.way)).image()
        self.assertTrue((pixels == wanted).all())
