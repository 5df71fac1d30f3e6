"""The one thing to change: what a photographer would, and where everything then lands."""

import unittest
from collections.abc import Collection
from dataclasses import replace
from random import Random

from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import work_out
from noggin.core.planning.ways import WAYS
from noggin.core.pops.actual import Unknowns
from noggin.core.pops.faults import diagnose
from noggin.core.pops.frame import Dialled, Frame, LevelSeen
from noggin.core.pops.judging import with_flash
from noggin.core.pops.next_change import CLOSE_ENOUGH, Advice, advise
from noggin.core.pops.prospects import NOTHING_OFF
from noggin.core.pops.target import meant_subject
from noggin.core.setup.light import LightUncertainty
from noggin.core.setup.setup import SetUp
from noggin.devices.simulated_spot import SimulatedSpot
from tests.support import LIGHT, MOMENT, noon

KEY = replace(LIGHT, uncertainty=LightUncertainty(0.8, 0.8, 0.4))
SETUP = noon(lights=(KEY,), moment=MOMENT, background_uncertainty=0.8, subject_uncertainty=0.8)


def after(
    background: float,
    subject: float,
    setup: SetUp = SETUP,
    down: float | None = None,
    left_alone: Collection[tuple[str, int | None]] = (),
) -> Advice:
    """The advice after a pop whose zones a raw file shows so much over what is meant."""
    way = work_out(setup, WAYS["nd"])
    dialled = with_flash(setup, way, Dialled(way.settings, {}, False))
    if down is not None:
        dialled = replace(dialled, powers={0: down})
    seen = (
        LevelSeen("background", setup.intent.background_level + background, "raw"),
        LevelSeen("subject", setup.intent.subject_level + subject, "raw"),
    )
    found = diagnose(setup, [Frame(0, True, dialled, seen)])
    return advise(setup, way, found.plain, left_alone)


class Next(unittest.TestCase):
    def test_flash_that_is_wrong_is_mended_by_power(self) -> None:
        for off, down in ((0.9, 1), (-0.9, -1)):
            advice = after(0.0, off)
            assert advice.change is not None
            self.assertEqual(advice.change.control, "power")
            way = work_out(SETUP, WAYS["nd"])
            moved = advice.change.dialled.powers[0] - (way.lighting.key.down or 0.0)
            self.assertGreater(moved * down, 0.5)
            self.assertLess(abs(advice.change.expected["subject"]), 0.2)

    def test_daylight_that_is_wrong_is_mended_by_the_time_and_the_flash_stays(self) -> None:
        advice = after(-0.9, 0.0)
        assert advice.change is not None
        self.assertEqual(advice.change.control, "shutter")
        self.assertAlmostEqual(advice.change.expected["background"], -1.0, delta=0.25)
        self.assertLess(abs(advice.change.expected["subject"]), 0.3)
        # Up to sync and no farther: the flash would be cut.
        self.assertLessEqual(advice.change.dialled.settings.shutter.stops, SETUP.camera.sync.stops)

    def test_the_change_that_may_be_right_at_once_comes_first(self) -> None:
        # The background is a quarter stop off and may be right; the face is not.
        for background, subject in ((0.25, -0.8), (-0.25, 0.8)):
            advice = after(background, subject)
            assert advice.change is not None
            self.assertEqual(advice.change.control, "power")
        # Where both are wrong by more, the camera comes first and the light after it.
        advice = after(0.7, -0.5)
        assert advice.change is not None
        self.assertIsNone(advice.change.light)
        self.assertIn("Then the light follows", advice.why)
        # A light that is left alone does not follow either.
        overruled = after(0.7, -0.5, left_alone=[("power", 0), ("distance", 0)])
        self.assertNotIn("Then the light follows", overruled.why)

    def test_before_the_first_pop_a_small_turn_costs_nothing(self) -> None:
        way = work_out(SETUP, WAYS["nd"])
        dialled = with_flash(SETUP, way, Dialled(way.settings, {}, False))
        for off, changes in ((0.1, False), (-0.35, True)):
            seen = (LevelSeen("background", SETUP.intent.background_level + off, "raw"),)
            advice = advise(SETUP, way, diagnose(SETUP, [Frame(0, False, dialled, seen)]).plain)
            self.assertEqual(advice.change is not None, changes, off)
            if advice.change is not None:
                self.assertEqual(advice.change.control, "shutter")
                self.assertNotEqual(advice.change.dialled.settings, dialled.settings)
                self.assertNotIn("light follows", advice.why)  # its power went along

    def test_a_change_changes_something_and_a_filter_is_no_trifle(self) -> None:
        # A look that says "a little over" is worth no other filters, and no power that is dialled already.
        bag = (*SETUP.filters, Filter("Variable ND", 2, 5))
        setup = replace(SETUP, filters=bag)
        way = work_out(setup, WAYS["nd"])
        dialled = with_flash(setup, way, Dialled(way.settings, {}, False))
        for off in (-1 / 3, 0.0, 1 / 3, 2 / 3):
            seen = (LevelSeen("background", setup.intent.background_level + off, "words"),)
            advice = advise(setup, way, diagnose(setup, [Frame(0, False, dialled, seen)]).plain)
            if advice.change is not None:
                self.assertNotEqual(advice.change.control, "filter")
                self.assertNotEqual(advice.change.dialled, dialled)

    def test_both_wrong_by_the_same_is_one_turn_of_iso_aperture_or_filter(self) -> None:
        advice = after(-1.0, -1.0)
        assert advice.change is not None
        self.assertIn(advice.change.control, ("iso", "filter", "aperture"))
        for zone, meant in (("background", -1.0), ("subject", 0.0)):
            self.assertLess(abs(advice.change.expected[zone] - meant), 0.34)

    def test_a_light_at_full_power_comes_nearer(self) -> None:
        advice = after(0.0, -1.2, down=0.0)
        assert advice.change is not None
        self.assertEqual(advice.change.control, "distance")
        self.assertLess(advice.change.dialled.distances[0], KEY.distance_m)
        self.assertLess(abs(advice.change.expected["subject"]), 0.3)

    def test_a_picture_that_is_right_is_done(self) -> None:
        advice = after(0.0, 0.0)
        self.assertTrue(advice.done)
        self.assertIsNone(advice.change)

    def test_a_background_that_the_flash_lights_never_ruins_the_face(self) -> None:
        # Black is meant, the wall is two metres behind: no dial can do that, and a face is worth more.
        setup = noon(
            lights=(replace(KEY, distance_m=2.5),), moment=MOMENT, background_level=-5.5,
            background_distance_m=5.0, background=11.0, subject=10.5,
        )  # fmt: skip
        way = work_out(setup, WAYS["nd"])
        dialled = with_flash(setup, way, Dialled(way.settings, {}, False))
        seen = (LevelSeen("background", -2.0, "raw"), LevelSeen("subject", 0.0, "raw"))
        advice = advise(setup, way, diagnose(setup, [Frame(0, True, dialled, seen)]).plain)
        if advice.change is not None:
            self.assertEqual(advice.change.control, "power")
            self.assertLess(abs(advice.change.expected["subject"]), 0.34)
        self.assertIn("farther from it, or put a grid on the light", advice.why)

    def test_what_is_meant_black_cannot_be_too_dark(self) -> None:
        for meant, right in ((-4.0, True), (-3.5, False)):
            setup = noon(lights=(KEY,), moment=MOMENT, background_level=meant, background=9.0, subject=8.0)
            way = work_out(setup, WAYS["nd"])
            dialled = with_flash(setup, way, Dialled(way.settings, {}, False))
            seen = (LevelSeen("background", meant - 2.0, "raw"), LevelSeen("subject", 0.0, "raw"))
            frames = [Frame(minute, True, dialled, seen) for minute in (0, 0.1, 0.2)]
            advice = advise(setup, way, diagnose(setup, frames).plain)
            self.assertEqual(advice.probability > 0.5, right, meant)

    def test_nobody_dials_for_a_tenth_of_a_stop(self) -> None:
        for off, changes in ((NOTHING_OFF - 0.05, False), (0.5, True)):
            self.assertEqual(after(0.0, -off).change is not None, changes, off)

    def test_words_say_how_probable_it_is_and_seldom_that_it_is_done(self) -> None:
        way = work_out(SETUP, WAYS["nd"])
        dialled = with_flash(SETUP, way, Dialled(way.settings, {}, False))
        seen = (LevelSeen("background", -1.0, "words"), LevelSeen("subject", 0.0, "words"))
        advice = advise(SETUP, way, diagnose(SETUP, [Frame(0, True, dialled, seen)]).plain)
        self.assertFalse(advice.done)
        self.assertTrue(0.4 < advice.probability < 0.9, advice.probability)
        # Below 90% it is close enough to shoot, and whoever goes on is told what would bring it nearer.
        self.assertTrue(advice.near)
        self.assertEqual(advice.why, CLOSE_ENOUGH)

    def test_where_the_subject_is_meant_goes_by_the_school(self) -> None:
        share = noon(school="share", share=0.5)
        self.assertAlmostEqual(meant_subject(share, -2.0), -1.0, 9)
        match = noon(school="match", subject_level=0.0)
        self.assertAlmostEqual(meant_subject(match, 0.0), 1.0, 9)
        # Daylight alone over what is meant is wrong, not right.
        self.assertEqual([meant_subject(SETUP, ambient) for ambient in (-2.0, 1.0)], [0.0, 0.0])

    def test_a_light_that_cannot_take_part_is_left_out(self) -> None:
        way = work_out(SETUP, WAYS["hss"])
        unable = noon(lights=(replace(KEY, hss_toll=None),), moment=MOMENT)
        dialled = Dialled(way.settings, {0: 1.0}, True)
        seen = (LevelSeen("subject", -3.0, "raw"),)
        advice = advise(unable, way, diagnose(unable, [Frame(0, True, dialled, seen)]).plain)
        self.assertNotEqual(advice.change and advice.change.control, "power")


class Loop(unittest.TestCase):
    def test_what_is_hidden_lies_within_its_uncertainty(self) -> None:
        hidden = {unknown.key: unknown for unknown in Unknowns(SETUP, (0.0,)).all}
        offs = []
        for seed in range(200):
            truth = SimulatedSpot(SETUP, Random(seed)).truth  # noqa: S311 - repeatable
            offs += [(truth[key] - one.mean) / one.uncertainty for key, one in hidden.items()]
        self.assertLessEqual(max(map(abs, offs)), 1.0)
        self.assertGreater(max(map(abs, offs)), 0.9)

    def test_what_it_calls_done_is_right_and_soon(self) -> None:
        way, pops, true = work_out(SETUP, WAYS["nd"]), [], 0
        for seed in range(25):
            spot, frames = SimulatedSpot(SETUP, Random(seed)), list[Frame]()  # noqa: S311 - repeatable
            dialled = with_flash(SETUP, way, Dialled(way.settings, {}, False))
            for number in range(9):
                frames.append(spot.frame(number, number > 0, dialled, "raw"))
                advice = advise(SETUP, way, diagnose(SETUP, frames).plain)
                if number and advice.done:
                    pops.append(number)
                    true += spot.right(dialled)
                    break
                dialled = advice.change.dialled if advice.change else with_flash(SETUP, way, dialled)
        self.assertGreaterEqual(len(pops), 22)
        self.assertGreaterEqual(true / len(pops), 0.9)
        self.assertLessEqual(sorted(pops)[len(pops) // 2], 3)
