"""Odd input: the smallest case of everything that was once answered with a status of 500, and a little of
what `tools/fuzz.py` does at length."""

import json
from io import BytesIO
from typing import Any

from noggin.services.day import shoots
from noggin.services.gear import kit
from tests.support import AppCase
from tools.fuzz import Fuzz

POPS = "1.5 m, 1/1, f/40\n2.5 m, 1/1, f/24\n4 m, 1/1, f/15"


class Cases(AppCase):
    database = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.app.config["PROPAGATE_EXCEPTIONS"] = False
        self.addCleanup(self.app.config.update, PROPAGATE_EXCEPTIONS=None)
        self.light = kit.gear_named(self.store, "Large head, 600 Ws class")
        self.day = shoots.listed_shoots(self.store)[0][0].id

    def status(self, address: str, **data: str) -> int:
        return self.client.post(address, data=data).status_code

    def send(self, address: str, content: bytes) -> tuple[int, str]:
        answer = self.client.post(address, data={"file": (BytesIO(content), "file")})
        return answer.status_code, answer.text

    def test_sheets(self) -> None:
        sheet = f"/kit/{self.light}/measure/guide_number"
        for data in (
            {"across": "12", "sync": "1/200", "readings": POPS},
            {"across": "0", "sync": "abc", "readings": POPS},
            {
                "across": "0",
                "sync": "1/200",
                "readings": "0.1 m, 1/1, f/0.1\n0.2 m, 1/1, f/0.1",
                "act": "accept",
            },
            {
                "across": "0",
                "sync": "1/200",
                "readings": "180 m, 1/128, f/256\n190 m, 1/128, f/256",
                "act": "accept",
            },
            {"across": "0", "sync": "1/200", "readings": "x" * 8_001},
            {"across": "0", "sync": "1/200", "readings": f"{POPS}\n" * 200, "act": "accept"},
        ):
            with self.subTest(data=str(data)[:80]):
                self.assertEqual(self.status(sheet, **data), 422)

    def test_names_roles_and_taking_back(self) -> None:
        for address, data in (
            ("/bags", {"name": "x" * 121}),
            ("/bags", {"name": "a\0b"}),
            ("/kit", {"class": "large_head", "name": "x" * 121}),
            (f"/kit/{self.light}/take-back", {"path": "name", "figure": "name"}),
            ("/setups/1/lights", {"role": "fill", "like": "9"}),
            ("/setups/1/lights", {"role": "boss", "like": "-9"}),
        ):
            with self.subTest(address=address, data=str(data)[:60]):
                self.assertEqual(self.status(address, **data), 422)

    def test_a_wrong_entry_for_a_figure_that_goes_with_another_entry(self) -> None:
        """A ± waits beside a figure; where the figure itself is emptied there is no ± any more."""
        number = kit.gear_named(self.store, "6-stop ND")
        for text in ("abc", "0.1"):
            self.status(f"/kit/{number}/figures/colour", text="0.1")
            self.status(f"/kit/{number}/figures/colour:off", text=text)
            self.assertEqual(self.status(f"/kit/{number}/figures/colour", text=" "), 303)
        self.assertEqual(self.client.get(f"/kit/{number}").status_code, 200)

    def test_numbers_that_no_database_has(self) -> None:
        for place in ("setups", "kit", "bags", "shoots"):
            for number in (2**63, 10**300):
                self.assertEqual(self.client.get(f"/{place}/{number}").status_code, 404)

    def test_a_day_that_its_zone_skipped(self) -> None:
        """Samoa went from 29 to 31 December 2011 (IANA time zone database)."""
        new = {"name": "A", "date": "2011-12-30", "place": "-13.8, -171.8", "tz": "Pacific/Apia"}
        answer = self.client.post("/shoots", data=new)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("Pacific/Apia skipped 2011-12-30. Choose another date", answer.text)
        self.status(f"/shoots/{self.day}/figures/tz", text="Pacific/Apia")
        self.status(f"/shoots/{self.day}/figures/date", text="2011-12-30")
        answer = self.client.get(f"/shoots/{self.day}")
        self.assertIn("Pacific/Apia skipped 2011-12-30", answer.text)
        self.assertEqual(self.client.get(f"/shoots/{self.day}/light.csv").status_code, 200)

    def test_places_out_of_files(self) -> None:
        for found in (
            {"type": "FeatureCollection", "features": 5},
            {"type": "GeometryCollection", "geometries": True},
            {"type": "Point", "coordinates": [10**400, 1]},
        ):
            status, _ = self.send(f"/shoots/{self.day}/place", json.dumps(found).encode())
            self.assertEqual(status, 422, found)

    def test_readings_as_csv(self) -> None:
        head = "gear,sheet,taken,across_m,sync_s,reading"
        taken = "2027-05-09T10:00+02:00"
        line = f'"Large head, 600 Ws class",guide_number,{taken},0,0.005'
        status, text = self.send(
            "/kit/import", f'{head}\r{line},"2 m, 1/1, f/30"\r{line},"4 m, 1/1, f/15"\r'.encode()
        )
        self.assertEqual(status, 200, text[-1500:])
        status, text = self.send("/kit/import", f"{head}\n{'x' * 131_073},a,,0,0,b\n".encode())
        self.assertEqual((status, "row 2" in text), (422, True))

    def test_a_key_that_comes_twice_among_thousands(self) -> None:
        text = "{" + ",".join(f'"k{number}": 0' for number in [*range(60_000), 59_999]) + "}"
        status, said = self.send("/setups/import", text.encode())
        self.assertEqual((status, "k59999: appears twice" in said), (422, True))


class Chance(AppCase):
    database = "demo"

    def test_nothing_is_answered_with_500(self) -> None:
        kept: dict[str, Any] = dict(self.app.config)
        self.addCleanup(self.app.config.update, kept)
        fuzz = Fuzz(self.app, seed=7)
        for _ in range(120):
            fuzz.a_form()
        for _ in range(45):
            fuzz.a_document()
        self.assertEqual(fuzz.faults, [])
        self.assertGreater(sum(fuzz.statuses[status] for status in (200, 303)), 20)
