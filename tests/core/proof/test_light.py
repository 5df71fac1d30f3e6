"""Light on a stage against closed forms: inverse square, a disc, a beam, a half-shadow, an even sky."""

import unittest
from math import cos, hypot, log2, radians

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from noggin.core.proof.irradiance import Casters, from_source, from_sun, open_sky
from noggin.core.proof.mesh import Floats, floats
from noggin.core.proof.shadow import depth_map, disc, seen_shares, sphere
from noggin.core.proof.stage import StageLight
from tests.support import fewer

FACE = (0.0, 1.5, 0.0)


def light(distance: float, radius: float = 0.0, beam: float = 1.0) -> StageLight:
    """A light straight before a face."""
    return StageLight((0.0, 1.5, distance), FACE, radius, beam, FACE)


def toward(source: StageLight, *places: tuple[float, float, float]) -> tuple[Floats, Floats]:
    """Places, and normals of cards there that are square to a light."""
    at = floats(places)
    normals = floats(source.at) - at
    return at, normals / np.linalg.norm(normals, axis=1, keepdims=True)


class ClosedForms(unittest.TestCase):
    @given(st.floats(1.0, 8.0), st.floats(0.3, 6.0))
    @fewer(40)
    def test_a_point_falls_off_with_the_square(self, near: float, far: float) -> None:
        source = light(near, beam=0.0)
        found = from_source(source, *toward(source, (0.0, 1.5, near - far)))
        self.assertAlmostEqual(float(found[0]) / (near / far) ** 2, 1, delta=0.01)

    @given(st.floats(0.1, 0.9), st.floats(0.8, 4.0), st.floats(0.8, 8.0))
    @fewer(40)
    def test_a_disc_falls_off_by_its_law_on_its_axis(self, radius: float, near: float, far: float) -> None:
        # E of an even disc on its axis goes as 1/(d² + r²): any handbook of photometry.
        source = light(near, radius)
        found = from_source(source, *toward(source, (0.0, 1.5, near - far)))
        wanted = (near**2 + radius**2) / (far**2 + radius**2)
        self.assertAlmostEqual(float(found[0]) / wanted, 1, delta=0.01)

    @given(st.floats(0, 70), st.sampled_from([1.0, 1.5, 4.0, 8.0, 15.0]))
    @fewer(40)
    def test_a_beam_falls_off_as_a_power_of_the_cosine(self, off: float, beam: float) -> None:
        source, turn = light(3.0, beam=beam), radians(off)
        place = (3 * np.sin(turn), 1.5, 3 - 3 * np.cos(turn))
        found = from_source(source, *toward(source, place))
        self.assertAlmostEqual(float(found[0]) / cos(turn) ** beam, 1, delta=0.01)

    def test_a_light_that_is_aimed_past_the_face_still_has_its_level_there(self) -> None:
        source = StageLight((2.0, 1.9, 2.0), (0.6, 1.5, 0.4), 0.4, 4.0, FACE)
        self.assertAlmostEqual(float(from_source(source, *toward(source, FACE))[0]), 1, delta=0.003)

    def test_a_surface_turned_away_has_the_cosine_and_then_nothing(self) -> None:
        source = light(4.0)
        normals = floats([(np.sin(a), 0, np.cos(a)) for a in np.radians((0, 60, 89, 120))])
        found = from_source(source, floats([FACE] * 4), normals)
        for value, wanted in zip(found, (1, 0.5, 0.0175, 0), strict=True):
            self.assertAlmostEqual(float(value), wanted, places=3)

    def test_the_sky_by_hand(self) -> None:
        # Level ground sees all of the sky; an upright card half of it and half of the ground, which throws
        # back a fifth; a ceiling the ground alone.
        self.assertAlmostEqual(open_sky(1, 0.2), 1.0)
        self.assertAlmostEqual(open_sky(0, 0.2), 0.6)
        self.assertAlmostEqual(open_sky(-1, 0.2), 0.2)


def half_plane(height: float, cell: float) -> Floats:
    """Points of a level screen that fills everything to the left of x = 0."""
    x = np.arange(-1.2, 0, cell / 1.5)
    z = np.arange(-0.6, 0.6, cell / 1.5)
    grid_x, grid_z = np.meshgrid(x, z)
    return floats(np.stack([grid_x.ravel(), np.full(grid_x.size, height), grid_z.ravel()]))


class Shadows(unittest.TestCase):
    CELL = 0.006

    def profile(self, radius: float, above: float, between: float) -> tuple[Floats, Floats]:
        """The light along a floor across the shadow of an edge, from a lamp straight over it."""
        source = StageLight((0.0, above, 0.0), (0.0, 0.0, 0.0), radius, 0.0, (0.0, 0.0, 0.0))
        casters = Casters(
            np.zeros((3, 0), np.float32), half_plane(between, self.CELL), self.CELL, self.CELL
        )
        wide = 1.6 * radius * between / (above - between) + 0.05
        x = np.linspace(-wide, wide, 400)
        places = floats(np.stack([x, np.zeros_like(x), np.zeros_like(x)], 1))
        up = np.tile(floats([(0, 1, 0)]), (len(x), 1))
        lit = from_source(source, places, up, casters, samples=160)
        bare = from_source(source, places, up, samples=160)
        return floats(x), lit / bare

    def test_the_edge_of_a_soft_shadow_is_as_wide_as_geometry_says(self) -> None:
        # An even disc of radius r at a over an edge at b over a floor: the penumbra is a disc of radius
        # R = r·b/(a − b), whose light across it has a standard deviation of R/2.
        for radius, above, between in ((0.3, 3.0, 1.0), (0.45, 2.5, 1.2), (0.15, 2.0, 1.0)):
            with self.subTest(radius=radius, between=between):
                x, lit = self.profile(radius, above, between)
                rise = np.clip(np.diff(lit), 0, None)
                middle = (x[1:] + x[:-1]) / 2
                mean = float((middle * rise).sum() / rise.sum())
                spread = float(np.sqrt(((middle - mean) ** 2 * rise).sum() / rise.sum()))
                self.assertAlmostEqual(spread / (radius * between / (above - between) / 2), 1, delta=0.1)
                self.assertAlmostEqual(mean, 0, delta=0.01)

    def test_full_light_beside_a_shadow_and_none_inside_it(self) -> None:
        _, lit = self.profile(0.1, 3.0, 1.0)
        self.assertLess(float(lit[:20].max()), 0.01)
        self.assertGreater(float(lit[-20:].min()), 0.99)

    def test_the_sun_casts_a_shadow_where_its_height_says(self) -> None:
        # 45° high from the right: the edge 1 m up throws its shadow 1 m to the left.
        sun = floats((1, 1, 0)) / np.float32(2**0.5)
        casters = Casters(np.zeros((3, 0), np.float32), half_plane(1.0, self.CELL), self.CELL, self.CELL)
        x = np.linspace(-1.3, -0.7, 241)
        places = floats(np.stack([x, np.zeros_like(x), np.zeros_like(x)], 1))
        up = np.tile(floats([(0, 1, 0)]), (len(x), 1))
        lit = from_sun(sun, places, up, casters)
        self.assertAlmostEqual(float(x[np.argmin(np.abs(lit - 0.35))]), -1.0, delta=0.02)
        self.assertAlmostEqual(float(lit.max()), 2**-0.5, places=3)

    def test_a_surface_does_not_shade_itself(self) -> None:
        points = floats(sphere(6000)).T * np.float32(0.12)
        lit = depth_map(points, 0.0075, floats((0, 0, 1))).reached(
            points, points / np.float32(0.12), 0.0075
        )
        facing = points[2] > 0.03
        self.assertGreater(float(lit[facing].mean()), 0.99)
        self.assertLess(float(lit[points[2] < -0.08].mean()), 0.01)

    def test_a_ball_sees_as_much_sky_as_its_normals_face(self) -> None:
        points = floats(sphere(3000)) * np.float32(0.1) + floats((0, -0.16, 0))
        normals = floats(sphere(3000))
        sky, ground = seen_shares(points, normals)
        wanted = (1 + normals[:, 1]) / 2
        self.assertLess(float(np.abs(sky - wanted).mean()), 0.04)
        self.assertLess(float(np.abs(ground - (1 - wanted)).mean()), 0.04)


class Spirals(unittest.TestCase):
    @given(st.integers(2, 400))
    def test_a_disc_is_filled_evenly(self, count: int) -> None:
        out = np.hypot(*disc(count).T)
        self.assertTrue((out < 1).all())
        # The mean square distance on an even disc of radius 1 is a half.
        self.assertAlmostEqual(float((out**2).mean()), 0.5, places=5)

    def test_a_card_is_lit_by_the_inverse_square_in_stops(self) -> None:
        source = light(2.0, beam=0.0)
        found = from_source(source, *toward(source, (0.0, 1.5, 2 - hypot(2.8284, 0.0))))
        self.assertAlmostEqual(log2(float(found[0])), -1, places=3)


if __name__ == "__main__":
    unittest.main()
