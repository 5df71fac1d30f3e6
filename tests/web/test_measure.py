"""Measuring a light on the page: readings in, figures out, taken and taken back."""

from dataclasses import replace
from html import unescape
from math import log2
from random import Random

from noggin.core.gear.parse_readings import read_readings
from noggin.documents.setup import normal
from noggin.services import setups as services
from tests.support import NOON, NOW, AppCase

READINGS = (
    "2 m, 1/1, f/28\n4 m, 1/1, f/14\n2 m, 1/2, f/19.8\n2 m, 1/1, 1/400, f/13.9\n2 m, 1/1, 1/800, f/9.9"
)
"""A guide number of 56 (ISO 1230) and, at twice and four times a sync of 1/200, a stop and two less, and a
toll of 1.02 besides: f/28 over f/13.9 is 2.02 stops."""


class Measuring(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.id = self.wiring.store.setups.add(normal(NOON), NOW).id
        self.url = f"/setups/{self.id}/lights/0/measure"

    def post(self, **data: str) -> str:
        return unescape(self.client.post(self.url, data={"across": "0", **data}).text)

    def test_readings_are_worked_out_and_taken_and_undone(self) -> None:
        page = self.post(readings=READINGS)
        self.assertRegex(page, r"<td>60.0</td>\s*<td>56.0</td>")
        self.client.post(self.url, data={"across": "0", "readings": READINGS, "act": "accept"})
        opened = services.open_setup(self.wiring.store, self.id)
        light = opened.setup.key
        self.assertAlmostEqual(light.gn_m, 56, delta=0.2)
        self.assertAlmostEqual(light.hss_toll or 0, 1.02, delta=0.05)
        self.assertLess(light.uncertainty.gn, 0.1)
        # The readings are never lost: they stay with the light and stand on its sheet again.
        self.assertEqual(opened.document["lights"][0]["readings"].replace("\r\n", "\n"), READINGS)
        self.assertIn("f/19.8", self.client.get(self.url).text)
        back = services.undo(self.wiring.store, self.wiring.clock, self.id)
        self.assertEqual(back.setup.key.gn_m, 60)

    def test_a_light_is_measured_as_it_stands_and_makes_the_same_light_again(self) -> None:
        # Two heads through a modifier of 1.5 stops and a gel of 0.5: what was metered is what is planned.
        document = normal(NOON)
        document["lights"][0] |= {"loss": 1.5, "radius_m": 0.4, "count": 2, "gel": "half_cto"}
        self.id = self.wiring.store.setups.add(normal(document), NOW).id
        self.url = f"/setups/{self.id}/lights/0/measure"
        self.client.post(self.url, data={"across": "0.9", "readings": READINGS, "act": "accept"})
        light = services.open_setup(self.wiring.store, self.id).setup.key
        self.assertEqual((light.loss, light.count, light.gel, light.radius_m), (1.5, 2, "half_cto", 0.45))
        # ISO 1230: f/14 at 4 m is 2·log2 14 = 7.615 stops at f/1, whatever the light is made of.
        self.assertAlmostEqual(replace(light, distance_m=4).reach, 2 * log2(14), delta=0.1)

    def test_a_figure_typed_after_measuring_is_not_trusted_like_a_measured_one(self) -> None:
        self.client.post(self.url, data={"across": "0", "readings": READINGS, "act": "accept"})
        for key, text in (("gn-0", "70"), ("modifier-0", "umbrella"), ("toll-0", "2")):
            services.enter(self.wiring.store, self.wiring.clock, self.id, key, text)
        uncertainty = services.open_setup(self.wiring.store, self.id).setup.key.uncertainty
        self.assertEqual((uncertainty.gn, uncertainty.loss, uncertainty.toll), (1.0, 0.8, 0.7))

    def test_what_cannot_be_read_says_so_and_keeps_what_was_written(self) -> None:
        for readings, said in (
            ("2 m, 1/1, f/28\nfar away", "line 2: ‘far away’ is not like 2 m, 1/1, f/28"),
            ("2 m, 1/1, f/28\n-1 m, 1/1, f/8", "line 2:"),
            ("2 m, 1/1, f/999", "line 1: 999 is outside f/0.1 … f/256"),
            ("2 m, 1/1, f/28", "readings: 2 are needed for this, not 1"),
            ("", "readings: 2 are needed"),
        ):
            with self.subTest(readings=readings):
                answer = self.client.post(self.url, data={"readings": readings, "across": "0"})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(said, unescape(answer.text))
                self.assertIn(readings, unescape(answer.text))

    def test_a_reading_that_is_off_is_questioned(self) -> None:
        page = self.post(readings="\n".join(["2 m, 1/1, f/28"] * 5 + ["2 m, 1/1, f/40"]))
        self.assertIn("Reading 6 is 0.9 stops brighter than the others say", page)

    def test_the_simulated_meter_fills_the_sheet_and_says_what_it_is(self) -> None:
        page = self.post(act="simulate")
        self.assertIn("simulated meter", page)
        self.assertIn("What they say", page)
        rng = Random(1)  # noqa: S311 - a fixed seed is what a test wants
        readings = services.simulated_readings(services.open_setup(self.wiring.store, self.id), 0, rng)
        self.assertEqual(len(read_readings(readings)), 5)

    def test_a_light_that_is_not_there(self) -> None:
        self.assertEqual(self.client.get(f"/setups/{self.id}/lights/7/measure").status_code, 404)
