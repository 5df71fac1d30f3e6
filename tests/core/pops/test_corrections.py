"""What frames say of a set-up as its own figures, and that a photographer has the last word on what went
wrong and what stays as it is."""

import unittest
from dataclasses import replace
from random import Random

from noggin.core.errors import Refused
from noggin.core.planning.plan import work_out
from noggin.core.planning.ways import WAYS
from noggin.core.pops.corrections import LEAST_UNCERTAINTY, WORTH, corrections
from noggin.core.pops.estimate import Stories
from noggin.core.pops.faults import diagnose, possible
from noggin.core.pops.frame import Dialled, Frame, LevelSeen
from noggin.core.pops.judging import with_flash
from noggin.core.pops.next_change import advise
from noggin.core.pops.target import expected
from noggin.devices.simulated_spot import SimulatedSpot
from tests.core.pops.test_faults import SETUP, frames
from tests.support import LIGHT, noon

WAY = work_out(SETUP, WAYS["nd"])
DIALLED = with_flash(SETUP, WAY, Dialled(WAY.settings, {}, WAY.lighting.hss))


class Corrections(unittest.TestCase):
    def test_three_sharp_looks_move_the_figure_that_is_off(self) -> None:
        # The background is half a stop brighter than was read; everything else is as planned.
        blank = Frame(0, False, DIALLED)
        plain = Stories(SETUP, (blank,))
        level = plain.estimate(plain.plain).zones["background"][0] + 0.5
        seen = (LevelSeen("background", level, "raw"),)
        taken = tuple(replace(blank, minute=minute / 10, seen=seen) for minute in range(3))
        stories = Stories(SETUP, taken)
        found = {one.of: one for one in corrections(stories.estimate(stories.plain))}
        # Prior ± 0.3, three looks of ± 0.2, and the filter that takes ± 0.3 shares the blame.
        self.assertGreater(found["background"].offset, 0.15)
        self.assertLess(found["background"].uncertainty, 0.3)
        self.assertGreaterEqual(found["background"].uncertainty, LEAST_UNCERTAINTY)
        self.assertNotIn("toll", found)

    def test_a_frame_in_which_nothing_is_seen_corrects_nothing(self) -> None:
        stories = Stories(SETUP, (Frame(0, True, DIALLED),))
        self.assertEqual(corrections(stories.estimate(stories.plain)), ())

    def test_only_what_is_worth_it(self) -> None:
        spot = SimulatedSpot(SETUP, Random(4))  # noqa: S311 - repeatable, not secret
        stories = Stories(SETUP, tuple(spot.frame(i, i > 0, DIALLED, "raw") for i in range(4)))
        for one in corrections(stories.estimate(stories.plain)):
            self.assertTrue(abs(one.offset) >= WORTH or one.before - one.uncertainty >= WORTH, one)


class LastWord(unittest.TestCase):
    def test_what_was_found_explains_the_frame_and_is_not_asked_again(self) -> None:
        taken = frames(SETUP, "nd", "no_flash", 1)
        self.assertEqual(diagnose(SETUP, taken).suspected[0].fault.key, "no_flash")
        found = diagnose(SETUP, [*taken[:2], replace(taken[2], fault="no_flash")])
        self.assertEqual(found.suspected, ())
        # With the flash explained away, the light is thought as well of as before that frame.
        before = diagnose(SETUP, taken[:2]).plain.offset("light 0")
        self.assertAlmostEqual(found.plain.offset("light 0")[0], before[0], delta=0.1)

    def test_what_was_ruled_out_is_not_named(self) -> None:
        taken = frames(SETUP, "nd", "no_flash", 1)
        ruled_out = replace(taken[2], ruled_out=frozenset({"no_flash"}))
        found = diagnose(SETUP, [*taken[:2], ruled_out])
        self.assertNotIn("no_flash", [one.fault.key for one in found.suspected])

    def test_what_cannot_have_happened_is_refused(self) -> None:
        frame = Frame(0, False, DIALLED, fault="no_flash")
        with self.assertRaisesRegex(Refused, "cannot happen"):
            diagnose(SETUP, [frame])
        self.assertNotIn("no_flash", [fault.key for fault in possible(SETUP, frame)])
        with self.assertRaises(Refused):
            diagnose(SETUP, [replace(frame, fault="sunstroke")])

    def test_what_is_left_alone_is_not_proposed(self) -> None:
        setup = noon(
            lights=(replace(LIGHT, distance_m=3.2),), background_uncertainty=0.3, subject_uncertainty=0.3
        )
        way = work_out(setup, WAYS["nd"])
        dialled = with_flash(setup, way, Dialled(way.settings, {}, way.lighting.hss))
        stories = Stories(setup, (Frame(0, True, dialled, (LevelSeen("subject", -1.2, "raw"),)),))
        estimate = stories.estimate(stories.plain)
        left_alone: list[tuple[str, int | None]] = []
        for _ in range(12):
            change = advise(setup, way, estimate, left_alone).change
            if change is None:
                break
            self.assertNotIn((change.control, change.light), left_alone)
            left_alone.append((change.control, change.light))
        self.assertGreater(len(left_alone), 1)
        self.assertIsNone(change)

    def test_an_unlit_face_is_judged_against_its_daylight(self) -> None:
        lit, unlit = expected(SETUP, DIALLED, False), expected(SETUP, DIALLED, True)
        self.assertEqual(lit["subject"], 0.0)
        self.assertAlmostEqual(unlit["subject"], WAY.lighting.levels.subject_ambient)
        self.assertEqual(lit["background"], SETUP.intent.background_level)


if __name__ == "__main__":
    unittest.main()
