"""Drawings say what the numbers say: places on the scale, tones, blur, bars."""

import unittest
from dataclasses import replace
from datetime import date, datetime
from itertools import pairwise
from math import atan2, degrees, dist, hypot, radians, sin, tan
from typing import Any
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.daylight.place import Moment, Place
from noggin.core.daylight.sun import Sun
from noggin.core.layout.findings import Standing
from noggin.core.layout.standing import layout_of
from noggin.core.physics.appearance import CLIP, tone
from noggin.core.physics.optics import Focus
from noggin.core.planning.plan import plan
from noggin.core.planning.verdicts import HOLDS
from noggin.core.planning.ways import WAYS
from noggin.core.setup.layout import ScrimSpot, SurfaceLine
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.timeline import Placement, Slot, timeline
from noggin.web.drawings import (
    above,
    axis_of,
    blur_gauge,
    fall,
    focus_gauge,
    from_above,
    from_side,
    reserve_gauge,
    scale,
    track,
)
from noggin.web.drawings.above import MIDDLE
from noggin.web.drawings.carry import FOOT, LETTER_COLUMNS, LETTER_HEIGHT, TOP, _beside
from noggin.web.drawings.greys import colour
from noggin.web.drawings.scale import HIGHEST, LABEL_GAP, LOWEST
from noggin.web.drawings.strip import PER_STOP, ZERO
from tests.support import LIGHT, MOMENT, noon, setups


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

    def test_clipping_is_white(self) -> None:
        self.assertEqual(colour(CLIP + 1), "#ffffff")


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


DAY = date(2027, 6, 19)
ZONE = ZoneInfo("Europe/Madrid")
SPAN = datetime(2027, 6, 19, 4, 30, tzinfo=ZONE), datetime(2027, 6, 19, 23, 0, tzinfo=ZONE)


class Days(unittest.TestCase):
    def slot(self, hour: int, minutes: int, **changes: Any) -> Slot:
        place = Place(42.46, 0.71)
        start = datetime(2027, 6, 19, hour, 0, tzinfo=ZONE)
        setup = noon(moment=Moment(place, start), **changes)
        return Slot(Placement(setup, place, DAY, ZONE), start, minutes)

    def test_blocks_stand_at_their_times(self) -> None:
        axis = axis_of(SPAN)
        self.assertEqual((axis.begins, axis.minutes), (270, 1110))
        slot = self.slot(13, 37)
        drawn = track(axis, slot, timeline(slot.placement, WAYS["nd"], *SPAN))
        self.assertAlmostEqual(drawn.block_x, 1000 * (13 * 60 - 270) / 1110)
        self.assertAlmostEqual(drawn.block_width, 1000 * 37 / 1110)

    def test_time_passes_as_it_does_on_a_day_of_a_clock_change(self) -> None:
        spring = datetime(2027, 3, 28, 0, 0, tzinfo=ZONE), datetime(2027, 3, 28, 6, 0, tzinfo=ZONE)
        axis = axis_of(spring)
        self.assertEqual(axis.minutes, 300)  # from two to three there is nothing
        self.assertAlmostEqual(axis.x(datetime(2027, 3, 28, 3, 0, tzinfo=ZONE)), 1000 * 120 / 300)

    def test_a_track_is_cut_where_its_state_changes_and_its_height_is_the_reserve(self) -> None:
        axis, slot = axis_of(SPAN), self.slot(13, 20)
        line = timeline(slot.placement, WAYS["nd"], *SPAN)
        drawn = track(axis, slot, line)
        self.assertAlmostEqual(sum(piece.width for piece in drawn.pieces), 1000)
        for before, after in pairwise(drawn.pieces):
            self.assertAlmostEqual(before.x + before.width, after.x)
            self.assertNotEqual(before.verdict, after.verdict)
        held = [moment for moment in line if moment.verdict == HOLDS]
        corners = [
            tuple(map(float, corner.split(",")))
            for piece in drawn.pieces
            if piece.area
            for corner in piece.area.split()[1:-1]
        ]
        self.assertEqual(len(corners), len(held))
        for (x, y), moment in zip(corners, held, strict=True):
            self.assertAlmostEqual(x, axis.x(moment.time), delta=0.1)
            self.assertAlmostEqual((ZERO - y) / PER_STOP, min(moment.reserve or 0.0, 3.0), delta=0.02)

    def test_the_sun_from_above_stands_where_it_is_off_the_axis(self) -> None:
        # Facing south with the sun in the south-west: up and to the right; north is behind the camera.
        seen = above(Sun(30, 225), 180)
        assert seen.sun
        self.assertGreater(seen.sun[0], MIDDLE)
        self.assertLess(seen.sun[1], MIDDLE)
        self.assertGreater(seen.north[1], MIDDLE)
        high = above(Sun(80, 225), 180)
        assert high.sun
        self.assertLess(dist(high.sun, (MIDDLE, MIDDLE)), dist(seen.sun, (MIDDLE, MIDDLE)))
        self.assertIsNone(above(Sun(-5, 300), 180).sun)


class Letters(unittest.TestCase):
    @given(st.lists(st.floats(TOP, FOOT + 100), min_size=1, max_size=12))
    def test_letters_beside_a_chart_never_lie_on_one_another(self, ends: list[float]) -> None:
        places = _beside(ends)
        for column in range(LETTER_COLUMNS):
            heights = sorted(height for own, height in places if own == column)
            self.assertTrue(all(b - a >= LETTER_HEIGHT - 1e-9 for a, b in pairwise(heights)), heights)
            self.assertTrue(all(height <= FOOT for height in heights), heights)


class OnThePlan(unittest.TestCase):
    """What stands on the plan, in the drawing's own units: centimetres, y down."""

    MOMENT = replace(MOMENT, place=replace(MOMENT.place, facing_deg=230))

    def standing(self, **changes: Any) -> Standing:
        plan = replace(layout_of(noon(moment=self.MOMENT)), **changes)
        return Standing(noon(moment=self.MOMENT, layout=plan))

    def test_the_shadow_of_a_wall_ends_where_the_suns_height_says(self) -> None:
        wall = SurfaceLine((-1.0, 1.0), (1.0, 1.0), 2.0, 0.4)
        standing = self.standing(surfaces=(wall,))
        sun = standing.sun
        assert sun is not None
        (path,) = from_above(standing).wall_shadows
        corners = [tuple(map(float, pair.split())) for pair in path.strip("MZ").split("L")]
        self.assertEqual(corners[:2], [(-100, -100), (100, -100)])
        long = 200 / tan(radians(sun.height_deg))
        x, y = corners[2][0] - 100, -100 - corners[2][1]
        self.assertAlmostEqual(hypot(x, y), long, delta=0.1)
        # Away from where the sun is: behind them on one side, the shadow before the wall on the other.
        self.assertAlmostEqual(degrees(atan2(-x, -y)), sun.off_deg, delta=0.1)

    def test_a_scrim_is_as_flat_as_the_sun_is_low_and_its_shadow_as_long(self) -> None:
        standing = self.standing(scrim=ScrimSpot(0.2, 0.5, 2.5, 0.6, 1.5))
        sun = standing.sun
        assert sun is not None
        drawn = from_above(standing).scrim
        assert drawn is not None
        up = sin(radians(sun.height_deg))
        self.assertAlmostEqual(drawn.deep / drawn.wide, up, places=3)
        self.assertAlmostEqual(drawn.wide / drawn.shadow_long, up, places=3)
        ends = from_side(standing).scrim
        assert ends is not None
        self.assertAlmostEqual((ends[0][1] + ends[1][1]) / 2, -250, delta=0.1)
        self.assertLessEqual(dist(*ends), 2 * 60.001)

    def test_the_wind_blows_from_where_it_comes(self) -> None:
        for side, wanted in ((0, (0, 70)), (90, (-70, 0)), (-90, (70, 0)), (180, (0, -70))):
            tail, head = from_above(self.standing(wind_deg=side)).wind or ((0, 0), (0, 0))
            with self.subTest(side=side):
                self.assertAlmostEqual(head[0] - tail[0], wanted[0], delta=0.01)
                self.assertAlmostEqual(head[1] - tail[1], wanted[1], delta=0.01)
        self.assertIsNone(from_above(self.standing()).wind)

    def test_a_cable_leads_from_its_light(self) -> None:
        spot = layout_of(noon()).lights["Large head"]
        drawn = from_above(self.standing(lights={"Large head": replace(spot, cable=(-4.0, -1.0))}))
        (cable,) = drawn.cables
        self.assertEqual(cable.end.at, (-400, 100))
        self.assertAlmostEqual(cable.start[0], 100 * spot.x_m, delta=0.01)
        self.assertLess(drawn.left, -400)
