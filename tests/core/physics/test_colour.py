"""Colour of light against published chromaticities and gel tables."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.errors import OutOfRange
from noggin.core.physics.colour import (
    LUMINANCE,
    _chromaticity,
    mired,
    mixed_kelvin,
    sun_kelvin,
    tint,
)
from noggin.core.physics.filters import gelled, mired_shift
from noggin.core.physics.flash import FLASH_K
from noggin.core.tables import GELS


class Colour(unittest.TestCase):
    def test_published_illuminants(self) -> None:
        # CIE 15: illuminant A (2856 K), D50 (5003 K), D65 (6504 K), D75 (7504 K).
        for kelvin, x, y in (
            (2856, 0.4476, 0.4074),
            (5003, 0.3457, 0.3585),
            (6504, 0.3127, 0.3290),
            (7504, 0.2990, 0.3149),
        ):
            found = _chromaticity(kelvin)
            self.assertAlmostEqual(found[0], x, delta=0.0015)
            self.assertAlmostEqual(found[1], y, delta=0.0015)

    def test_the_curve_has_no_jump(self) -> None:
        for kelvin in (2222, 4000, 5000, 7000):
            below, above = _chromaticity(kelvin - 0.5), _chromaticity(kelvin + 0.5)
            self.assertLess(max(abs(a - b) for a, b in zip(below, above, strict=True)), 0.002)

    @given(st.floats(1700, 20_000), st.floats(1700, 20_000))
    def test_a_tint_leaves_the_level_as_it_is(self, kelvin: float, balance: float) -> None:
        self.assertAlmostEqual(
            sum(a * float(b) for a, b in zip(tint(kelvin, balance), LUMINANCE, strict=True)), 1, places=4
        )

    @given(st.floats(2000, 15_000))
    def test_what_the_camera_is_set_to_is_white(self, kelvin: float) -> None:
        for channel in tint(kelvin, kelvin):
            self.assertAlmostEqual(channel, 1, places=5)

    @given(st.floats(2000, 9000), st.floats(100, 4000))
    def test_warmer_light_is_redder(self, kelvin: float, more: float) -> None:
        warm, cold = tint(kelvin, 5600), tint(kelvin + more, 5600)
        self.assertGreater(warm[0] / warm[2], cold[0] / cold[2])

    def test_gels_by_the_makers_usual_figures(self) -> None:
        # Full CTO brings 5,500 K to about 2,900 K, half to about 3,800, quarter to about 4,500 (memory).
        for gel, wanted in (("full_cto", 2950), ("half_cto", 3850), ("quarter_cto", 4530)):
            self.assertAlmostEqual(gelled(FLASH_K, GELS[gel].mired), wanted, delta=120)
        self.assertAlmostEqual(mired(2500), 400)
        self.assertAlmostEqual(mired_shift(FLASH_K, gelled(FLASH_K, 80)), 80, places=6)

    def test_the_sun_is_warmer_the_lower_it_stands(self) -> None:
        found = [sun_kelvin(height) for height in range(-2, 80, 2)]
        self.assertEqual(found, sorted(found))

    def test_a_mixture_lies_between(self) -> None:
        self.assertTrue(4000 < mixed_kelvin([(0.4, 4000), (0.6, 9000)]) < 9000)

    def test_no_such_white_balance(self) -> None:
        with self.assertRaises(OutOfRange):
            tint(5600, 500)


if __name__ == "__main__":
    unittest.main()
