"""Drills by their seeds: figures that happen, one right answer, the belief's answer wrong, and beliefs told
apart by what a pupil answers."""

import re
import unittest
from itertools import pairwise
from math import log2
from random import Random

from noggin.core.errors import Refused
from noggin.core.physics.dials import shutter_stops
from noggin.core.practice.beliefs import BELIEFS, BY_KEY
from noggin.core.practice.drills import MAKERS, SEEDS, Task, task

SEEDS_EACH = 300


def tasks(belief: str) -> list[Task]:
    """So many tasks of one drill, from seeds all over."""
    chance = Random(belief)  # noqa: S311 - repeatable, not secret
    return [task(belief, chance.randrange(SEEDS)) for _ in range(SEEDS_EACH)]


def stops_in(words: str) -> float:
    """A level as it is said: "−1.3 stops", "nothing changes"."""
    found = re.match(r"([+−]?[\d.]+) stops?$", words)
    return float(found[1].replace("−", "-")) if found else 0.0


class EveryTask(unittest.TestCase):
    def test_there_is_a_drill_for_each_belief(self) -> None:
        self.assertEqual(set(MAKERS), {belief.key for belief in BELIEFS})

    def test_one_answer_is_right_another_is_what_the_belief_says_and_none_is_there_twice(self) -> None:
        for belief in MAKERS:
            for asked in tasks(belief):
                with self.subTest(belief=belief, seed=asked.seed):
                    words = [one.words for one in asked.answers]
                    self.assertEqual(len(set(words)), len(words))
                    self.assertGreaterEqual(len(words), 3)
                    self.assertNotEqual(asked.right, asked.believed)
                    self.assertTrue(asked.asks.endswith("?"))
                    self.assertTrue(asked.why)

    def test_answers_in_stops_are_a_third_apart_and_off_by_what_they_say(self) -> None:
        for belief in MAKERS:
            for asked in tasks(belief):
                offs = [one.off for one in asked.answers]
                if None in offs:
                    self.assertEqual(set(offs), {None})
                    continue
                levels = [stops_in(one.words) for one in asked.answers]
                self.assertEqual(levels, sorted(levels))
                for level, off in zip(levels, offs, strict=True):
                    self.assertAlmostEqual(abs(level - levels[asked.right]), off or 0.0, delta=0.11)
                self.assertGreaterEqual(min(b - a for a, b in pairwise(levels)), 0.19)

    def test_a_seed_gives_the_same_task_each_time_and_others_give_others(self) -> None:
        for belief in MAKERS:
            self.assertEqual(task(belief, 11), task(belief, 11))
            self.assertGreater(len({one.asks for one in tasks(belief)}), 1, belief)

    def test_what_is_no_task_is_refused(self) -> None:
        for belief, seed in (("magic", 1), ("half_power", -1), ("half_power", SEEDS)):
            with self.assertRaises(Refused):
                task(belief, seed)
        with self.assertRaises(Refused):
            task("half_power", 1).off(9)


class ByHand(unittest.TestCase):
    """The right answer worked out again from the question's own words; sources beside each."""

    def figures(self, asked: Task, pattern: str) -> list[float]:
        found = re.search(pattern, asked.asks)
        assert found, asked.asks
        return [float(one) for one in found.groups()]

    def right(self, asked: Task) -> float:
        return stops_in(asked.answers[asked.right].words)

    def test_inverse_square(self) -> None:
        """Photometry: E falls with the square of the distance."""
        for asked in tasks("half_light"):
            near, far = self.figures(asked, r"head ([\d.]+) m from the face goes back to ([\d.]+) m")
            self.assertAlmostEqual(self.right(asked), -2 * log2(far / near), delta=0.06)

    def test_power_is_energy(self) -> None:
        for asked in tasks("half_power"):
            self.assertEqual(self.right(asked), -1.0 if "half" in asked.asks else -2.0)

    def test_glass_takes_from_everything(self) -> None:
        for asked in tasks("nd_daylight"):
            (nd,) = self.figures(asked, r"a (\d) ?-stop ND")
            self.assertEqual(self.right(asked), -nd)

    def test_within_sync_time_leaves_the_flash(self) -> None:
        for asked in tasks("time_dims_flash"):
            self.assertEqual(asked.answers[asked.right].words, "nothing changes")
            slow, fast = self.figures(asked, r"from 1/(\d+) s to 1/(\d+) s")
            believed = stops_in(asked.answers[asked.believed].words)
            self.assertAlmostEqual(believed, log2(slow / fast), delta=0.12)

    def test_the_toll_and_a_stop_for_each_stop_of_time(self) -> None:
        """Domain: F_hss(t) = F_full − toll − log2(t_sync/t)."""
        for asked in tasks("hss_power"):
            fast, toll = self.figures(asked, r"go to 1/(\d+) s .* toll is ([\d.]+) stops?")
            wanted = -toll - (shutter_stops(1 / fast) - shutter_stops(1 / 250))
            self.assertAlmostEqual(self.right(asked), wanted, delta=0.12)

    def test_closer_darkens_the_wall(self) -> None:
        for asked in tasks("closer_brightens"):
            behind, far, near = self.figures(
                asked, r"wall ([\d.]+) m behind .* from ([\d.]+) m to ([\d.]+) m"
            )
            before, after = (far / (far + behind)) ** 2, (near / (near + behind)) ** 2
            self.assertAlmostEqual(self.right(asked), log2(after / before), delta=0.06)

    def test_energy_goes_with_the_square_of_the_reach(self) -> None:
        for asked in tasks("twice_as_far"):
            energy, reach, more = self.figures(
                asked, r"A (\d+) Ws head is enough at ([\d.]+) m.* a (\d+) Ws"
            )
            said = float(asked.answers[asked.right].words.split()[0])
            self.assertAlmostEqual(said, reach * (more / energy) ** 0.5, delta=0.06)


class Pupils(unittest.TestCase):
    def test_who_holds_one_belief_is_known_by_the_drill_where_they_fail(self) -> None:
        """Each belief played as a pupil who answers as it says, and rightly elsewhere but for a slip in
        ten: ten drills of each name it."""
        chance = Random(13)  # noqa: S311 - repeatable, not secret
        named = 0
        for held in BY_KEY:
            held_to = dict.fromkeys(BY_KEY, 0)
            for belief in BY_KEY:
                for _ in range(10):
                    asked = task(belief, chance.randrange(SEEDS))
                    given = asked.believed if belief == held else asked.right
                    if chance.random() < 0.1:
                        given = chance.randrange(len(asked.answers))
                    held_to[belief] += given == asked.believed
            named += max(held_to, key=lambda key: held_to[key]) == held
        self.assertEqual(named, len(BY_KEY))
