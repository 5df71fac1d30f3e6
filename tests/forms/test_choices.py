"""What the Bench is offered, and what a choice makes of the set-up."""

import unittest
from math import log2
from typing import Any

from noggin.demo import demo_kit
from noggin.documents.kit import gear_of, read_kit
from noggin.documents.setup import canonical, setup_of
from noggin.forms.choices import BY_CLASS, Choices, choices_of
from noggin.forms.setup_entries import entries_of
from tests.support import NOON

GEAR = [owned.item for owned in read_kit(demo_kit()).gear]
KIT = choices_of(GEAR, ["Observatory wedding"])


class Choosing(unittest.TestCase):
    def put(self, offered: Choices = KIT, document: Any = NOON, **choices: str) -> Any:
        found = canonical(document)
        for key, text in choices.items():
            entry = entries_of(found, offered)[key.replace("_0", "-0")]
            found = canonical(entry.put(found, entry.parsed(text)))
            self.assertEqual(entry.text(found), text, key)
        return found

    def test_choices_are_recognised_again_in_the_set_up(self) -> None:
        self.put(
            camera="kit:Second body",
            trigger="kit:Radio trigger",
            lens="kit:24–70 mm",
            filters_from="kit",
            class_0="kit:Pocket strobe, 200 Ws class:narrow head",
            modifier_0="kit:Deep softbox, 1.1 m:grid",
            bag="Observatory wedding",
        )

    def test_figures_come_with_how_far_they_are_known(self) -> None:
        light = self.put(
            class_0="kit:Large head, 600 Ws class:standard reflector", modifier_0="kit:Softbox, 0.9 m"
        )["lights"][0]
        uncertainty = setup_of(canonical({**NOON, "lights": [light]})).key.uncertainty
        self.assertLess(uncertainty.gn, 0.1)
        self.assertAlmostEqual(uncertainty.loss, 0.328, delta=0.01)
        self.assertAlmostEqual(light["loss"], 1.34, delta=0.01)

    def test_a_grid_takes_besides(self) -> None:
        plain = self.put(modifier_0="kit:Deep softbox, 1.1 m")["lights"][0]
        grid = self.put(modifier_0="kit:Deep softbox, 1.1 m:grid")["lights"][0]
        self.assertAlmostEqual(grid["loss"] - plain["loss"], 0.6)

    def test_a_toll_goes_with_the_bodys_sync_speed(self) -> None:
        # DOMAIN: on another body toll + log2(t_measured/t_sync); the demo's tolls count from 1/200.
        there = self.put(camera="kit:Second body", class_0="kit:Speedlight:standard zoom")["lights"][0][
            "hss_toll"
        ]
        self.assertAlmostEqual(there, 2.4 + log2(160 / 200), places=2)
        # The body chosen after the light: the toll follows, for it is still the kit's own.
        after = self.put(class_0="kit:Speedlight:standard zoom", camera="kit:Second body")["lights"][0][
            "hss_toll"
        ]
        self.assertEqual(after, there)

    def test_a_trigger_without_high_speed_sync_takes_it_from_camera_and_lights(self) -> None:
        document = self.put(
            camera="kit:Full-frame body",
            class_0="kit:Speedlight:standard zoom",
            trigger="kit:Simple trigger",
        )
        self.assertFalse(document["camera"]["hss"])
        self.assertIsNone(document["lights"][0]["hss_toll"])
        back = self.put(document=document, trigger="kit:Radio trigger")
        self.assertTrue(back["camera"]["hss"])
        self.assertEqual(back["lights"][0]["hss_toll"], 2.4)

    def test_a_toll_of_ones_own_is_left_alone(self) -> None:
        document = self.put(camera="kit:Full-frame body", class_0="kit:Speedlight:standard zoom")
        document["lights"][0]["hss_toll"] = 2.9
        self.assertEqual(
            self.put(document=document, trigger="kit:Simple trigger")["lights"][0]["hss_toll"], 2.9
        )

    def test_filters_are_those_that_fit_the_lens_as_measured_without_polarisers(self) -> None:
        on_85 = self.put(lens="kit:85 mm", filters_from="kit")["filters"]
        self.assertEqual([one["stops"] for one in on_85], [3, 6.25, [2, 5]])
        # The variable one is of 77 mm: no ring leads there from 82; no ring leads from 58 to any.
        self.assertEqual(len(self.put(lens="kit:24–70 mm", filters_from="kit")["filters"]), 2)
        moved = self.put(lens="kit:85 mm", filters_from="kit")
        self.assertEqual(self.put(document=moved, lens="kit:35 mm")["filters"], [])

    def test_a_zoom_keeps_its_focal_length_where_it_reaches(self) -> None:
        self.assertEqual(self.put(lens="kit:24–70 mm")["lens"]["focal_mm"], 70)

    def test_what_a_modifier_takes_from_one_very_light(self) -> None:
        box = next(
            owned["item"] for owned in demo_kit()["gear"] if owned["item"]["name"] == "Softbox, 0.6 m"
        )
        own = {**box, "losses": [{"light": "Speedlight", "loss": {"value": 2.1, "source": "measured"}}]}
        others = [one for one in GEAR if one.name != box["name"]]
        offered = choices_of([*others, gear_of(own)])
        made = self.put(offered, modifier_0="kit:Softbox, 0.6 m", class_0="kit:Speedlight:standard zoom")[
            "lights"
        ][0]
        self.assertEqual((made["loss"], made["uncertainty"]["loss"]), (2.1, 0.3))

    def test_only_a_bag_offers_nothing_else(self) -> None:
        stands = [one for one in GEAR if one.kind in ("stand", "lens")]
        only, whole = choices_of(stands, only=True), choices_of(stands)
        self.assertEqual((dict(only.lights), dict(only.cameras), list(only.modifiers)), ({}, {}, ["bare"]))
        self.assertEqual(
            (whole.lights, whole.cameras),
            (BY_CLASS.lights, BY_CLASS.cameras),
        )
        self.assertEqual(len(only.lenses), 3)
