"""What went wrong: each fault is named from a frame that it gives, and none where all is well."""

import unittest
from dataclasses import replace
from random import Random
from unittest.mock import patch

from noggin.core.errors import Refused
from noggin.core.planning.plan import work_out
from noggin.core.planning.ways import WAYS
from noggin.core.pops.actual import as_dialled
from noggin.core.pops.faults import AMISS, BY_KEY, DOUBTFUL, FAULTS, ONE_BY_ONE, diagnose
from noggin.core.pops.frame import Dialled, Frame
from noggin.core.pops.judging import with_flash
from noggin.core.setup.light import LightUncertainty
from noggin.core.setup.setup import SetUp
from noggin.devices.simulated_spot import SimulatedSpot
from tests.support import EXPLORE, LIGHT, MOMENT, noon

MEASURED = LightUncertainty(0.2, 0.2, 0.2)
KEY = replace(LIGHT, uncertainty=MEASURED, group="A")
FILL = replace(KEY, name="Second", role="fill", relative_level=-2.5, group="B", distance_m=1.2)
SETUP = noon(lights=(KEY, FILL), moment=MOMENT, background_uncertainty=0.3, subject_uncertainty=0.3)

SEEDS, SHOWN = (40, 40) if EXPLORE else (8, 5)
"""So many tries with each fault, or until it showed so often."""

ALIKE = {
    "typing_slip": "any",
    "auto_flash": "power",
    "wrong_light": "power",
    "group_asleep": "power",
    "auto_iso": "everything",
    "filter_left_off": "everything",
    "filter_left_on": "everything",
}
"""Faults that may give the same frame; what tells them apart is asked."""


def frames(setup: SetUp, way: str, fault: str, seed: int) -> list[Frame]:
    """A frame without flash, a good one, and one that went wrong, as raw files show them."""
    return with_moved(setup, way, fault, seed)[0]


def with_moved(setup: SetUp, way: str, fault: str, seed: int) -> tuple[list[Frame], float]:
    """The same, and by how many stops the fault moved a zone."""
    worked = work_out(setup, WAYS[way])
    spot = SimulatedSpot(setup, Random(seed))  # noqa: S311 - repeatable, not secret
    dialled = with_flash(setup, worked, Dialled(worked.settings, {}, worked.lighting.hss))
    good = [spot.frame(0, False, dialled, "raw"), spot.frame(1, True, dialled, "raw")]
    wrong = spot.frame(1.5, True, dialled, "raw", fault)
    before, after = spot.levels(as_dialled(wrong, setup)), spot.levels(spot.actual)
    return [*good, wrong], max(abs(after[zone] - before[zone]) for zone in before)


class Named(unittest.TestCase):
    def test_without_a_frame_there_is_nothing_to_say(self) -> None:
        with self.assertRaisesRegex(Refused, "no frame"):
            diagnose(noon(), [])

    def test_each_fault_is_named_by_the_frame_it_gives(self) -> None:
        ways = {"sync_fallback": "hss", "hss_off": "hss", "filter_left_on": "hss"}
        for fault in FAULTS:
            with self.subTest(fault=fault.key):
                hits, tried = 0, 0
                for seed in range(SEEDS):
                    taken, moved = with_moved(SETUP, ways.get(fault.key, "nd"), fault.key, seed)
                    if moved < 0.9:
                        continue  # what does not show is no matter
                    if tried == SHOWN:
                        break
                    tried += 1
                    found = diagnose(SETUP, taken)
                    named = [one.fault.key for one in found.suspected]
                    alike = [ALIKE.get(key, key) for key in named[:2]]
                    hits += fault.key in named[:2] or ALIKE.get(fault.key, fault.key) in alike
                self.assertGreaterEqual(tried, 2)
                self.assertGreaterEqual(hits / tried, 0.8)

    def test_no_flash_at_all_is_certain_and_says_what_to_look_at(self) -> None:
        found = diagnose(SETUP, frames(SETUP, "nd", "no_flash", 1))
        self.assertEqual(found.suspected[0].fault.key, "no_flash")
        self.assertGreater(found.suspected[0].probability, 0.95)
        self.assertIn("group, channel", found.suspected[0].fault.check)
        # What is known of the light stays: nothing was learned of it by a pop that did not fire.
        self.assertLess(abs(found.estimate.offset("light 0")[0]), 0.3)

    def test_a_fault_explains_its_frame_in_what_follows(self) -> None:
        before = frames(SETUP, "nd", "no_flash", 1)
        again = replace(before[1], minute=3.0)
        found = diagnose(SETUP, [*before, again])
        self.assertIsNone(found.likely)
        self.assertEqual(len(found.estimate.actual[2].off), 2)

    def test_two_faults_that_give_the_same_frame_do_not_hide_each_other(self) -> None:
        found = diagnose(SETUP, frames(SETUP, "nd", "no_flash", 1))
        two = tuple(replace(one, probability=0.45) for one in (found.suspected[0], found.suspected[0]))
        for amiss, likely, others in (
            (AMISS + 0.01, True, 1),
            (AMISS - 0.01, False, 2),
            (DOUBTFUL + 0.01, False, 2),
            (DOUBTFUL - 0.01, False, 0),
        ):
            said = replace(found, suspected=two, amiss=amiss, asks=AMISS)
            self.assertEqual((said.likely is not None, len(said.others)), (likely, others), amiss)

    def test_what_many_frames_say_together_is_what_they_say_one_by_one(self) -> None:
        """Conditioning on some, then on the rest, is conditioning on all (of normal distributions, exactly;
        Tarantola, Inverse Problem Theory, SIAM 2005, chapter 3, from memory)."""
        worked = work_out(SETUP, WAYS["nd"])
        dialled = with_flash(SETUP, worked, Dialled(worked.settings, {}, False))
        for by, near in (("raw", 0.01), ("words", 0.06)):
            spot = SimulatedSpot(SETUP, Random(5))  # noqa: S311 - repeatable, not secret
            taken = [spot.frame(number / 2, number > 0, dialled, by) for number in range(20)]
            kept = diagnose(SETUP, taken).plain
            with patch("noggin.core.pops.faults.ONE_BY_ONE", 1000):
                whole = diagnose(SETUP, taken).plain
            self.assertLessEqual(len(kept.frames), ONE_BY_ONE + 1)
            self.assertEqual(len(whole.frames), 20)
            for key in ("light 0", "light 1", "toll", "filters"):
                for value, other in zip(kept.offset(key), whole.offset(key), strict=True):
                    self.assertAlmostEqual(value, other, delta=near, msg=f"{by}, {key}")
            for zone in ("background", "subject"):
                pairs = zip(kept.daylight_offset(zone), whole.daylight_offset(zone), strict=True)
                for value, other in (*pairs, *zip(kept.zones[zone], whole.zones[zone], strict=True)):
                    self.assertAlmostEqual(value, other, delta=near, msg=f"{by}, {zone}")
            self.assertAlmostEqual(kept.evidence, whole.evidence, delta=0.5)

    def test_a_fault_is_named_in_a_late_frame_as_in_the_third(self) -> None:
        worked = work_out(SETUP, WAYS["nd"])
        dialled = with_flash(SETUP, worked, Dialled(worked.settings, {}, False))
        spot = SimulatedSpot(SETUP, Random(3))  # noqa: S311 - repeatable, not secret
        good = [spot.frame(number / 2, number > 0, dialled, "raw") for number in range(31)]
        found = diagnose(SETUP, [*good, spot.frame(20, True, dialled, "raw", "no_flash")])
        assert found.likely
        self.assertEqual(found.likely.fault.key, "no_flash")

    def test_good_frames_raise_no_alarm(self) -> None:
        alarms = 0
        for seed in range(40):
            worked = work_out(SETUP, WAYS["nd"])
            spot = SimulatedSpot(SETUP, Random(seed))  # noqa: S311 - repeatable, not secret
            dialled = with_flash(SETUP, worked, Dialled(worked.settings, {}, False))
            taken = [spot.frame(number, number > 0, dialled, "raw") for number in range(3)]
            alarms += diagnose(SETUP, taken).likely is not None
        self.assertLessEqual(alarms, 1)

    def test_only_what_can_happen_to_a_frame_is_thought_of(self) -> None:
        worked = work_out(SETUP, WAYS["nd"])
        within = Frame(0, True, with_flash(SETUP, worked, Dialled(worked.settings, {}, False)))
        for key in ("sync_fallback", "hss_off", "filter_left_on"):
            self.assertEqual(list(BY_KEY[key].stories(SETUP, within)), [])
        dark = replace(within, flash=False)
        for key in ("no_flash", "group_asleep", "hss_left_on", "auto_flash", "wrong_light"):
            self.assertEqual(list(BY_KEY[key].stories(SETUP, dark)), [])
