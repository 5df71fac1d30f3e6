"""Thresholds of planning on both sides: verdicts, drawbacks, movement and the order of ways."""

import unittest
from dataclasses import replace
from math import log2
from typing import Any

from noggin.core.physics.battery import Battery
from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import Stack
from noggin.core.physics.pulse import Pulse
from noggin.core.planning.drawbacks import Drawback, drawbacks
from noggin.core.planning.motion import motion
from noggin.core.planning.plan import plan
from noggin.core.planning.ranking import in_order
from noggin.core.planning.verdicts import Lack, shortcomings
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon

TINY = 1e-4


class Verdicts(unittest.TestCase):
    """A dialled light may miss by a third of a stop; a reserve may not be missing at all."""

    def lacks(self, **firing: Any) -> list[str]:
        setup = noon()
        lighting = plan(setup).way("nd").lighting
        changed = replace(lighting, firings=(replace(lighting.key, **firing),))
        return [lack.kind for lack in shortcomings(setup, changed)]

    def test_a_reserve_of_nothing_is_enough_and_less_is_not(self) -> None:
        self.assertEqual(self.lacks(full=0.0, needed=0.0, down=0.0), [])
        self.assertEqual(self.lacks(full=-TINY, needed=0.0, down=0.0), ["flash"])

    def test_a_third_of_a_stop_too_much_or_too_little_is_let_pass(self) -> None:
        self.assertEqual(self.lacks(full=2.0, needed=0.0, down=2 - 1 / 3), [])
        self.assertEqual(self.lacks(full=2.0, needed=0.0, down=2 - 1 / 3 - TINY), ["too_strong"])
        self.assertEqual(self.lacks(full=2.0, needed=0.0, down=2 + 1 / 3), [])
        self.assertEqual(self.lacks(full=2.0, needed=0.0, down=2 + 1 / 3 + TINY), ["power_steps"])

    def test_the_background_may_miss_by_half_a_dial_step(self) -> None:
        lighting = plan(noon()).way("nd").lighting
        lands = lighting.levels.background_ambient
        for miss, kinds in ((1 / 6 - TINY, []), (1 / 6 + TINY, ["background"])):
            for sign in (1, -1):
                setup = noon(background_level=lands - sign * miss)
                found = [lack.kind for lack in shortcomings(setup, lighting) if lack.kind == "background"]
                self.assertEqual(found, kinds, (miss, sign))


class Share(unittest.TestCase):
    def test_a_share_that_was_typed_once_counts_only_where_a_share_is_wanted(self) -> None:
        typed, plain = noon(school="total", share=0.3), noon()
        ways = zip(plan(typed).ways, plan(plain).ways, strict=True)
        self.assertTrue(all(before.lighting == after.lighting for before, after in ways))


class RimAlone(unittest.TestCase):
    def test_where_the_faces_need_no_flash_a_rim_counts_from_the_level_that_is_meant(self) -> None:
        # Daylight alone gives the faces −0.5, and they are meant there: nothing is left for the key.
        rim = replace(LIGHT, role="rim", relative_level=1.0)
        setup = noon(
            background=6.0, subject=6.5, background_level=-1.0, subject_level=-0.5, lights=(LIGHT, rim)
        )
        lighting = plan(setup).way("within_sync").lighting
        self.assertIsNone(lighting.needed_flash)
        self.assertAlmostEqual(lighting.firings[1].needed or 0.0, -0.5 + 1.0)


class Drawbacks(unittest.TestCase):
    def kinds(self, setup: SetUp, key: str = "nd", **focus: Any) -> list[str]:
        way = plan(setup).way(key)
        return [found.kind for found in drawbacks(setup, way.lighting, replace(way.focus, **focus))]

    def test_every_face_must_be_sharp(self) -> None:
        group = noon(faces_m=(3.0, 3.4))
        self.assertEqual(self.kinds(group, near_m=3.0, far_m=3.4), [])
        self.assertEqual(self.kinds(group, near_m=3.0, far_m=3.39), ["focus"])
        self.assertEqual(self.kinds(group, near_m=3.01, far_m=3.4), ["focus"])
        self.assertEqual(self.kinds(group, near_m=3.0, far_m=None), [])

    def test_as_much_blur_as_is_asked_for_is_enough(self) -> None:
        wish = noon(blur_least_pct=3.0)
        self.assertEqual(self.kinds(wish, background_blur_pct=3.0), [])
        self.assertEqual(self.kinds(wish, background_blur_pct=2.99), ["blur"])

    def test_a_battery_that_lasts_just_so_long_lasts(self) -> None:
        lit = noon(lights=(replace(LIGHT, battery=Battery(100, 1.0)),))
        key = plan(lit).way("nd").lighting.key
        assert key.power is not None
        frames = Battery(100, 1.0).frames(key.power, False)
        for wanted, kinds in ((frames, []), (frames + 1, ["battery"])):
            setup = replace(lit, intent=replace(lit.intent, frames=int(wanted)))
            self.assertEqual(self.kinds(setup), kinds)


class Movement(unittest.TestCase):
    """A point on 24 × 36 mm is 0.0288 mm (the diagonal over 1500); speed on the sensor is v·f/(s − f)."""

    def frozen(self, setup: SetUp, seconds: float, **levels: float) -> str:
        lighting = plan(setup).way("nd").lighting
        time = DialStep(0.0, seconds, "this", 0.0)
        changed = replace(lighting, settings=replace(lighting.settings, shutter=time))
        return motion(setup, replace(changed, levels=replace(lighting.levels, **levels))).frozen_by

    def test_a_smear_no_longer_than_a_point_is_sharp(self) -> None:
        walker = noon(subject_speed_m_s=1.4)
        # By hand: 0.0288/(1400·85/(3200 − 85)) s.
        longest = (24**2 + 36**2) ** 0.5 / 1500 / (1400 * 85 / (3200 - 85))
        bright = {"subject_ambient": 0.0, "subject": 0.0}
        self.assertEqual(self.frozen(walker, longest * 0.999, **bright), "shutter")
        self.assertEqual(self.frozen(walker, longest * 1.001, **bright), "")

    def test_flash_freezes_where_daylight_lies_three_stops_under_it(self) -> None:
        walker = noon(subject_speed_m_s=1.4)
        self.assertEqual(self.frozen(walker, 0.1, subject_ambient=-3.0, subject=0.0), "flash")
        self.assertEqual(self.frozen(walker, 0.1, subject_ambient=-2.999, subject=0.0), "")

    def test_a_pulse_that_lasts_too_long_freezes_nothing(self) -> None:
        longest = (24**2 + 36**2) ** 0.5 / 1500 / (1400 * 85 / (3200 - 85))
        walker = noon(subject_speed_m_s=1.4)
        lighting = plan(walker).way("nd").lighting
        time = DialStep(0.0, 0.1, "this", 0.0)
        levels = replace(lighting.levels, subject_ambient=-5.0, subject=0.0)
        slow = replace(lighting, levels=levels, settings=replace(lighting.settings, shutter=time))
        for factor, frozen in ((0.999, "flash"), (1.001, "")):
            pulse = Pulse("voltage", 0.001, table=((1.0, longest * factor), (0.01, longest * factor)))
            firing = replace(lighting.key, light=replace(LIGHT, pulse=pulse))
            self.assertEqual(motion(walker, replace(slow, firings=(firing,))).frozen_by, frozen)


class Order(unittest.TestCase):
    """The order is made of ways put together by hand: a reserve, an aperture, filters, drawbacks."""

    def way(
        self, key: str, reserve: float | None, f_number: float = 2.0, filters: int = 0, **more: Any
    ) -> Way:
        way = plan(noon()).way(key)
        lighting = way.lighting
        full = None if reserve is None else (lighting.key.needed or 0.0) + reserve
        firing = replace(
            lighting.key, full=full, needed=lighting.key.needed if reserve is not None else None
        )
        aperture = noon().lens.apertures(3).nearest(2 * log2(f_number))
        stack = Stack(tuple(str(number) for number in range(filters)), 3.0 * filters, tuple(range(filters)))
        settings = replace(lighting.settings, aperture=aperture, stack=stack)
        changed = replace(lighting, settings=settings, firings=(firing, *lighting.firings[1:]))
        return replace(
            way, lighting=changed, lacks=more.get("lacks", ()), drawbacks=more.get("drawbacks", ())
        )

    def order(self, *ways: Way, prefer: str = "reach") -> list[str]:
        setup = noon(prefer=prefer)
        return [way.key for way in in_order(ways, setup)]

    def test_a_third_of_a_stop_more_reserve_does_not_outweigh_the_wanted_aperture(self) -> None:
        wide = self.way("nd", 1.0)
        self.assertEqual(self.order(self.way("stop_down", 1.0 + 1 / 3, 11.0), wide), ["nd", "stop_down"])
        self.assertEqual(self.order(self.way("stop_down", 1.34, 11.0), wide), ["stop_down", "nd"])

    def test_within_a_third_the_aperture_comes_before_the_filters_and_they_before_reserve(self) -> None:
        self.assertEqual(
            self.order(self.way("mixed", 1.0, 2.8, 0), self.way("nd", 1.0, 2.0, 2)), ["nd", "mixed"]
        )
        self.assertEqual(
            self.order(self.way("nd", 1.2, 2.0, 2), self.way("mixed", 1.0, 2.0, 1)), ["mixed", "nd"]
        )
        self.assertEqual(
            self.order(self.way("nd", 1.0, 2.0, 1), self.way("mixed", 1.2, 2.0, 1)), ["mixed", "nd"]
        )

    def test_fewer_filters_come_first_where_they_are_preferred(self) -> None:
        found = self.order(self.way("nd", 3.0, 2.0, 1), self.way("stop_down", 0.1, 11.0, 0), prefer="glass")
        self.assertEqual(found, ["stop_down", "nd"])

    def test_the_least_to_handle_comes_first_where_speed_does(self) -> None:
        ways = [self.way(key, 1.0) for key in ("nd", "mixed", "hss", "stop_down", "within_sync")]
        ranks = {way.key: way.method.speed_rank for way in ways}
        self.assertEqual(len(set(ranks.values())), len(ways))
        self.assertEqual(self.order(*ways, prefer="speed"), sorted(ranks, key=lambda key: ranks[key]))

    def test_a_drawback_outweighs_any_reserve_and_a_lack_any_drawback(self) -> None:
        smears, sharp = (
            Drawback("movement", (3.0, None), (1.0, None)),
            Drawback("blur", (1.0, None), (2.0, None)),
        )
        clean = self.way("hss", 0.0)
        flawed = self.way("nd", 5.0, drawbacks=(smears,))
        worse = self.way("mixed", 9.0, drawbacks=(smears, sharp))
        short = self.way("stop_down", 9.0, lacks=(Lack("background", 1.0),))
        self.assertEqual(self.order(short, worse, flawed, clean), ["hss", "nd", "mixed", "stop_down"])

    def test_a_way_without_need_of_flash_has_enough_and_one_blown_out_has_none(self) -> None:
        easy, lit = self.way("within_sync", None), self.way("nd", 1.0)
        self.assertEqual(self.order(lit, easy), ["within_sync", "nd"])
        blown = self.way("within_sync", None, lacks=(Lack("background", 1.0),))
        short = self.way("nd", -4.0, lacks=(Lack("flash", 4.0),))
        self.assertEqual(self.order(blown, short), ["nd", "within_sync"])
