"""How figures are written, at the edges where the writing changes: as WORDS asks, no more digits than a
dial has."""

import unittest

from noggin.core.wording import (
    distances_in,
    duration,
    listed,
    metres,
    metres_span,
    number,
    percent,
    plain,
    shutter_time,
    signed,
    signed_stops,
    stops,
)


class Figures(unittest.TestCase):
    def test_stops_are_said_in_the_singular_up_to_one(self) -> None:
        for value, said in (
            (0, "0 stops"), (0.04, "0 stops"), (0.05, "0.1 stop"), (1, "1 stop"), (1.04, "1 stop"),
            (1.06, "1.1 stops"), (-1, "−1 stop"), (-1.2, "−1.2 stops"),
        ):  # fmt: skip
            self.assertEqual(stops(value), said)
        self.assertEqual(
            [signed_stops(value) for value in (1.0, 1.1, -0.4)], ["+1.0 stop", "+1.1 stops", "−0.4 stop"]
        )

    def test_signs(self) -> None:
        self.assertEqual(
            [signed(value) for value in (0.05, 0.04, -0.04, -0.06)], ["+0.1", "0.0", "0.0", "−0.1"]
        )
        self.assertEqual((plain(-0.04), plain(-0.06), signed(1.26, 2)), ("0.0", "−0.1", "+1.26"))

    def test_numbers_that_are_very_large_very_small_or_none(self) -> None:
        for value, said in (
            (0.0, "0"), (1e9, "1e+09"), (999_999_999.0, "999999999"), (0.000001234567891, "0.000001234568"),
            (float("nan"), "not a number"), (float("-inf"), "−infinity"), (-2.5, "−2.5"),
        ):  # fmt: skip
            self.assertEqual(number(value), said)

    def test_distances_lose_digits_as_they_grow(self) -> None:
        for value, said in (
            (9.99, "9.99 m"), (10.0, "10 m"), (10.46, "10.5 m"), (99.9, "99.9 m"),
            (100.0, "100 m"), (2000.0, "2,000 m"),
        ):  # fmt: skip
            self.assertEqual(metres(value), said)
        self.assertEqual((metres(None), metres_span(3.12, None)), ("∞", "3.12 m – ∞"))
        with distances_in("ft"):
            # 0.3048 m to the foot (the international foot, 1959).
            self.assertEqual(
                [metres(feet * 0.3048) for feet in (10.5, 99.94, 100)], ["10.5 ft", "99.9 ft", "100 ft"]
            )

    def test_times(self) -> None:
        for value, said in (
            (1 / 9999, "1/9999 s"), (1 / 10_000, "1/10,000 s"), (1 / 1500, "1/1500 s"), (0.29, "1/3 s"),
            (0.3, "0.3 s"), (2.0, "2.0 s"),
        ):  # fmt: skip
            self.assertEqual(duration(value), said)
        self.assertEqual(
            [shutter_time(value) for value in (1 / 4, 0.3, 1 / 180, 2)], ["1/4", "0.3", "1/180", "2"]
        )

    def test_shares_and_lists(self) -> None:
        self.assertEqual((percent(0.004), percent(0.928), percent(1)), ("0%", "93%", "100%"))
        self.assertEqual(
            [listed(["A", "B", "C"][:count]) for count in range(4)], ["", "A", "A and B", "A, B and C"]
        )
        self.assertEqual(listed(["A", "B"], "or"), "A or B")
