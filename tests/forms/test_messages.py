"""What is said beside a field is said of the fields on the page, never of the document behind them."""

import unittest
from typing import Any

from noggin.documents.problems import BadDocument, Problem
from noggin.forms.entry import Entry
from noggin.services.keeping.form import Form
from noggin.store.repository import KeptDocument

ENTRIES = {
    "times": Entry("times", "Fastest time", ("camera", "fastest"), str, str),
    "where": Entry("where", "Where and when", ("scene", "place"), str, str),
}


class Messages(unittest.TestCase):
    def said(self, path: str) -> str:
        def canonical_with_layout(_: Any) -> Any:
            raise BadDocument([Problem(path, "8 is too much")])

        document = {"camera": {"fastest": "1/8000"}, "scene": {"place": "here"}}
        kept = KeptDocument(1, "", document, {"times": "8"}, 1)
        return Form(lambda _: ENTRIES, canonical_with_layout).pending(kept)["times"].problem

    def test_a_fault_of_the_figure_itself_needs_no_name(self) -> None:
        self.assertEqual(self.said("camera.fastest"), "8 is too much")

    def test_a_fault_elsewhere_is_named_by_the_field_there(self) -> None:
        self.assertEqual(self.said("scene.place"), "Where and when: 8 is too much")
        self.assertEqual(self.said("scene.place.lat"), "Where and when: 8 is too much")

    def test_a_fault_that_no_field_shows_is_said_without_its_path(self) -> None:
        self.assertEqual(self.said("scene.places"), "8 is too much")
        self.assertEqual(self.said("lights[0].gn_m"), "8 is too much")
