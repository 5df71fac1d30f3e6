"""Flash first: the aperture that a power gives, by the guide number (ISO 1230), and where the shutter then
places the daylight (APEX)."""

import unittest
from dataclasses import replace
from math import log2, sqrt

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.advice.flash_first import daylight_words, flash_first, lens_words
from noggin.core.errors import OutOfRange
from tests.support import LIGHT, noon


class Aperture(unittest.TestCase):
    def test_guide_number_over_distance_whatever_the_daylight(self) -> None:
        # GN 60 at 2.5 m is f/24 at full power; at a quarter f/12; at 60 % f/24·√0.6 = f/18.6.
        for background, subject in ((14.6, 12.0), (3.0, 1.0)):
            setup = noon(background=background, subject=subject, smallest=32.0)
            for power, f_number in ((1.0, 24.0), (0.25, 12.0), (0.6, 24 * sqrt(0.6))):
                found = flash_first(setup, power)
                self.assertAlmostEqual(found.metered, f_number, places=6)
                assert found.aperture is not None
                self.assertAlmostEqual(found.aperture.stops, 2 * log2(f_number), delta=1 / 6 + 0.01)

    def test_a_face_that_is_meant_darker_closes_the_aperture_and_the_meter_reads_the_same(self) -> None:
        plain, under = noon(smallest=32.0), noon(smallest=32.0, subject_level=-1.0)
        self.assertAlmostEqual(flash_first(plain, 0.25).metered, flash_first(under, 0.25).metered)
        one, other = flash_first(plain, 0.25).aperture, flash_first(under, 0.25).aperture
        assert one is not None
        assert other is not None
        self.assertAlmostEqual(other.stops - one.stops, 1.0, delta=0.01)

    def test_a_fill_is_in_the_meter_too(self) -> None:
        fill = replace(LIGHT, name="fill", role="fill", relative_level=0.0)
        both = noon(lights=(LIGHT, fill), smallest=32.0)
        self.assertAlmostEqual(flash_first(both, 0.25).metered, 12.0 * sqrt(2), places=6)

    def test_beyond_the_lens_it_says_by_how_much_the_light_is_short_or_too_strong(self) -> None:
        setup = noon()  # f/1.8 to f/16
        strong = flash_first(setup, 1.0)
        self.assertIsNone(strong.aperture)
        self.assertIn("1.2 stops too strong", lens_words(strong))
        weak = flash_first(setup, 1 / 512)
        self.assertIsNone(weak.aperture)
        self.assertIn("short", lens_words(weak))
        self.assertEqual(daylight_words(setup, weak), "")
        with self.assertRaises(OutOfRange):
            flash_first(setup, 2.0)


class Shutter(unittest.TestCase):
    def test_within_sync_it_places_the_background_where_it_is_meant(self) -> None:
        # f/12 at ISO 100 and EV 11 meant at -1: log2(12²·t⁻¹) = 12, t = 1/28.
        setup = noon(background=11.0, subject=9.0, slowest_s=1 / 8)
        found = flash_first(setup, 0.25)
        assert found.shutter is not None
        self.assertAlmostEqual(found.shutter.stops, 12 - 2 * log2(12), delta=0.35)
        self.assertAlmostEqual(found.background, -1.0, delta=0.35)
        self.assertEqual(found.past_sync, 0.0)
        self.assertIn("s then places the background at", daylight_words(setup, found))

    def test_beyond_the_wall_it_says_by_how_much(self) -> None:
        # f/5.6 by 1/18 of full at noon: 1/200 s leaves EV 14.6 at 14.6 − (5 + 7.667) = +1.9.
        setup = noon()
        found = flash_first(setup, (5.657 / 24) ** 2)
        assert found.aperture is not None
        self.assertEqual(found.shutter, setup.camera.sync)
        self.assertAlmostEqual(found.background, 1.93, delta=0.02)
        self.assertAlmostEqual(found.past_sync, 2.93, delta=0.02)
        words = daylight_words(setup, found)
        self.assertIn("too bright", words)
        self.assertIn("high-speed sync", words)

    @given(st.floats(1 / 512, 1.0), st.floats(2.0, 16.0))
    def test_twice_the_power_is_one_stop_of_aperture(self, power: float, background: float) -> None:
        setup = noon(background=background, subject=background - 2)
        half = flash_first(setup, power / 2).metered
        self.assertAlmostEqual(flash_first(setup, power).metered, half * sqrt(2), places=6)
