"""Drawings say what the numbers say: places on the scale, tones, blur, bars."""

import unittest
from dataclasses import replace
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.optics import Focus
from noggin.core.setup import SetUp
from noggin.core.tones import CLIP, tone
from noggin.core.ways import plan
from noggin.web.drawings import blur_gauge, fall, focus_gauge, reserve_gauge, scale, sketch
from noggin.web.drawings.colour import FLASHLIGHT, SKYLIGHT, colour
from noggin.web.drawings.scale import HIGHEST, LABEL_GAP, LOWEST
from tests.support import LIGHT, noon, setups


class Scale(unittest.TestCase):
    def test_marks_stand_at_their_levels(self) -> None:
        setup = noon(sky=15.1, rim=15.6)
        way = plan(setup).way("nd")
        drawn = scale(setup, way)
        left, right = drawn.ticks[0].x, drawn.ticks[-1].x
        levels = way.lighting.levels
        stands = {mark.zone.name: mark.x for mark in (*drawn.above, *drawn.below)}
        self.assertEqual(set(stands), {"face, daylight", "background", "sky", "rim", "flash", "face, both"})
        for name, level in (
            ("face, daylight", levels.subject_ambient),
            ("background", levels.background_ambient),
            ("face, both", levels.subject),
        ):
            share = (stands[name] - left) / (right - left)
            self.assertAlmostEqual(share * (HIGHEST - LOWEST) + LOWEST, level, places=6)
        self.assertIn("background −1.1", drawn.words)
        self.assertIn("Meant: background −1.0", drawn.words)

    def test_an_extended_low_iso_clips_sooner_on_the_scale_too(self) -> None:
        setup = noon(iso_lowest=50, iso_base=100)
        drawn, base = (scale(one, plan(one).way("nd")) for one in (setup, noon()))
        self.assertAlmostEqual(base.clips_from - drawn.clips_from, drawn.per_stop, places=6)
        self.assertAlmostEqual(drawn.zero, drawn.ticks[6].x)

    def test_a_level_off_the_end_points_there(self) -> None:
        setup = noon(sky=15.6)
        drawn = scale(setup, plan(setup).way("within_sync"))
        (sky,) = (mark for mark in drawn.above if mark.zone.name == "sky")
        self.assertEqual((sky.zone.label, sky.x), ("sky +5.9 ›", drawn.ticks[-1].x))

    def test_flash_on_the_background_is_shown_where_it_counts(self) -> None:
        near = noon(background_distance_m=3.4)
        names = [mark.zone.name for mark in scale(near, plan(near).way("nd")).below]
        self.assertIn("background, both", names)

    @given(setups(), st.sampled_from([(940.0, False), (366.0, True)]))
    def test_labels_never_touch_nor_leave_the_drawing(self, setup: SetUp, form: tuple[float, bool]) -> None:
        width, narrow = form
        letter = 6.4 if narrow else 7.0
        for way in plan(setup).ways:
            drawn = scale(setup, way, width, narrow=narrow)
            for marks in (drawn.above, drawn.below):
                rows: dict[float, list[tuple[float, float]]] = {}
                for mark in marks:
                    half = len(mark.zone.label) * letter / 2
                    rows.setdefault(mark.label_y, []).append((mark.label_x - half, mark.label_x + half))
                for spans in rows.values():
                    self.assertTrue(all(a >= 0 and b <= width for a, b in spans))
                    for (_, end), (start, _) in pairwise(spans):
                        self.assertLessEqual(end + LABEL_GAP, start + 1e-6)


class Tones(unittest.TestCase):
    @given(st.floats(-12, 8), st.floats(0.01, 3))
    def test_more_light_is_never_darker_on_the_screen(self, level: float, more: float) -> None:
        self.assertLessEqual(tone(level), tone(level + more))
        self.assertTrue(0 <= tone(level) <= 1)

    def test_clipping_is_white_whatever_the_tint(self) -> None:
        for tint in (SKYLIGHT, FLASHLIGHT):
            self.assertEqual(colour(CLIP + 1, tint), "#ffffff")


class Sketch(unittest.TestCase):
    def test_tones_and_blur_follow_levels_and_optics(self) -> None:
        setup = noon(sky=15.1)
        wide, closed = (sketch(setup, plan(setup).way(key)) for key in ("nd", "stop_down"))
        self.assertEqual(wide.place, closed.place)
        # Both reach the same levels; f/16 blurs an eighth of what f/2 does (b is as 1/N).
        self.assertAlmostEqual(wide.blur / closed.blur, 8, places=3)
        # 3.0 % of a frame 480 wide is a disc of 14.2; a uniform disc deviates by a quarter of that.
        self.assertAlmostEqual(wide.blur, 480 * 0.0296 / 4, delta=0.01)

    def test_without_high_speed_sync_the_flash_ends_where_the_curtain_is(self) -> None:
        # 1/8000 under a travel of 0.85/200: 2.9 % of the frame is lit (exact dial: 2^-13 · 2^(23/3)/0.85).
        setup = noon(lights=(replace(LIGHT, hss_toll=None),))
        drawn = sketch(setup, plan(setup).way("hss"))
        self.assertAlmostEqual(drawn.band_y or 0, 320 * 2 ** (-13 + 23 / 3) / 0.85, places=3)
        self.assertIsNone(sketch(noon(), plan(noon()).way("hss")).band_y)

    def test_a_droop_darkens_the_foot_by_the_tones_of_the_core(self) -> None:
        setup = noon(lights=(replace(LIGHT, hss_droop=1.0),))
        way = plan(setup).way("hss")
        level = way.lighting.levels.subject
        self.assertAlmostEqual(sketch(setup, way).droop, 1 - tone(level - 1) / tone(level))
        self.assertEqual(sketch(setup, plan(setup).way("nd")).droop, 0)

    def test_a_wide_frame_holds_a_group(self) -> None:
        setup = noon(subject_distance_m=9.0)
        self.assertEqual(len(sketch(setup, plan(setup).way("nd")).couples), 3)

    def test_zones_that_are_not_there_are_not_drawn(self) -> None:
        drawn = sketch(noon(), plan(noon()).way("nd"))
        self.assertEqual((drawn.sky, drawn.rim), (None, None))

    def test_people_are_drawn_to_the_size_lens_and_distance_give(self) -> None:
        # 85 mm at 3.2 m on a sensor 36 mm wide sees 36·3115/85 = 1.319 m (thin lens);
        # 480 units hold that.
        drawn = sketch(noon(), plan(noon()).way("nd"))
        self.assertAlmostEqual(drawn.scale, 480 / 131.93, delta=0.01)

    def test_a_white_dress_that_clips_is_marked(self) -> None:
        bright = noon(subject_level=1.0)
        self.assertFalse(sketch(noon(), plan(noon()).way("nd")).dress_clips)
        self.assertTrue(sketch(bright, plan(bright).way("nd")).dress_clips)


class Bars(unittest.TestCase):
    def test_the_fall_ends_in_the_reserve(self) -> None:
        setup = noon()
        for key, reserve in (("nd", "+1.3"), ("hss", "+0.2")):
            drawn = fall(setup, plan(setup).way(key))
            assert drawn is not None
            assert drawn.needed_x is not None
            last = drawn.stages[-1]
            self.assertAlmostEqual(drawn.reserve_from, drawn.needed_x)
            self.assertAlmostEqual(drawn.reserve_from + drawn.reserve_length, last.left)
            self.assertEqual(f"{drawn.reserve:+.1f}", reserve)

    def test_no_fall_without_a_key_that_can_take_part(self) -> None:
        setup = noon(lights=(replace(LIGHT, hss_toll=None),))
        self.assertIsNone(fall(setup, plan(setup).way("hss")))

    def test_gauges(self) -> None:
        left_over, short = reserve_gauge(1.5), reserve_gauge(-1.5)
        assert left_over is not None
        assert short is not None
        self.assertEqual((left_over.start, left_over.length, left_over.short), (70, 35, False))
        self.assertEqual((short.start, short.length, short.short), (35, 35, True))
        self.assertIsNone(reserve_gauge(None))
        self.assertEqual(focus_gauge(Focus(2.0, None, 0), 2.0).length, 70)
        self.assertEqual(blur_gauge(Focus(1, 2, 2.5)), 14)
