"""A method that one move mends, shot: its lights begin where that move puts them."""

import unittest
from dataclasses import replace

from noggin.core.advice.preflight import preflight
from noggin.core.advice.remedies import first_help, remedies_of
from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import plan, where_it_works
from noggin.core.planning.way import Way
from noggin.core.pops.faults import diagnose
from noggin.core.pops.frame import Frame
from noggin.core.pops.judging import begun, with_flash
from noggin.core.pops.next_change import advise
from noggin.core.setup.setup import SetUp
from tests.core.planning.test_mend import SPARE
from tests.core.pops.test_estimate import SETUP
from tests.support import LIGHT, noon


def short_by_a_move() -> tuple[SetUp, Way]:
    """A set-up whose recommended method is one move away, and that method: ND at noon with a light that is
    half a stop short."""
    key = replace(LIGHT, gn_m=60 * 2 ** (-(SPARE + 0.5) / 2))
    setup = noon(lights=(key,), filters=(Filter("6", 6, 6),))
    found = plan(setup).chosen
    assert found is not None
    assert found.mend is not None
    return setup, found


class Begun(unittest.TestCase):
    def test_the_first_frame_is_dialled_where_the_move_puts_the_light(self) -> None:
        setup, way = short_by_a_move()
        (move,) = way.mend.moves if way.mend else ()
        dialled = begun(setup, way)
        self.assertEqual(dict(dialled.distances), {move.index: move.distance_m})
        there = where_it_works(way)
        self.assertEqual(dialled.powers[move.index], there.lighting.key.down)
        self.assertEqual(dialled.settings, there.settings)
        self.assertEqual(with_flash(setup, way, dialled), dialled)

    def test_the_list_before_the_first_frame_says_where_it_is_to_stand(self) -> None:
        setup, way = short_by_a_move()
        (move,) = way.mend.moves if way.mend else ()
        said = " ".join(check.does for check in preflight(setup, way))
        self.assertIn(f"{move.distance_m:g} m away", said)
        self.assertNotIn(f" {setup.key.distance_m:g} m away", said)

    def test_the_move_is_the_first_help(self) -> None:
        setup, way = short_by_a_move()
        helps = first_help(plan(setup))
        assert helps
        self.assertEqual(helps.key, "closer")
        self.assertEqual(remedies_of(setup, way)[0], helps)
        moved = replace(
            setup, lights=(replace(setup.key, distance_m=helps.change["lights[0].distance_m"]),)
        )
        self.assertTrue(plan(moved).way(way.key).feasible)

    def test_a_method_changed_to_after_a_frame_begins_there_too(self) -> None:
        setup, way = short_by_a_move()
        other = next(one for one in plan(setup).ways if one.key == "stop_down")
        taken = Frame(0, True, begun(setup, other))
        advice = advise(setup, way, diagnose(setup, [taken]).plain)
        assert advice.change
        (move,) = way.mend.moves if way.mend else ()
        self.assertAlmostEqual(advice.change.dialled.distances[0], move.distance_m, delta=0.06)

    def test_a_method_that_works_begins_as_planned(self) -> None:
        way = next(way for way in plan(SETUP).ways if way.feasible)
        self.assertEqual(where_it_works(way), way)
        self.assertEqual(dict(begun(SETUP, way).distances), {})
