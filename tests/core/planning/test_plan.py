"""The solver: the noon set-up worked by hand, the order, what holds of every plan."""

import math
import unittest
from dataclasses import fields, replace

from hypothesis import given

from noggin.core.advice.reasons import advice, lesson, reasons
from noggin.core.physics.filters import Filter, Ring
from noggin.core.planning.lighting import flash_terms
from noggin.core.planning.plan import plan
from noggin.core.planning.ways import WAYS
from noggin.core.setup.setup import SetUp
from tests.core.planning import reference
from tests.support import LIGHT, noon, setups


class Noon(unittest.TestCase):
    """Background EV 14.6 meant at −1, subject 12, f/2, sync 1/200, GN 60 at 2.5 m, toll 1.1, ND 6.

    Worked by hand: f/2 at 1/200 (exactly 2^-23/3 s) is EV 2 + 7.667 = 9.667, so the background lands at
    +4.933 and 5.933 stops are to be taken away. A full pop gives 2·log2(60/2.5) = 9.170 at f/1.
    """

    def setUp(self) -> None:
        self.plan = plan(noon())

    def check(self, way: str, dial: str, background: float, reserve: float, power: str) -> None:
        one = self.plan.way(way)
        shown = f"{one.settings.shutter.label} f/{one.settings.aperture.label} ISO {one.settings.iso.label}"
        self.assertEqual(shown, dial)
        self.assertAlmostEqual(one.lighting.levels.background_ambient, background, places=3)
        self.assertAlmostEqual(one.reserve or math.nan, reserve, places=3)
        self.assertEqual(one.lighting.key.power_label, power)
        self.assertTrue(one.feasible)

    def test_nd(self) -> None:
        # 4.933 − 6 = −1.067; flash 9.170 − 2 − 6 = 1.170; subject 12 − 15.667 = −3.667, so the flash
        # must give log2(1 − 2^-3.667) = −0.118: reserve 1.288, four thirds down.
        self.check("nd", "1/200 f/2 ISO 100", -1.067, 1.288, "1/2 −0.3")

    def test_stop_down(self) -> None:
        # f/16 is 6 stops smaller: the same sums as the filter.
        self.check("stop_down", "1/200 f/16 ISO 100", -1.067, 1.288, "1/2 −0.3")

    def test_mixed(self) -> None:
        # f/2.2 takes 0.333, 1/160 gives it back to daylight: flash 9.170 − 2.333 − 6 = 0.837.
        self.check("mixed", "1/160 f/2.2 ISO 100", -1.067, 0.955, "1/2")

    def test_hss(self) -> None:
        # 1/8000 is 5.333 past sync, f/2.5 another 0.667; 9.170 − 2.667 − 1.1 − 5.333 = 0.070.
        self.check("hss", "1/8000 f/2.5 ISO 100", -1.067, 0.188, "1/1 −0.3")
        way = self.plan.way("hss")
        self.assertIn("fastest time there is", " ".join(reasons(self.plan.setup, way)))

    def test_within_sync_lacks_what_is_to_be_taken_away(self) -> None:
        (miss,) = self.plan.way("within_sync").misses
        self.assertEqual(miss.kind, "background")
        self.assertAlmostEqual(miss.by, 5.933, places=3)
        # Of a background that is off, what exceeds half a dial step counts.
        self.assertAlmostEqual(miss.stops or 0.0, 5.933 - 1 / 6, places=3)

    def test_levels_come_from_what_is_dialled(self) -> None:
        # Dialled 1/2 −0.3 is 1.333 under full: flash 1.170 − 1.333 = −0.163; both −0.041; and the spill
        # 39.3 m from the light is 23.9 stops down on −0.163.
        levels = self.plan.way("nd").lighting.levels
        self.assertAlmostEqual(levels.flash or math.nan, -0.163, places=3)
        self.assertAlmostEqual(levels.subject, -0.041, places=3)
        self.assertAlmostEqual(levels.background, -1.056, places=3)

    def test_advice_and_lesson_say_the_figures(self) -> None:
        chosen = self.plan.chosen
        assert chosen is not None
        self.assertEqual(chosen.key, "nd")
        self.assertIn("1.3 stops of flash to spare at your f/2", advice(self.plan))
        self.assertIn("Mixed has about the same", advice(self.plan))
        self.assertIn("High-speed sync would mean f/2.5.", advice(self.plan))
        self.assertIn("toll of 1.1 stops", lesson(self.plan))


class Cases(unittest.TestCase):
    """What a photographer would try next."""

    def test_at_f16_the_picture_fits_within_sync_and_nothing_is_left_to_take_away(self) -> None:
        planned = plan(noon(aperture=16.0))
        self.assertEqual(planned.chosen, planned.way("within_sync"))
        for way in planned.ways[1:]:
            self.assertEqual((way.verdict, way.misses), ("not_needed", ()))
        self.assertEqual(planned.way("hss").settings.shutter.label, "1/250")

    def test_at_dusk_the_iso_rises_only_as_far_as_the_slowest_time_needs(self) -> None:
        # Background EV 3 meant at −1 at f/2: Tv 2 at ISO 100; 1/60 is Tv 6, so 4 stops of ISO on a tripod.
        # By hand 85 mm are steady to 1/85, on the dial 1/100 (Tv 6 2/3): two thirds more.
        small = replace(LIGHT, gn_m=10)
        for support, dial in (("tripod", ("1/60", "1600")), ("hand", ("1/100", "2500"))):
            setup = noon(background=3.0, subject=1.0, lights=(small,), support=support)
            way = plan(setup).way("within_sync")
            self.assertEqual((way.settings.shutter.label, way.settings.iso.label), dial)
            self.assertEqual(way.verdict, "holds")

    def test_a_short_light_makes_the_iso_rise_and_the_time_shorten_up_to_sync(self) -> None:
        # Shade: background EV 8 meant at 0 at f/4: 1/15 at ISO 100. A light that is 1.5 short there
        # gains with each stop of ISO; 1/15 lets it rise nearly 4 stops before sync.
        weak = replace(LIGHT, gn_m=60 / 2**4.3, distance_m=2.5)
        setup = noon(
            background=8.0,
            subject=6.0,
            background_level=0.0,
            aperture=4.0,
            slowest_s=1 / 15,
            lights=(weak,),
        )
        way = plan(setup).way("within_sync")
        self.assertTrue(way.feasible)
        self.assertGreater(way.settings.iso.stops, 0)
        self.assertLess(way.reserve or 0, 1 / 3)

    def test_a_light_without_high_speed_sync_is_named_and_has_no_figures(self) -> None:
        way = plan(noon(lights=(replace(LIGHT, hss_toll=None),))).way("hss")
        self.assertEqual([(miss.kind, miss.light) for miss in way.misses], [("high_speed", "Large head")])
        self.assertEqual(
            (way.reserve, way.lighting.key.power, way.lighting.levels.flash), (None, None, None)
        )

    def test_no_filter_in_the_bag_says_how_many_stops_are_wanted(self) -> None:
        (miss,) = plan(noon(filters=())).way("nd").misses
        self.assertEqual((miss.kind, miss.stops), ("filter", None))
        self.assertAlmostEqual(miss.by, 5.933, places=3)

    def test_a_light_too_strong_at_its_least_lacks_less_light(self) -> None:
        # Reserve 1.288, and only half power to dial it away with (0.288 too strong) or none (1.288).
        self.assertTrue(plan(noon(lights=(replace(LIGHT, power_min=1 / 2),))).way("nd").feasible)
        (miss,) = plan(noon(lights=(replace(LIGHT, power_min=1.0),))).way("nd").misses
        self.assertEqual((miss.kind, miss.light, miss.dialled), ("too_strong", "Large head", "1/1"))
        self.assertAlmostEqual(miss.by, 1.288, places=3)

    def test_a_global_shutter_leaves_high_speed_sync_nothing_to_do(self) -> None:
        planned = plan(noon(sync_s=1 / 8000))
        self.assertEqual([miss.what for miss in planned.way("hss").misses], ["high_speed"])

    def test_no_flash_is_needed_where_daylight_is_there_already(self) -> None:
        planned = plan(noon(subject=16.0))
        way = planned.way("nd")
        self.assertEqual(
            (way.reserve, way.lighting.levels.flash, way.lighting.flash_share), (None, None, 0)
        )
        self.assertIn("no flash is needed", " ".join(reasons(planned.setup, way)))

    def test_stacking_two_filters_when_one_is_not_enough(self) -> None:
        way = plan(noon(filters=(Filter("3", 3, 3), Filter("2–5", 2, 5)))).way("nd")
        self.assertEqual(way.settings.stack.names, ("3", "2–5"))
        self.assertAlmostEqual(way.settings.stack.stops, 6, delta=1 / 6)
        # The one that is turned says what to: the stack's strength less that of the fixed one.
        self.assertEqual(way.settings.stack.turned, (1, way.settings.stack.stops - 3))

    def test_filters_are_stacked_only_where_their_threads_go_together(self) -> None:
        bag = Filter("3", 3, 3, thread_mm=77), Filter("2–5", 2, 5, thread_mm=82)
        for thread, rings, count in (
            (77, (), 1),  # the second one has no thread to go on
            (77, (Ring("77-82", 77, 82),), 2),
            (67, (), 0),
            (67, (Ring("67-77", 67, 77),), 1),
            (None, (), 1),
        ):
            with self.subTest(thread=thread, rings=rings):
                setup = noon(filters=bag, rings=rings, thread_mm=thread)
                self.assertEqual(max((len(stack.names) for stack in setup.stacks), default=0), count)

    def test_two_variable_filters_never_go_together(self) -> None:
        setup = noon(filters=(Filter("one", 2, 5), Filter("other", 2, 5), Filter("polariser", 1, 1, True)))
        self.assertEqual({len(stack.names) for stack in setup.stacks}, {1})


class Order(unittest.TestCase):
    def ways(self, prefer: str) -> list[str]:
        return [way.key for way in plan(noon(prefer=prefer)).ways]

    def test_by_each_preference(self) -> None:
        # Apertures decide first: nd at f/2 and mixed at f/2.2 (within a third) count as there, hss is at
        # f/2.5, stop_down at f/16. Useful reserve of nd and mixed is a stop, so filters and aperture
        # decide.
        self.assertEqual(self.ways("reach"), ["nd", "mixed", "hss", "stop_down", "within_sync"])
        self.assertEqual(self.ways("speed"), ["mixed", "nd", "hss", "stop_down", "within_sync"])
        self.assertEqual(self.ways("glass"), ["nd", "mixed", "hss", "stop_down", "within_sync"])

    def test_where_any_aperture_will_do_the_preference_decides(self) -> None:
        free = {
            prefer: plan(noon(prefer=prefer, aperture_free=True)) for prefer in ("reach", "speed", "glass")
        }
        # Useful reserve, in thirds: a stop for nd, stop_down and mixed (0.955), 0.19 counts as a third.
        self.assertEqual([way.key for way in free["reach"].ways][:2], ["stop_down", "nd"])
        self.assertEqual(free["speed"].ways[0].key, "hss")
        self.assertEqual([way.key for way in free["glass"].ways][:2], ["hss", "stop_down"])

    def test_settings_do_not_depend_on_the_preference(self) -> None:
        for key in WAYS:
            one, other = (plan(noon(prefer=prefer)).way(key) for prefer in ("reach", "glass"))
            self.assertEqual(one.settings, other.settings)


class Everywhere(unittest.TestCase):
    """Whatever the set-up, the plan is whole and honest."""

    @given(setups())
    def test_every_way_is_there_with_finite_figures_and_words(self, setup: SetUp) -> None:
        planned = plan(setup)
        self.assertEqual({way.key for way in planned.ways}, set(WAYS))
        feasible = [way.feasible for way in planned.ways]
        self.assertEqual(feasible, sorted(feasible, reverse=True))
        for way in planned.ways:
            self.assertEqual(way.verdict == "holds", not way.misses and not way.not_needed)
            said = reasons(setup, way)
            self.assertTrue(said, way.key)
            self.assertTrue(all(said))
            levels = way.lighting.levels
            for one in fields(levels):
                value = getattr(levels, one.name)
                self.assertTrue(value is None or math.isfinite(value), (way.key, one.name))

    @given(setups())
    def test_the_terms_of_the_fall_sum_to_the_level(self, setup: SetUp) -> None:
        for way in plan(setup).ways:
            for firing in way.lighting.firings:
                if firing.full is not None:
                    terms = flash_terms(setup, firing.light, way.settings)
                    by_hand = reference.full_level(
                        setup,
                        firing.light,
                        way.settings.aperture.stops,
                        way.settings.shutter.stops,
                        way.settings.iso.stops,
                        way.settings.stack.stops,
                    )
                    summed = sum(term.stops for term in terms)
                    self.assertAlmostEqual(summed, firing.full, places=9)
                    assert by_hand is not None
                    self.assertAlmostEqual(summed, by_hand, places=9)
