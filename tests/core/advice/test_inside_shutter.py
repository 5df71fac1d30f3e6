"""Inside the shutter in sentences and sums, for planned set-ups and for what people ask."""

import unittest
from dataclasses import replace
from math import log2

from noggin.core.advice.inside_shutter import MOMENTS, InsideShutter, inside_of
from noggin.core.advice.shutter_words import QUESTIONS, state, sums
from noggin.core.errors import Refused
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.planning.plan import plan
from tests.support import LIGHT, noon

PAST = InsideShutter("focal_plane", 1 / 500, "pop", 1 / 200)
HSS = InsideShutter("focal_plane", 1 / 400, "hss", 1 / 200, toll=1.1)


def figure(inside: InsideShutter, what: str) -> str:
    """A line of the sums."""
    return next(one.figure for one in sums(inside) if one.what == what)


class Sums(unittest.TestCase):
    def test_high_speed_sync_at_twice_the_sync_speed(self) -> None:
        """By hand: 1.1 of toll, of which log2(1.85) = 0.89 is geometry, and a stop of time."""
        found = {one.what: one.figure for one in sums(HSS)}
        self.assertEqual(
            {
                "daylight": "−1.0 stop",
                "toll, at the sync speed": "−1.1 stops",
                "of that by geometry": "−0.9 stop",
                "of that by the light": "−0.2 stop",
                "shorter than sync": "−1.0 stop",
                "flash, mid-frame": "−2.1 stops",
                "a row's share": "37%",
            },
            found,
        )

    def test_a_bar_is_what_is_closed_when_the_pop_begins(self) -> None:
        """By hand: t/T = 200/(500·0.85) = 0.47 is lit."""
        self.assertEqual(figure(PAST, "rows with flash"), "47%")
        first, last = PAST.lit_rows
        self.assertAlmostEqual(last - first, 200 / 425, places=3)
        dark = [level for row, level in zip(PAST.rows, PAST.levels, strict=True) if row < first - 0.03]
        self.assertLess(max(dark), -10)

    def test_within_sync_a_short_pop_is_caught_whole_at_any_time(self) -> None:
        for time_s in (1 / 60, 1 / 125, 1 / 200):
            inside = InsideShutter("focal_plane", time_s, "pop", 1 / 200, power=1 / 16)
            self.assertEqual(figure(inside, "flash, best row"), "0.0 stops")
            self.assertAlmostEqual(inside.uneven, 0.0, places=6)

    def test_a_leaf_shutter_at_1_1600_with_a_full_pop(self) -> None:
        """Near the planner's figure for an opening without ramps: 1 − 2^(−t/t0.5)."""
        inside = InsideShutter("leaf", 1 / 1600, "pop", 1 / 1600)
        without_ramps = PULSE_CLASSES["cut"].pulse.caught(1 / 1600)
        self.assertAlmostEqual(inside.best, without_ramps, delta=0.7)
        self.assertLess(inside.best, without_ramps)

    def test_a_late_trigger_darkens_more_rows(self) -> None:
        late = replace(PAST, delay_s=0.0005)
        self.assertAlmostEqual(late.lit_rows[0] - PAST.lit_rows[0], 0.0005 * 200 / 0.85, places=6)

    def test_the_second_curtain_fires_at_the_end_of_a_long_time(self) -> None:
        first = InsideShutter("focal_plane", 1 / 8, "pop", 1 / 200)
        second = replace(first, curtain="second")
        self.assertAlmostEqual(first.pop.starts_s, first.opening.ready_s)
        self.assertAlmostEqual(second.pop.starts_s + second.pop.lasts_s, 1 / 8)

    def test_a_droop_leaves_less_for_the_rows_that_open_last(self) -> None:
        drooping = replace(HSS, droop=0.6)
        first, last = drooping.flash(0.0), drooping.flash(1.0)
        self.assertAlmostEqual(log2(first / last), 0.6)
        self.assertAlmostEqual(drooping.flash(0.5), HSS.flash(0.5))


class Planned(unittest.TestCase):
    def test_the_figures_are_the_plans_own(self) -> None:
        setup = noon(lights=(replace(LIGHT, hss_toll=1.1),))
        for way in plan(setup).ways:
            inside = inside_of(setup, way)
            self.assertEqual(inside.time_s, way.settings.shutter.value)
            if way.lighting.hss:
                (lost,) = [one.figure for one in sums(inside) if one.what == "shorter than sync"]
                past = setup.camera.sync.stops - way.settings.shutter.stops
                self.assertEqual(float(lost.split()[0].replace("−", "-")), round(past, 1))
            elif inside.mode == "pop":
                self.assertEqual(inside.lit_rows, (0.0, 1.0))


class States(unittest.TestCase):
    def test_a_slit_past_sync(self) -> None:
        said = [state(PAST, at) for at in PAST.moments]
        self.assertEqual(len(said), MOMENTS)
        self.assertIn("the first curtain is", said[2])
        self.assertTrue(any("a slit is open" in one for one in said))
        self.assertIn("the frame is closed", said[-1])
        self.assertTrue(any("The flash waits" in one for one in said))

    def test_within_sync_the_whole_frame_is_open_for_a_while(self) -> None:
        said = [state(replace(PAST, time_s=1 / 60), at) for at in replace(PAST, time_s=1 / 60).moments]
        self.assertTrue(any("the whole frame is open" in one for one in said))
        self.assertFalse(any("slit" in one for one in said))

    def test_pulses_and_blades_are_said(self) -> None:
        self.assertIn("pulses evenly", state(HSS, 0.001))
        self.assertIn("droops", state(replace(HSS, droop=0.6), 0.001))
        leaf = InsideShutter("leaf", 1 / 500, "off", 1 / 500)
        self.assertIn("the blades are 40% open. No flash.", state(leaf, 0.0001))


class Asked(unittest.TestCase):
    def test_each_question_shows_what_it_asks_about(self) -> None:
        found = {question.key: dict(question.given) for question in QUESTIONS}
        self.assertEqual(len(found), 5)
        self.assertEqual(found["hss_costs"]["mode"], "hss")
        self.assertLess(PAST.lit_rows[1] - PAST.lit_rows[0], 0.5)
        smear = InsideShutter(
            "focal_plane", 1 / 200, "pop", 1 / 200, pulse=PULSE_CLASSES["speedlight"].pulse
        )
        self.assertGreater(smear.uneven, 0.5)

    def test_high_speed_sync_is_refused_where_rows_open_at_once(self) -> None:
        with self.assertRaises(Refused) as refused:
            InsideShutter("global", 1 / 1000, "hss", 1 / 200)
        self.assertEqual(refused.exception.name, "mode")
