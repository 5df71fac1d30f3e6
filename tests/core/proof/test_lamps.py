"""Lamps in the place behind: discs as wide as the optics draw them, with the light that they have."""

import unittest
from dataclasses import replace
from typing import ClassVar

import numpy as np

from noggin.core.physics import optics
from noggin.core.planning.plan import plan
from noggin.core.proof.mesh import Floats
from noggin.core.setup.setup import SetUp
from noggin.services.setups.proofs import ProofRecipe, Proofs, recipe_of
from tests.support import noon


def evening(aperture: float = 2.0) -> SetUp:
    """A couple at dusk, lanterns behind them."""
    setup = noon(background=6.0, subject=4.5, background_distance_m=25.0, aperture=aperture)
    return replace(setup, scene=replace(setup.scene, lamps_background=4.0))


class Lamps(unittest.TestCase):
    proofs: ClassVar[Proofs]

    @classmethod
    def setUpClass(cls) -> None:
        cls.proofs = Proofs()  # what is rendered once serves every blur

    def recipe(self, setup: SetUp) -> ProofRecipe:
        return recipe_of(setup, plan(setup).way("within_sync"), (900, 600))

    def lamps(self, setup: SetUp, blur: float) -> Floats:
        found = self.proofs.plates(self.recipe(setup)).behind(blur).lamps
        assert found is not None
        return found

    def one(self, picture: Floats, column: int, row: int, room: int) -> tuple[float, float]:
        """Light of one lamp, and the diameter of an even disc that spreads as it does."""
        part = picture[row - room : row + room + 1, column - room : column + room + 1].astype(float)
        y, x = np.mgrid[-room : room + 1, -room : room + 1]
        total = part.sum()
        mean_x, mean_y = (part * x).sum() / total, (part * y).sum() / total
        spread = (part * ((x - mean_x) ** 2 + (y - mean_y) ** 2)).sum() / total
        return float(total), float(2 * np.sqrt(2 * spread))

    def test_a_lamp_out_of_focus_is_as_wide_as_the_optics_say(self) -> None:
        """Thin lens: b = f²/(N(s − f))·|D − s|/D, and the lamp's own face."""
        setup = evening()
        sharp = self.lamps(setup, 0.0)
        row, column = (int(place) for place in np.argwhere(sharp > 0.5)[0])
        width = setup.camera.sensor_mm[0]
        subject, behind = setup.scene.subject_distance_m, setup.scene.background_distance_m
        for f_number in (2.0, 2.8, 4.0):
            part = optics.blur_disc(subject, behind, setup.lens.focal_mm, f_number) / width
            disc = part * 900
            total, wide = self.one(self.lamps(setup, part), column, row, int(disc) + 4)
            light, own = self.one(sharp, column, row, int(disc) + 4)
            self.assertAlmostEqual(wide, float(np.hypot(disc, own)), delta=0.05 * disc)
            self.assertAlmostEqual(total / light, 1.0, delta=0.05)

    def test_the_background_keeps_its_level_and_is_read_beside_them(self) -> None:
        setup = evening()
        recipe = self.recipe(setup)
        lit = self.proofs.picture(recipe)
        read = self.proofs.plates(recipe).behind(recipe.mixture.blur).read_at
        assert read
        level = plan(setup).way("within_sync").lighting.levels.background
        self.assertAlmostEqual(float(lit.levels[read]), level, delta=0.05)

    def test_they_are_there_where_lamps_are_said_and_in_daylight_alone(self) -> None:
        setup = evening()
        without = replace(setup, scene=replace(setup.scene, lamps_background=None))
        self.assertIsNone(self.proofs.plates(self.recipe(without)).behind(0.0).lamps)
        self.assertIsNone(self.recipe(without).mixture.lamps)
        self.assertIsNone(self.recipe(setup).mixture.only(None, flash=True).lamps)
        self.assertIsNotNone(self.recipe(setup).mixture.only(None, flash=False).lamps)
