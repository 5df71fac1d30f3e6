"""Changes to a plan: mirrored, with more in it, a light aimed past the face."""

import unittest
from math import degrees, hypot

from hypothesis import assume, given
from hypothesis import strategies as st

from noggin.core.errors import Refused
from noggin.core.layout.geometry import aimed
from noggin.core.layout.moves import aimed_past, mirrored, past_deg, with_reflector, with_wall
from noggin.core.setup.layout import CameraSpot, Layout, LightSpot, PersonSpot, SurfaceLine

ACROSS = st.floats(-6, 6)


def layout(x: float, y: float, aim: tuple[float, float, float] | None = None) -> Layout:
    lights = {"Key": LightSpot(x, y, 2.0, aim)}
    return Layout(CameraSpot(0.0, -3.0), (PersonSpot(0.0, 0.0),), lights)


class AimedPast(unittest.TestCase):
    def test_toward_the_camera_by_hand(self) -> None:
        # From 2 m straight to the left, 45° past the face toward the camera: 2 m nearer to it there.
        # From 2 m straight to the right the same, and from behind on the left, straight down the plan.
        for x, y, wanted in ((-2, 0, (1, -1)), (2, 0, (-1, -1)), (-2, 2, (0, -1))):
            with self.subTest(x=x, y=y):
                found = layout(x, y)
                spot = found.lights["Key"]
                aim = aimed_past(found, spot, 45)
                assert aim is not None
                toward = aimed(spot.at, (aim[0], aim[1], spot.height_m))
                long = hypot(*wanted)
                self.assertAlmostEqual(toward[0], wanted[0] / long, places=3)
                self.assertAlmostEqual(toward[1], wanted[1] / long, places=3)

    @given(ACROSS, ACROSS, st.floats(-80, 80))
    def test_what_was_typed_is_read_back_on_both_sides(self, x: float, y: float, past: float) -> None:
        assume(hypot(x, y) > 0.5 and abs(past) > 1)
        found = layout(x, y)
        aim = aimed_past(found, found.lights["Key"], past)
        there = layout(x, y, aim)
        self.assertAlmostEqual(past_deg(there, there.lights["Key"]), past, delta=degrees(0.002 / 0.5))
        if abs(x) > 0.01:  # on the axis itself there are two sides and no left
            other = mirrored(there)
            self.assertAlmostEqual(past_deg(other, other.lights["Key"]), past, delta=degrees(0.002 / 0.5))

    def test_at_the_face_it_is_aimed_past_nothing(self) -> None:
        found = layout(-2, -2)
        self.assertIsNone(aimed_past(found, found.lights["Key"], 0))
        self.assertEqual(past_deg(found, found.lights["Key"]), 0)


class Surfaces(unittest.TestCase):
    def test_middle_and_length_by_hand(self) -> None:
        wall = SurfaceLine((1.0, -1.0), (4.0, 3.0), 2.4, 0.4)
        self.assertEqual((wall.middle, wall.length_m), ((2.5, 1.0), 5.0))
        self.assertEqual(wall.at(0), wall.start)
        moved = wall.moved_by(-1, 0.5)
        self.assertEqual((moved.start, moved.end), ((0.0, -0.5), (3.0, 3.5)))

    def test_a_reflector_is_held_away_from_the_key(self) -> None:
        for x in (-2.0, 2.0):
            held = with_reflector(layout(x, -2)).surfaces[0]
            self.assertLess(held.middle[0] * x, 0)

    def test_a_plan_holds_twelve(self) -> None:
        found = layout(-2, -2)
        for _ in range(12):
            found = with_wall(found)
        with self.assertRaisesRegex(Refused, "12 surfaces, not more"):
            with_wall(found)


if __name__ == "__main__":
    unittest.main()
