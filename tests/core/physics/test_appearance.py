"""How levels look, at their edges: against ISO 12232, IEC 61966-2-1 and the table of moods."""

import unittest
from itertools import pairwise
from math import log2

from noggin.core.physics.appearance import (
    BLACK,
    CLIP,
    CLOTHES,
    DARK_SUIT,
    MID_GREY,
    MOODS,
    NAMED_LEVELS,
    SKINS,
    WHITE_DRESS,
    clipping_level,
    clips,
    mood,
    tone,
)


class Clipping(unittest.TestCase):
    def test_saturation_lies_three_stops_over_mid_tone(self) -> None:
        # ISO 12232: 78 lx·s at saturation against 10 lx·s at mid-tone, 2.96 stops.
        self.assertAlmostEqual(CLIP, 2.963, places=3)
        self.assertEqual((clips(CLIP), clips(CLIP - 1e-9)), (True, False))
        self.assertEqual((clips(2.0, 2.0), clips(1.999, 2.0)), (True, False))

    def test_an_extended_low_iso_clips_stop_for_stop_sooner_and_a_high_one_no_later(self) -> None:
        for iso, base, level in (
            (-1.0, 0.0, CLIP - 1),
            (-1 / 3, 0.0, CLIP - 1 / 3),
            (0.0, 0.0, CLIP),
            (2.0, 0.0, CLIP),
        ):
            self.assertAlmostEqual(clipping_level(iso, base), level)

    def test_what_people_wear(self) -> None:
        # ../shared/DOMAIN.md, §3, over a mid-tone of 11.9 %: to a tenth of a stop; black from −5.5 down.
        found = {row.label: round(row.offset, 1) for row in (*SKINS.values(), *CLOTHES.values())}
        for label, offset in (
            ("white dress", 2.6),
            ("fair skin", 1.6),
            ("medium skin", 0.9),
            ("brown skin", 0.3),
            ("deep skin", -0.4),
            ("dark suit", -2.0),
        ):
            self.assertEqual(found[label], offset)
        self.assertEqual((WHITE_DRESS, DARK_SUIT), (log2(0.70 / 0.119), log2(0.03 / 0.119)))
        self.assertEqual(BLACK, -5.5)


class Screen(unittest.TestCase):
    def test_mid_tone_is_118_and_clipping_is_white(self) -> None:
        self.assertEqual(MID_GREY, 0.18)
        self.assertAlmostEqual(255 * tone(0.0), 117.6, delta=0.1)  # 18% through the sRGB curve
        self.assertEqual(tone(CLIP), 1.0)
        self.assertLess(tone(CLIP - 0.01), 1.0)
        self.assertGreater(tone(CLIP - 0.01), 0.995)

    def test_deep_shadows_are_straight_and_join_the_curve(self) -> None:
        # IEC 61966-2-1: 12.92·L up to 0.0031308. There is no jump where the two meet.
        low = [tone(log2(0.0031308 / 0.18) + step / 1000) for step in range(-200, 201)]
        self.assertTrue(all(0 < after - before < 0.0005 for before, after in pairwise(low)))
        self.assertAlmostEqual(tone(-9.0) / tone(-10.0), 2.0, delta=0.01)


class Moods(unittest.TestCase):
    def test_each_name_holds_down_to_its_level(self) -> None:
        names = [(0.25, "bright"), *MOODS]
        self.assertEqual([level for level, _ in names], [0.25, -0.25, -0.75, -1.25, -2.5, -4.25, -5.5])
        for (level, name), (_, below) in zip(names, [*MOODS, (None, "black")], strict=True):
            with self.subTest(level=level):
                self.assertEqual((mood(level + 1e-6), mood(level)), (name, below))

    def test_what_is_chosen_by_name_is_called_so(self) -> None:
        chosen = {
            "natural": "natural",
            "airy": "airy, with detail",
            "balanced": "balanced",
            "dramatic": "dramatic",
        }
        for name, called in {**chosen, "dusk at noon": "dusk at noon", "black": "black"}.items():
            self.assertEqual(mood(NAMED_LEVELS[name]), called)
