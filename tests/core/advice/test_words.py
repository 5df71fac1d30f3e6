"""Cautions by their rules, and the words that carry advice and reasons."""

import unittest
from dataclasses import replace
from math import log2
from typing import Any

from noggin.core.advice.cautions import RULES, cautions
from noggin.core.advice.details import details
from noggin.core.advice.reasons import advice, decided, lesson, reasons, share_words
from noggin.core.advice.remedies import first_help
from noggin.core.advice.verdict_words import (
    DRAWBACK_WORDS,
    MISS_WORDS,
    VERDICT_WORDS,
    landing_words,
    miss_brief,
    miss_words,
)
from noggin.core.errors import Unreadable
from noggin.core.physics.battery import Battery
from noggin.core.physics.filters import Filter
from noggin.core.planning.drawbacks import DRAWBACK_KINDS
from noggin.core.planning.plan import plan
from noggin.core.planning.verdicts import MISS_KINDS, VERDICTS, Miss
from noggin.core.planning.way import Plan, Way
from noggin.core.typed.parse_quantities import (
    read_aperture,
    read_distance,
    read_distances,
    read_ev,
    read_filters,
    read_power,
    read_shutter,
    read_stops,
)
from noggin.core.typed.parse_scene import read_people, read_wind, read_zone, show_people
from tests.support import LIGHT, noon


def raised(way: Way, planned: Plan) -> set[str]:
    """Keys of the cautions that stand for a way."""
    return {rule.key for rule in RULES if rule.when(planned.setup, way)}


class Cautions(unittest.TestCase):
    def test_each_is_raised_by_its_case_and_only_there(self) -> None:
        plain: dict[str, Any] = {"background": 13.5, "subject": 12.0}
        weak, dark = (Filter("3-stop ND", 3, 3),), (Filter("10-stop ND", 10, 10),)
        cases: tuple[tuple[str, str, dict[str, Any], dict[str, Any]], ...] = (
            # caution, way, set-up that raises it, the nearest that does not
            ("finder", "nd", {}, {"filters": weak, "background": 11.5}),
            ("finder", "nd", {"filters": weak, "subject": 4.5}, {"filters": weak, "subject": 5.5}),
            ("power_follows", "nd", {}, {"filters": ()}),
            ("hss_mode", "hss", {}, {"sync_s": 1 / 8000}),
            ("heat", "hss", {}, {"lights": (replace(LIGHT, gn_m=200),)}),
            ("diffraction", "stop_down", {"smallest": 32.0, "background": 16.6}, {}),
            ("sky_clips", "nd", {"sky": 19.0}, {"sky": 18.0}),
            ("rim_clips", "nd", {"rim": 16.2}, {"rim": 16.0}),
            ("dress_clips", "nd", {"subject_level": 0.7}, {"subject_level": 0.3}),
            ("black_background", "nd", {"background_level": -5.7, "background": 14.0, "filters": dark}, {}),
            ("subject_missed", "nd", {"school": "match", "subject": 14.6}, {"school": "match"}),
            ("auto_drifts", "nd", {"school": "auto"}, {}),
            ("sun_behind", "nd", {}, plain),
        )
        for key, way, case, other in cases:
            with self.subTest(caution=key, case=case):
                with_it, without = plan(noon(**case)), plan(noon(**other))
                self.assertIn(key, raised(with_it.way(way), with_it))
                self.assertNotIn(key, raised(without.way(way), without))

    def test_near_eyes_and_in_wind(self) -> None:
        close = replace(LIGHT, gn_m=12, distance_m=0.8, radius_m=0.5)
        planned = plan(noon(lights=(close,)))
        self.assertLessEqual({"eyes", "wind"}, raised(planned.way("nd"), planned))
        planned = plan(noon())
        self.assertFalse({"eyes", "wind"} & raised(planned.way("nd"), planned))

    def test_the_light_that_is_close_is_the_one_named(self) -> None:
        fill = replace(LIGHT, role="fill", gn_m=8, distance_m=0.6, radius_m=0.5)
        setup = noon(lights=(LIGHT, fill))
        said = " ".join(cautions(setup, plan(setup).way("nd")))
        self.assertIn("close to the eyes (0.60 m)", said)
        self.assertIn("a modifier 1.0 m across is a sail", said)

    def test_every_rule_has_words(self) -> None:
        planned = plan(noon(sky=19.5, rim=19.5, subject_level=1.0, school="auto"))
        for way in planned.ways:
            self.assertTrue(all(len(words) > 20 for words in cautions(planned.setup, way)))


class Advice(unittest.TestCase):
    def test_by_each_preference(self) -> None:
        for prefer, words in (
            ("reach", "Mixed has about the same."),
            ("speed", "It has less to handle than ND at sync."),
            ("glass", "It needs the fewest filters: 6-stop ND."),
        ):
            self.assertIn(words, advice(plan(noon(prefer=prefer))))

    def test_a_verdict_names_the_way_the_margin_and_the_price(self) -> None:
        said = advice(plan(noon()))
        self.assertTrue(said.startswith("Recommended: ND at sync. 1.3 stops of flash to spare"), said)
        self.assertIn("at your f/2. The price: viewfinder and autofocus lose 6 stops.", said)
        self.assertIn("Stopping down would mean f/16.", said)

    def test_alone_within_sync_and_without_any_way(self) -> None:
        only = advice(plan(noon(filters=(), lights=(replace(LIGHT, hss_toll=None),))))
        self.assertTrue(only.startswith("Recommended: Stop down."), only)
        self.assertTrue(only.endswith("Nothing else works as it stands."), only)
        self.assertIn("Your settings already work within sync speed", advice(plan(noon(aperture=16.0))))
        none = plan(noon(lights=(replace(LIGHT, gn_m=1, distance_m=20),)))
        self.assertIsNone(none.chosen)
        said = advice(none)
        self.assertRegex(said, "^No method quite makes this picture. Closest: Stop down, .* too bright")
        weak = plan(noon(lights=(replace(LIGHT, gn_m=20),), filters=()))
        self.assertIsNone(weak.chosen)
        self.assertIn("What would mend it: move Large head to", advice(weak, first_help(weak)))

    def test_a_picture_that_is_just_there_says_where_it_lands(self) -> None:
        # The reserve by a filter is 1.288; a light 1.4 stops weaker is 0.11 short.
        planned = plan(noon(lights=(replace(LIGHT, gn_m=60 / 2**0.7),)))
        way = planned.way("nd")
        self.assertEqual(way.verdict, "just")
        self.assertEqual(landing_words(way), "faces at −0.1")
        self.assertIn("It only just works: faces at −0.1.", advice(planned))
        self.assertIn("Only just, within a third of a stop: faces at −0.1.", reasons(planned.setup, way))

    def test_the_rule_that_decided_is_said(self) -> None:
        self.assertIn("your preference, reach first", decided(plan(noon())))
        short = plan(noon(lights=(replace(LIGHT, gn_m=1, distance_m=20),)))
        self.assertEqual(decided(short), "")

    def test_flash_by_share_against_the_light_says_where_it_leaves_the_faces(self) -> None:
        setup = noon(school="share", share=0.2)
        said = share_words(setup, plan(setup).way("nd"))
        self.assertIn("leaves the faces at −3.4; you want 0.0", said)
        in_front = noon(school="share", share=0.2, background=12.5)
        self.assertEqual(share_words(in_front, plan(in_front).way("nd")), "")

    def test_an_aperture_that_had_to_close_is_not_called_wanted(self) -> None:
        # Daylight is enough, the 5-stop filter alone is not: f/2.8 with it, or stopped down without.
        lights = (replace(LIGHT, hss_toll=None),)
        bright = advice(plan(noon(subject=16.0, filters=(Filter("5", 5, 5),), lights=lights)))
        self.assertIn("No flash is needed, at f/2.8 instead of your f/2.", bright)

    def test_the_lesson_names_the_greatest_reserve_whatever_the_order(self) -> None:
        for prefer in ("reach", "speed", "glass"):
            said = lesson(plan(noon(prefer=prefer)))
            self.assertIn("keep the full reach (+1.3)", said)
            self.assertIn("ND at sync", said)
            self.assertNotIn("Mixed", said)

    def test_every_lack_and_every_drawback_has_words_with_its_figure(self) -> None:
        self.assertEqual(set(MISS_WORDS), set(MISS_KINDS))
        self.assertEqual(set(DRAWBACK_WORDS), set(DRAWBACK_KINDS))
        for kind in MISS_KINDS:
            miss = Miss(kind, 1.5, 1.7, "Rim head", reached=0.2, meant=-1.5, dialled="1/32")
            self.assertTrue(miss_brief(miss))
            self.assertGreaterEqual(len(miss_words(miss)), len(miss_brief(miss)))
        self.assertIn("1.7 stops", miss_words(Miss("flash", 1.7, 1.7, "Rim head")))
        self.assertIn("camera and trigger", miss_words(Miss("high_speed")))

    def test_every_verdict_has_a_word_of_its_own(self) -> None:
        self.assertEqual(set(VERDICT_WORDS), set(VERDICTS))
        self.assertEqual(len(set(VERDICT_WORDS.values())), len(VERDICTS))


class Said(unittest.TestCase):
    def test_what_closing_the_aperture_takes(self) -> None:
        # The bag has 3 of some 6 stops: the aperture takes what is left, two stops or more to f/5.6.
        setup = noon(filters=(Filter("ND", 3, 3),))
        way = plan(setup).way("mixed")
        closed = 2 * log2(way.settings.aperture.value / 2)
        self.assertGreater(closed, 1)
        number = way.settings.aperture.label
        self.assertIn(
            f"Closing to f/{number} takes the last {closed:.1f}".removesuffix(".0"),
            " ".join(reasons(setup, way)),
        )

    def test_recycling_at_once_and_in_a_time_that_can_be_felt(self) -> None:
        for felt, words in ((0.095, "recycles at once"), (0.105, "recycles in 0.1 s")):
            setup = noon(lights=(replace(LIGHT, battery=Battery(500, 1.0)),))
            power = plan(setup).way("nd").lighting.key.power
            assert power is not None
            lit = noon(lights=(replace(LIGHT, battery=Battery(500, felt / power)),))
            found = dict(details(lit, plan(lit).way("nd")))
            self.assertIn(words, found["shots per charge"])


class Past(unittest.TestCase):
    def test_daylight_that_a_longer_time_gives_back_is_said(self) -> None:
        # A filter of 6.3 stops where 6 would do: 1/160 s, a third of a stop longer than 1/200, mends it.
        setup = noon(filters=(Filter("ND", 6.3, 6.3),))
        way = plan(setup).way("nd")
        self.assertEqual(way.settings.shutter.label, "1/160")
        self.assertIn("1/160 s gives 0.3 stop of daylight back.", reasons(setup, way))

    def test_how_far_past_sync_a_time_is(self) -> None:
        setup = noon()
        way = plan(setup).way("hss")
        past = log2(setup.camera.sync.value / way.settings.shutter.value)
        self.assertGreater(past, 4)
        self.assertIn(
            f"{way.settings.shutter.label} s is {past:.1f} stops past sync.", reasons(setup, way)[0]
        )


class TypedAsPeopleSayIt(unittest.TestCase):
    def test_settings_in_any_order_with_where_it_landed(self) -> None:
        # f/16 is 8 stops, 1/250 on the dial 2^-8 s, ISO 200 one: EV 15; landed two under mid-tone: EV 13.
        for text in (
            "f/16 1/250 ISO 200, −2",
            "1/250 f/16 200, -2",
            "ISO 200 f/16, 1/250; −2",
            "iso200 1/250 f16 landed at −2",
        ):
            with self.subTest(text=text):
                self.assertAlmostEqual(read_zone(text)[0], 13.0)
        self.assertAlmostEqual(read_zone("1/250, f/2,8")[0], 8 + 3)
        for text in (
            "f/16",
            "f/0 1/250",
            "1/250 f/8 ISO 0",
            "1/250 1/60 f/2",
            "f/16 1/250 wide",
            "f/16 1/250, −2, −1",
        ):
            with self.subTest(text=text), self.assertRaises(Unreadable):
                read_zone(text)

    def test_words_of_the_sky_and_lamps(self) -> None:
        # Offsets from full sun, EV 14.6: bright cloud −2, open shade −2.75. Lamps: common practice.
        for text, ev in (
            ("cloudy", 12.6),
            ("Bright overcast", 12.6),
            ("open shade", 11.85),
            ("fairy lights", 4.0),
            ("street lamps", 2.0),
        ):
            self.assertAlmostEqual(read_zone(text)[0], ev, msg=text)

    def test_powers_in_per_cent_and_in_the_heads_own_energy(self) -> None:
        self.assertAlmostEqual(read_power("60%"), 0.6)
        self.assertAlmostEqual(read_power("240 Ws", energy_ws=600), 0.4)
        with self.assertRaises(Unreadable) as caught:
            read_power("240 Ws")
        self.assertIn("energy of this light is not given", str(caught.exception))

    def test_a_power_of_any_length_is_a_figure_that_limits_refuse(self) -> None:
        for text in ("99999999", "−99999999", "1/4 +99999999"):
            power = read_power(text.removeprefix("−"), full_mark=10)
            self.assertFalse(1 / 8192 <= power <= 1)

    def test_who_is_in_the_picture(self) -> None:
        found = read_people("Fair in a white dress and brown in suit; deep")
        self.assertEqual([one["skin"] for one in found], ["fair", "brown", "deep"])
        self.assertEqual([one["wears"] for one in found], ["white dress", "dark suit", None])
        self.assertEqual(read_people(show_people(found)), found)
        with self.assertRaises(Unreadable):
            read_people("a tall one")

    def test_wind_and_several_distances(self) -> None:
        self.assertAlmostEqual(read_wind("20 knots"), 20 * 1852 / 3600, places=2)
        self.assertEqual(read_distances("2,2 m; 2.6, 3 m"), [2.2, 2.6, 3.0])


class Typed(unittest.TestCase):
    def test_what_makes_no_sense_is_said_with_what_would(self) -> None:
        cases = (
            (read_shutter, ("", "1/", "fast", "1/0", "-1/250", "1/250/2")),
            (read_aperture, ("", "f", "wide", "f/-2")),
            (read_distance, ("", "far", "8 miles", "-2", "2 m 3")),
            (read_ev, ("", "bright", "1e5", "--3")),
            (read_stops, ("", "1/0", "one", "+-1")),
            (read_filters, ("dark", "ND1", "3, x", "3-")),
        )
        for read, texts in cases:
            for text in texts:
                with self.subTest(read=read.__name__, text=text), self.assertRaises(Unreadable) as caught:
                    read(text)
                self.assertRegex(str(caught.exception), "Try ")

    def test_a_bare_whole_number_is_stops_up_to_sixteen_and_a_factor_from_there(self) -> None:
        for text, stops in (("16", 16), ("17", log2(17)), ("ND16", 4), ("16 stops", 16), ("64", 6)):
            self.assertAlmostEqual(read_filters(text)[0].least, stops, places=2, msg=text)

    def test_every_marked_density_is_read_as_one(self) -> None:
        # Optical density D takes D·log2(10) stops (ISO 5).
        for tenths in range(3, 31, 3):
            text = f"{tenths / 10:.1f}"
            self.assertAlmostEqual(read_filters(text)[0].least, tenths / 10 * log2(10), msg=text)

    def test_thirds_are_read_as_they_are_engraved_or_as_fractions(self) -> None:
        # A dial engraves a third as .3 and two as .7 (common practice).
        for text, stops in (
            ("2 1/3", 7 / 3),
            ("-2 2/3", -8 / 3),
            ("1/3", 1 / 3),
            ("+1.7", 5 / 3),
            ("0.5", 0.5),
        ):
            self.assertAlmostEqual(read_stops(text), stops, msg=text)
