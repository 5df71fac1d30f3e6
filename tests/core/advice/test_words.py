"""Cautions by their rules, and the words that carry advice and reasons."""

import unittest
from dataclasses import replace
from typing import Any

from noggin.core.advice.cautions import RULES, cautions
from noggin.core.errors import Unreadable
from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Plan, Way
from noggin.core.typed.parse_quantities import (
    read_aperture,
    read_distance,
    read_ev,
    read_filters,
    read_shutter,
    read_stops,
)
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
            ("rim_clips", "nd", {"rim": 19.0}, {"rim": 18.0}),
            ("dress_clips", "nd", {"subject_level": 0.8}, {"subject_level": 0.5}),
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
        way = plan(noon(lights=(LIGHT, fill))).way("nd")
        said = " ".join(way.cautions)
        self.assertIn("close to the eyes (0.60 m)", said)
        self.assertIn("A face 1.0 m across is a sail", said)

    def test_every_rule_has_words(self) -> None:
        planned = plan(noon(sky=19.5, rim=19.5, subject_level=1.0, school="auto"))
        for way in planned.ways:
            self.assertTrue(all(len(words) > 20 for words in cautions(planned.setup, way)))


class Advice(unittest.TestCase):
    def test_by_each_preference(self) -> None:
        for prefer, words in (
            ("reach", "reach first: +1.3 stops in reserve, as much as Stop down, at f/2 as wanted"),
            ("speed", "the shutter takes the surplus, with less to handle than"),
            ("glass", "no filter on the lens, and f/2.5 is nearer what is wanted than Stop down"),
        ):
            chosen = plan(noon(prefer=prefer)).chosen
            assert chosen is not None
            self.assertIn(words, chosen.reasons[0])

    def test_alone_within_sync_and_without_any_way(self) -> None:
        only = plan(noon(filters=(), lights=(replace(LIGHT, hss_toll=None),))).chosen
        assert only is not None
        self.assertEqual(only.reasons[0], "Advised: Stop down is the only way that can be.")
        fits = plan(noon(aperture=16.0)).chosen
        assert fits is not None
        self.assertIn("fits as it is", fits.reasons[0])
        none = plan(noon(lights=(replace(LIGHT, gn_m=1, distance_m=20),)))
        self.assertIsNone(none.chosen)
        self.assertRegex(none.advice, "^No way can .* Nearest: ND at sync, .* stops of flash")

    def test_an_aperture_that_had_to_close_is_not_called_wanted(self) -> None:
        # Daylight is enough, the 5-stop filter alone is not: f/2.8 with it, or stopped down without.
        bright = plan(
            noon(subject=16.0, filters=(Filter("5", 5, 5),), lights=(replace(LIGHT, hss_toll=None),))
        )
        self.assertEqual(bright.advice, "Advised, reach first: no flash is needed, at f/2.8.")

    def test_the_lesson_names_the_greatest_reserve_whatever_the_order(self) -> None:
        for prefer in ("reach", "speed", "glass"):
            lesson = plan(noon(prefer=prefer)).lesson
            self.assertIn("keep the full reach (+1.3)", lesson)
            self.assertIn("ND at sync", lesson)
            self.assertNotIn("Mixed", lesson)


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
                self.assertRegex(str(caught.exception), "like|divides by zero|type")
