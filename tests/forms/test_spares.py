"""Remedies that name the piece that is owned: a light, a modifier, a filter, a grid."""

import unittest
from collections.abc import Mapping
from typing import Any

from noggin.core.advice.remedies import Remedy, remedies
from noggin.core.planning.plan import plan
from noggin.demo import demo_documents, demo_kit
from noggin.documents.kit import read_kit
from noggin.documents.setup import setup_of
from noggin.forms.change import changed
from noggin.forms.choices import Choices, choices_of
from noggin.forms.layout_change import canonical_with_layout
from noggin.forms.setup_entries import entries_of
from noggin.forms.spares import spares_of


def whole_kit() -> Choices:
    """Everything in the demo's kit, as one bag."""
    return choices_of([owned.item for owned in read_kit(demo_kit()).gear], ["Observatory wedding"])


def found(document: Mapping[str, Any], way: str) -> dict[str, Remedy]:
    """The remedies of one way of a set-up, with what the kit has."""
    setup = setup_of(document)
    spares = spares_of(document, setup, whole_kit())
    return {remedy.remedy: remedy for remedy in remedies(plan(setup), spares)[way]}


class Spares(unittest.TestCase):
    def setUp(self) -> None:
        # The wall at noon with a speedlight in an umbrella, which falls short of everything.
        self.document = canonical_with_layout(demo_documents()[1])

    def test_the_smallest_light_that_is_enough_is_named_and_can_be_tried(self) -> None:
        # By a filter the studio head is enough; in high-speed sync, which it has not, the large head is.
        self.assertIn(
            "the Studio head, 500 Ws class in your bag", found(self.document, "nd")["bigger_light"].to
        )
        remedy = found(self.document, "hss")["bigger_light"]
        self.assertIn("the Large head, 600 Ws class in your bag", remedy.to)
        tried = canonical_with_layout(changed(self.document, remedy.change))
        key = tried["lights"][0]
        self.assertEqual((key["name"], key["role"]), ("Large head, 600 Ws class", "key"))
        self.assertEqual(key["distance_m"], self.document["lights"][0]["distance_m"])
        self.assertEqual(plan(setup_of(tried)).way("hss").feasible, remedy.suffices)

    def test_a_light_of_which_none_is_left_is_not_named(self) -> None:
        self.document["lights"].append(
            {**self.document["lights"][0], "role": "rim", "name": "Studio head, 500 Ws class"}
        )
        self.assertNotIn("use the Studio head", found(self.document, "nd")["bigger_light"].to)

    def test_more_heads_say_how_many_are_owned(self) -> None:
        # The kit has two speedlights, and one is the key.
        self.assertIn("(1 more in your bag)", found(self.document, "nd")["another_head"].to)

    def test_a_modifier_that_loses_less_on_this_very_light(self) -> None:
        remedy = found(self.document, "nd")["modifier"]
        self.assertRegex(remedy.to, "put Speedlight into the .* in your bag")
        after = canonical_with_layout(changed(self.document, remedy.change))["lights"][0]
        self.assertLess(after["loss"], self.document["lights"][0]["loss"])

    def test_a_filter_and_a_grid_that_are_in_the_bag(self) -> None:
        without = canonical_with_layout({**demo_documents()[0], "filters": []})
        self.assertIn("in your bag", found(without, "nd")["nd_not_hss"].to)
        wall = canonical_with_layout(
            changed(
                demo_documents()[0],
                {
                    "scene.background_distance_m": 4.5,
                    "scene.ev100.background": 8.0,
                    "scene.ev100.subject": 6.0,
                    "intent.background_level": -5.5,
                    "lights[0].angle_deg": 80.0,
                },
            )
        )
        spilling = found(wall, plan(setup_of(wall)).shown.key)
        self.assertIn("put the Grid in your bag on Large head", spilling["grid"].to)
        self.assertEqual(spilling["grid"].change, {"lights[0].grid": True})

    def test_without_a_kit_it_says_what_to_look_for(self) -> None:
        setup = setup_of(self.document)
        remedy = {one.remedy: one for one in remedies(plan(setup))["nd"]}["bigger_light"]
        self.assertRegex(remedy.to, r"a light of guide number \d+ \(metres\) or more")


class FollowsTheBody(unittest.TestCase):
    def test_a_class_toll_is_that_on_the_body(self) -> None:
        # On a body that syncs at 1/100 a toll met at 1/200 is log2((1/200)/(1/100)) = one stop less.
        document: Any = canonical_with_layout(demo_documents()[0])
        by_class = choices_of([])
        for key, value in (("class-0", "pocket"), ("sync", "1/100")):
            document = canonical_with_layout(entries_of(document, by_class)[key].put(document, value))
        self.assertAlmostEqual(document["lights"][0]["hss_toll"], 2.0 - 1.0, delta=0.01)
        # A toll of one's own stays as it was typed.
        document["lights"][0]["hss_toll"] = 1.7
        document = canonical_with_layout(entries_of(document, by_class)["sync"].put(document, "1/160"))
        self.assertEqual(document["lights"][0]["hss_toll"], 1.7)

    def test_what_a_modifier_takes_goes_by_the_head_in_it(self) -> None:
        document, by_class = canonical_with_layout(demo_documents()[0]), choices_of([])
        for light, loss in (("pocket", 1.3), ("pocket_bare", 0.7), ("large", 0.7), ("speedlight", 1.3)):
            for key, value in (("class-0", light), ("modifier-0", "umbrella")):
                document = canonical_with_layout(entries_of(document, by_class)[key].put(document, value))
            self.assertEqual(document["lights"][0]["loss"], loss, light)
        # Another head in the same modifier takes the loss along that is its own.
        document = canonical_with_layout(
            entries_of(document, by_class)["class-0"].put(document, "pocket_bare")
        )
        self.assertEqual(document["lights"][0]["loss"], 0.7)
