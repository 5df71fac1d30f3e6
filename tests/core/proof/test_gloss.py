"""What skin and hair mirror: where a mirror would show the light, and no more than falls on them."""

import unittest
from math import cos, pi, radians
from typing import ClassVar

import numpy as np
from scipy.integrate import quad

from noggin.core.layout.standing import layout_of
from noggin.core.proof.gloss import GLOSS, gloss
from noggin.core.proof.mesh import HAIR, SKIN, Floats, floats
from noggin.core.proof.stage import stage_of
from noggin.core.proof.unit_pictures import UnitPictures
from noggin.figures import figure
from tests.support import noon


class Gloss(unittest.TestCase):
    made: ClassVar[UnitPictures]

    @classmethod
    def setUpClass(cls) -> None:
        setup = noon()
        cls.made = UnitPictures(stage_of(setup, layout_of(setup), (300, 200)), figure)

    def of(self, toward: Floats) -> Floats:
        seen, made = self.made._seen, self.made
        return gloss(made.mesh, seen.vertices, seen.vertex_parts, made.stage.view.at, toward)

    def test_it_is_brightest_where_a_mirror_would_show_the_light(self) -> None:
        """The normal lies half-way between light and lens (law of reflection)."""
        seen, mesh = self.made._seen, self.made.mesh
        at = floats((1.6, 2.1, 1.8))
        places, normals = mesh.places[seen.vertices], mesh.normals[seen.vertices]
        found = self.of(at - places)
        for part in GLOSS:
            some = np.nonzero(seen.vertex_parts == part)[0]
            best = some[found[some].argmax()]
            light, lens = at - places[best], floats(self.made.stage.view.at) - places[best]
            half = light / np.linalg.norm(light) + lens / np.linalg.norm(lens)
            cosine = float(half @ normals[best] / np.linalg.norm(half) / np.linalg.norm(normals[best]))
            self.assertGreater(cosine, cos(radians(12)))

    def test_nothing_else_shines(self) -> None:
        seen = self.made._seen
        found = self.of(floats((0.3, 0.5, 1.0))[None])
        self.assertEqual(set(np.unique(seen.vertex_parts[found > 0])), {SKIN, HAIR})

    def test_straight_on_it_mirrors_what_fresnel_says_and_never_more_than_comes(self) -> None:
        """((n − 1)/(n + 1))² (Fresnel) of 1.40 for skin and 1.55 for hair; the lobe of all directions
        together, each by how it faces, holds no more than that part of the light."""
        for part, index in ((SKIN, 1.40), (HAIR, 1.55)):
            straight, sharp = GLOSS[part]
            self.assertAlmostEqual(straight, ((index - 1) / (index + 1)) ** 2, delta=0.002)
            # Light straight on, lens at an angle t: the half vector is half as far off the normal.
            lobe, _ = quad(
                lambda t, m=sharp: (m + 8) / 8 * cos(t / 2) ** m * cos(t) * 2 * np.sin(t), 0, pi / 2
            )
            self.assertLess(lobe, 1.35)
            self.assertGreater(lobe, 0.7)
