"""Drills with a camera: what can be set is set, what is advised is as quick as the benchmark of pops, and
what somebody does who holds a belief names it."""

import shutil
import unittest
from dataclasses import replace
from random import Random
from statistics import median

from noggin.core.errors import Refused
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.pops.faults import diagnose
from noggin.core.pops.frame import Dialled, Frame, LevelSeen
from noggin.core.pops.judging import begun
from noggin.core.pops.next_change import advise
from noggin.core.practice.assignments import CAMERA_DRILLS, FRAMES_MOST, PAR, Assignment
from noggin.services.practice import practice
from noggin.services.practice.camera import BETWEEN_MIN, HIDDEN_SAID, Played, assignment_of, finished, play
from noggin.store.store import Store
from tests.support import EXPLORE, AppCase, ready_database

SEEDS_EACH = 300 if EXPLORE else 5
PLAYERS = 100 if EXPLORE else 12
RAW_DEVIATION = 0.1
"""Half the ± of a raw file's patch."""


def assignments(drill: str) -> list[Assignment]:
    chance = Random(drill)  # noqa: S311 - repeatable, not secret
    return [assignment_of(drill, chance.randrange(2**31)) for _ in range(SEEDS_EACH)]


def followed(task: Assignment) -> Played:
    """Somebody who keeps the picture as it is kept."""
    return play(task, [task.places(task.followed(moment)) for moment in range(len(task.sunk))])


def advised(task: Assignment) -> int:
    """How many frames somebody needs who does what Noggin advises, reading raw files."""
    chance = Random(task.seed)  # noqa: S311 - repeatable, not secret
    setup = task.setup
    way: Way = plan(setup).ways[0]
    dialled: Dialled = begun(setup, way)
    frames: list[Frame] = []
    played = play(task, [])
    while not played.over:
        dialled = task.dialled(task.places(dialled))
        played = played.fires(task.places(dialled))
        came_out = played.shown[-1].picture.came_out or {}
        seen = tuple(
            LevelSeen(zone, level + chance.gauss(0, RAW_DEVIATION), "raw")
            for zone, level in came_out.items()
        )
        frames.append(Frame(BETWEEN_MIN * len(frames), True, dialled, seen))
        change = advise(setup, way, diagnose(setup, frames).estimate).change
        if change is None:
            break
        dialled = change.dialled
    return len(played.shown) if played.fired[-1].right else FRAMES_MOST


class Assignments(unittest.TestCase):
    def test_each_can_be_done_with_what_can_be_dialled(self) -> None:
        for drill in CAMERA_DRILLS:
            for task in assignments(drill):
                with self.subTest(drill=drill, seed=task.seed):
                    if task.follows:
                        played = followed(task)
                    else:
                        played = play(task, [])
                        played = played.fires(task.places(played.solution))
                    self.assertTrue(played.over)
                    self.assertTrue(task.passed(played.fired), [one.off for one in played.fired])
                    self.assertIsNone(task.told(task, played.fired))

    def test_who_does_what_is_advised_needs_no_more_frames_than_the_benchmark_of_pops(self) -> None:
        """By raw files: 2 in the median and 3 at the 95th percentile (benchmarks/at_the_spot)."""
        chance = Random(5)  # noqa: S311 - repeatable, not secret
        needed = sorted(
            advised(assignment_of("fewest_frames", chance.randrange(2**31))) for _ in range(PLAYERS)
        )
        self.assertLessEqual(median(needed), 2)
        self.assertLessEqual(needed[int(0.95 * (len(needed) - 1))], PAR)

    def test_what_is_hidden_is_hidden_and_the_same_frames_give_the_same_pictures(self) -> None:
        task = assignment_of("fewest_frames", 11)
        planned = task.places(begun(task.setup, plan(task.setup).ways[0]))
        once, again = play(task, [planned]), play(task, [planned])
        self.assertEqual(once.shown[0].picture.came_out, again.shown[0].picture.came_out)
        levels = plan(task.setup).ways[0].lighting.levels
        assert once.shown[0].picture.came_out
        self.assertNotAlmostEqual(once.shown[0].picture.came_out["subject"], levels.subject, places=2)

    def test_the_aperture_asked_for_is_kept_and_what_was_hidden_is_told_at_the_end(self) -> None:
        for task in assignments("fewest_frames"):
            with self.subTest(seed=task.seed):
                right = play(task, []).solution
                other = next(one for one in task.setup.apertures if one != right.settings.aperture)
                elsewhere = replace(right, settings=replace(right.settings, aperture=other))
                kept, lost = (play(task, [task.places(one)], given_up=True) for one in (right, elsewhere))
                self.assertTrue(kept.fired[0].right)
                self.assertFalse(lost.fired[0].right)
                self.assertIn("another aperture was asked for", lost.shown[0].words)
                self.assertTrue(lost.over)
                self.assertFalse(lost.passed)
                largest = max(abs(kept.truth[key]) for key in ("background", "subject", "light 0"))
                self.assertEqual(bool(kept.hidden), largest >= HIDDEN_SAID)

    def test_what_cannot_be_dialled_is_refused(self) -> None:
        task = assignment_of("sinking_sun", 3)
        at = task.places(task.start)
        for frames in ([at[:3]], [(*at[:4], 99)], [(-1, *at[1:])], [at] * 5):
            with self.assertRaises(Refused):
                play(task, frames)
        with self.assertRaises(Refused):
            followed(task).fires(at)
        for drill, seed in (("magic", 1), ("sinking_sun", -1)):
            with self.assertRaises(Refused):
                assignment_of(drill, seed)


class Told(unittest.TestCase):
    """Each belief played as somebody who holds it."""

    def test_time_within_sync_does_not_dim_the_flash(self) -> None:
        for task in assignments("sinking_sun"):
            frames = [task.places(task.start)]
            for moment in range(len(task.sunk)):
                right = task.followed(moment)
                frames.append(task.places(replace(right, powers={0: right.powers[0] + task.sunk[moment]})))
            played = play(task, frames[1:])
            self.assertEqual(task.told(task, played.fired), "time_dims_flash")
            self.assertFalse(task.passed(played.fired))

    def test_in_high_speed_sync_time_moves_the_flash_too(self) -> None:
        for task in assignments("sinking_past_sync"):
            frames = [
                task.places(replace(task.followed(moment), powers=task.start.powers))
                for moment in range(len(task.sunk))
            ]
            played = play(task, frames)
            self.assertEqual(task.told(task, played.fired), "iso_daylight")
            self.assertFalse(task.passed(played.fired))

    def test_half_power_for_half_a_stop(self) -> None:
        told = 0
        for task in assignments("fewest_frames"):
            right = play(task, []).solution
            off = replace(right, powers={0: min(right.powers[0] + 1.0, 7.0)})
            first = play(task, [task.places(off)]).fired[0]
            twice = replace(off, powers={0: max(off.powers[0] + 2 * first.face, 0.0)})
            played = play(task, [task.places(off), task.places(twice)])
            told += task.told(task, played.fired) == "half_power"
        self.assertGreaterEqual(told, 0.6 * SEEDS_EACH)  # where daylight leaves two thirds to see

    def test_high_speed_sync_at_full_power_that_falls_short(self) -> None:
        for task in assignments("black_background"):
            camera = task.setup.camera
            settings = replace(
                task.start.settings, shutter=camera.fastest, aperture=task.setup.apertures[-1]
            )
            played = play(task, [task.places(Dialled(settings, {0: 0.0}, True))])
            self.assertEqual(task.told(task, played.fired), "hss_power")


class Kept(AppCase):
    def test_the_first_end_is_kept_with_its_frames(self) -> None:
        task = assignment_of("fewest_frames", 21)
        played = play(task, [])
        self.assertIsNone(finished(self.store, self.wiring.clock, played))
        played = played.fires(task.places(task.start))
        self.assertIsNone(finished(self.store, self.wiring.clock, played))
        played = play(task, [task.places(task.start)], given_up=True)
        given_up = finished(self.store, self.wiring.clock, played)
        assert given_up
        self.assertEqual((given_up.right, given_up.frames), (False, 1))
        better = finished(self.store, self.wiring.clock, play(task, [task.places(played.solution)]))
        self.assertEqual(better, given_up)
        self.assertEqual(practice.kept_answer(self.store, "fewest_frames", 21), given_up)


class TenDrills(AppCase):
    def empty_store(self, name: str) -> Store:
        path = self.path.with_name(f"{name}.sqlite3")
        shutil.copy(ready_database("empty"), path)
        store = Store.on_file(path)
        self.addCleanup(store.close)
        return store

    def test_ten_drills_name_four_of_five_beliefs_and_no_other(self) -> None:
        """Each belief played as a pupil who answers as it says wherever it is offered, and rightly
        elsewhere, over ten drills as they come."""
        chance, named, others = Random(13), 0, 0  # noqa: S311 - repeatable, not secret
        for held in practice.BY_KEY:
            store = self.empty_store(held)
            for _ in range(10):
                drill, seed = practice.next_drill(store, self.wiring.clock, chance)
                asked, _ = practice.answered(store, drill, seed)
                offered = [place for place, one in enumerate(asked.answers) if one.belief == held]
                practice.answer(store, self.wiring.clock, drill, seed, (offered or [min(asked.right)])[0])
            holds = {one.belief.key for one in practice.standing(store) if one.holds}
            named += held in holds
            others += len(holds - {held})
        self.assertGreaterEqual(named, 0.8 * len(practice.BY_KEY))
        self.assertEqual(others, 0)


if __name__ == "__main__":
    unittest.main()
