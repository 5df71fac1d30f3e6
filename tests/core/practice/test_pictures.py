"""Drills about pictures: what is asked is what is in them, by levels that are worked out again."""

import unittest
from math import log2

from noggin.core.physics.curtains import lit_part
from noggin.core.planning.plan import plan
from noggin.core.planning.verdicts import HOLDS, NOT_NEEDED, SHORT
from noggin.core.pops.faults import BY_KEY
from noggin.core.practice.task import Task, TaskPicture
from tests.core.practice.test_drills import tasks

TURNED = 2.0


def ambient(picture: TaskPicture) -> float:
    """EV100 of the background less the EV of the settings, worked out from the dials' own figures
    (APEX)."""
    settings = picture.way.settings
    ev = log2(settings.aperture.value**2 / settings.shutter.value) - log2(settings.iso.value / 100)
    return picture.setup.scene.background - ev - settings.stack.stops


def flash_of(picture: TaskPicture) -> float:
    level = picture.way.lighting.levels.flash
    assert level is not None
    return level


class Moved(unittest.TestCase):
    def change(self, asked: Task, place: int = 1) -> tuple[float, float]:
        """By how much daylight and flash changed from the first picture to another."""
        first, other = asked.pictures[0], asked.pictures[place]
        return ambient(other) - ambient(first), flash_of(other) - flash_of(first)

    def test_daylight_alone(self) -> None:
        for asked in tasks("daylight_fell"):
            daylight, flash = self.change(asked)
            self.assertAlmostEqual(daylight, -TURNED, delta=0.1)
            self.assertEqual(flash, 0.0)

    def test_the_flash_alone(self) -> None:
        for asked in tasks("flash_fell"):
            daylight, flash = self.change(asked)
            self.assertEqual(daylight, 0.0)
            self.assertAlmostEqual(flash, -TURNED, places=6)

    def test_both_alike(self) -> None:
        for asked in tasks("both_fell"):
            daylight, flash = self.change(asked)
            self.assertAlmostEqual(daylight, -TURNED, delta=0.1)
            self.assertAlmostEqual(flash, -TURNED, delta=0.1)

    def test_past_sync_a_shorter_time_takes_from_both_and_that_picture_is_right(self) -> None:
        for asked in tasks("in_high_speed"):
            names = [picture.caption for picture in asked.pictures]
            daylight, flash = self.change(asked, names.index(asked.right_words))
            self.assertAlmostEqual(daylight, -TURNED, delta=0.1)
            self.assertAlmostEqual(flash, -TURNED, delta=0.1)
            self.assertEqual(len({self.change(asked, place) for place in (1, 2, 3)}), 3)

    def test_everything_is_on_its_dial(self) -> None:
        for drill in ("daylight_fell", "flash_fell", "both_fell", "in_high_speed"):
            for asked in tasks(drill):
                for picture in asked.pictures:
                    settings, setup = picture.way.settings, picture.setup
                    self.assertIn(settings.aperture, setup.apertures)
                    self.assertGreaterEqual(settings.shutter.stops, setup.camera.slowest.stops)
                    self.assertLessEqual(settings.shutter.stops, setup.camera.fastest.stops)
                    power = picture.way.lighting.key.power
                    assert power
                    self.assertTrue(setup.key.power_min <= power * 1.001 <= 1.002)


class Cases(unittest.TestCase):
    def test_a_method_is_right_that_holds_and_wrong_that_does_not(self) -> None:
        for asked in tasks("pick_way"):
            by_label = {way.label: way for way in plan(asked.pictures[0].setup).ways}
            for place, answer in enumerate(asked.answers):
                verdict = by_label[answer.words].verdict
                if place in asked.right:
                    self.assertEqual(verdict, HOLDS)
                else:
                    self.assertIn(verdict, (SHORT, NOT_NEEDED))

    def test_a_fault_can_be_told_by_its_frame(self) -> None:
        """No flash leaves the face as daylight has it; the sync fallback brightens all daylight by
        log2(t_sync/t)."""
        for asked in tasks("find_fault"):
            (picture,) = asked.pictures
            assert picture.came_out
            if asked.right_words == BY_KEY["no_flash"].label:
                self.assertAlmostEqual(picture.came_out["subject"], picture.daylight, places=6)
            if asked.right_words == BY_KEY["hss_off"].label and "dark band" in asked.asks:
                self.assertIn("weak_flash_bar", [one.belief for one in asked.answers])
                self.assertGreater(lit_part(*self.shutter(picture)), 0.4)
                self.assertIsNotNone(picture.way.lighting.key.needed)

    def shutter(self, picture: TaskPicture) -> tuple[float, float]:
        return picture.way.settings.shutter.value, picture.setup.camera.travel_s


class Seen(unittest.TestCase):
    def test_the_side_is_the_one_on_which_the_light_stands(self) -> None:
        for asked in tasks("from_where"):
            setup = asked.pictures[0].setup
            assert setup.scene.layout
            (spot,) = setup.scene.layout.lights.values()
            self.assertIn("left" if spot.x_m < 0 else "right", asked.right_words)
            depth = abs(spot.y_m) / (spot.x_m**2 + spot.y_m**2) ** 0.5
            where = "behind" if spot.y_m > 0 else "in front"
            self.assertEqual(where in asked.right_words, depth > 0.5)

    def test_softness_goes_by_the_angle(self) -> None:
        for asked in tasks("how_soft"):
            key = asked.pictures[0].setup.key
            near = "0.8 m away" in asked.right_words or "0.9 m away" in asked.right_words
            self.assertEqual(near, key.radius_m / key.distance_m > 0.2)
            self.assertIn(f"{2 * key.radius_m:.1f} m box {key.distance_m:.1f} m away", asked.right_words)

    def test_the_wall_says_how_far(self) -> None:
        """Inverse square: 2·log2(d/(d + behind)), but for the light's own size."""
        for asked in tasks("how_far"):
            picture = asked.pictures[0]
            away, behind = picture.setup.key.distance_m, picture.setup.behind_m
            self.assertAlmostEqual(float(asked.right_words.split()[0]), away, delta=0.02)
            spill, level = picture.way.lighting.levels.spill, picture.way.lighting.levels.flash
            assert spill is not None
            assert level is not None
            self.assertAlmostEqual(spill - level, 2 * log2(away / (away + behind)), delta=0.35)

    def test_short_light_falls_on_the_side_that_is_turned_away(self) -> None:
        for asked in tasks("short_or_broad"):
            layout = asked.pictures[0].setup.scene.layout
            assert layout
            (person,), (spot,) = layout.people, layout.lights.values()
            same_side = (spot.x_m > 0) == (person.turn_deg > 0)
            self.assertTrue(asked.right_words.startswith("short" if same_side else "broad"))
