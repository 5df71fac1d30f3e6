"""Curtains, pulses, movement and where the flash ends: what a shutter does to a flash."""

import unittest
from dataclasses import replace
from math import log, log2
from typing import Any

from noggin.core.advice.details import black_part
from noggin.core.advice.reasons import advice, reasons
from noggin.core.errors import OutOfRange, Refused
from noggin.core.physics import curtains, flash, optics
from noggin.core.physics.pulse import Pulse, between
from noggin.core.planning.lighting import light_up
from noggin.core.planning.motion import longest_sharp, motion
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.setup.camera import Camera
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon, settings

SLOW = Pulse("voltage", 1 / 500)
"""A studio head with t0.5 = 1/500 s."""


def full(setup: SetUp, shutter: str) -> float:
    """The key's level at full power at f/2 and ISO 100."""
    level = light_up(setup, settings(shutter, 2)).key.full
    assert level is not None
    return level


class Pulses(unittest.TestCase):
    def test_a_table_runs_from_full_power_down_with_each_power_once(self) -> None:
        Pulse("cut", 0.001, ((1.0, 0.003), (0.5, 0.002)))
        for table in (((1.0, 0.003), (1.0, 0.002)), ((0.5, 0.002), (1.0, 0.003))):
            with self.assertRaisesRegex(Refused, "each power once"):
                Pulse("cut", 0.001, table)

    def test_a_slow_head_on_a_leaf_shutter(self) -> None:
        # ISO 2827 for t0.5: at 1/500 half of the light is out, so 1.0 stop is lost; at 1/2000 2.65.
        setup = noon(sync_s=1 / 2000, shutter="leaf", lights=(replace(LIGHT, pulse=SLOW),))
        whole = full(noon(sync_s=1 / 2000), "1/500")
        # 1/500 on the dial is exactly 2^-9 s, 0.976 of t0.5.
        self.assertAlmostEqual(full(setup, "1/500") - whole, log2(1 - 0.5 ** (500 / 512)), places=9)
        self.assertAlmostEqual(full(setup, "1/500") - whole, -1.0, delta=0.03)
        self.assertAlmostEqual(full(setup, "1/2000") - whole, -2.65, delta=0.04)

    def test_a_short_pulse_is_not_touched_at_sync(self) -> None:
        quick = noon(lights=(replace(LIGHT, pulse=Pulse("cut", 1 / 20_000)),))
        self.assertAlmostEqual(full(quick, "1/200"), full(noon(), "1/200"), places=6)

    def test_a_focal_plane_shutter_loses_half_the_travel_in_the_middle(self) -> None:
        at_sync = 2 ** (-23 / 3)
        setup = noon(lights=(replace(LIGHT, pulse=SLOW),), curtain_s=0.85 * at_sync)
        expected = log2(1 - 0.5 ** (500 * at_sync * (1 - 0.85 / 2)))
        self.assertAlmostEqual(full(setup, "1/200") - full(noon(), "1/200"), expected, places=9)

    def test_a_rated_sync_speed_has_its_margin_built_in(self) -> None:
        # Nothing is lost unless both the pulse and the curtains' travel are stated.
        slow = (replace(LIGHT, pulse=SLOW),)
        for setup in (noon(lights=slow), noon(curtain_s=0.85 / 200)):
            self.assertEqual(full(setup, "1/200"), full(noon(), "1/200"))

    def test_a_class_has_a_pulse_everywhere_a_pulse_counts(self) -> None:
        # t0.1 of heads that cut: 1/250 at full, 1/500 at half, 1/1000 at a quarter (from memory, ±1 stop).
        rates = [1 / LIGHT.flash_pulse.t01_s(power) for power in (1, 1 / 2, 1 / 4, 1 / 8, 1 / 40, 1 / 512)]
        for rate, wanted in zip(rates, (250, 500, 1000, 2000, 10_000, 10_000), strict=True):
            self.assertAlmostEqual(rate, wanted)
        studio = replace(LIGHT, head="voltage").flash_pulse
        self.assertAlmostEqual(1 / studio.t01_s(1 / 32), 200)
        # On a leaf shutter at 1/500 a full pop of 1/250 is cut: t0.5 is 1/830 s, of which 1.62 fit in.
        leaf = noon(sync_s=1 / 500, shutter="leaf")
        lost = full(leaf, "1/500") - full(noon(sync_s=1 / 500), "1/500")
        self.assertAlmostEqual(lost, log2(1 - 0.5 ** (2**-9 * 250 * 3.3219)), places=3)

    def test_a_head_that_cuts_its_pulse_loses_only_the_tail_it_would_have_fired(self) -> None:
        # Dialled to a quarter, it fires the first quarter of the light: 1/500 catches all of that.
        setup = noon(
            sync_s=1 / 500,
            shutter="global",
            lights=(replace(LIGHT, pulse=Pulse("cut", 1 / 500), gn_m=60),),
            filters=(),
            aperture=11.0,
        )
        firing = plan(setup).way("within_sync").lighting.key
        assert firing.level is not None
        assert firing.needed is not None
        self.assertAlmostEqual(firing.level, firing.needed, delta=1 / 6 + 0.01)

    def test_durations_shorten_or_lengthen_with_power(self) -> None:
        cut, voltage = Pulse("cut", 1 / 1000), SLOW
        self.assertLess(cut.t01_s(1 / 8), cut.t01_s(1))
        self.assertGreater(voltage.t01_s(1 / 8), voltage.t01_s(1))
        # ISO 2827: t0.1 over t0.5 of an exponential is ln 10 / ln 2.
        self.assertAlmostEqual(voltage.t01_s(1) / voltage.t05_s, log(10) / log(2))

    def test_a_table_of_ones_own_is_read_log_log(self) -> None:
        table = ((1.0, 1 / 220), (1 / 2, 1 / 440), (1 / 8, 1 / 7040))
        self.assertAlmostEqual(1 / between(table, 1 / 4), (440 * 7040) ** 0.5, places=6)
        self.assertEqual(Pulse("cut", 1 / 700, table).t01_s(1 / 64), 1 / 7040)

    def test_what_cannot_be(self) -> None:
        with self.assertRaises(Refused):
            Pulse("gas", 1 / 500)
        with self.assertRaises(Refused):
            Pulse("cut", 1 / 500, ((1 / 2, 1 / 900), (1.0, 1 / 500)))
        with self.assertRaises(OutOfRange):
            Pulse("cut", 0.0)


class Curtains(unittest.TestCase):
    def test_half_the_frame_is_black_a_stop_past_sync_and_none_on_a_leaf_shutter(self) -> None:
        # Common practice: at twice the sync speed 35 to 65 % stay black.
        planned = plan(noon(background=11.6, subject=9.0, aperture=2.0))
        way = planned.way("hss")
        self.assertEqual(way.settings.shutter.label, "1/1600")
        black = black_part(planned.setup, way)
        self.assertAlmostEqual(black or 0, 1 - 2**-3 / 0.85, places=6)
        leaf = plan(noon(background=11.6, subject=9.0, shutter="leaf"))
        self.assertIsNone(black_part(leaf.setup, leaf.way("hss")))

    def test_a_known_travel_time_is_taken(self) -> None:
        self.assertEqual(Camera(1 / 250, curtain_s=1 / 300).travel_s, 1 / 300)
        with self.assertRaises(Refused):
            Camera(1 / 250, curtain_s=1 / 100)

    def test_a_slow_pulse_darkens_an_edge_at_sync_and_hardly_a_stop_slower(self) -> None:
        travel = curtains.curtain_travel(2**-8)
        self.assertLess(curtains.edge_loss(SLOW, 2**-8, travel), -1.5)
        self.assertGreater(curtains.edge_loss(SLOW, 2**-6, travel), -0.1)


class Movement(unittest.TestCase):
    def way(self, setup: SetUp, key: str) -> Way:
        return plan(setup).way(key)

    def test_a_standing_subject_has_no_longest_time(self) -> None:
        self.assertIsNone(longest_sharp(noon()))

    def test_the_shutter_freezes_up_to_one_point(self) -> None:
        # 2 m/s at 3.2 m with 85 mm: 54.6 mm/s on the sensor; 0.0288 mm take 1/1892 s.
        self.assertAlmostEqual(1 / (longest_sharp(noon(subject_speed_m_s=2.0)) or 1), 1892, delta=2)

    def test_flash_freezes_when_daylight_is_three_stops_under_and_the_pulse_is_short(self) -> None:
        # A background meant at −2 and a light strong enough for 1/4 of its power: t0.1 of the class 1/1000,
        # and 1 m/s at 85 mm and 3.2 m may take 1/946.
        dark: dict[str, Any] = {"subject_speed_m_s": 1.0, "background": 13.5, "background_level": -2.1}
        strong = (replace(LIGHT, gn_m=100),)
        setup = noon(lights=strong, **dark)
        self.assertEqual(motion(setup, self.way(setup, "nd").lighting).frozen_by, "flash")
        slow = noon(lights=(replace(LIGHT, pulse=SLOW, gn_m=120),), **dark)
        self.assertEqual(motion(slow, self.way(slow, "nd").lighting).frozen_by, "")
        brighter = noon(lights=strong, **{**dark, "subject": 13.2})
        self.assertEqual(motion(brighter, self.way(brighter, "nd").lighting).frozen_by, "")

    def test_a_way_that_smears_is_put_lower_and_says_so(self) -> None:
        setup = noon(subject_speed_m_s=2.0, subject=13.0)
        planned = plan(setup)
        self.assertEqual(planned.ways[0].key, "hss")
        (smeared,) = planned.way("nd").drawbacks
        self.assertEqual(smeared.kind, "movement")
        self.assertAlmostEqual(smeared.got[0], 9.3, delta=0.05)
        self.assertTrue(any("Ranked lower" in why for why in reasons(setup, planned.way("nd"))))
        self.assertIn("lower: the subject smears, 9.3 times the sharp limit", advice(planned))

    def test_wishes_for_depth_and_blur_and_frames_are_weighed(self) -> None:
        everyone = plan(noon(faces_m=(3.0, 3.5), prefer="glass", aperture_free=True))
        self.assertEqual(everyone.chosen and everyone.chosen.key, "stop_down")
        self.assertEqual([drawback.kind for drawback in everyone.way("hss").drawbacks], ["focus"])
        blurred = plan(noon(blur_least_pct=2.0))
        self.assertEqual(blurred.ways[2].key, "hss")  # stop_down blurs too little and stands after it
        (blur,) = blurred.way("stop_down").drawbacks
        self.assertEqual((blur.kind, blur.wanted), ("blur", (2.0, None)))


class Optics(unittest.TestCase):
    def test_depth_of_field_by_a_handbook_table(self) -> None:
        # 50 mm at f/8, circle 0.030 mm, 3 m: 2.34 to 4.19 m (depth-of-field tables, from memory).
        near, far = optics.depth_of_field(3, 50, 8, 0.030)
        self.assertAlmostEqual(near, 2.34, places=2)
        self.assertAlmostEqual(far or 0, 4.19, places=2)

    def test_from_the_hyperfocal_distance_on_infinity_is_sharp(self) -> None:
        h = optics.hyperfocal(50, 8, 0.030)
        near, far = optics.depth_of_field(h, 50, 8, 0.030)
        self.assertIsNone(far)
        self.assertAlmostEqual(near, h / 2, delta=0.03)

    def test_diffraction_passes_the_circle_about_where_the_trade_says(self) -> None:
        # About f/21 on full frame, f/14 on a 1.5 crop.
        for sensor, f_number in (((36.0, 24.0), 21.5), ((23.5, 15.6), 14.0)):
            self.assertAlmostEqual(
                optics.circle_of_confusion(sensor) / optics.airy_disc(1.0), f_number, delta=0.2
            )

    def test_fall_off_across_a_group_and_nearer_to_a_big_face(self) -> None:
        self.assertAlmostEqual(flash.across([2, 2.5], 0), 2 * log2(2.5 / 2))
        self.assertLess(flash.across([2, 2.5], 1.0), flash.across([2, 2.5], 0))

    def test_toll_on_another_body(self) -> None:
        self.assertAlmostEqual(flash.toll_on(1.2, 1 / 250, 1 / 160), 1.2 + log2(160 / 250))
