"""What a folded group of figures says."""

import unittest
from dataclasses import replace

from noggin.core.advice.states import states
from tests.support import LIGHT, noon


class States(unittest.TestCase):
    def test_each_group_in_a_line(self) -> None:
        self.assertEqual(
            states(noon()),
            {
                "composition": "85 mm, faces at 3.2 m, background at 40 m",
                "daylight": "background EV 14.6, faces EV 12.0",
                "intention": "background −1.0, faces 0.0, f/2",
                "filters": "6-stop ND; sync 1/200 s",
                "lights": "Large head at 2.5 m",
            },
        )

    def test_what_is_out_of_the_ordinary_is_named(self) -> None:
        rim = replace(LIGHT, role="rim", name="", distance_m=4.0)
        found = states(noon(filters=(), school="match", lights=(LIGHT, rim)))
        self.assertEqual(found["filters"], "no filters; sync 1/200 s")
        self.assertEqual(found["intention"], "background −1.0, faces 0.0, f/2, match the aperture")
        self.assertEqual(found["lights"], "Large head at 2.5 m, rim at 4 m")
