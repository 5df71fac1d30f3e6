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
from noggin.core.planning.mend import Mend, Move
from noggin.core.planning.motion import motion
from noggin.core.planning.plan import plan
from noggin.core.planning.ranking import deciding_rule, in_order
from noggin.core.planning.verdicts import Miss, verdict_of
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon

TINY = 1e-4

WITHIN, PAST = 0.0049, 0.0051
"""A limit that decides a verdict is passed by more than 0.005 stop only."""


class Verdicts(unittest.TestCase):
    """A setting holds, or is just there within a third of a stop, or is short."""

    def verdict(self, level: float = -1.0, **firing: Any) -> tuple[str, list[str]]:
        setup = noon(background_level=level)
        lighting = plan(noon()).way("nd").lighting
        levels = replace(lighting.levels, background=-1.0, background_ambient=-1.0)
        fired = replace(lighting.key, **{"full": 0.0, "needed": 0.0, "down": 0.0, **firing})
        found, misses = verdict_of(setup, replace(lighting, firings=(fired,), levels=levels))
        return found, [miss.what for miss in misses]

    def test_a_reserve_of_nothing_is_enough_a_third_less_just_there(self) -> None:
        self.assertEqual(self.verdict(full=0.0), ("holds", []))
        self.assertEqual(self.verdict(full=-WITHIN), ("holds", []))
        self.assertEqual(self.verdict(full=-PAST), ("just", ["flash"]))
        self.assertEqual(self.verdict(full=-1 / 3 - WITHIN), ("just", ["flash"]))
        self.assertEqual(self.verdict(full=-1 / 3 - PAST), ("short", ["flash"]))

    def test_least_power_may_be_a_third_too_strong(self) -> None:
        # 1/128 of a light that gives 7 at full is 0.
        self.assertEqual(self.verdict(full=7 + 1 / 3 + WITHIN, down=7.0), ("holds", []))
        self.assertEqual(self.verdict(full=7 + 1 / 3 + PAST, down=7.0), ("short", ["too_strong"]))

    def test_the_background_may_miss_by_half_a_dial_step_and_by_a_third_just(self) -> None:
        for off, found in (
            (1 / 6 + WITHIN, "holds"),
            (1 / 6 + PAST, "just"),
            (1 / 3 + WITHIN, "just"),
            (1 / 3 + PAST, "short"),
        ):
            for sign in (1, -1):
                verdict, what = self.verdict(level=-1.0 - sign * off)
                self.assertEqual(verdict, found, (off, sign))
                self.assertEqual(what, [] if found == "holds" else ["background"])

    def test_meant_dark_a_background_may_come_out_darker_at_half_the_price_or_at_none(self) -> None:
        lighting = plan(noon()).way("nd").lighting
        for meant, off, found in (
            (-3.0, 0.4, "short"),
            (-3.0 - TINY, 1 / 3, "holds"),
            (-3.5, 2 / 3 + WITHIN, "just"),
            (-3.5, 2 / 3 + 2 * PAST, "short"),
            (-4.0 + TINY, 0.7, "short"),
            (-4.0, 6.0, "holds"),
        ):
            levels = replace(lighting.levels, background=meant - off, background_ambient=meant - off)
            setup = noon(background_level=meant)
            self.assertEqual(verdict_of(setup, replace(lighting, levels=levels))[0], found, (meant, off))

    def test_flash_that_makes_a_background_too_bright_is_spill(self) -> None:
        lighting = plan(noon()).way("nd").lighting
        for ambient, what in ((-1 + 1 / 6 + WITHIN, "spill"), (-1 + 1 / 6 + PAST, "background")):
            levels = replace(lighting.levels, background=-0.5, background_ambient=ambient)
            _, misses = verdict_of(noon(), replace(lighting, levels=levels))
            self.assertEqual([miss.what for miss in misses], [what])
            self.assertAlmostEqual(misses[0].stops or 0.0, 0.5 - 1 / 6)


class Share(unittest.TestCase):
    def test_a_share_that_was_typed_once_counts_only_where_a_share_is_wanted(self) -> None:
        typed, plain = noon(school="total", share=0.3), noon()
        ways = zip(plan(typed).ways, plan(plain).ways, strict=True)
        self.assertTrue(all(before.lighting == after.lighting for before, after in ways))


class KeyOff(unittest.TestCase):
    """Where the key stays off, what is relative to it stays off too."""

    def lighting(self, subject: float, least: float) -> Any:
        key = replace(LIGHT, gn_m=10, power_min=least)
        rim = replace(LIGHT, name="rim", role="rim")
        setup = noon(
            background=6.0, subject=subject, background_level=-1.0, subject_level=0.0, lights=(key, rim)
        )
        return plan(setup).way("within_sync")

    def test_daylight_alone_is_enough(self) -> None:
        # The background at EV 6 lands at about −1, so faces at EV 7.2 land at about +0.2.
        way = self.lighting(7.2, 1 / 128)
        self.assertIsNone(way.lighting.needed_flash)
        self.assertEqual([firing.down for firing in way.lighting.firings], [None, None])
        self.assertFalse(way.lighting.left_off)

    def test_a_light_too_strong_at_its_least_stays_off_where_daylight_comes_near(self) -> None:
        for subject, off in ((6.85, True), (6.5, False)):
            way = self.lighting(subject, 1 / 2)
            self.assertEqual(way.lighting.left_off, off, subject)
            self.assertEqual(way.verdict, "holds" if off else "short", subject)


class BackgroundLight(unittest.TestCase):
    """One without a level of its own tops up what daylight and spill leave."""

    def levels(self, background: float, **light: Any) -> Any:
        on_wall = replace(LIGHT, name="wall", role="background", **light)
        return plan(noon(background=background, background_level=0.0, lights=(LIGHT, on_wall))).way(
            "within_sync"
        )

    def test_it_brings_the_background_to_what_is_meant(self) -> None:
        # At EV 8 the background meant at 0 could have daylight alone at a longer time; at EV 2 it cannot by
        # hand below ISO 6400, but the light is strong enough at the ISO that the time asks for.
        way = self.levels(9.6)
        self.assertIsNone(way.lighting.firings[1].down)
        setup = noon(
            background=4.0,
            background_level=0.0,
            iso_highest=100,
            slowest_s=1 / 200,
            lights=(LIGHT, replace(LIGHT, gn_m=40, name="wall", role="background")),
        )
        way = plan(setup).way("within_sync")
        self.assertAlmostEqual(way.lighting.levels.background, 0.0, delta=0.2)
        self.assertEqual(way.verdict, "holds")

    def test_two_share_what_is_missing(self) -> None:
        walls = [replace(LIGHT, name=f"wall {n}", role="background") for n in (1, 2)]
        setup = noon(
            background=-5.0,
            background_level=0.0,
            iso_highest=100,
            slowest_s=1 / 200,
            lights=(LIGHT, *walls),
        )
        firings = plan(setup).way("within_sync").lighting.firings[1:]
        # Half of the light each: a stop under what is meant.
        self.assertAlmostEqual(firings[0].needed or 0.0, -1.0, delta=0.01)
        self.assertEqual(firings[0].needed, firings[1].needed)


class Drawbacks(unittest.TestCase):
    def all(self, setup: SetUp, key: str = "nd") -> list[Drawback]:
        way = plan(setup).way(key)
        return list(drawbacks(setup, way.lighting, way.focus))

    def kinds(self, setup: SetUp, key: str = "nd", **focus: Any) -> list[str]:
        way = plan(setup).way(key)
        return [found.kind for found in drawbacks(setup, way.lighting, replace(way.focus, **focus))]

    def test_what_each_counts(self) -> None:
        found = {
            drawback.kind: drawback.stops
            for drawback in self.all(noon(subject_speed_m_s=5.0, blur_least_pct=12.0, faces_m=(2.0, 5.0)))
        }
        # Smear at 1/200 (2^-7.667 s): 5000·85/3115 mm/s against 0.02885 mm.
        self.assertAlmostEqual(found["movement"], log2(5000 * 85 / 3115 * 2**-7.6667 / 0.028844), places=2)
        self.assertAlmostEqual(found["blur"], log2(12 / 2.97), delta=0.02)
        self.assertEqual(found["focus"], 1.0)

    def test_a_time_slower_than_the_hands_counts_by_how_much(self) -> None:
        dark = noon(background=-3.0, subject=-5.0, iso_highest=100, slowest_s=1 / 15)
        (hand,) = self.all(dark, "within_sync")
        # 1/15 on the dial is 2^-4 s; the hand's 1/85 s.
        self.assertEqual(hand.kind, "hand")
        self.assertAlmostEqual(hand.stops, log2(85 / 16), places=3)
        on_tripod = replace(dark, camera=replace(dark.camera, support="tripod"))
        self.assertEqual(list(self.all(on_tripod, "within_sync")), [])

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
        bright = {"subject_ambient": 0.0, "subject": 0.0, "background": -2.0}
        self.assertEqual(self.frozen(walker, longest * 0.999, **bright), "shutter")
        self.assertEqual(self.frozen(walker, longest * 1.001, **bright), "")

    def test_flash_freezes_where_daylight_lies_three_stops_under_it_before_a_dark_background(self) -> None:
        # At 0.4 m/s a point takes 0.0288/(400·85/3115) = 1/378 s; half power of the class is over in 1/500.
        walker = noon(subject_speed_m_s=0.4)
        dark = {"subject": 0.0, "background": -2.0}
        self.assertEqual(self.frozen(walker, 0.1, **dark, subject_ambient=-3.0), "flash")
        self.assertEqual(self.frozen(walker, 0.1, **dark, subject_ambient=-2.999), "")
        burns = {"subject": 0.0, "background": -1.999}
        self.assertEqual(self.frozen(walker, 0.1, **burns, subject_ambient=-3.0), "")

    def test_a_pulse_that_lasts_too_long_freezes_nothing(self) -> None:
        longest = (24**2 + 36**2) ** 0.5 / 1500 / (1400 * 85 / (3200 - 85))
        walker = noon(subject_speed_m_s=1.4)
        lighting = plan(walker).way("nd").lighting
        time = DialStep(0.0, 0.1, "this", 0.0)
        levels = replace(lighting.levels, subject_ambient=-5.0, subject=0.0, background=-4.0)
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
        known = {"verdict": "holds", "misses": (), "drawbacks": (), "uncertainty": 0.0, **more}
        return replace(way, lighting=changed, **known)

    def order(self, *ways: Way, **intent: Any) -> list[str]:
        return [way.key for way in in_order(ways, noon(**intent))]

    def test_what_spoils_the_picture_comes_before_everything(self) -> None:
        def flawed(stops: float) -> Way:
            return self.way("nd", 5.0, drawbacks=(Drawback("movement", stops, (3.0, None), (1.0, None)),))

        just = self.way("hss", -0.2, 2.8, verdict="just")
        # Counted in thirds: a sixth rounds up to one, less rounds to none.
        self.assertEqual(self.order(flawed(1 / 6), just), ["hss", "nd"])
        self.assertEqual(self.order(just, flawed(1 / 6 - TINY)), ["nd", "hss"])

    def test_a_way_that_gives_up_more_than_a_stop_comes_after_one_that_is_one_move_away(self) -> None:
        def moved(shortage: float, key: str = "within_sync") -> Way:
            to = Mend((Move(0, "key", 1.2, shortage),), noon())
            return self.way(key, -shortage, verdict="mend", mend=to)

        for f_number, first in ((2.8, "stop_down"), (3.2, "within_sync")):
            ways = (moved(0.7), self.way("stop_down", 3.0, f_number))
            self.assertEqual(self.order(*ways)[0], first, f_number)
        self.assertEqual(self.order(moved(0.7), self.way("hss", 1.0, 16), aperture_free=True)[0], "hss")
        for smears, first in ((1.0 + WITHIN, "hss"), (1.0 + PAST, "within_sync")):
            flaw = (Drawback("movement", smears, (3.0, None), (1.0, None)),)
            self.assertEqual(self.order(moved(0.7), self.way("hss", 1.0, drawbacks=flaw))[0], first)
        self.assertEqual(self.order(moved(0.7), moved(0.6, "nd")), ["nd", "within_sync"])

    def test_the_wanted_aperture_comes_before_verdict_and_reserve(self) -> None:
        there = self.way("nd", -0.2, 2.2, verdict="just")
        self.assertEqual(self.order(self.way("stop_down", 5.0, 2.5), there), ["nd", "stop_down"])
        self.assertEqual(
            self.order(self.way("stop_down", 5.0, 2.8), self.way("mixed", 0.0, 2.5)), ["mixed", "stop_down"]
        )
        free = self.order(there, self.way("stop_down", 5.0, 11.0), aperture_free=True)
        self.assertEqual(free, ["stop_down", "nd"])

    def test_a_third_of_a_stop_counts_as_there(self) -> None:
        self.assertEqual(self.order(self.way("nd", 0.5), self.way("mixed", 1.0, 2.2)), ["mixed", "nd"])

    def test_what_holds_comes_before_what_is_just_there(self) -> None:
        found = self.order(self.way("nd", -0.1, verdict="just"), self.way("hss", 0.0))
        self.assertEqual(found, ["hss", "nd"])

    def test_reserve_counts_up_to_a_stop_or_its_own_uncertainty(self) -> None:
        one, five = self.way("hss", 1.0), self.way("nd", 5.0, filters=1)
        self.assertEqual(self.order(five, one), ["hss", "nd"])
        self.assertEqual(self.order(one, self.way("nd", 5.0, filters=1, uncertainty=1.4)), ["nd", "hss"])
        self.assertEqual(self.order(self.way("nd", None, filters=1), one), ["hss", "nd"])
        less = self.way("hss", 0.5)  # half a stop is two thirds, rounded
        self.assertEqual(self.order(less, self.way("nd", 0.84, filters=1)), ["nd", "hss"])

    def test_then_fewest_filters_then_the_nearest_aperture_then_reserve(self) -> None:
        self.assertEqual(
            self.order(self.way("nd", 2.0, filters=2), self.way("mixed", 1.5, 2.2, 1)), ["mixed", "nd"]
        )
        self.assertEqual(
            self.order(self.way("mixed", 2.0, 2.2, 1), self.way("nd", 1.5, filters=1)), ["nd", "mixed"]
        )
        self.assertEqual(self.order(self.way("nd", 1.5), self.way("hss", 2.0)), ["hss", "nd"])

    def test_fewer_filters_come_first_where_they_are_preferred(self) -> None:
        found = self.order(self.way("nd", 3.0, 2.0, 1), self.way("hss", 0.1), prefer="glass")
        self.assertEqual(found, ["hss", "nd"])

    def test_the_least_to_handle_comes_first_where_speed_does(self) -> None:
        ways = [self.way(key, 1.0) for key in ("nd", "mixed", "hss", "stop_down", "within_sync")]
        found = self.order(*ways, prefer="speed")
        self.assertEqual(found, ["within_sync", "hss", "stop_down", "mixed", "nd"])

    def test_short_ways_come_by_their_miss_and_those_without_the_means_last(self) -> None:
        def short(key: str, kind: str, stops: float | None) -> Way:
            return self.way(key, 0.0, verdict="short", misses=(Miss(kind, stops),))

        far, near = short("within_sync", "background", 4.0), short("hss", "flash", 0.5)
        without = short("nd", "filter", None)
        idle = self.way("stop_down", 0.0, verdict="not_needed")
        self.assertEqual(self.order(idle, without, far, near), ["hss", "within_sync", "nd", "stop_down"])
        # In steps of a twentieth: what is nearer by less stays in the order of the list.
        alike = short("mixed", "flash", 0.51)
        self.assertEqual(self.order(alike, near), ["mixed", "hss"])

    def test_the_rule_that_decided_is_named(self) -> None:
        setup = noon()
        first = self.way("nd", 1.0)
        for second, rule in (
            (self.way("hss", 1.0, drawbacks=(Drawback("focus", 1.0, (1, 2), (0, 3)),)), "drawbacks"),
            (self.way("stop_down", 1.0, 16.0), "given_up"),
            (self.way("stop_down", 1.0, 2.5), "aperture"),
            (self.way("hss", -0.1, verdict="just"), "verdict"),
            (self.way("hss", 0.0), "preference"),
            (self.way("hss", 1.0), ""),
        ):
            self.assertEqual(deciding_rule(first, second, setup), rule)
