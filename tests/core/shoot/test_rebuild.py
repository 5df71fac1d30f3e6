"""What must be rebuilt between two set-ups."""

import unittest
from dataclasses import replace
from typing import Any
from zoneinfo import ZoneInfo

from noggin.core.setup.setup import SetUp
from noggin.core.shoot.rebuild import MOVED, rebuild
from noggin.core.shoot.timeline import Placement, Slot
from tests.support import LIGHT, MOMENT, noon

ZONE = ZoneInfo("Europe/Madrid")


class Rebuild(unittest.TestCase):
    def slot(self, setup: SetUp, hour: int = 13) -> Slot:
        start = MOMENT.time.replace(hour=hour)
        return Slot(Placement(setup, MOMENT.place, start.date(), ZONE), start, 20)

    def said(self, before: SetUp, after: SetUp) -> tuple[str, ...]:
        return rebuild(self.slot(before), self.slot(after))

    def key(self, **changes: Any) -> SetUp:
        return noon(lights=(replace(LIGHT, **changes),))

    def test_the_same_set_up_needs_nothing(self) -> None:
        self.assertEqual(self.said(noon(), noon()), ())

    def test_a_light_that_moves_comes_or_goes(self) -> None:
        rim = replace(LIGHT, role="rim", name="Speedlight", distance_m=4.0)
        both = noon(lights=(LIGHT, rim))
        self.assertIn("set up the rim, Speedlight at 4 m", self.said(noon(), both))
        self.assertIn("take down the rim, Speedlight", self.said(both, noon()))
        nearer = self.said(noon(), self.key(distance_m=1.8))
        self.assertIn("key, Large head: to 1.8 m, was 2.5 m", nearer)

    def test_what_is_nearer_than_a_hand_stays(self) -> None:
        for moved, said in ((MOVED * 0.9, False), (MOVED * 1.1, True)):
            found = self.said(noon(), self.key(distance_m=2.5 + moved))
            self.assertEqual(any("was 2.5 m" in words for words in found), said)

    def test_modifier_grid_gel_and_lens(self) -> None:
        self.assertIn(
            "key, Large head: another modifier", self.said(noon(), self.key(loss=1.5, radius_m=0.5))
        )
        self.assertIn(
            "key, Large head: another modifier with a grid", self.said(noon(), self.key(grid=True))
        )
        self.assertTrue(any("CTO" in words for words in self.said(noon(), self.key(gel="full_cto"))))
        self.assertIn("key, Large head: gel off", self.said(self.key(gel="full_cto"), noon()))
        longer = replace(noon(), lens=replace(noon().lens, focal_mm=135))
        self.assertIn("lens: 135 mm, was 85 mm", self.said(noon(), longer))

    def test_the_filter_of_the_planned_way(self) -> None:
        day, night = self.slot(noon()), self.slot(noon(), hour=22)
        self.assertIn("filter off", rebuild(day, night))
        self.assertIn("filter: 6-stop ND", rebuild(night, day))
