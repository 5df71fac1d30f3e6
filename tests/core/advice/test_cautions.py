"""Every caution has a case in which it stands, and a quiet picture in which it does not."""

import unittest
from dataclasses import replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from noggin.core.advice.cautions import RULES, cautions
from noggin.core.advice.reasons import reasons
from noggin.core.daylight.place import Moment, Place
from noggin.core.physics.filters import Filter
from noggin.core.physics.pulse import Pulse
from noggin.core.physics.wind import Stand, ballast
from noggin.core.planning.plan import plan
from noggin.core.planning.uncertainty import reserve_uncertainty
from noggin.core.planning.way import Way
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon

DUSK = Moment(Place(42.46, 0.71), datetime(2027, 6, 19, 21, 20, tzinfo=ZoneInfo("Europe/Madrid")))

NIGHT = Moment(Place(42.46, 0.71), datetime(2027, 6, 19, 23, 30, tzinfo=ZoneInfo("Europe/Madrid")))

TOWARD_SUN = Moment(
    Place(42.46, 0.71, facing_deg=285.0), datetime(2027, 6, 19, 20, 0, tzinfo=ZoneInfo("Europe/Madrid"))
)

QUIET = noon(
    background=9.0,
    subject=8.0,
    background_level=-0.5,
    aperture=5.6,
    subject_distance_m=2.5,
    focal_mm=50,
    lights=(replace(LIGHT, gn_m=20),),
)
"""Open shade in the evening within sync: nothing to warn of."""


def with_lights(*changes: dict[str, Any], **more: object) -> SetUp:
    """The noon set-up with a light for each change."""
    return noon(lights=tuple(replace(LIGHT, **change) for change in changes), **more)


CASES: dict[str, tuple[SetUp, str]] = {
    "black_band": (with_lights({"hss_toll": None}), "hss"),
    "rolling": (noon(shutter="rolling"), "nd"),
    "edge_darkens": (
        with_lights({"pulse": Pulse("voltage", 1 / 300), "gn_m": 100}, curtain_s=0.85 / 200), "nd"
    ),
    "spill": (noon(background_distance_m=4.2, background=8.0, subject=6.0, background_level=-4.5), "nd"),
    "sky_toward_sun": (noon(sky=16.0, moment=TOWARD_SUN), "nd"),
    "noise": (with_lights({"gn_m": 10}, background=5.0, subject=3.0), "within_sync"),
    "finder": (noon(), "nd"),
    "power_follows": (noon(), "nd"),
    "polariser": (noon(filters=(Filter("Polariser", 5.9, 5.9, polariser=True),)), "nd"),
    "variable_filter": (noon(filters=(Filter("2–8", 2, 8),)), "nd"),
    "hss_mode": (noon(), "hss"),
    "droop": (with_lights({"hss_droop": 0.5}), "hss"),
    "heat": (noon(), "hss"),
    "rushed": (with_lights({"gn_m": 40}), "nd"),
    "channels": (with_lights({"channel": 1}, {"role": "rim", "channel": 2}), "nd"),
    "groups": (with_lights({"group": "A"}, {"role": "fill", "group": "A"}), "nd"),
    "optical_slaves": (with_lights({}, {"role": "rim"}), "nd"),
    "light_in_frame": (with_lights({"distance_m": 0.8, "radius_m": 0.5, "angle_deg": 80}), "nd"),
    "uneven": (with_lights({"faces_m": (2.0, 2.6)}), "nd"),
    "head_to_feet": (noon(subject_distance_m=7.0, background_distance_m=50), "nd"),
    "soft_and_far": (
        with_lights({"radius_m": 0.5, "gn_m": 40}, subject_distance_m=7.0, background_distance_m=50),
        "nd",
    ),
    "shallow": (noon(subject_distance_m=2.0), "nd"),
    "diffraction": (noon(smallest=32, background=16.6), "stop_down"),
    "shake": (noon(background=-3.0, subject=-5.0, iso_highest=100, slowest_s=1 / 15), "within_sync"),
    "burns_through": (with_lights({"gn_m": 400}, subject_speed_m_s=2.0), "nd"),
    "sky_clips": (noon(sky=19.0), "nd"),
    "rim_clips": (noon(rim=19.0), "nd"),
    "dress_clips": (noon(subject_level=1.0), "nd"),
    "black_background": (noon(background=9.0, subject=7.0, background_level=-6.0), "stop_down"),
    "cut_out": (noon(background=12.0, subject=9.5, background_level=-3.5), "stop_down"),
    "subject_missed": (noon(school="match", subject=15.0), "nd"),
    "auto_drifts": (noon(school="auto"), "nd"),
    "sun_patches": (noon(rim=15.6), "nd"),
    "whiter_than_sun": (noon(moment=DUSK), "nd"),
    "green": (noon(moment=DUSK), "nd"),
    "lamps": (noon(background=6.0, subject=4.0, aperture=2.0, slowest_s=1 / 125, iso_highest=3200),
              "within_sync"),
    "no_lamps_said": (noon(background=2.0, subject=1.0, moment=NIGHT), "within_sync"),
    "drags": (noon(background=4.0, subject=2.0, slowest_s=1 / 15, support="tripod"), "within_sync"),
    "least_power": (with_lights({"power_min": 1 / 2}), "nd"),
    "screen_in_sun": (noon(), "nd"),
    "live_view": (
        with_lights({"gn_m": 200}, background_level=-3.2, filters=(Filter("2–10", 2, 10),)), "nd"
    ),
    "sun_behind": (noon(), "nd"),
    "eyes": (with_lights({"distance_m": 0.9, "gn_m": 15}), "nd"),
    "bursts": (noon(frames=100), "nd"),
    "leap": (noon(subject_speed_m_s=3.0), "nd"),
    "wind": (with_lights({"radius_m": 0.4}, gust_m_s=8), "nd"),
    "permit": (noon(moment=DUSK), "nd"),
    "wet": (noon(is_wet=True), "nd"),
    "sun_disc": (noon(moment=TOWARD_SUN, sky=15.1), "nd"),
    "cover": (with_lights({"grid": True}, subject_distance_m=4.5, focal_mm=50), "nd"),
    "pole": (with_lights({"mount": "pole"}), "nd"),
    "trigger_voltage": (with_lights({"hss_toll": None, "head": "speedlight"}), "nd"),
}  # fmt: skip
"""For each rule a set-up and a way in which it stands."""


class Rules(unittest.TestCase):
    def test_every_rule_has_a_case_and_stands_in_it(self) -> None:
        self.assertEqual(set(CASES), {rule.key for rule in RULES})
        for rule in RULES:
            setup, key = CASES[rule.key]
            way = plan(setup).way(key)
            with self.subTest(rule=rule.key):
                self.assertTrue(rule.when(setup, way))
                self.assertIn(rule.say(setup, way), cautions(setup, way))
                self.assertRegex(rule.say(setup, way), r"^[A-Z0-9fw].*\.$")

    def test_a_quiet_picture_raises_none(self) -> None:
        way = plan(QUIET).way("within_sync")
        self.assertEqual(way.verdict, "holds", way.misses)
        self.assertEqual(cautions(QUIET, way), ())

    def test_an_extended_low_iso_clips_a_stop_earlier(self) -> None:
        # ISO 12232: full at +2.96; at ISO 50 of a base of 100 at +1.96, where a white dress at 2.56 is
        # gone.
        base = noon(iso_lowest=50)
        self.assertFalse(any("white clips" in line for line in cautions(base, plan(base).way("nd"))))
        extended = noon(iso_lowest=50, iso_base=100)
        (line,) = [line for line in cautions(extended, plan(extended).way("nd")) if "white clips" in line]
        self.assertIn("extended ISO 50", line)


class Uncertainty(unittest.TestCase):
    """± of the reserve, two standard deviations added as squares."""

    def way(self, light: Light, key: str = "nd", **more: object) -> Way:
        return plan(noon(lights=(light,), **more)).way(key)

    def test_each_figure_counts_where_it_is_used(self) -> None:
        known = replace(LIGHT.uncertainty, gn=0.3, loss=0.8, toll=0.4)
        bare = self.way(replace(LIGHT, uncertainty=known))
        boxed = self.way(replace(LIGHT, uncertainty=known, loss=1.0, gn_m=85))
        fast = self.way(replace(LIGHT, uncertainty=known), "hss")
        # The reading of the subject counts by how the need follows it: 2^A/(1 − 2^A) = 0.085 at A = −3.67.
        reading = 0.3 * 0.0855
        self.assertAlmostEqual(bare.uncertainty or 0, (0.3**2 + reading**2) ** 0.5, places=3)
        self.assertAlmostEqual(boxed.uncertainty or 0, (0.3**2 + 0.8**2 + reading**2) ** 0.5, places=3)
        self.assertAlmostEqual(fast.uncertainty or 0, (0.3**2 + 0.4**2 + reading**2) ** 0.5, places=3)

    def test_a_derivative_by_hand_agrees_with_planning_both_readings(self) -> None:
        for school in ("total", "match"):
            low, high = (
                self.way(LIGHT, school=school, subject=subject).lighting.key.needed or 0.0
                for subject in (12.99, 13.01)
            )
            only_reading = replace(LIGHT, uncertainty=replace(LIGHT.uncertainty, gn=0.0))
            way = self.way(only_reading, school=school, subject=13.0, subject_uncertainty=1.0)
            self.assertAlmostEqual(way.uncertainty or 0.0, abs(high - low) / 0.02, places=3)

    def test_none_without_a_reserve(self) -> None:
        setup = noon(subject=18.0)
        self.assertIsNone(reserve_uncertainty(setup, plan(setup).way("nd").lighting))

    def test_the_reasons_say_how_far_to_trust_it(self) -> None:
        known = replace(LIGHT.uncertainty, gn=0.3)
        unknown = replace(LIGHT.uncertainty, gn=2.0)
        for uncertainty, words in ((known, "holds even at its worst"), (unknown, "may be as little as")):
            setup = noon(lights=(replace(LIGHT, uncertainty=uncertainty),))
            self.assertIn(words, " ".join(reasons(setup, plan(setup).way("nd"))))


class Wind(unittest.TestCase):
    def test_ballast_by_moments(self) -> None:
        # Half a metre across at 8 m/s: ½·1.2·1.2·0.196·64 = 9.05 N at 2 m, about the line between two
        # feet 0.25 m from the middle: 7.4 kg hold it, and the caution asks for twice that.
        area = 0.19635
        self.assertAlmostEqual(
            ballast(Stand(2.0, 0.5), area, 8.0), 2 * 9.048 * 2 / (9.81 * 0.25), delta=0.02
        )
