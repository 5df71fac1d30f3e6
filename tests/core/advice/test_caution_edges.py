"""Every threshold of a caution on both sides of its edge: one line for each, quiet and then said."""

import unittest
from dataclasses import replace
from datetime import datetime, timedelta
from math import hypot, log2, sqrt
from typing import Any
from zoneinfo import ZoneInfo

from noggin.core.advice.caution_rule import HARM
from noggin.core.advice.cautions import RULES, weighed
from noggin.core.daylight.place import Moment, Place
from noggin.core.daylight.sun import sun_at
from noggin.core.physics.appearance import CLIP, WHITE_DRESS
from noggin.core.physics.dials import DialStep, iso_dial
from noggin.core.physics.filters import Filter, Stack
from noggin.core.physics.optics import airy_disc, circle_of_confusion, light_in_frame
from noggin.core.physics.pulse import Pulse
from noggin.core.planning.lighting import Settings
from noggin.core.planning.plan import plan, way_with
from noggin.core.planning.way import Way
from noggin.core.planning.ways import ND
from noggin.core.setup.scene import Person
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon

NOON = noon()
BY_KEY = {rule.key: rule for rule in RULES}
NARROW = 0.001
"""So near to an edge a figure is still on its side of it."""


def way_of(setup: SetUp = NOON, key: str = "nd") -> Way:
    """One way of a set-up."""
    return plan(setup).way(key)


def with_levels(way: Way, **levels: float) -> Way:
    """A way whose zones land elsewhere."""
    return replace(way, lighting=replace(way.lighting, levels=replace(way.lighting.levels, **levels)))


def with_settings(way: Way, **settings: Any) -> Way:
    """A way with other camera settings, nothing else worked out anew."""
    return replace(way, lighting=replace(way.lighting, settings=replace(way.settings, **settings)))


def with_power(way: Way, down: float | None, **firing: Any) -> Way:
    """A way whose first light is so many stops down."""
    first, *others = way.lighting.firings
    firings = (replace(first, down=down, **firing), *others)
    return replace(way, lighting=replace(way.lighting, firings=firings))


def with_reserve(way: Way, reserve: float) -> Way:
    """A way whose key has so much in reserve."""
    key = way.lighting.key
    return with_power(way, key.down, full=(key.needed or 0.0) + reserve)


def time(seconds: float) -> DialStep:
    """A shutter time that no dial need have."""
    return DialStep(-log2(seconds), seconds, "this", -log2(seconds))


EVENING = datetime(2027, 6, 19, 19, 0, tzinfo=ZoneInfo("Europe/Madrid"))


def settings_of(seconds: float) -> Settings:
    """The filter's settings with another time."""
    return replace(way_of().settings, shutter=time(seconds))


class Edges(unittest.TestCase):
    def edge(self, key: str, quiet: tuple[SetUp, Way], said: tuple[SetUp, Way]) -> None:
        """A caution is silent on one side of its edge and stands on the other."""
        with self.subTest(caution=key, side="quiet"):
            self.assertFalse(BY_KEY[key].when(*quiet))
        with self.subTest(caution=key, side="said"):
            self.assertTrue(BY_KEY[key].when(*said))

    def test_filters(self) -> None:
        def blinded(stops: float, subject: float) -> tuple[SetUp, Way]:
            setup = noon(subject=subject)
            return setup, with_settings(way_of(setup), stack=Stack(("ND",), stops, (0,)))

        self.edge("finder", blinded(5.999, 12), blinded(6, 12))
        self.edge("finder", blinded(5, 7), blinded(5, 6.999))
        self.edge("finder", blinded(0, 1), blinded(0.3, 1))
        bare, thin = (
            with_settings(way_of(), stack=Stack()),
            with_settings(way_of(), stack=Stack(("ND",), 0.1, (0,))),
        )
        self.edge("power_follows", (NOON, bare), (NOON, thin))
        glass = noon(filters=(Filter("Polariser", 1.5, 1.5, polariser=True),))
        self.edge(
            "polariser", (glass, bare), (glass, with_settings(way_of(), stack=Stack(("P",), 1.5, (0,))))
        )
        turned = Stack(("Variable",), 3.0, (0,), (0, 3.0))
        self.edge("variable_filter", (NOON, thin), (NOON, with_settings(way_of(), stack=turned)))

    def test_differences_of_a_third_of_a_stop(self) -> None:
        def drooping(droop: float) -> tuple[SetUp, Way]:
            setup = noon(lights=(replace(LIGHT, hss_droop=droop),))
            return setup, way_of(setup, "hss")

        self.edge("droop", drooping(1 / 3), drooping(1 / 3 + NARROW))
        miss = with_levels(way_of(), subject=NOON.intent.subject_level + 1 / 3)
        for sign in (1, -1):
            inside, outside = (
                with_levels(way_of(), subject=NOON.intent.subject_level + sign * (1 / 3 + by))
                for by in (-NARROW, NARROW)
            )
            self.edge("subject_missed", (NOON, inside), (NOON, outside))
        self.assertFalse(BY_KEY["subject_missed"].when(NOON, miss))
        # Inverse square by hand: faces at 2 m and at 2·2^(1/6) m are a third of a stop apart.
        for far, words in ((2 * 2 ** (1 / 6) - 0.002, False), (2 * 2 ** (1 / 6) + 0.002, True)):
            group = noon(lights=(replace(LIGHT, faces_m=(2.0, far)),))
            self.assertEqual(BY_KEY["uneven"].when(group, way_of(group)), words)
        # The feet 1.8 m under a point source at the face's height: 2·log2(√(d² + 1.8²)/d) = 1/3 at d = 3.53
        # m.
        near = 1.8 / sqrt(2 ** (1 / 3) - 1)
        for distance, words in ((near + 0.02, False), (near - 0.02, True)):
            full = noon(
                subject_distance_m=7.0,
                background_distance_m=50,
                lights=(replace(LIGHT, distance_m=distance),),
            )
            self.assertEqual(BY_KEY["head_to_feet"].when(full, way_of(full)), words)

    def test_a_slow_pulse_at_one_edge(self) -> None:
        # The nearer to the travel time, the darker the edge: somewhere on the way it passes a third of a
        # stop.
        lights = (replace(LIGHT, pulse=Pulse("voltage", 1 / 300), gn_m=100),)
        # A rated sync speed has its margin built in: only where pulse and travel are stated is there an
        # edge.
        rated = noon(lights=lights)
        self.assertFalse(BY_KEY["edge_darkens"].when(rated, with_power(way_of(rated), 0.0)))
        setup = noon(lights=lights, curtain_s=0.85 / 200)
        way = with_power(way_of(setup), 0.0)
        losses = [
            BY_KEY["edge_darkens"].when(
                setup, with_settings(way, shutter=time(setup.camera.travel_s * slower))
            )
            for slower in (1.01, 1.5, 2, 4, 8)
        ]
        self.assertEqual((losses[0], losses[-1]), (True, False))
        self.assertEqual(losses, sorted(losses, reverse=True))

    def test_frame_heights(self) -> None:
        # 24 mm at 85 mm: a frame of 1.8 m is 85·(1.8/24 + 0.001) = 6.46 m away.
        exact = 85 * (1.8 / 24 + 0.001)
        for distance, words in ((exact - 0.01, False), (exact + 0.01, True)):
            setup = noon(
                subject_distance_m=distance,
                background_distance_m=50,
                lights=(replace(LIGHT, radius_m=0.5),),
            )
            weak = with_reserve(way_of(setup), 0.4)
            with self.subTest(distance=distance):
                self.assertEqual(BY_KEY["soft_and_far"].when(setup, weak), words)
                self.assertEqual(BY_KEY["head_to_feet"].when(setup, weak), words)

    def test_a_light_as_near_as_the_focal_length_is_not_in_the_picture(self) -> None:
        self.assertFalse(light_in_frame(0.25, 0.1, 0, 0.5, 250, 36))
        self.assertTrue(light_in_frame(0.24, 0.1, 0, 0.5, 250, 36))

    def test_soft_and_far(self) -> None:
        def far(background: float = 14.6, reserve: float = 0.4, radius: float = 0.5) -> tuple[SetUp, Way]:
            lights = (replace(LIGHT, radius_m=radius),)
            setup = noon(
                subject_distance_m=7.0, background_distance_m=50, background=background, lights=lights
            )
            return setup, with_reserve(way_of(setup), reserve)

        self.edge("soft_and_far", far(reserve=0.5), far(reserve=0.499))
        self.edge("soft_and_far", far(radius=0.0), far(radius=0.1))
        self.edge("soft_and_far", far(background=13.59), far(background=13.6))

    def test_powers(self) -> None:
        half = (1.0 + NARROW, 1.0)  # stops under full power
        weak, strong = ((NOON, with_power(way_of(), down)) for down in half)
        self.edge("rushed", weak, strong)
        weak, strong = ((NOON, with_power(way_of(key="hss"), down)) for down in half)
        self.edge("heat", weak, strong)

        def near(distance: float, down: float) -> tuple[SetUp, Way]:
            setup = noon(lights=(replace(LIGHT, distance_m=distance),))
            return setup, with_power(way_of(setup), down)

        self.edge("eyes", near(1.0, 1.0 + NARROW), near(1.0, 1.0))
        self.edge("eyes", near(1.0 + NARROW, 0.0), near(1.0, 0.0))
        # A light that goes to 1/128 is within a stop of its least from 1/64 down.
        self.edge("least_power", (NOON, with_power(way_of(), 5.999)), (NOON, with_power(way_of(), 6.0)))

    def test_groups_and_channels(self) -> None:
        def pair(first: dict[str, Any], second: dict[str, Any], **more: Any) -> tuple[SetUp, Way]:
            lights = (replace(LIGHT, **first), replace(LIGHT, role="rim", **second))
            setup = noon(lights=lights, **more)
            return setup, way_of(setup)

        self.edge("channels", pair({"channel": 1}, {"channel": 1}), pair({"channel": 1}, {"channel": 2}))
        self.edge(
            "groups",
            pair({"group": "A"}, {"group": "B"}),
            pair({"group": "A"}, {"group": "A", "relative_level": 1.0}),
        )
        self.edge("optical_slaves", pair({}, {}, background=11.99), pair({}, {}, background=12))
        self.edge("optical_slaves", (NOON, way_of()), pair({}, {}))
        self.edge("optical_slaves", pair({"group": "A"}, {"channel": 1}), pair({"group": "A"}, {}))

    def test_wind_catches_a_face_of_sixty_centimetres(self) -> None:
        small, big = (noon(lights=(replace(LIGHT, radius_m=radius),)) for radius in (0.299, 0.3))
        self.edge("wind", (small, way_of(small)), (big, way_of(big)))

    def test_wind_blows_out_of_doors(self) -> None:
        def boxed(**scene: Any) -> tuple[SetUp, Way]:
            setup = noon(lights=(replace(LIGHT, radius_m=0.5),), **{"subject": 5.0, **scene})
            return setup, way_of(setup, "within_sync")

        self.edge("wind", boxed(background=8.99), boxed(background=9.0))
        self.edge("wind", boxed(background=12.0, gust_m_s=0.0), boxed(background=6.0, gust_m_s=0.1))

    def test_spill_that_shows(self) -> None:
        # Daylight at −2 and spill at s: together log2(2^-2 + 2^s), a third over −2 at s = −2 + log2(2^⅓ −
        # 1).
        at = -2 + log2(2 ** (1 / 3) - 1)
        quiet, said = (
            with_levels(way_of(), background_ambient=-2.0, spill=at + by) for by in (-NARROW, NARROW)
        )
        self.edge("spill", (NOON, quiet), (NOON, said))
        # A background that is too dark is not blamed on the light that lifts it.
        lifted = {"background_ambient": -2.0, "spill": -1.5}
        dark, near = (with_levels(said, background=-1 - 1 / 3 + by, **lifted) for by in (-NARROW, NARROW))
        self.edge("spill", (NOON, dark), (NOON, near))

    def test_a_night_without_lamps(self) -> None:
        evening = datetime(2027, 6, 19, 21, 40, tzinfo=ZoneInfo("Europe/Madrid"))
        seen = set()
        for minutes in range(0, 60, 2):
            moment = evening + timedelta(minutes=minutes)
            dark = sun_at(42.46, 0.71, moment).height_deg < -6
            setup = noon(moment=Moment(Place(42.46, 0.71), moment))
            self.assertEqual(BY_KEY["no_lamps_said"].when(setup, way_of(setup)), dark)
            lit = replace(setup, scene=replace(setup.scene, lamps_subject=4.0))
            self.assertFalse(BY_KEY["no_lamps_said"].when(lit, way_of(lit)))
            seen.add(dark)
        self.assertEqual(seen, {True, False})

    def test_the_sky_toward_the_sun(self) -> None:
        moment = datetime(2027, 6, 19, 19, 0, tzinfo=ZoneInfo("Europe/Madrid"))
        azimuth = sun_at(42.46, 0.71, moment).azimuth_deg
        for off, words in ((29.9, True), (30.1, False), (-29.9, True), (-30.1, False)):
            place = Place(42.46, 0.71, facing_deg=(azimuth + off) % 360)
            setup = noon(sky=15.0, moment=Moment(place, moment))
            self.assertEqual(BY_KEY["sky_toward_sun"].when(setup, way_of(setup)), words, off)

    def test_noise(self) -> None:
        quiet, said = (with_settings(way_of(), iso=iso_dial().nearest(stops)) for stops in (5 / 3, 2.0))
        self.edge("noise", (NOON, quiet), (NOON, said))

    def test_what_hurts_comes_before_what_is_a_habit(self) -> None:
        setup = noon(
            lights=(replace(LIGHT, distance_m=0.9, gn_m=15),),
            sky=19.0,
            moment=Moment(Place(42.46, 0.71), EVENING),
        )
        weights = [caution.weight for caution in weighed(setup, way_of(setup))]
        self.assertEqual(weights, sorted(weights, reverse=True))
        self.assertEqual(weighed(setup, way_of(setup))[0].weight, HARM)

    def test_focus_and_diffraction(self) -> None:
        def deep(metres: float) -> Way:
            way = way_of()
            return replace(way, focus=replace(way.focus, near_m=0.0, far_m=metres))

        self.edge("shallow", (NOON, deep(0.15)), (NOON, deep(0.149)))
        endless = replace(way_of(), focus=replace(way_of().focus, far_m=None))
        self.assertFalse(BY_KEY["shallow"].when(NOON, endless))
        # ISO 15740 visibility aside: the disc of f/N is 2.44·N·0.55 µm and a point on 24 × 36 mm 0.0288 mm.
        point = circle_of_confusion((36, 24))
        apertures = [
            DialStep(2 * log2(number), number, f"{number}", 2 * log2(number)) for number in (21.0, 21.7)
        ]
        self.assertLess(airy_disc(21.0), point)
        self.assertGreater(airy_disc(21.7), point)
        self.edge(
            "diffraction", *((NOON, with_settings(way_of(), aperture=aperture)) for aperture in apertures)
        )

    def test_times(self) -> None:
        # 85 mm on a sensor of 43.27 mm across: 1/85 s.
        crop = 43.27 / hypot(36, 24)
        sharp, shaken = (
            way_with(NOON, ND, settings_of(seconds / (85 * crop))) for seconds in (0.9999, 1.0001)
        )
        self.edge("shake", (NOON, sharp), (NOON, shaken))
        short, long = (with_settings(way_of(), shutter=time(seconds)) for seconds in (1 / 31, 1 / 30))
        self.edge("drags", (NOON, short), (NOON, long))
        self.assertFalse(BY_KEY["drags"].when(NOON, with_power(long, None)))

        def lamps(background: float, seconds: float) -> tuple[SetUp, Way]:
            setup = noon(background=background, subject=4.0)
            return setup, with_settings(way_of(setup), shutter=time(seconds))

        self.edge("lamps", lamps(7.001, 1 / 200), lamps(7, 1 / 200))
        self.edge("lamps", lamps(7, 1 / 100), lamps(7, 1 / 101))
        # Under a sky that is known to light it, only lamps that are said flicker.
        for hour, lit, words in ((18, None, False), (18, 3.0, True), (23, None, True)):
            moment = Moment(
                Place(42.46, 0.71), datetime(2027, 6, 19, hour, 30, tzinfo=ZoneInfo("Europe/Madrid"))
            )
            setup = noon(background=6.0, subject=4.0, moment=moment, lamps_background=lit)
            way = with_settings(way_of(setup), shutter=time(1 / 200))
            self.assertEqual(BY_KEY["lamps"].when(setup, way), words, (hour, lit))

    def test_movement(self) -> None:
        for speed, words in ((2.99, False), (3.0, True)):
            runner = noon(subject_speed_m_s=speed)
            self.assertEqual(BY_KEY["leap"].when(runner, way_of(runner)), words)
        walker = noon(subject_speed_m_s=0.1)
        self.edge("bursts", (NOON, way_of()), (walker, way_of(walker)))
        # At 0.3 m/s half power of the class (t0.1 1/500) is short enough, the shutter is not.
        slow = noon(subject_speed_m_s=0.3)
        lit = with_settings(with_power(way_of(slow), 1.0), shutter=time(1 / 60))
        dark = with_levels(lit, subject_ambient=-4.0, subject=0.0, background=-2.0)
        bright = with_levels(dark, background=-1.999, background_ambient=-1.999)
        self.edge("burns_through", (slow, dark), (slow, bright))
        # What flash alone lights does not burn through.
        spilt = with_levels(dark, background=-1.0, background_ambient=-2.0)
        self.assertFalse(BY_KEY["burns_through"].when(slow, spilt))

    def test_clipping(self) -> None:
        self.edge(
            "sky_clips", *((NOON, with_levels(way_of(), sky=level)) for level in (CLIP - NARROW, CLIP))
        )
        dress = CLIP - WHITE_DRESS
        # The dress at the rim clips before the rim itself would.
        self.edge(
            "rim_clips",
            *((NOON, with_levels(way_of(), rim=level)) for level in (dress - NARROW, dress + NARROW)),
        )
        # In a picture of somebody in a dark suit the skin is the brightest: fair skin lies 1.56 over.
        fair = noon(people=(Person("fair", "dark suit"),))
        skin = CLIP - log2(0.35 / 0.119)
        self.edge(
            "rim_clips",
            *((fair, with_levels(way_of(fair), rim=level)) for level in (skin - NARROW, skin + NARROW)),
        )
        self.edge(
            "dress_clips",
            (NOON, with_levels(way_of(), subject=dress - NARROW)),
            (NOON, with_levels(way_of(), subject=dress + NARROW)),
        )

    def test_dark_backgrounds(self) -> None:
        def behind(background: float, subject: float = 0.0) -> tuple[SetUp, Way]:
            return NOON, with_levels(way_of(), background=background, subject=subject)

        self.edge("black_background", behind(-5.499), behind(-5.5))
        self.edge("cut_out", behind(-2.999), behind(-3.0))
        self.edge("cut_out", behind(-5.5), behind(-5.499))
        self.edge("cut_out", behind(-3.0, -1.001), behind(-3.0, -1.0))
        # Meant black, or with a rim, nothing is proposed.
        black, dark = noon(background_level=-4.0), noon(background_level=-3.999)
        self.edge("cut_out", (black, behind(-3.5)[1]), (dark, behind(-3.5)[1]))
        self.assertFalse(BY_KEY["cut_out"].when(NOON, with_levels(behind(-3.5)[1], rim=0.5)))

    def test_daylight(self) -> None:
        for background, words in ((11.99, False), (12.0, True)):
            setup = noon(background=background, subject=10.5)
            self.assertEqual(BY_KEY["screen_in_sun"].when(setup, way_of(setup)), words)
        for subject, words in ((12.61, False), (12.6, True)):
            setup = noon(subject=subject)
            self.assertEqual(BY_KEY["sun_behind"].when(setup, way_of(setup)), words)
        dark = with_levels(way_of(), subject_ambient=-3.0, background_ambient=-3.0)
        for zone in ("subject_ambient", "background_ambient"):
            self.edge("live_view", (NOON, with_levels(dark, **{zone: -2.999})), (NOON, dark))
        unlit = with_power(dark, None)
        self.assertFalse(BY_KEY["live_view"].when(NOON, unlit))

    def test_a_low_sun(self) -> None:
        evening = datetime(2027, 6, 19, 19, 0, tzinfo=ZoneInfo("Europe/Madrid"))
        seen = []
        for minutes in range(0, 180, 2):
            moment = evening + timedelta(minutes=minutes)
            height = sun_at(42.46, 0.71, moment).height_deg
            setup = noon(moment=Moment(Place(42.46, 0.71), moment))
            self.assertEqual(
                BY_KEY["whiter_than_sun"].when(setup, way_of(setup)), -2 <= height <= 8, height
            )
            seen.append(height)
            gelled = replace(setup, lights=(replace(LIGHT, gel="full_cto"),))
            self.assertFalse(BY_KEY["whiter_than_sun"].when(gelled, way_of(gelled)))
        self.assertTrue(min(seen) < -2 < 8 < max(seen))
