"""What is said of colour: by sun, sky and gels, against the camera's setting."""

import unittest
from dataclasses import replace

from noggin.core.advice.white_balance import colour_rows, colours, look_of
from noggin.core.errors import OutOfRange
from noggin.core.layout.standing import layout_of, sun_over
from noggin.core.planning.plan import plan
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, MOMENT, noon

LOW = replace(
    MOMENT, place=replace(MOMENT.place, facing_deg=290.0), time=MOMENT.time.replace(hour=21, minute=0)
)


def rows(setup: SetUp) -> dict[str, str]:
    return dict(colour_rows(setup, plan(setup).way("nd")))


class ColourRows(unittest.TestCase):
    def test_a_background_at_sunset_is_warm_and_asks_for_a_gel(self) -> None:
        found = rows(noon(moment=LOW))
        self.assertIn("5,600 K, so that the key is neutral", found["white balance"])
        self.assertTrue(found["the background looks"].startswith("warm"))
        self.assertIn("CTO on the key", found["the background looks"])

    def test_behind_a_gelled_key_the_background_turns_blue(self) -> None:
        gelled = noon(lights=(replace(LIGHT, gel="full_cto"),))
        found = rows(gelled)
        self.assertIn("3,000 K", found["white balance"])
        self.assertTrue(found["the background looks"].startswith("blue"))
        self.assertNotIn("CTO", found["the background looks"])

    def test_what_was_read_and_set_counts(self) -> None:
        found = rows(noon(daylight_k=4200, white_balance_k=4200))
        self.assertEqual(found["colour of daylight"], "about 4,200 K, read")
        self.assertEqual(found["white balance"], "4,200 K, as you set it")
        self.assertTrue(found["the background looks"].startswith("neutral"))

    def test_both_sides_of_each_edge(self) -> None:
        # 5,600 K are 178.6 mired.
        for off, words in ((19, "neutral"), (21, "a little warm"), (59, "a little warm"), (61, "warm")):
            self.assertTrue(look_of(1e6 / (1e6 / 5600 + off), 5600).startswith(words), off)
        self.assertTrue(look_of(1e6 / (1e6 / 5600 - 61), 5600).startswith("blue"))

    def test_grass_throws_green_up_where_daylight_counts(self) -> None:
        shade = noon(moment=MOMENT, subject=13.6)
        self.assertIn("green from below", rows(shade))
        self.assertNotIn("green from below", rows(noon(moment=MOMENT, subject=9.0)))
        paved = replace(MOMENT, place=replace(MOMENT.place, ground="paving"))
        self.assertNotIn("green from below", rows(noon(moment=paved, subject=13.6)))

    def test_lamps_warm_what_they_light(self) -> None:
        bare, lit = (noon(background=4.0, subject=2.0, lamps_background=lamps) for lamps in (None, 4.0))
        seen = [colours(one, plan(one).way("nd"), sun_over(one, layout_of(one))) for one in (bare, lit)]
        self.assertLess(seen[1].background, seen[0].background - 2000)

    def test_no_such_colour(self) -> None:
        for field in ("daylight_k", "white_balance_k"):
            with self.assertRaises(OutOfRange):
                noon(**{field: 200.0})


if __name__ == "__main__":
    unittest.main()
