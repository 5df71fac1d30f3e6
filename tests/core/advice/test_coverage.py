"""Whether the light covers what is framed, and the wishes that come with a picture: flare, rain, a leap."""

import unittest
from dataclasses import replace
from math import atan, degrees, log2
from typing import Any

from noggin.core.advice.cautions import RULES
from noggin.core.advice.coverage import cover, cover_words, half_angles, too_narrow
from noggin.core.advice.preflight import preflight
from noggin.core.layout.standing import beam_exponent
from noggin.core.planning.plan import plan
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, MOMENT, noon

BY_KEY = {rule.key: rule for rule in RULES}


def full_length(**light: Any) -> SetUp:
    """A full length: 50 mm at 4.5 m frames 3.2 × 2.1 m."""
    lit = replace(LIGHT, **{"distance_m": 3.0, **light})
    return noon(subject_distance_m=4.5, focal_mm=50, lights=(lit,))


class Covers(unittest.TestCase):
    def test_a_zoom_head_lights_the_picture_of_its_focal_length(self) -> None:
        # 50 mm on 36 × 24 mm: 39.6° by 27.0°, as lens tables have it.
        across, up = half_angles(replace(LIGHT, zoom_mm=50.0))
        self.assertAlmostEqual(2 * across, 39.6, delta=0.05)
        self.assertAlmostEqual(2 * up, 27.0, delta=0.05)
        self.assertEqual(half_angles(replace(LIGHT, zoom_mm=50.0, upright=True)), (up, across))

    def test_its_beam_falls_by_a_stop_at_the_side_of_that_picture(self) -> None:
        light = replace(LIGHT, zoom_mm=70.0)
        side = degrees(atan(18 / 70))
        self.assertAlmostEqual(half_angles(light)[0], side)
        fall = beam_exponent(light) * log2(1 / (1 + (18 / 70) ** 2) ** 0.5)
        self.assertAlmostEqual(fall, -1.0)

    def test_a_full_length_is_covered_or_it_says_what_would_do(self) -> None:
        for zoom, upright, enough in (
            (24.0, False, True),
            (50.0, False, False),
            (50.0, True, True),
            (105.0, False, False),
        ):
            setup = full_length(zoom_mm=zoom, upright=upright)
            self.assertEqual(cover(setup, setup.key).is_enough, enough, (zoom, upright))
            self.assertEqual(BY_KEY["cover"].when(setup, plan(setup).way("nd")), not enough)
        lying = full_length(zoom_mm=50.0)
        self.assertIn("turn the head upright", cover_words(too_narrow(lying)[0]))
        far = full_length(zoom_mm=105.0, upright=True)
        self.assertIn("zoom out to", cover_words(too_narrow(far)[0]))
        gridded = full_length(grid=True, radius_m=0.3, distance_m=2.0)
        self.assertIn("grid", cover_words(too_narrow(gridded)[0]))
        self.assertEqual(too_narrow(full_length(radius_m=0.3)), [])

    def test_all_of_a_group(self) -> None:
        wide = full_length(zoom_mm=50.0, upright=True)
        group = replace(wide, scene=replace(wide.scene, faces_m=(4.5, 4.5, 4.5, 4.6, 4.6)))
        self.assertEqual(too_narrow(wide), [])
        self.assertEqual(len(too_narrow(group)), 1)


class Baffles(unittest.TestCase):
    def test_a_baffle_that_is_out_gives_light_back_and_stands_in_the_terms(self) -> None:
        for baffles, back in (("both", 0.0), ("outer", 0.4), ("none", 1.0)):
            light = replace(LIGHT, radius_m=0.4, loss=1.5, baffles=baffles)
            self.assertAlmostEqual(light.reach - replace(light, baffles="both").reach, back)


class Wishes(unittest.TestCase):
    def test_flare_that_is_wanted_is_helped_and_not_warned_of(self) -> None:
        rule = BY_KEY["sun_behind"]
        setup = noon()
        way = plan(setup).ways[0]
        self.assertIn("use a hood", rule.say(setup, way))
        wanted = noon(flare=True)
        self.assertIn("take the hood off", rule.say(wanted, way))
        self.assertIn("Never look at the sun", rule.say(wanted, way))

    def test_rain_and_a_pole(self) -> None:
        wet, pole = noon(is_wet=True), noon(lights=(replace(LIGHT, mount="pole", radius_m=0.5),))
        way = plan(wet).ways[0]
        self.assertFalse(BY_KEY["wet"].when(noon(), way))
        self.assertTrue(BY_KEY["wet"].when(wet, way))
        self.assertFalse(BY_KEY["pole"].when(wet, way))
        self.assertTrue(BY_KEY["pole"].when(pole, plan(pole).ways[0]))
        # What somebody holds is not sandbagged.
        self.assertFalse(BY_KEY["wind"].when(pole, plan(pole).ways[0]))

    def test_a_leap_has_a_list_of_its_own(self) -> None:
        def keys(setup: SetUp) -> set[str]:
            return {check.key for check in preflight(setup, plan(setup).ways[0])}

        self.assertEqual({"mark", "landing", "tries"} & keys(noon(subject_speed_m_s=2.99)), set())
        self.assertLessEqual({"mark", "landing", "tries"}, keys(noon(subject_speed_m_s=3.0)))
        self.assertIn("spare", keys(noon(moment=MOMENT)))
        packed = noon(lights=(replace(LIGHT, mount="pack"),))
        self.assertIn("mount-0", keys(packed))
