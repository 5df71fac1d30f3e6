"""Dials: labels near their exact values, and limits that snap to the safe side."""

import unittest

from noggin.core.physics import dials
from noggin.core.physics.dials import aperture_stops, iso_stops, shutter_stops
from noggin.core.physics.power import dialled_down, power_label
from noggin.core.setup.camera import Camera
from tests.support import noon


class Dials(unittest.TestCase):
    def test_every_label_lies_within_a_quarter_stop_of_its_exact_value(self) -> None:
        series = [dials.iso_dial()]
        for per_stop in dials.DIAL_STEPS:
            series += [dials.shutter_dial(per_stop), dials.aperture_dial(per_stop)]
        for dial in series:
            for step in dial.steps:
                with self.subTest(label=step.label, size=dial.size):
                    self.assertLess(abs(step.nominal_stops - step.stops), 0.25)

    def test_ends_of_the_dials(self) -> None:
        for per_stop, dial in ((n, dials.shutter_dial(n)) for n in dials.DIAL_STEPS):
            with self.subTest(per_stop=per_stop):
                self.assertEqual((dial.steps[0].label, dial.steps[0].stops), ("30", -5))
                self.assertEqual((dial.steps[-1].label, dial.steps[-1].value), ("1/8000", 2**-13))
        self.assertEqual(dials.aperture_dial(3).steps[-1].value, 32)
        self.assertEqual(dials.iso_dial().steps[-1].value, 102400)

    def test_exact_values_stand_behind_the_labels(self) -> None:
        # FORMAT: 1/250 is exactly 2^-8 s, f/5.6 is √2^5, ISO 64 is 100·2^(-2/3).
        self.assertEqual(dials.shutter_dial(3).nearest(shutter_stops(1 / 250)).value, 2**-8)
        self.assertAlmostEqual(dials.aperture_dial(2).nearest(aperture_stops(5.6)).value, 2**2.5, places=12)
        self.assertEqual(dials.iso_dial().nearest(iso_stops(64)).value, 100 * 2 ** (-2 / 3))

    def test_a_limit_without_a_label_snaps_to_the_safe_side(self) -> None:
        cases = (
            # dial steps, sync, fastest, slowest → labels
            (3, 1 / 180, 1 / 6000, 1 / 90, ("1/160", "1/5000", "1/100")),
            (3, 1 / 200, 1 / 8000, 1 / 60, ("1/200", "1/8000", "1/60")),
            (2, 1 / 200, 1 / 4000, 1 / 50, ("1/180", "1/4000", "1/60")),
            (1, 1 / 200, 1 / 6400, 1 / 50, ("1/125", "1/4000", "1/60")),
            (3, 2**-7.6666, 2**-13, 2**-6, ("1/200", "1/8000", "1/60")),
        )
        for steps, sync, fastest, slowest, labels in cases:
            camera = Camera(sync, fastest, slowest, dial_steps=steps)
            with self.subTest(sync=sync, steps=steps):
                self.assertEqual((camera.sync.label, camera.fastest.label, camera.slowest.label), labels)

    def test_a_lens_snaps_to_apertures_it_surely_reaches(self) -> None:
        setup = noon(widest=1.7, smallest=19.0)
        self.assertEqual((setup.apertures[0].label, setup.apertures[-1].label), ("1.8", "18"))
        halves = noon(widest=1.8, dial_steps=2, aperture=1.8)
        self.assertEqual(halves.wanted_aperture.label, "2")

    def test_powers_in_the_light_s_own_notation(self) -> None:
        cases = (
            (0, "1/1"),
            (1 / 3, "1/1 −0.3"),
            (2 / 3, "1/2 +0.3"),
            (1, "1/2"),
            (4 / 3, "1/2 −0.3"),
            (2.5, "1/8 +0.5"),
            (7, "1/128"),
        )
        for down, label in cases:
            with self.subTest(down=down):
                self.assertEqual(power_label(down, "fraction", 10), label)
        self.assertEqual(power_label(10 - 7.3, "decimal", 10), "7.3")
        self.assertEqual(power_label(0.5, "decimal", 9), "8.5")

    def test_halves_go_toward_more_light(self) -> None:
        self.assertEqual(dialled_down(2.5, 1.0, 1 / 128), 2.0)
        self.assertAlmostEqual(dialled_down(0.5, 1 / 3, 1 / 128), 1 / 3)
        self.assertEqual(dialled_down(2.51, 1.0, 1 / 128), 3.0)
