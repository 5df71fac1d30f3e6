"""What rows get inside the shutter, against sums over many short moments and the laws of planning."""

import unittest
from math import log2
from random import Random

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.errors import Refused
from noggin.core.physics.curtains import curtain_travel, edge_loss, lit_part
from noggin.core.physics.pulse import PULSE_CLASSES, Pulse
from noggin.core.physics.rows import Opening, Pop, floor_of_toll, share_of_pop, share_of_train
from tests.support import EXPLORE

CAMERAS = 200 if EXPLORE else 60
MOMENTS = 40_000


def summed(opening: Opening, pop: Pop, row: float) -> float:
    """A row's part of a pop, added up over many short moments from what a pop is: it decays by half in
    t0.5 (ISO 2827) and is cut when its power is out; no formula of the module takes part."""
    ends = pop.starts_s + 14 * pop.pulse.t05_s
    step = (ends - pop.starts_s) / MOMENTS
    given_out, caught = 0.0, 0.0
    whole = 0.0
    power = pop.power if pop.pulse.head == "cut" else 1.0
    for index in range(MOMENTS):
        at = pop.starts_s + (index + 0.5) * step
        light = 0.5 ** ((at - pop.starts_s) / pop.pulse.t05_s) * step
        whole += light
        given_out += light
        opens, closes = row * opening.travel_s, row * opening.travel_s + opening.time_s + opening.ramp_s
        if opens <= at <= closes:
            part = 1.0
            if opening.ramp_s:
                part = min(1.0, (at - opens) / opening.ramp_s, (closes - at) / opening.ramp_s)
            caught += light * part
        if power < 1 and given_out >= power * pop.pulse.t05_s / 0.6931471805599453:
            break
    return caught / given_out


def any_exposure(chance: Random) -> tuple[Opening, Pop]:
    """A camera of any kind, at a time from 1/60 to 1/4000, with any head at any power."""
    kind = chance.choice(["focal_plane", "leaf", "global", "rolling"])
    time_s = 2 ** -chance.uniform(6, 12)
    travel = chance.uniform(1 / 500, 1 / 60) if kind in ("focal_plane", "rolling") else 0.0
    ramp = min(chance.uniform(1 / 8000, 1 / 1000), time_s / 2) if kind == "leaf" else 0.0
    pulse = Pulse(chance.choice(["cut", "voltage"]), 2 ** -chance.uniform(8, 13))
    opening = Opening(kind, time_s, travel, ramp)
    late = chance.choice([0.0, chance.uniform(0, 0.001)])
    return opening, Pop(pulse, 2 ** -chance.uniform(0, 6), opening.ready_s + late)


class AgainstSums(unittest.TestCase):
    def test_shares_of_any_camera_and_light_are_what_adding_up_gives(self) -> None:
        chance = Random(30)  # noqa: S311 - repeatable, not secret
        lit = 0
        for number in range(CAMERAS):
            opening, pop = any_exposure(chance)
            row = chance.choice([0.0, 0.25, 0.5, 0.75, 1.0])
            found, wanted = share_of_pop(opening, pop, row), summed(opening, pop, row)
            lit += wanted > 0.01
            with self.subTest(number=number, opening=opening, pop=pop, row=row):
                self.assertLessEqual(abs(found - wanted), 0.01)
        self.assertGreater(lit, CAMERAS / 3)

    def test_the_part_of_the_frame_with_flash_is_the_planners(self) -> None:
        """Domain: min(1, t/T) of the frame is lit past sync, the rest is dark."""
        short = Pulse("cut", 1e-5)
        for time_s in (1 / 60, 1 / 250, 1 / 500, 1 / 1000, 1 / 4000):
            opening = Opening("focal_plane", time_s, 1 / 250)
            pop = Pop(short, 1 / 64, opening.ready_s)
            rows = [(index + 0.5) / 200 for index in range(200)]
            lit = sum(share_of_pop(opening, pop, row) > 0.5 for row in rows) / 200
            self.assertAlmostEqual(lit, lit_part(time_s, 1 / 250), delta=0.01)
            self.assertAlmostEqual(opening.lit_part, lit_part(time_s, 1 / 250))

    def test_the_first_row_to_close_loses_what_the_planner_says(self) -> None:
        slow = Pulse("voltage", 1 / 500)
        for time_s in (1 / 100, 1 / 160, 1 / 200):
            opening = Opening("focal_plane", time_s, 0.85 / 200)
            pop = Pop(slow, 1.0, opening.ready_s)
            first, last = (share_of_pop(opening, pop, row) for row in (0.0, 1.0))
            self.assertAlmostEqual(log2(first / last), edge_loss(slow, time_s, 0.85 / 200), places=6)

    def test_the_floor_of_high_speed_sync(self) -> None:
        """Domain: 0.89 stop with T = 0.85·t at the sync speed; a row's share is t/(T + t)."""
        self.assertAlmostEqual(floor_of_toll(1 / 200, curtain_travel(1 / 200)), 0.89, places=2)
        at_sync = Opening("focal_plane", 1 / 200, curtain_travel(1 / 200))
        self.assertAlmostEqual(-log2(share_of_train(at_sync, 0.5)), 0.89, places=2)

    def test_a_global_shutter_and_a_leaf_without_ramps_catch_what_the_planner_says(self) -> None:
        for head in PULSE_CLASSES.values():
            for time_s in (1 / 500, 1 / 1600):
                opening = Opening("global", time_s)
                found = share_of_pop(opening, Pop(head.pulse, 1.0, 0.0), 0.4)
                self.assertAlmostEqual(log2(found), head.pulse.caught(time_s), places=9)


exposures = st.integers(0, 10_000).map(lambda seed: any_exposure(Random(seed)))  # noqa: S311
rows = st.floats(0, 1)


class Laws(unittest.TestCase):
    @given(exposures, rows, st.floats(0, 1), st.floats(0, 1))
    def test_light_only_adds_up_and_never_past_all_of_it(
        self, exposure: tuple[Opening, Pop], row: float, one: float, other: float
    ) -> None:
        opening, pop = exposure
        early, late = sorted((one * opening.whole_s, other * opening.whole_s))
        ends = (share_of_pop(opening, pop, row, at) for at in (early, late, None))
        before, then, whole = ends
        self.assertLessEqual(before, then + 1e-4)
        self.assertLessEqual(then, whole + 1e-4)
        self.assertLessEqual(whole, 1 + 1e-9)

    @given(exposures, rows)
    def test_every_row_gets_the_same_daylight(self, exposure: tuple[Opening, Pop], row: float) -> None:
        opening, _ = exposure
        self.assertAlmostEqual(opening.daylight_s(row, opening.whole_s), opening.time_s, places=9)
        self.assertEqual(opening.daylight_s(row, opening.opens_s(row)), 0.0)

    @given(exposures, st.floats(0, 2))
    def test_the_second_curtain_never_overtakes_the_first(
        self, exposure: tuple[Opening, Pop], part: float
    ) -> None:
        opening, _ = exposure
        first, second = opening.passed(part * opening.whole_s)
        self.assertLessEqual(second, first)


class Refusals(unittest.TestCase):
    def test_what_cannot_be_is_refused_by_name(self) -> None:
        for name, kind, figures in (
            ("shutter", "magic", {}),
            ("time_s", "leaf", {"time_s": 100.0}),
            ("travel_s", "global", {"travel_s": 0.004}),
            ("ramp_s", "focal_plane", {"ramp_s": 0.001}),
            ("ramp_s", "leaf", {"ramp_s": 0.9}),
        ):
            with self.subTest(name=name, kind=kind), self.assertRaises(Refused) as refused:
                Opening(kind, **{"time_s": 1 / 500, **figures})
            self.assertEqual(refused.exception.name, name)
