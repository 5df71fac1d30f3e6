"""A way stays what it is from the first frame to the last: what is dialled is of it, the aperture moves
last, black stays black, and what was seen besides levels counts."""

import unittest
from dataclasses import replace

from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import work_out
from noggin.core.planning.ways import WAYS
from noggin.core.pops.faults import diagnose
from noggin.core.pops.frame import SAID, BandSeen, Dialled, Frame, LevelSeen, Meant, Seen
from noggin.core.pops.judging import belongs, with_flash
from noggin.core.pops.next_change import TOO_NEAR_SYNC, Advice, advise
from noggin.core.pops.target import expected
from noggin.core.setup.light import LightUncertainty
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon

CLASS = LightUncertainty(0.8, 0.8, 0.4)
BAG = (Filter("3-stop ND", 3, 3), Filter("6-stop ND", 6, 6), Filter("Variable ND", 2, 5))


def a_setup(**changes: object) -> SetUp:
    """Noon with gear that is known by its class, daylight that nobody read, and a full bag."""
    given = {
        "lights": (replace(LIGHT, gn_m=80, uncertainty=CLASS),),
        "background_uncertainty": 0.8,
        "subject_uncertainty": 0.8,
        "filters": BAG,
        **changes,
    }
    return noon(**given)


BY_WAY = {
    "within_sync": a_setup(background=7.0, subject=4.0),
    "stop_down": a_setup(aperture=8.0, smallest=22.0),
    "nd": a_setup(),
    "mixed": a_setup(filters=(Filter("3-stop ND", 3, 3),), aperture=4.0),
    "hss": a_setup(background=13.0, subject=11.0),
}

OWN_CONTROL = {
    "within_sync": {"shutter", "iso"},
    "stop_down": {"shutter", "aperture"},
    "nd": {"shutter", "filter"},
    "mixed": {"shutter", "aperture", "filter"},
    "hss": {"shutter"},
}
"""What daylight is corrected by in each way."""


def start(setup: SetUp, key: str) -> Dialled:
    """A way as it is planned."""
    way = work_out(setup, WAYS[key])
    return with_flash(setup, way, Dialled(way.settings, {}, way.lighting.hss))


def after(setup: SetUp, key: str, frames: list[Frame], meant: Meant | None = None) -> Advice:
    way = work_out(setup, WAYS[key])
    return advise(setup, way, diagnose(setup, frames).plain, meant=meant)


def look(setup: SetUp, dialled: Dialled, flash: bool, **off: float) -> tuple[Seen, ...]:
    """What is said in words of zones that are so far off what they are judged against."""
    against = expected(setup, dialled, not flash)
    return tuple(LevelSeen(zone, against[zone] + by, "words") for zone, by in off.items())


class FirstLook(unittest.TestCase):
    def test_daylight_that_is_far_off_is_corrected_by_the_ways_own_control(self) -> None:
        for key, setup in BY_WAY.items():
            for word in ("far over", "far under"):
                with self.subTest(way=key, word=word):
                    dialled = start(setup, key)
                    seen = look(setup, dialled, False, background=SAID[word], subject=SAID[word])
                    advice = after(setup, key, [Frame(0, False, dialled, seen)])
                    assert advice.change is not None, advice
                    self.assertIn(advice.change.control, OWN_CONTROL[key], advice)
                    self.assertTrue(belongs(setup, work_out(setup, WAYS[key]), advice.change.dialled))

    def test_high_speed_sync_goes_through_its_whole_range(self) -> None:
        setup = BY_WAY["hss"]
        dialled = start(setup, "hss")
        seen = (LevelSeen("background", setup.intent.background_level + 0.7, "raw"),)
        advice = after(setup, "hss", [Frame(0, False, dialled, seen)])
        assert advice.change is not None
        shorter = advice.change.dialled.settings.shutter.stops - dialled.settings.shutter.stops
        self.assertAlmostEqual(shorter, 2 / 3, delta=0.34)
        self.assertRegex(advice.why, r"takes \d\.?\d* stops? from the flash too")

    def test_a_filter_that_may_not_be_on_the_lens_is_asked_about_first(self) -> None:
        setup = BY_WAY["nd"]
        dialled = start(setup, "nd")
        over = dialled.settings.stack.stops
        for by, off in (("words", 1.5), ("raw", over)):
            against = expected(setup, dialled, True)
            seen = tuple(LevelSeen(zone, level + off, by) for zone, level in against.items())
            found = diagnose(setup, [Frame(0, False, dialled, seen)])
            assert found.likely is not None, by
            self.assertEqual(found.likely.fault.key, "filter_left_off")
            self.assertEqual(found.likely.question, "Is the filter on the lens?")


class Black(unittest.TestCase):
    def test_a_background_that_is_meant_black_is_not_lifted_for_a_face_that_is_under(self) -> None:
        setup = a_setup(background=9.5, subject=7.0, background_level=-5.5, aperture=5.6)
        dialled = replace(start(setup, "within_sync"), powers={0: 0.0})
        seen = (LevelSeen("background", -6.5, "raw"), LevelSeen("subject", -1.0, "raw"))
        advice = after(setup, "within_sync", [Frame(0, True, dialled, seen)])
        assert advice.change is not None
        self.assertLessEqual(advice.change.expected["background"], -5.5 + 1 / 3)
        self.assertEqual(advice.change.control, "distance")

    def test_seen_as_black_it_is_right_however_dark_it_is(self) -> None:
        setup = a_setup(background=9.5, subject=7.0, background_level=-5.5, aperture=5.6)
        dialled = start(setup, "within_sync")
        seen = (LevelSeen("background", -5.5, "words"), LevelSeen("subject", 0.0, "raw"))
        deeper = replace(setup, scene=replace(setup.scene, background=6.5))
        found = diagnose(deeper, [Frame(0, True, dialled, seen)])
        # Three stops darker than meant: nothing that was seen speaks against it.
        self.assertLess(abs(found.plain.offset("background")[0]), 0.2)


class NothingLeft(unittest.TestCase):
    def test_a_face_that_nothing_brings_nearer_is_not_called_close_enough(self) -> None:
        setup = a_setup(lights=(replace(LIGHT, gn_m=20, distance_m=0.5, uncertainty=CLASS),))
        dialled = replace(start(setup, "nd"), powers={0: 0.0}, distances={0: 0.5})
        seen = (LevelSeen("background", -1.0, "raw"), LevelSeen("subject", -2.0, "raw"))
        way = work_out(setup, WAYS["nd"])
        found = diagnose(setup, [Frame(0, True, dialled, seen)]).plain
        controls = [("shutter", None), ("aperture", None), ("iso", None), ("filter", None)]
        left_alone = [*controls, ("distance", 0)]
        advice = advise(setup, way, found, left_alone)
        self.assertFalse(advice.near)
        self.assertNotIn("Close enough", advice.why)


class Band(unittest.TestCase):
    def test_within_sync_it_says_that_the_time_is_too_near_the_wall(self) -> None:
        setup = BY_WAY["stop_down"]
        dialled = start(setup, "stop_down")
        self.assertEqual(dialled.settings.shutter, setup.camera.sync)
        advice = after(setup, "stop_down", [Frame(0, True, dialled, (BandSeen(),))])
        assert advice.change is not None
        self.assertEqual((advice.change.control, advice.change.to), ("shutter", "1/160"))
        self.assertEqual(advice.why, TOO_NEAR_SYNC)

    def test_past_sync_it_is_understood_by_itself(self) -> None:
        setup = BY_WAY["hss"]
        found = diagnose(setup, [Frame(0, True, start(setup, "hss"), (BandSeen(),))])
        assert found.likely is not None
        self.assertEqual(found.likely.fault.key, "hss_off")


class Weak(unittest.TestCase):
    def test_a_light_two_stops_weaker_than_its_class_is_learned_once_it_is_known_to_have_fired(
        self,
    ) -> None:
        setup = BY_WAY["nd"]
        dialled = start(setup, "nd")
        unlit = Frame(0, False, dialled, look(setup, dialled, False, background=0, subject=0))
        seen = (LevelSeen("subject", -1.5, "words"), LevelSeen("background", -1.0, "words"))
        pop = Frame(1, True, dialled, seen)
        asked = diagnose(setup, [unlit, pop]).likely
        assert asked is not None
        self.assertEqual(asked.question, "Did the flash fire?")
        found = diagnose(setup, [unlit, replace(pop, ruled_out=frozenset({"no_flash"}))])
        value, _ = found.plain.offset("light 0")
        self.assertLess(value, -1.0)

    def test_a_face_that_a_raw_file_shows_a_stop_over_daylight_was_lit(self) -> None:
        setup = BY_WAY["nd"]
        dialled = start(setup, "nd")
        dark = expected(setup, dialled, True)["subject"]
        unlit = Frame(0, False, dialled, (LevelSeen("subject", dark, "raw"),))
        pop = Frame(1, True, dialled, (LevelSeen("subject", dark + 1.5, "raw"),))
        named = [one.fault.key for one in diagnose(setup, [unlit, pop]).suspected]
        self.assertNotIn("no_flash", named)


class Looks(unittest.TestCase):
    def test_another_look_is_dialled_by_all_that_is_known(self) -> None:
        setup = BY_WAY["nd"]
        dialled = start(setup, "nd")
        seen = (LevelSeen("background", -0.4, "raw"), LevelSeen("subject", 0.0, "raw"))
        advice = after(setup, "nd", [Frame(0, True, dialled, seen)], Meant(-2.0, 0.0, "dramatic"))
        assert advice.change is not None
        self.assertAlmostEqual(advice.change.expected["background"], -2.0, delta=0.25)
        self.assertAlmostEqual(advice.change.expected["subject"], 0.0, delta=0.25)
        self.assertTrue(advice.anew)
