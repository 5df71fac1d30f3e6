"""How bright a light is over distance."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.gear.carry import SPAN, Carried, level_at

HEAD = Carried("bare", 32, 0.0, 0.0, 1.0)


class Carry(unittest.TestCase):
    def test_the_guide_number_is_aperture_times_distance(self) -> None:
        """ISO 1230: the guide number is the f-number times the distance in metres at ISO 100."""
        for distance, aperture in ((1.0, "f/32"), (2.0, "f/16"), (4.0, "f/8"), (8.0, "f/4"), (16.0, "f/2")):
            self.assertEqual(HEAD.aperture(distance, hss=False), aperture)

    @given(st.floats(8, 120), st.floats(0, 4), st.floats(0.5, 8))
    def test_a_point_falls_two_stops_at_each_doubling(
        self, gn: float, loss: float, distance: float
    ) -> None:
        fall = level_at(gn, loss, 0.0, distance) - level_at(gn, loss, 0.0, 2 * distance)
        self.assertAlmostEqual(fall, 2)

    def test_high_speed_sync_pays_its_toll_or_is_not_there(self) -> None:
        self.assertEqual(HEAD.aperture(2.0, hss=True), "f/11")
        without = Carried("bare", 32, 0.0, 0.0, None)
        self.assertEqual((without.aperture(2.0, hss=True), without.levels(hss=True)), ("—", ()))

    def test_what_no_dial_has_is_said(self) -> None:
        """A dial ends at f/0.95 and f/32; a sixth of a stop beyond still means its last step."""
        third = 2 ** (1 / 12)
        cases = ((32 * third * 0.999, "f/32"), (32 * third * 1.001, "over f/32"), (0.6, "under f/0.95"))
        for gn, aperture in cases:
            self.assertEqual(Carried("bare", gn, 0.0, 0.0, None).aperture(1.0, hss=False), aperture)

    def test_levels_go_over_the_whole_span(self) -> None:
        levels = HEAD.levels(hss=False)
        self.assertEqual((levels[0][0], round(levels[-1][0], 9)), SPAN)
        self.assertEqual(levels[0][1], 12)
