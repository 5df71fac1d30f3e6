"""Judging on columns against judging one setting at a time."""

import unittest
from math import isnan, log2

from hypothesis import given

from noggin.core.planning.lighting import light_up
from noggin.core.planning.plan import plan
from noggin.core.planning.reach import BareLight, ModifierFigures, farthest
from noggin.core.planning.selection import judge
from noggin.core.planning.verdicts import miss_of, verdict_of
from noggin.core.planning.ways import WAYS
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon, setups


class Columns(unittest.TestCase):
    @given(setups())
    def test_every_setting_is_judged_as_it_would_be_alone(self, setup: SetUp) -> None:
        for key, kind in WAYS.items():
            offered = kind.candidates(setup)
            judged = judge(setup, offered)
            for row in range(0, len(offered), max(1, len(offered) // 12)):
                lighting = light_up(setup, offered.settings(row))
                verdict, misses = verdict_of(setup, lighting)
                found = "holds" if judged.holds[row] else "just" if judged.just[row] else "short"
                self.assertEqual(found, verdict, (key, row, misses))
                self.assertAlmostEqual(judged.miss[row], miss_of(setup, lighting), places=7)
                self.assertAlmostEqual(
                    judged.error[row], lighting.levels.background - setup.intent.background_level, places=7
                )
                reserve = lighting.key.reserve
                if reserve is None:
                    self.assertTrue(isnan(judged.reserve[row]))
                else:
                    self.assertAlmostEqual(judged.reserve[row], reserve, places=9)


class Reach(unittest.TestCase):
    """The farthest distance is where the reserve ends."""

    def test_by_hand(self) -> None:
        # Glass of just the right strength leaves 14.6 + 1 − 23/3 stops to pay with aperture; the flash
        # must give log2(1 − 2^(12 − 15.6)) = −0.124: 60 m over 2^(half of it all).
        grid = farthest(noon(), [BareLight(60, 1.1)], [ModifierFigures(0, 0)], [(14.6, 12.0)])
        sync, speed = grid[0, 0, :, 0]
        self.assertAlmostEqual(sync, 60 / 2 ** ((7.9333 - 0.1240) / 2), delta=0.003)
        self.assertAlmostEqual(speed, sync / 2 ** (1.1 / 2), places=6)

    def test_a_light_there_has_nothing_left(self) -> None:
        setup = noon(lights=(LIGHT,), background=13.0, subject=11.0)
        for loss, radius in ((0.0, 0.0), (1.2, 0.4), (0.7, 0.55)):
            grid = farthest(setup, [BareLight(60, 1.1)], [ModifierFigures(loss, radius)], [(13.0, 11.0)])
            d = grid[0, 0, 0, 0]
            # Level of a full pop by ISO 1230 and the disc, through glass that lands the background at −1.
            level = 2 * log2(60) - loss - log2(d**2 + radius**2) - (13 + 1 - 23 / 3)
            self.assertAlmostEqual(level, log2(1 - 2 ** (11 - 14)), places=6)

    def test_modes_part_only_past_the_wall_and_need_a_toll(self) -> None:
        sources, shapers = [BareLight(60, 1.1), BareLight(60, None)], [ModifierFigures(0, 0)]
        grid = farthest(noon(), sources, shapers, [(14.6, 12.0), (8.0, 6.0)])
        self.assertTrue(isnan(grid[1, 0, 1, 0]))
        self.assertEqual(grid[1, 0, 0, 0], grid[0, 0, 0, 0])
        self.assertEqual(grid[0, 0, 0, 1], grid[0, 0, 1, 1])

    def test_reach_and_the_bench_are_past_sync_at_the_same_background(self) -> None:
        # At f/2, 1/200 and ISO 100 a background meant at −1 is past sync from EV 8.667 + 1/3 on. At 8.9 the
        # Bench is still within sync, and the toll is not to be paid.
        for background, past in ((8.77, False), (9.0, False), (9.01, True)):
            setup = noon(background=background, subject=7.0)
            grid = farthest(setup, [BareLight(60, 1.1)], [ModifierFigures(0, 0)], [(background, 7.0)])
            sync, speed = grid[0, 0, :, 0]
            self.assertEqual(speed < sync, past, background)
            self.assertEqual(plan(setup).way("hss").not_needed, not past, background)

    def test_no_flash_needed_reaches_everywhere_and_a_weak_big_face_nowhere(self) -> None:
        grid = farthest(
            noon(), [BareLight(60, 1.1), BareLight(1, 1.1)], [ModifierFigures(2, 1.5)], [(14.6, 17.0)]
        )
        self.assertEqual(set(grid.ravel()), {float("inf")})
        grid = farthest(noon(), [BareLight(1, 1.1)], [ModifierFigures(2, 1.5)], [(14.6, 12.0)])
        self.assertEqual(set(grid.ravel()), {0.0})
