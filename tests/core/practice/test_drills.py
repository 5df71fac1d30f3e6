"""Drills by their seeds: figures that happen, right answers that follow, and answers that come from beliefs
wrong."""

import re
import unittest
from functools import cache
from itertools import pairwise
from math import log2
from random import Random

from noggin.core.errors import Refused
from noggin.core.physics.appearance import CLOTHES
from noggin.core.physics.dials import shutter_stops
from noggin.core.practice.beliefs import BELIEFS
from noggin.core.practice.drills import DRILLS, task
from noggin.core.practice.task import SEEDS, Task
from tests.support import EXPLORE

SEEDS_EACH = 300

SLOW = {"pick_way": 10, "find_fault": 10, "both_fell": 40, "daylight_fell": 40, "flash_fell": 40}
"""Drills whose tasks take a whole plan to make: so many of each, and SEEDS_EACH with NOGGIN_EXPLORE."""


@cache
def tasks(drill: str) -> tuple[Task, ...]:
    """So many tasks of one drill, from seeds all over."""
    chance = Random(drill)  # noqa: S311 - repeatable, not secret
    count = SEEDS_EACH if EXPLORE else SLOW.get(drill, SEEDS_EACH)
    return tuple(task(drill, chance.randrange(SEEDS)) for _ in range(count))


def stops_in(words: str) -> float:
    """A level as it is said: "−1.3 stops", "nothing changes"."""
    found = re.match(r"([+−]?[\d.]+) stops?$", words)
    return float(found[1].replace("−", "-")) if found else 0.0


class EveryTask(unittest.TestCase):
    def test_every_belief_is_told_by_a_drill_of_its_own_and_drills_tell_beliefs(self) -> None:
        known = {belief.key for belief in BELIEFS}
        self.assertLessEqual(known, {*DRILLS})
        for drill in DRILLS.values():
            self.assertLessEqual({*drill.beliefs}, known)
            self.assertTrue(drill.beliefs)
        for belief in known:
            self.assertEqual(DRILLS[belief].beliefs, (belief,))

    def test_answers_are_right_or_come_from_a_belief_that_the_drill_tells_and_none_is_there_twice(
        self,
    ) -> None:
        for drill in DRILLS.values():
            held = set()
            for asked in tasks(drill.key):
                with self.subTest(drill=drill.key, seed=asked.seed):
                    words = [one.words for one in asked.answers]
                    self.assertEqual(len(set(words)), len(words))
                    self.assertGreaterEqual(len(words), 3)
                    self.assertTrue(asked.right)
                    self.assertLess(len(asked.right), len(words))
                    self.assertTrue(asked.asks.endswith("?"))
                    self.assertTrue(asked.why)
                    beliefs = [one.belief for one in asked.answers if one.belief]
                    self.assertLessEqual({*beliefs}, {*drill.beliefs})
                    self.assertFalse([place for place in asked.right if asked.answers[place].belief])
                    held |= {*beliefs}
            if drill.key in {belief.key for belief in BELIEFS}:
                self.assertEqual(held, {drill.key})

    def test_answers_in_stops_are_a_third_apart_and_off_by_what_they_say(self) -> None:
        for drill in DRILLS:
            for asked in tasks(drill):
                offs = [one.off for one in asked.answers]
                if None in offs:
                    self.assertEqual(set(offs), {None})
                    continue
                levels = [stops_in(one.words) for one in asked.answers]
                self.assertEqual(levels, sorted(levels))
                (right,) = asked.right
                for level, off in zip(levels, offs, strict=True):
                    self.assertAlmostEqual(abs(level - levels[right]), off or 0.0, delta=0.11)
                self.assertGreaterEqual(min(b - a for a, b in pairwise(levels)), 0.19)

    def test_a_seed_gives_the_same_task_each_time_and_others_give_others(self) -> None:
        for drill in DRILLS:
            self.assertEqual(_told(task(drill, 11)), _told(task(drill, 11)))
            found = {(one.asks, one.right_words, *(p.words for p in one.pictures)) for one in tasks(drill)}
            self.assertGreater(len(found), 1, drill)

    def test_what_is_no_task_is_refused(self) -> None:
        for drill, seed in (("magic", 1), ("half_power", -1), ("half_power", SEEDS)):
            with self.assertRaises(Refused):
                task(drill, seed)
        with self.assertRaises(Refused):
            task("half_power", 1).answer(9)


def _told(asked: Task) -> tuple[object, ...]:
    """What of a task can be compared."""
    shown = tuple((one.caption, one.words, one.setup) for one in asked.pictures)
    return asked.asks, asked.answers, asked.right, asked.why, shown


class ByHand(unittest.TestCase):
    """The right answer worked out again from the question's own words; sources beside each."""

    def figures(self, asked: Task, pattern: str) -> list[float]:
        found = re.search(pattern, asked.asks)
        assert found, asked.asks
        return [float(one) for one in found.groups()]

    def right(self, asked: Task) -> float:
        return stops_in(asked.right_words)

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
            self.assertEqual(asked.right_words, "nothing changes")
            slow, fast = self.figures(asked, r"from 1/(\d+) s to 1/(\d+) s")
            self.assertAlmostEqual(stops_in(believed(asked)), log2(slow / fast), delta=0.12)

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
            said = float(asked.right_words.split()[0])
            self.assertAlmostEqual(said, reach * (more / energy) ** 0.5, delta=0.06)

    def test_half_the_distance_is_two_stops_and_half_the_power_one(self) -> None:
        for asked in tasks("distance_and_power"):
            (at,) = self.figures(asked, r"right at 1/(\d+)")
            self.assertEqual(asked.right_words, f"1/{4 * at:.0f}")
            self.assertEqual(believed(asked, "half_light"), f"1/{2 * at:.0f}")
            self.assertEqual(believed(asked, "half_power"), f"1/{16 * at:.0f}")

    def test_a_reflected_reading_brings_what_it_sees_to_mid_tone(self) -> None:
        """ISO 2720: mid-tone is K/C = 12.5·π/330 = 11.9 %; an 18 % card lies 0.60 stop over it."""
        seen = {"white dress": 0.70, "dark suit": 0.03, "grey card": 0.18}
        for asked in tasks("reflected_reading"):
            reflectance = next(seen[name] for name in seen if name in asked.asks)
            self.assertAlmostEqual(self.right(asked), -log2(reflectance / 0.119), delta=0.06)

    def test_a_share_is_flash_against_daylight(self) -> None:
        """Domain: 20 % share = flash two stops under ambient."""
        for asked in tasks("share_reading"):
            (share,) = self.figures(asked, r"says (\d+)% flash")
            self.assertAlmostEqual(self.right(asked), log2(share / (100 - share)), delta=0.07)

    def test_automatic_flash_brings_the_mean_back(self) -> None:
        for asked in tasks("auto_knows"):
            (part,) = self.figures(asked, r"fills (\d+)%")
            worn = CLOTHES["white dress" if "white dress" in asked.asks else "dark suit"].reflectance
            mean = (part * worn + (100 - part) * 0.15) / 100
            self.assertAlmostEqual(self.right(asked), log2(0.15 / mean), delta=0.06)


def believed(asked: Task, belief: str = "") -> str:
    """What somebody answers who holds a belief, the drill's own where none is said."""
    return next(one.words for one in asked.answers if one.belief == (belief or asked.drill))
