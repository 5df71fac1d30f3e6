"""Commas in typed figures: thousands and decimals, the same everywhere (how figures are written in Britain
and on the Continent; ISO 80000-1 knows both decimal signs)."""

import unittest

from hypothesis import given
from hypothesis import strategies as some

from noggin.core.errors import Unreadable
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
from noggin.core.typed.parse_scene import read_zone
from noggin.core.typed.text import tidied
from noggin.forms.gear_light_entries import _read_durations

SINGLE = (read_aperture, read_distance, read_ev, read_stops)


class Commas(unittest.TestCase):
    @given(some.integers(1000, 999_999))
    def test_groups_of_three_are_one_figure(self, figure: int) -> None:
        self.assertEqual(tidied(f"{figure:,}"), str(figure))
        self.assertEqual(tidied(f"1/{figure:,}"), f"1/{figure}")

    @given(some.integers(0, 99), some.integers(0, 99))
    def test_a_comma_before_one_or_two_digits_is_a_decimal_point(self, whole: int, rest: int) -> None:
        self.assertEqual(tidied(f"{whole},{rest}"), f"{whole}.{rest}")

    def test_two_and_a_half_is_one_figure_everywhere(self) -> None:
        for read in SINGLE:
            with self.subTest(read=read.__name__):
                self.assertEqual(read("2,5"), read("2.5"))
        self.assertEqual(read_distances("2,5"), [2.5])
        self.assertEqual([glass.least for glass in read_filters("2,5 stops")], [2.5])
        self.assertEqual([glass.least for glass in read_filters("2,5 stops, 6")], [2.5, 6])
        self.assertAlmostEqual(read_power("62,5%"), 0.625)

    def test_thousands_where_they_are_written(self) -> None:
        self.assertEqual(read_shutter("1/8,000"), 1 / 8000)
        self.assertEqual(read_shutter("1,000"), 1 / 1000)
        self.assertEqual(read_shutter("0,125"), 0.125)
        self.assertEqual(read_zone("f/4 1/1,000 ISO 1,600"), read_zone("f/4 1/1000 ISO 1600"))
        self.assertEqual(_read_durations("1/1 1/300, 1/2 1/1,200"), [[1.0, 1 / 300], [0.5, 1 / 1200]])
        self.assertEqual(_read_durations("1/1 1/300,1/2 1/600"), [[1.0, 1 / 300], [0.5, 1 / 600]])

    def test_what_is_neither_is_asked_about(self) -> None:
        for text in ("1,00,000", "3,6,10", "2.5,1"):
            with self.subTest(text=text), self.assertRaises(Unreadable):
                read_filters(text)
