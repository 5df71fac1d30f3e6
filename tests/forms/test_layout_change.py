"""Any set-up stands somewhere: its plan agrees with it, is drawn and told, and gives a picture."""

import unittest

import numpy as np
from hypothesis import given

from noggin.core.advice.layout_words import layout_words, light_notes, sun_notes
from noggin.core.layout.findings import Standing
from noggin.core.layout.intentions import INTENTIONS, arranged, lacks
from noggin.core.planning.plan import plan
from noggin.core.setup.setup import SetUp
from noggin.documents.setup import setup_of
from noggin.forms.layout_change import canonical_with_layout, layout_in, with_layout
from noggin.services.setups.proofs import Proofs, proof_in_words, recipes_of
from noggin.web.drawings import from_above, from_side
from tests.support import document_of, fewer, setups

PROOFS = Proofs()


class AnySetUp(unittest.TestCase):
    @given(setups())
    @fewer(20)
    def test_its_plan_agrees_with_it_and_is_drawn_and_told(self, setup: SetUp) -> None:
        document = document_of(setup)
        standing = Standing(setup_of(canonical_with_layout(with_layout(document, layout_in(document)))))
        self.assertGreater(from_above(standing).width, 0)
        self.assertGreater(from_side(standing).width, 0)
        self.assertTrue(layout_words(standing))
        self.assertTrue(list(sun_notes(standing)))
        for found in standing.lights:
            self.assertTrue(list(light_notes(standing, found)))

    @given(setups())
    @fewer(8)
    def test_every_placement_that_can_be_had_agrees_with_its_figures(self, setup: SetUp) -> None:
        document, standing = document_of(setup), Standing(setup)
        for intention in INTENTIONS:
            if not lacks(intention, standing):
                placed = canonical_with_layout(with_layout(document, arranged(intention, standing)))
                self.assertIsNotNone(setup_of(placed).scene.layout)

    @given(setups())
    @fewer(8)
    def test_every_way_gives_a_picture_and_words(self, setup: SetUp) -> None:
        found = plan(setup)
        for key, recipe in recipes_of(setup, found.ways, (120, 80)).items():
            linear = PROOFS.picture(recipe).linear
            self.assertTrue(bool(np.isfinite(linear).all()) and float(linear.min()) >= 0)
            self.assertTrue(proof_in_words(setup, found.way(key)).startswith(found.way(key).label))


if __name__ == "__main__":
    unittest.main()
