"""The place as a photograph shows it: what another lens sees of it from the same spot."""

import unittest
from dataclasses import replace
from math import atan, degrees, hypot, radians, tan

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from noggin.core.errors import OutOfRange, Refused
from noggin.core.physics import optics
from noggin.core.planning.plan import plan
from noggin.core.proof.mesh import Floats
from noggin.core.proof.photographed import background_of, focal_of, frame_on, place_seen
from noggin.core.proof.view import CameraView
from noggin.core.setup.photograph import Photograph
from noggin.core.setup.setup import SetUp
from noggin.services.setups.proofs import Proofs, recipe_of
from tests.support import noon

EVERYWHERE = (0.0, 0.0, 1.0, 1.0)
NAME = "0" * 64


def slopes(photograph: Photograph, width: int, height: int) -> Floats:
    """A photograph whose channels are what it shows where: across and up, as tangents off its horizon's
    middle (pinhole, the picture's axis turned up by its pitch)."""
    focal = width / (2 * tan(radians(photograph.field_deg) / 2))
    pitch = atan((photograph.horizon - 0.5) * height / focal)
    x = (np.arange(width) + 0.5 - width / 2) / focal
    up = (height / 2 - np.arange(height) - 0.5) / focal
    across, rise = np.meshgrid(x, up)
    # Turned back to level: the axis points `pitch` over the horizon.
    ahead = np.cos(pitch) - rise * np.sin(pitch)
    level_up = (rise * np.cos(pitch) + np.sin(pitch)) / ahead
    found: Floats = np.stack([5 + across / ahead, 5 + level_up, np.ones_like(rise)], -1).astype(np.float32)
    return found


class Seen(unittest.TestCase):
    @given(st.floats(50, 90), st.floats(0.3, 0.7), st.floats(-0.1, 0.1), st.floats(1.5, 6))
    def test_each_pixel_sees_what_lies_in_its_direction(
        self, field: float, horizon: float, tilt: float, long: float
    ) -> None:
        """Pinhole projection (Hartley and Zisserman, Multiple View Geometry, chapter 6): both cameras at
        one place, so that a direction has one colour."""
        photograph = Photograph(NAME, field, horizon, EVERYWHERE)
        whole = slopes(photograph, 900, 600)
        view = CameraView((0, 1.4, 3), tilt, 90 * long, 90, 60)
        seen = place_seen(view, photograph, whole) * background_of(whole, EVERYWHERE)
        rays = view.rays()
        level = rays / -rays[..., 2:]
        for row, column in ((30, 45), (10, 10), (50, 80)):
            # The picture is no wider than so much, and goes on at its edge as it is there.
            x, y = frame_on(view, photograph, 1.5)[0]
            if not (0.02 < x < 0.98 and 0.02 < y < 0.98):
                continue
            for channel, wanted in ((0, level[row, column, 0]), (1, level[row, column, 1])):
                self.assertAlmostEqual(float(seen[row, column, channel]) - 5, float(wanted), delta=0.02)

    def test_the_corners_of_a_frame_lie_where_its_pixels_look(self) -> None:
        photograph = Photograph(NAME, 70, 0.42, EVERYWHERE)
        view = CameraView((0, 1.4, 3), 0.03, 300, 90, 60)
        rays, focal = view.rays(), focal_of(1.5, photograph)
        corners = frame_on(view, photograph, 1.5)
        pitch = atan((0.42 - 0.5) / focal)
        for (x, y), ray in zip(corners, (rays[0, 0], rays[0, -1], rays[-1, -1], rays[-1, 0]), strict=True):
            ahead = ray[1] * np.sin(pitch) - ray[2] * np.cos(pitch)
            self.assertAlmostEqual(x, 0.5 + focal * ray[0] / ahead / 1.5, delta=0.01)
            up = (ray[1] * np.cos(pitch) + ray[2] * np.sin(pitch)) / ahead
            self.assertAlmostEqual(y, 0.5 - focal * up, delta=0.01)

    def test_a_phones_usual_lens_sees_69_degrees(self) -> None:
        """26 mm on a frame 36 mm wide."""
        self.assertAlmostEqual(degrees(2 * atan(36 / 2 / 26)), 69.4, places=1)
        self.assertAlmostEqual(focal_of(36, Photograph(NAME, 69.39, 0.5, EVERYWHERE)), 26, places=1)

    def test_what_is_no_photograph_is_refused(self) -> None:
        for field, horizon, box in (
            (200.0, 0.5, EVERYWHERE),
            (70.0, 9.0, EVERYWHERE),
            (70.0, 0.5, (0.2, 0.2, 0.0, 0.1)),
        ):
            with self.assertRaises((Refused, OutOfRange)):
                Photograph(NAME, field, horizon, box)


class InAProof(unittest.TestCase):
    """A place before which a couple stands, with a wall of one tone, a bright sky over it and a lamp."""

    SKY_OVER = 1.7

    def photograph(self) -> Floats:
        found = np.full((800, 1200, 3), 0.10, np.float32)
        found[:300] = 0.10 * 2**self.SKY_OVER
        found[330:336, 760:766] = 0.9
        return found

    def setup(self, aperture: float = 8.0) -> SetUp:
        place = Photograph(NAME, 40.0, 0.5, (0.0, 0.5, 0.2, 0.3))
        setup = noon(aperture=aperture)
        return replace(setup, scene=replace(setup.scene, photograph=place, background_distance_m=25.0))

    def proofs(self, whole: Floats) -> Proofs:
        """Proofs that know the photograph as it is, without a file between."""

        class Given(Proofs):
            def _photograph(self, name: str, width: float) -> Floats | None:  # noqa: ARG002
                return whole

        return Given()

    def test_a_patch_reads_its_own_ev_moved_by_the_plans_levels(self) -> None:
        setup = self.setup()
        for way in plan(setup).ways:
            recipe = recipe_of(setup, way, (600, 400))
            picture = self.proofs(self.photograph()).picture(recipe)
            background = way.lighting.levels.background
            with self.subTest(way=way.key):
                self.assertAlmostEqual(float(picture.levels[180:200, 15:60].mean()), background, delta=0.05)
                if background + self.SKY_OVER < 2.4:
                    sky = float(picture.levels[5:30, 20:80].mean())
                    self.assertAlmostEqual(sky, background + self.SKY_OVER, delta=0.05)

    def test_a_point_of_it_is_blurred_as_the_optics_say(self) -> None:
        """Thin lens: b = f²/(N(s − f))·|D − s|/D, and the point's own size."""
        setup = self.setup(2.0)
        flat, lamp = np.full((800, 1200, 3), 0.10, np.float32), np.full((800, 1200, 3), 0.10, np.float32)
        lamp[395:399, 700:704] = 0.9
        recipe = recipe_of(setup, plan(setup).way("nd"), (900, 600))
        behind = [self.proofs(one).plates(recipe).behind for one in (lamp, flat)]

        def spread(blur: float) -> float:
            whole = (behind[0](blur).land - behind[1](blur).land)[1].astype(float)
            row, column = np.unravel_index(whole.argmax(), whole.shape)
            part = whole[row - 40 : row + 41, column - 40 : column + 41]
            y, x = np.mgrid[: part.shape[0], : part.shape[1]]
            middle = [(part * axis).sum() / part.sum() for axis in (x, y)]
            square = (part * ((x - middle[0]) ** 2 + (y - middle[1]) ** 2)).sum() / part.sum()
            return float(2 * np.sqrt(2 * square))

        width = setup.camera.sensor_mm[0]
        for f_number in (2.0, 2.8, 4.0):
            disc = optics.blur_disc(setup.scene.subject_distance_m, 25.0, setup.lens.focal_mm, f_number)
            wanted = hypot(disc / width * 900, spread(0.0))
            self.assertAlmostEqual(spread(disc / width), wanted, delta=0.05 * wanted)

    def test_the_card_keeps_its_level_and_the_ground_its_pattern(self) -> None:
        setup = self.setup()
        recipe = recipe_of(setup, plan(setup).way("nd"), (600, 400))
        with_it = self.proofs(self.photograph()).picture(recipe, card=True)
        without = Proofs().picture(replace(recipe, stage=replace(recipe.stage, photograph=None)), card=True)
        held = with_it.linear == without.linear
        self.assertGreater(int(held.all(0).sum()), 1000)  # people and card are the same

    def test_where_the_photograph_is_not_here_a_place_is_invented(self) -> None:
        setup = self.setup()
        recipe = recipe_of(setup, plan(setup).way("nd"), (300, 200))
        invented = replace(recipe, stage=replace(recipe.stage, photograph=None))
        self.assertTrue(np.array_equal(Proofs().picture(recipe).linear, Proofs().picture(invented).linear))
