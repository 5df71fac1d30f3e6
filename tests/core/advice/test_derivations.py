"""Why a figure is what it is: where terms are added, they come to the figure they explain."""

import unittest

from hypothesis import given

from noggin.core.advice.comparison import comparison
from noggin.core.advice.derivations import DERIVATIONS, Step
from noggin.core.advice.way_table import ROWS, figures
from noggin.core.planning.plan import plan
from noggin.core.setup.setup import SetUp
from tests.support import fewer, noon, setups


def figure(step: Step) -> float:
    """A step's figure as a number."""
    return float(step.figure.replace("−", "-").replace("+", ""))


class Derivations(unittest.TestCase):
    def test_every_row_of_the_table_has_one(self) -> None:
        self.assertEqual(set(DERIVATIONS), {row.key for row in ROWS})

    @given(setups())
    @fewer(30)
    def test_each_has_steps_and_those_of_daylight_add_up(self, setup: SetUp) -> None:
        for way in plan(setup).ways:
            for derivation in DERIVATIONS.values():
                self.assertTrue(list(derivation.steps(setup, way)))
            zone, *terms, level = list(DERIVATIONS["daylight"].steps(setup, way))
            self.assertAlmostEqual(
                figure(zone) + sum(map(figure, terms)), figure(level), delta=0.01 * (len(terms) + 2)
            )

    @given(setups())
    @fewer(30)
    def test_the_reserve_is_the_full_pop_less_the_need(self, setup: SetUp) -> None:
        for way in plan(setup).ways:
            steps = {step.what: step for step in DERIVATIONS["reserve"].steps(setup, way)}
            if "reserve" not in steps:
                continue
            full, need = figure(steps["full power"]), figure(steps["key must give"])
            self.assertAlmostEqual(full - need, figure(steps["reserve"]), delta=0.021)

    def test_by_hand(self) -> None:
        # The noon example by a filter: 11.81 − 2.64 − 2.00 − 6.00 = 1.17; −0.12 is needed: 1.29.
        way = plan(noon()).way("nd")
        said = [step.figure for step in DERIVATIONS["reserve"].steps(noon(), way)]
        self.assertEqual(said[:5], ["+11.81", "−2.64", "−2.00", "−6.00", "+1.17"])
        self.assertIn("+1.29", said)
        self.assertEqual(figures(way)["reserve"].split(" ")[0], "+1.3")


class Comparison(unittest.TestCase):
    def test_only_what_differs_and_both_ways_of_it(self) -> None:
        self.assertEqual(comparison(plan(noon()), plan(noon())), ())
        found = {row.label: row for row in comparison(plan(noon()), plan(noon(background=15.6)))}
        self.assertEqual(found["High-speed sync"].before, "0.2 stop to spare")
        # A stop brighter behind: the aperture would close a stop more, and the flash be 0.9 short. Daylight
        # is held within a third, and the light that is short is what is left.
        self.assertEqual(found["High-speed sync"].after, "0.3 stop too bright")
        self.assertEqual((found["recommended"].before, found["recommended"].after), ("ND at sync", "Mixed"))
        self.assertNotIn("ISO", found)
