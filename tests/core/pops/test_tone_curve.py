"""From what a file holds to levels in stops."""

import unittest
from doctest import DocTestSuite

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from noggin.core.errors import Refused
from noggin.core.physics.srgb import undo_srgb
from noggin.core.pops import tone_curve
from noggin.core.pops.tone_curve import ToneCurve, fit_curve, level_of_luminance, luminance, raw_luminance
from tests.support import fewer


class Tones(unittest.TestCase):
    def test_mid_tone_is_118_of_255(self) -> None:
        # ISO 12232, standard output sensitivity: 18 % is sRGB 118.
        grey = np.full((4, 4, 3), 118, np.uint8)
        self.assertAlmostEqual(level_of_luminance(float(luminance(grey).mean())), 0.0, delta=0.01)

    def test_srgb_against_the_standards_own_figures(self) -> None:
        # IEC 61966-2-1: the two pieces meet at 0.04045, where linear light is 0.0031308.
        self.assertAlmostEqual(float(undo_srgb(0.04045)), 0.0031308, places=6)
        self.assertAlmostEqual(float(undo_srgb(0.5)), 0.2140, places=4)

    def test_green_weighs_most(self) -> None:
        # ITU-R BT.709-6: 0.2126, 0.7152, 0.0722.
        pure = np.zeros((1, 3, 3), np.uint8)
        pure[0, 0, 0] = pure[0, 1, 1] = pure[0, 2, 2] = 255
        self.assertTrue(np.allclose(luminance(pure)[0], (0.2126, 0.7152, 0.0722), atol=1e-4))

    @given(st.floats(-8, 3))
    def test_a_raw_count_is_as_many_stops_under_full(self, level: float) -> None:
        # DOMAIN: level = log2((median - black)/(white - black)) + headroom.
        counts = np.array([512 + (16383 - 512) * 2 ** (level - 3.0)], np.float32)
        light = float(raw_luminance(counts, 512, 16383, 3.0)[0])
        self.assertAlmostEqual(level_of_luminance(light), level, places=2)

    def test_white_under_black_is_no_sensor(self) -> None:
        with self.assertRaises(Refused):
            raw_luminance(np.zeros(1, np.float32), 512, 512)


class Curves(unittest.TestCase):
    def test_an_unknown_curve_within_a_third_after_five_frames(self) -> None:
        """A contrasty curve with a shoulder, as cameras have: level to what reads by sRGB."""

        def reads(level: float) -> float:
            return 1.35 * level - 0.12 * level**2 if level > 0 else 1.35 * level + 0.05 * level**2

        card = [(3.0 + level, reads(level)) for level in (-3.0, -1.8, -0.6, 0.6, 1.8)]
        curve = fit_curve(card)
        for level in np.linspace(-3, 1.8, 40):
            self.assertAlmostEqual(curve.level(reads(float(level))), level, delta=0.3)

    @given(st.lists(st.floats(0.1, 1.5), min_size=5, max_size=9), st.floats(0.4, 2.0))
    @fewer(40)
    def test_a_straight_curve_of_any_slope_is_found_exactly(self, steps: list[float], slope: float) -> None:
        exposed = np.cumsum(steps)
        middle = float(exposed.mean())
        if exposed[-1] - exposed[0] < tone_curve.SPAN_LEAST or min(steps) * slope < 0.03:
            return
        curve = fit_curve([(float(one), slope * (float(one) - middle)) for one in exposed])
        for one in exposed:
            self.assertAlmostEqual(curve.level(slope * (float(one) - middle)), one - middle, places=6)

    def test_what_does_not_say_enough_is_refused(self) -> None:
        line = [(float(one), float(one) - 2) for one in range(5)]
        for card, said in (
            (line[:4], "too few"),
            ([(one / 10, one / 10) for one in range(5)], "span less"),
            ([(one, level + 9) for one, level in line], "one side of mid-tone"),
            ([(one, 0.0) for one, _ in line], "read the same"),
        ):
            with self.subTest(said=said), self.assertRaisesRegex(Refused, said):
                fit_curve(card)

    def test_a_curve_rises(self) -> None:
        with self.assertRaises(Refused):
            ToneCurve((0.0, 0.0), (0.0, 1.0))
        with self.assertRaises(Refused):
            ToneCurve((0.0,), (0.0,))


def load_tests(_: unittest.TestLoader, tests: unittest.TestSuite, __: object) -> unittest.TestSuite:
    tests.addTests(DocTestSuite(tone_curve))
    return tests


if __name__ == "__main__":
    unittest.main()
