"""What is judged of settings on offer against a picture lit with them, and how far a light reaches."""

import unittest
from itertools import product
from math import inf, log2

from hypothesis import given

from noggin.core.planning.judgement import Judge
from noggin.core.planning.lighting import light_up
from noggin.core.planning.plan import plan
from noggin.core.planning.reach import BareLight, Farthest, ModifierFigures, farthest, flash_need
from noggin.core.planning.verdicts import miss_of, verdict_of
from noggin.core.planning.ways import WAYS
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon, setups

BARE = ModifierFigures(0, 0)
"""No modifier."""


class Judging(unittest.TestCase):
    @given(setups())
    def test_every_setting_is_judged_as_it_would_be_alone(self, setup: SetUp) -> None:
        for key, kind in WAYS.items():
            offered = kind.candidates(setup)
            judge = Judge(setup, offered)
            places = list(judge.places())
            for place in places[:: max(1, len(places) // 12)]:
                judged, dimming = judge.of(place), judge.dimmings[place[0]]
                lighting = light_up(setup, offered.settings(dimming.nearest, place[1]))
                verdict, misses = verdict_of(setup, lighting)
                found = "holds" if judged.holds else "just" if judged.just else "short"
                self.assertEqual(found, verdict, (key, place, misses))
                self.assertAlmostEqual(judged.miss, miss_of(setup, lighting), places=7)
                self.assertAlmostEqual(
                    judged.error, lighting.levels.background - setup.intent.background_level, places=7
                )
                reserve = lighting.key.reserve
                self.assertEqual(judged.reserve is None, reserve is None)
                self.assertAlmostEqual(judged.reserve or 0.0, reserve or 0.0, places=9)

    @given(setups())
    def test_what_is_said_of_a_setting_beforehand_holds_of_its_judgement(self, setup: SetUp) -> None:
        for kind in WAYS.values():
            judge = Judge(setup, kind.candidates(setup))
            places = list(judge.places())
            for place in places[:: max(1, len(places) // 25)]:
                judged, known = judge.of(place), judge.outline(place)
                self.assertLessEqual(judge.daylight_over(place), judged.error + 1e-9)
                self.assertGreaterEqual(judge.brightest_over(place), judged.error - 1e-9)
                self.assertLessEqual(known.counted, judged.counted + 1e-9)
                self.assertLessEqual(known.weighed, judged.weighed + 1e-9)
                self.assertLessEqual(known.shortest, judged.shortest)
                self.assertLessEqual(known.strongest, judged.strongest)
                self.assertIn(place, judge.within(judged.counted))
                self.assertLessEqual(judge.least_off(), judged.counted + 1e-9)

    @given(setups())
    def test_of_settings_that_dim_alike_the_nearest_aperture_leads(self, setup: SetUp) -> None:
        offered = WAYS["mixed"].candidates(setup)
        wanted = setup.wanted_aperture.stops
        rows = list(product(offered.apertures, offered.isos, offered.stacks))
        dimmings = {round(row.stops, 6): row for row in offered.dimmings(wanted)}
        self.assertEqual({round(a.stops - i.stops + s.stops, 6) for a, i, s in rows}, set(dimmings))
        for aperture, iso, stack in rows:
            led = dimmings[round(aperture.stops - iso.stops + stack.stops, 6)]
            off = abs(aperture.stops - wanted)
            self.assertLessEqual(led.off, off + 1e-9)
            if abs(led.off - off) < 1e-9:
                self.assertLessEqual(led.filters, len(stack.names))


class Reach(unittest.TestCase):
    """The farthest distance is where the reserve ends."""

    def test_by_hand(self) -> None:
        # Glass of just the right strength leaves 14.6 + 1 − 23/3 stops to pay with aperture; the flash
        # must give log2(1 − 2^(12 − 15.6)) = −0.124: 60 m over 2^(half of it all).
        found = self.reach(noon(), BareLight(60, 1.1), BARE, (14.6, 12.0))
        self.assertAlmostEqual(found.sync_m, 60 / 2 ** ((7.9333 - 0.1240) / 2), delta=0.003)
        self.assertAlmostEqual(found.hss_m or 0.0, found.sync_m / 2 ** (1.1 / 2), places=6)

    def reach(
        self, setup: SetUp, source: BareLight, shaper: ModifierFigures, then: tuple[float, float]
    ) -> Farthest:
        return farthest(setup, flash_need(setup, *then), source, shaper)

    def test_a_light_there_has_nothing_left(self) -> None:
        setup = noon(lights=(LIGHT,), background=13.0, subject=11.0)
        for loss, radius in ((0.0, 0.0), (1.2, 0.4), (0.7, 0.55)):
            d = self.reach(setup, BareLight(60, 1.1), ModifierFigures(loss, radius), (13.0, 11.0)).sync_m
            # Level of a full pop by ISO 1230 and the disc, through glass that lands the background at −1.
            level = 2 * log2(60) - loss - log2(d**2 + radius**2) - (13 + 1 - 23 / 3)
            self.assertAlmostEqual(level, log2(1 - 2 ** (11 - 14)), places=6)

    def test_modes_part_only_past_the_wall_and_need_a_toll(self) -> None:
        setup = noon()
        with_toll, without = BareLight(60, 1.1), BareLight(60, None)
        bright, dim = (14.6, 12.0), (8.0, 6.0)
        self.assertIsNone(self.reach(setup, without, BARE, bright).hss_m)
        self.assertEqual(
            self.reach(setup, without, BARE, bright).sync_m,
            self.reach(setup, with_toll, BARE, bright).sync_m,
        )
        for source in (with_toll, without):
            found = self.reach(setup, source, BARE, dim)
            self.assertEqual(found.sync_m, found.hss_m)

    def test_reach_and_the_bench_are_past_sync_at_the_same_background(self) -> None:
        # At f/2, 1/200 and ISO 100 a background meant at −1 is past sync from EV 8.667 + 1/3 on. At 8.9 the
        # Bench is still within sync, and the toll is not to be paid.
        for background, past in ((8.77, False), (9.0, False), (9.01, True)):
            setup = noon(background=background, subject=7.0)
            found = self.reach(setup, BareLight(60, 1.1), BARE, (background, 7.0))
            self.assertEqual((found.hss_m or 0.0) < found.sync_m, past, background)
            self.assertEqual(plan(setup).way("hss").not_needed, not past, background)

    def test_no_flash_needed_reaches_everywhere_and_a_weak_big_face_nowhere(self) -> None:
        big = ModifierFigures(2, 1.5)
        for source in (BareLight(60, 1.1), BareLight(1, 1.1)):
            self.assertEqual(self.reach(noon(), source, big, (14.6, 17.0)), Farthest(inf, inf))
        self.assertEqual(self.reach(noon(), BareLight(1, 1.1), big, (14.6, 12.0)), Farthest(0.0, 0.0))
