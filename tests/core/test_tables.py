"""The tables of the trade row by row, and their laws: a figure that slips shows here."""

import unittest
from math import exp, radians, sin

from noggin.core import tables
from noggin.core.physics.filters import mired_shift


class Rows(unittest.TestCase):
    """As in the notes of the trade that the project follows (its DOMAIN pages, §3 to §6)."""

    def test_how_far_sources_are_trusted(self) -> None:
        self.assertEqual(
            {key: source.uncertainty for key, source in tables.SOURCES.items()},
            {"measured": 0.3, "assumed": 1.0, "class": 0.8, "brochure": 1.0},
        )
        self.assertEqual(tables.WORD_UNCERTAINTY, 1.0)

    def test_tolls_by_class(self) -> None:
        self.assertEqual(
            {key: (row.toll, row.uncertainty) for key, row in tables.TOLLS.items()},
            {"large": (1.1, 0.4), "pocket": (2.0, 0.4), "speedlight": (2.4, 0.4), "unknown": (2.0, 0.7)},
        )

    def test_gels(self) -> None:
        self.assertEqual(
            {key: (gel.mired, gel.loss) for key, gel in tables.GELS.items()},
            {"full_cto": (159, 0.85), "half_cto": (80, 0.5), "quarter_cto": (42, 0.3)},
        )
        # A full one brings daylight flash near 3000 K: 10⁶/3000 − 10⁶/5600 = 155 mired.
        self.assertAlmostEqual(mired_shift(5600, 3000), tables.GELS["full_cto"].mired, delta=5)

    def test_words_for_movement_light_and_framing(self) -> None:
        self.assertEqual(list(tables.MOVEMENTS.values()), [0.0, 1.4, 2.0, 3.0, 5.0])
        self.assertEqual(tables.FULL_SUN, 14.6)
        self.assertEqual(list(tables.SUN_SCALE.values()), [0.0, -1.0, -2.0, -3.0, -2.75, -2.75, -2.5, -4.0])
        self.assertEqual([height for _, height in tables.FRAMINGS.values()], [0.7, 1.1, 2.1, 1.6, 2.8])

    def test_shade_scrim_and_reflector_lie_inside_what_the_trade_says(self) -> None:
        for figure, middle in ((tables.OPEN_SHADE, 2.75), (tables.SCRIM, 1.5), (tables.REFLECTOR, 1.0)):
            self.assertEqual(figure, middle)
        self.assertEqual(tables.SUNLIT, tables.FULL_SUN + tables.SUN_SCALE["hazy sun"])

    def test_ground(self) -> None:
        self.assertEqual(
            {key: ground.reflectance for key, ground in tables.GROUNDS.items()},
            {"grass": 0.2, "sand": 0.4, "paving": 0.4, "snow": 0.8},
        )


class Daylight(unittest.TestCase):
    """IES RP-21: direct normal 127.5·exp(−c·m) klx, and sky by a + b·sin^c(h), worked by hand at 30° and
    60°."""

    def test_direct_light_through_two_air_masses(self) -> None:
        self.assertEqual(tables.SOLAR_NORMAL_KLX, 127.5)
        clear, partly = (tables.SKIES[key].extinction for key in ("clear", "partly"))
        assert clear is not None
        assert partly is not None
        # sin 30° is a half, so light passes two air masses.
        self.assertAlmostEqual(127.5 * exp(-clear / sin(radians(30))), 83.8, delta=0.1)
        self.assertAlmostEqual(127.5 * exp(-partly / sin(radians(30))), 25.7, delta=0.1)
        self.assertIsNone(tables.SKIES["overcast"].extinction)

    def test_sky_light_at_sixty_degrees(self) -> None:
        for key, klx in (
            ("clear", 0.8 + 15.5 * 0.8660**0.5),
            ("partly", 0.3 + 45 * 0.8660),
            ("overcast", 0.3 + 21 * 0.8660),
        ):
            sky = tables.SKIES[key]
            self.assertAlmostEqual(sky.a + sky.b * sin(radians(60)) ** sky.c, klx, delta=0.01)

    def test_shares_and_what_an_estimate_may_be_off_by(self) -> None:
        # CIE overcast sky: 39.6% of the horizontal light reaches an upright surface.
        self.assertEqual([sky.diffuse for sky in tables.SKIES.values()], [0.5, 0.5, 0.396])
        self.assertEqual([sky.horizon for sky in tables.SKIES.values()], [1.0, 1.0, 0.65])
        self.assertEqual([sky.uncertainty for sky in tables.SKIES.values()], [0.5, 1.0, 1.0])
        # 759 lx under a clear sky at sunset against 300: 1.34 stops.
        self.assertEqual([sky.dusk for sky in tables.SKIES.values()], [0.0, 1.34, 1.34])
