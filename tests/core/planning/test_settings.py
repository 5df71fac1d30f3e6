"""What decides a setting: the hand, movement, a dark background, the fastest shutter, and flash on the
background; each worked by hand."""

import unittest
from dataclasses import replace
from math import cos, hypot, log2, radians

from noggin.core.advice.reasons import reasons
from noggin.core.advice.remedies import remedies
from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon

SMALL = replace(LIGHT, gn_m=8)


def dial(way: Way) -> str:
    """A way as it is dialled."""
    found = way.settings
    return f"{found.shutter.label} f/{found.aperture.label} ISO {found.iso.label}"


class WithinSync(unittest.TestCase):
    def way(self, **changes: object) -> Way:
        return plan(noon(**{"lights": (SMALL,), **changes})).way("within_sync")

    def test_the_hand_and_the_tripod(self) -> None:
        # EV 7 meant at 0 at f/4 is Tv 3 at ISO 100; 50 mm are steady to 1/50 (Tv 5 2/3): 2 2/3 stops of
        # ISO.
        dim = {"background": 7.0, "subject": 6.0, "background_level": 0.0, "aperture": 4.0, "focal_mm": 50}
        self.assertEqual(dial(self.way(**dim, slowest_s=1 / 8)), "1/50 f/4 ISO 640")
        self.assertEqual(dial(self.way(**dim, slowest_s=1 / 8, support="tripod")), "1/8 f/4 ISO 100")

    def test_a_black_background_is_never_lifted(self) -> None:
        # EV 4 at f/2.8 and 1/200 lies at −6.6. Meant at −4 it may: the lowest ISO, the shortest time.
        dark = {"background": 4.0, "subject": 3.0, "aperture": 2.8}
        self.assertEqual(dial(self.way(**dark, background_level=-4.0)), "1/200 f/2.8 ISO 100")
        # At −3.9 half of what is too dark counts: ISO rises until a third of a stop and no more is missed.
        lifted = self.way(**dark, background_level=-3.9)
        self.assertGreater(lifted.settings.iso.stops, 0)

    def test_movement_asks_for_no_more_than_sync(self) -> None:
        # 0.1 m/s at 3.2 m with 85 mm: 2.73 mm/s, 0.02884 mm in 1/95 s, on the dial 1/100. At f/2 EV 5 meant
        # at −1 is Tv 4 at ISO 100: the time rises by 2 2/3 stops and ISO with it, on a tripod too.
        slow = self.way(background=5.0, subject=3.0, subject_speed_m_s=0.1, support="tripod")
        self.assertEqual(dial(slow), "1/100 f/2 ISO 640")
        fast = self.way(background=5.0, subject=3.0, subject_speed_m_s=5.0, support="tripod")
        self.assertEqual(dial(fast), "1/200 f/2 ISO 1250")


class Why(unittest.TestCase):
    """Why ISO rises, and what high-speed sync gives up, is said."""

    def said(self, key: str, **changes: object) -> str:
        setup = noon(**changes)
        return " ".join(reasons(setup, plan(setup).way(key)))

    def test_why_iso_rises_within_sync(self) -> None:
        dim = {"background": 5.0, "subject": 3.0, "lights": (SMALL,)}
        self.assertIn("too slow to hold by hand", self.said("within_sync", **dim))
        on_tripod = {**dim, "support": "tripod"}
        self.assertIn("would be slower than 1/60 s", self.said("within_sync", **on_tripod))
        self.assertIn(
            "so long that the subject smears more",
            self.said("within_sync", **on_tripod, subject_speed_m_s=5.0),
        )
        # Bright enough for every limit, and a light that is short: ISO is for the flash.
        shade = {
            "background": 8.0,
            "subject": 6.0,
            "background_level": 0.0,
            "aperture": 4.0,
            "slowest_s": 1 / 15,
        }
        weak = replace(LIGHT, gn_m=60 / 2**4.3)
        said = self.said("within_sync", **shade, support="tripod", lights=(weak,))
        self.assertRegex(said, r"ISO \d+: at ISO 100 the key is short\.")
        # At sync it is never the hand that asks.
        rim = replace(LIGHT, name="Rim", role="rim", gn_m=3.0)
        said = self.said("within_sync", **shade, lights=(replace(LIGHT, gn_m=8), rim), rim=6.0)
        self.assertRegex(said, r"ISO \d+: at ISO 100 the rim is short\.")

    def test_what_high_speed_sync_gives_up(self) -> None:
        fast = {"background": 15.0, "subject": 12.5, "aperture": 1.4, "widest": 1.4, "fastest_s": 1 / 4000}
        said = self.said(
            "hss", **fast, filters=(Filter("3-stop ND", 3, 3),), lights=(replace(LIGHT, gn_m=120),)
        )
        self.assertIn("fastest time there is, so 3-stop ND takes 3 stops more", said)
        said = self.said("hss", lights=(replace(LIGHT, gn_m=30),), filters=())
        self.assertIn("brighter than meant, so that the flash is less short", said)
        child = {"background": 10.0, "subject": 10.0, "background_level": -0.5, "aperture": 2.8}
        said = self.said("hss", **child, subject_speed_m_s=5.0, subject_distance_m=5.0, filters=())
        self.assertIn("ISO 1600 buys 1/3200 s, which keeps the subject still", said)


class HighSpeed(unittest.TestCase):
    def test_iso_pays_for_the_time_a_running_child_needs(self) -> None:
        # 5 m/s at 5 m with 85 mm: 86.5 mm/s, 0.02884 mm in 1/2998 s, on the dial 1/3200 (Tv 11 2/3). EV 10
        # at f/2.8 (3) meant at −0.5 is Tv 7.5 at ISO 100: 4 1/6, so 4 stops of ISO, within half a step.
        setup = noon(
            background=10.0, subject=10.0, background_level=-0.5, aperture=2.8, subject_speed_m_s=5.0,
            subject_distance_m=5.0, filters=(),
        )  # fmt: skip
        planned = plan(setup)
        self.assertEqual(dial(planned.way("hss")), "1/3200 f/2.8 ISO 1600")
        self.assertEqual(planned.chosen, planned.way("hss"))
        # Without anything to take away the other ways stay what they are.
        self.assertTrue(all(planned.way(key).not_needed for key in ("stop_down", "nd", "mixed")))

    def test_past_the_fastest_shutter_a_filter_goes_on(self) -> None:
        # 1/4000 (2^-12 s) and f/1.4 (1) place EV 13 at mid-tone: EV 15 meant at −1 is 3 over: 3 stops of
        # ND.
        setup = noon(
            background=15.0, subject=12.5, aperture=1.4, widest=1.4, fastest_s=1 / 4000,
            filters=(Filter("3-stop ND", 3, 3),), lights=(replace(LIGHT, gn_m=120),),
        )  # fmt: skip
        way = plan(setup).way("hss")
        self.assertEqual((dial(way), way.settings.stack.names), ("1/4000 f/1.4 ISO 100", ("3-stop ND",)))
        self.assertEqual(way.verdict, "holds")

    def test_a_short_light_may_leave_the_background_brighter(self) -> None:
        setup = noon(lights=(replace(LIGHT, gn_m=30),), filters=())
        way = plan(setup).way("hss")
        self.assertEqual({miss.what for miss in way.misses}, {"background", "flash"})


class Droop(unittest.TestCase):
    def test_it_enters_the_level_at_the_faces(self) -> None:
        # A third from the top lies a sixth of the travel after mid-frame: 0.6/6 darker there.
        even, drooping = (
            plan(noon(lights=(replace(LIGHT, hss_droop=droop),))).way("hss").lighting.key
            for droop in (0.0, 0.6)
        )
        assert even.full is not None
        assert drooping.full is not None
        self.assertAlmostEqual(drooping.full - even.full, -0.1)


class Spill(unittest.TestCase):
    """A wall 1.3 m behind the subject, 2.5 m from the light: 2·log2(2.5/3.8) = −1.208 stops."""

    def wall(self, **changes: object) -> SetUp:
        known = {"background_distance_m": 4.5, "background": 8.0, "subject": 6.0, "background_level": -5.5}
        return noon(**{**known, **changes})

    def test_flash_on_the_background_by_hand(self) -> None:
        levels = plan(self.wall()).way("within_sync").lighting.levels
        assert levels.flash is not None
        assert levels.spill is not None
        self.assertAlmostEqual(levels.spill - levels.flash, 2 * log2(2.5 / 3.8))
        together = log2(2**levels.background_ambient + 2**levels.spill)
        self.assertAlmostEqual(levels.background, together)

    def test_what_it_spoils_is_named_with_what_helps(self) -> None:
        setup = self.wall(lights=(replace(LIGHT, angle_deg=80.0),))
        way = plan(setup).way("hss")
        self.assertEqual([miss.what for miss in way.misses], ["spill"])
        found = {one.remedy: one for one in remedies(plan(setup))["hss"]}
        self.assertLessEqual({"grid", "away_from_wall"}, set(found))
        # A grid: the wall straight behind is so far off the aim of a light at 80°; cos^15 against cos^1.5.
        light = setup.key
        to_wall = hypot(2.5 * cos(radians(10)), 2.5 * cos(radians(80)) + 1.3)
        off_aim = (2.5 + 1.3 * cos(radians(80))) / to_wall
        gridded = replace(light, grid=True)
        self.assertAlmostEqual(gridded.kept_off(1.3), -13.5 * log2(off_aim))
        self.assertAlmostEqual(gridded.reach, light.reach - 0.7)

    def test_where_nothing_is_enough_alone_a_pair_is(self) -> None:
        # 3.4 short by a filter: closer is not enough for so wide a face, nor four heads.
        weak = replace(LIGHT, gn_m=14, loss=1.0, radius_m=0.6, distance_m=1.2, name="Small one")
        setup = noon(lights=(weak,), hss=False)
        found = remedies(plan(setup))["nd"]
        alone = [one for one in found if not one.together_with]
        pairs = [one for one in found if one.together_with]
        if any(one.suffices for one in alone):
            self.assertEqual(pairs, [])
        else:
            self.assertEqual(len(pairs), 1)
            self.assertTrue(pairs[0].suffices)
            self.assertGreater(pairs[0].gain, max(one.gain for one in alone))
