"""Proofs with walls, reflectors and scrims: the plan's levels hold, and light goes where it is thrown."""

import unittest
from dataclasses import replace
from math import cos, log2, sin, sqrt

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from noggin.core.layout.bounce import panel_of, patches_of
from noggin.core.layout.moves import with_reflector, with_scrim
from noggin.core.layout.standing import layout_of, sun_over
from noggin.core.physics.colour import LUMINANCE
from noggin.core.planning.plan import plan
from noggin.core.proof.bounced import Patches
from noggin.core.proof.develop import develop
from noggin.core.proof.irradiance import NOTHING, from_source, from_sun, sun_on_stage
from noggin.core.proof.mesh import Floats, floats
from noggin.core.proof.mixture import SUN, SUN_BACK, total_on_card
from noggin.core.proof.stage import StageLight, StageWall, stage_of, sun_direction
from noggin.core.setup.layout import Layout, SurfaceLine
from noggin.core.setup.setup import SetUp
from noggin.services.setups.proofs import ProofRecipe, Proofs, recipe_of
from tests.support import LIGHT, MOMENT, noon

SIZE = (240, 160)
PROOFS = Proofs()
BACKLIT = replace(MOMENT, place=replace(MOMENT.place, facing_deg=230))
FRONTLIT = replace(MOMENT, place=replace(MOMENT.place, facing_deg=80))
SPLIT = (replace(LIGHT, angle_deg=80),)


def there(setup: SetUp, changed: Layout) -> SetUp:
    return replace(setup, scene=replace(setup.scene, layout=changed))


def recipe(setup: SetUp) -> ProofRecipe:
    return recipe_of(setup, plan(setup).way("nd"), SIZE)


def on_side(made: ProofRecipe, right: bool, only: str | None = None) -> float:
    """Light on one half of the people in the upper half of the frame, against what they throw back."""
    plates = PROOFS.plates(made)
    light = develop(plates, made.alone(only).mixture).luminance
    ratio = light / np.maximum(np.tensordot(LUMINANCE, plates.albedo, 1), 1e-3)
    covered = plates.cover == 1
    covered[plates.shape[0] // 2 :] = False
    columns = np.nonzero(covered.any(0))[0]
    middle = (columns[0] + columns[-1]) // 2
    half = slice(middle, None) if right else slice(None, middle)
    return float(ratio[:, half][covered[:, half]].mean())


class OnArrays(unittest.TestCase):
    @given(st.floats(-3, 3), st.floats(-3, 3), st.floats(0, 3), st.floats(0, 6.28))
    def test_pictures_are_thrown_what_the_plan_says(
        self, x: float, y: float, z: float, turn: float
    ) -> None:
        panel = panel_of(SurfaceLine((1.2, -2.0), (0.8, 2.0), 2.4, 0.8))
        place, normal = (x, y, z), (cos(turn), sin(turn), 0.0)
        thrown = Patches.of(panel).onto(np.array([place]), np.array([normal]))[:, 0]
        one_by_one = [panel.reflectance * patch.onto(place, normal) for patch in patches_of(panel)]
        np.testing.assert_allclose(thrown, one_by_one, atol=1e-12)


class Levels(unittest.TestCase):
    def test_a_card_reads_the_plans_level_whatever_stands_around(self) -> None:
        bright = SurfaceLine((1.2, -2.0), (1.2, 2.0), 2.4, 0.8)
        dark = SurfaceLine((-1.4, -2.0), (-1.4, 2.0), 2.4, 0.04)
        for name, setup in {
            "noon": noon(),
            "split light": noon(lights=SPLIT),
            "sun behind": noon(moment=BACKLIT, rim=15.6),
            "sun in front": noon(moment=FRONTLIT, subject=13.2, background_level=0.0),
        }.items():
            bare = layout_of(setup)
            sun = sun_over(setup, bare)
            for around, changed in (
                ("reflector", with_reflector(bare)),
                ("walls", replace(bare, surfaces=(bright, dark))),
                ("scrim", with_scrim(bare, sun)),
                ("both", with_scrim(with_reflector(bare), sun)),
            ):
                with self.subTest(setup=name, around=around):
                    standing = there(setup, changed)
                    wanted = plan(standing).way("nd").lighting.levels.subject
                    found = log2(total_on_card(recipe(standing).mixture.parts))
                    self.assertAlmostEqual(found, wanted, delta=0.02)


class Reflectors(unittest.TestCase):
    def test_the_side_away_from_the_key_is_opened(self) -> None:
        setup = noon(lights=SPLIT)
        without, held = recipe(setup), recipe(there(setup, with_reflector(layout_of(setup))))
        self.assertGreater(on_side(held, True, "flash"), 1.15 * on_side(without, True, "flash"))
        # The lit side has what the plan says of it, hardly another.
        self.assertAlmostEqual(
            on_side(held, False, "flash") / on_side(without, False, "flash"), 1, delta=0.06
        )

    def test_it_throws_the_sun_on_where_the_sun_is_behind(self) -> None:
        setup = noon(moment=BACKLIT, rim=15.6)
        held = SurfaceLine((-0.7, -1.2), (0.7, -1.2), 1.9, 0.8)
        made = recipe(there(setup, replace(layout_of(setup), surfaces=(held,))))
        parts = {part.name: part for part in made.mixture.parts}
        self.assertGreater(parts[SUN_BACK].amount * parts[SUN_BACK].card, 0)
        self.assertNotIn(SUN_BACK, {part.name for part in recipe(setup).mixture.parts})

    def test_a_dark_wall_takes_the_sky_away(self) -> None:
        setup = noon(subject=13.0)
        dark = SurfaceLine((0.8, -1.5), (0.8, 1.5), 3.0, 0.03)
        made = recipe(there(setup, replace(layout_of(setup), surfaces=(dark,))))
        plain = recipe(setup)
        left, right = (on_side(made, side, "daylight") for side in (False, True))
        was_left, was_right = (on_side(plain, side, "daylight") for side in (False, True))
        self.assertLess(right / left, 0.9 * was_right / was_left)


class Walls(unittest.TestCase):
    def test_a_wall_keeps_the_sun_off_as_far_as_its_height_says(self) -> None:
        # Sun from the right, 45° high: a wall 2 m high at x = 1 shades the ground up to x = −1.
        toward = floats((sqrt(0.5), sqrt(0.5), 0.0))
        casters = replace(NOTHING, walls=(StageWall((1.0, -3.0), (1.0, 3.0), 2.0, 0.4),))
        places = floats([(-0.95, 0.0, 0.0), (-1.05, 0.0, 0.0), (0.5, 0.0, 3.1), (1.5, 0.0, 0.0)])
        up = np.tile(floats((0, 1, 0)), (4, 1))
        lit = from_sun(toward, places, up, casters) / sqrt(0.5)
        np.testing.assert_allclose(lit, [0, 1, 1, 1], atol=1e-5)

    def test_and_a_light_off_what_is_behind_it(self) -> None:
        lamp = StageLight((2.0, 1.5, 0.0), (0.0, 1.5, 0.0), 0.0, 0.0, (0.0, 1.5, 0.0))
        casters = replace(NOTHING, walls=(StageWall((1.0, -3.0), (1.0, 3.0), 2.0, 0.4),))
        places = floats([(0.0, 1.5, 0.0), (0.0, 2.4, 0.0), (0.0, 2.6, 0.0), (1.5, 1.5, 0.5)])
        square = floats(lamp.at) - places
        square /= np.linalg.norm(square, axis=1, keepdims=True)
        lit = from_source(lamp, places, square, casters) > 0
        # At x = 0 the lamp's light over the wall's edge comes down at 2.5 m.
        self.assertEqual(lit.tolist(), [False, False, True, True])


class Scrims(unittest.TestCase):
    def sunlight(self, setup: SetUp, *places: tuple[float, float, float]) -> Floats:
        """What cards square to the sun have of it at places of the stage, with nobody in the way."""
        found = layout_of(setup)
        sun = sun_over(setup, found)
        assert sun is not None
        toward = sun_direction(sun)
        stage = stage_of(setup, found, SIZE)
        at = floats(places)
        return sun_on_stage(stage, toward, at, np.tile(toward, (len(at), 1)))

    def test_the_face_keeps_its_level_and_everything_outside_has_what_it_takes_off_more(self) -> None:
        setup = noon(moment=FRONTLIT)
        found = layout_of(setup)
        under = there(setup, with_scrim(found, sun_over(setup, found)))
        face = (0.0, found.face[2], 0.0)
        lit = self.sunlight(under, face, (3.0, 1.5, 0.0))
        self.assertAlmostEqual(float(lit[0]), 1, delta=0.01)
        self.assertAlmostEqual(log2(float(lit[1])), 1.5, delta=0.1)
        self.assertAlmostEqual(float(self.sunlight(setup, face)[0]), 1, places=6)

    def test_one_whose_shadow_misses_them_leaves_them_the_sun(self) -> None:
        setup = noon(moment=FRONTLIT)
        found = layout_of(setup)
        under = with_scrim(found, sun_over(setup, found))
        assert under.scrim is not None
        aside = there(setup, replace(under, scrim=replace(under.scrim, x_m=under.scrim.x_m + 3)))
        self.assertAlmostEqual(float(self.sunlight(aside, (0.0, found.face[2], 0.0))[0]), 1, delta=0.08)

    def test_its_light_is_soft(self) -> None:
        # Across a head's edge turned away from the sun: the sun stops, a scrim 1.2 m wide goes round.
        setup = noon(moment=FRONTLIT)
        found = layout_of(setup)
        sun = sun_over(setup, found)
        assert sun is not None
        toward = sun_direction(sun)
        across = np.cross(toward, floats((0, 1, 0)))
        across /= np.linalg.norm(across)
        away = floats(across * np.cos(0.1) - toward * np.sin(0.1))[None]
        face = floats([(0.0, found.face[2], 0.0)])
        self.assertEqual(float(from_sun(toward, face, away)[0]), 0)
        under = stage_of(there(setup, with_scrim(found, sun)), found, SIZE)
        self.assertIsNone(under.scrim)
        held = stage_of(setup, with_scrim(found, sun), SIZE)
        self.assertGreater(float(sun_on_stage(held, toward, face, away)[0]), 0.05)

    def test_the_picture_of_it_is_another(self) -> None:
        setup = noon(moment=FRONTLIT, subject=13.2, background_level=0.0)
        found = layout_of(setup)
        made = recipe(there(setup, with_scrim(found, sun_over(setup, found))))
        self.assertNotEqual(made.name, recipe(setup).name)
        self.assertIn(SUN, {part.name for part in made.mixture.parts})


if __name__ == "__main__":
    unittest.main()
