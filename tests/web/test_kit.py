"""The kit on its pages: gear typed and undone, measured, taken and taken back; bags; reach; documents."""

import csv
import io
import json
import re
from html import unescape
from random import Random
from typing import Any
from unittest.mock import patch

from noggin.core.gear.sheets import SHEETS, sheets_for
from noggin.demo import demo_kit
from noggin.documents.kit import read_kit
from noggin.documents.setup import canonical
from noggin.services.gear import bags, kit, kit_document, measuring, simulation
from noggin.services.gear.measuring import Filled
from noggin.services.keeping import kept, results
from noggin.services.keeping.kept import KeptItem
from noggin.services.setups import setups
from noggin.services.whole.demo import load_demo_once
from tests.support import NOON, AppCase
from tests.web.test_pages import PART, words

READINGS = (
    "2 m, 1/1, f/28\n4 m, 1/1, f/14\n2 m, 1/2, f/19.8\n2 m, 1/1, 1/400, f/13.9\n2 m, 1/1, 1/800, f/9.9"
)
"""A guide number of 56 (ISO 1230) and, at twice and four times a sync of 1/200, a toll of 1.02."""


class KitCase(AppCase):
    def add(self, kind: str = "light", key: str = "large", name: str = "") -> int:
        return kit.new_gear(self.store, self.wiring.clock, kind, key, name)

    def piece(self, number: int) -> KeptItem:
        return kit.open_gear(self.store, number)

    def get(self, url: str) -> str:
        answer = self.client.get(url)
        self.assertEqual(answer.status_code, 200, url)
        return unescape(answer.text)

    def post(self, url: str, status: int = 200, **data: Any) -> str:
        answer = self.client.post(url, data=data, follow_redirects=True)
        self.assertEqual(answer.status_code, status, url)
        return unescape(answer.text)


class Gear(KitCase):
    def test_a_class_and_a_name_make_a_light_that_the_bench_offers(self) -> None:
        self.assertIn("Nothing in the kit yet", self.get("/kit"))
        given: dict[str, Any] = {"class": "light:pocket", "name": "The little one"}
        page = self.post("/kit", **given)
        self.assertIn("Light: The little one", page)
        setup_id = setups.new_setup(self.store, self.wiring.clock)
        bench = self.get(f"/setups/{setup_id}")
        self.assertIn('<option value="kit:The little one:narrow head"', bench)
        self.assertIn('<option value="studio"', bench)  # a hired head stays choosable
        self.assertIn("500 Ws class, hired", bench)
        self.assertIn('<option value="full_frame"', bench)  # no body in the kit: those are by class still
        self.client.post(
            f"/setups/{setup_id}/figures/class-0", data={"text": "kit:The little one:narrow head"}
        )
        light = setups.open_setup(self.store, setup_id).setup.key
        self.assertEqual((light.name, light.gn_m, light.uncertainty.gn), ("The little one", 45, 1.0))

    def test_two_of_a_name_are_refused_beside_the_field_and_classes_are_numbered(self) -> None:
        self.add(name="Mine")
        page = self.post("/kit", 422, **{"class": "stand:light", "name": "Mine"})
        self.assertIn("‘Mine’ is taken", page)
        self.assertIn('value="Mine"', page)
        self.assertEqual(self.piece(self.add("stand", "light")).name, "Light stand")
        second = self.add("stand", "light")
        self.assertEqual(self.piece(second).name, "Light stand 2")
        self.assertIn("‘Mine’ is taken", self.post(f"/kit/{second}/figures/name", 422, text="Mine"))
        self.assertEqual(
            self.post("/kit", 422, **{"class": "tent:big", "name": ""}).count("Choose one of"), 1
        )

    def test_a_wrong_figure_stays_as_typed_with_the_reason_beside_it_and_a_right_one_undoes(self) -> None:
        number = self.add()
        url = f"/kit/{number}/figures/gn_m-0"
        answer = unescape(self.client.post(url, data={"text": "very bright"}, headers=PART).text)
        self.assertIn("‘very bright’ is not a guide number", answer)
        self.assertIn('value="very bright"', self.get(f"/kit/{number}"))
        self.assertIn("something you typed was not accepted", self.get("/kit"))
        self.post(url, text="50")
        self.assertEqual(
            self.piece(number).document["reflectors"][0]["gn_m"], {"value": 50, "source": "brochure"}
        )
        self.assertIn("Undo: Guide number, standard reflector", self.get(f"/kit/{number}"))
        self.post(f"/kit/{number}/undo")
        self.assertEqual(self.piece(number).document["reflectors"][0]["gn_m"]["source"], "class")
        self.post(f"/kit/{number}/redo")
        self.assertEqual(self.piece(number).document["reflectors"][0]["gn_m"]["value"], 50)
        self.post(f"/kit/{number}/undo")
        self.post(f"/kit/{number}/undo", 409)

    def test_reflectors_and_losses_come_and_go(self) -> None:
        number, box = self.add(name="Head"), self.add("modifier", "box")
        self.post(f"/kit/{number}/reflectors")
        self.post(f"/kit/{number}/figures/reflector-1", text="long reflector")
        self.post(f"/kit/{number}/figures/gn_m-1", text="90")
        self.assertIn("guide number 90.0 m, long reflector", words(self.get("/kit")))
        self.post(f"/kit/{box}/losses", light="Head")
        self.post(f"/kit/{box}/figures/loss-0", text="2.2")
        self.assertEqual(self.piece(box).document["losses"][0]["loss"]["value"], 2.2)
        self.post(f"/kit/{box}/losses", 422, light="Head")
        self.post(f"/kit/{box}/losses/0/remove")
        self.post(f"/kit/{number}/reflectors/0/remove")
        self.post(f"/kit/{number}/reflectors/0/remove", 422)
        self.post(f"/kit/{number}/losses/0/remove", 422)

    def test_archived_and_brought_back(self) -> None:
        number = self.add(name="Head")
        self.assertIn("Archived", self.post(f"/kit/{number}/archive"))
        self.assertEqual(self.client.get(f"/kit/{number}").status_code, 404)
        self.assertIn("Light: Head", self.post(f"/kit/{number}/bring-back"))
        self.assertEqual(self.client.get("/kit/called?name=Head").location, f"/kit/{number}")
        self.assertEqual(self.client.get("/kit/called?name=Nobody").status_code, 404)


class Sheets(KitCase):
    def test_measured_compared_taken_and_taken_back_with_the_readings_kept(self) -> None:
        number = self.add(name="Head")
        url = f"/kit/{number}/measure/guide_number"
        page = words(self.post(url, readings=READINGS))
        self.assertRegex(page, r"guide number 56\.0 m ± 0\.\d\d stops")
        # ISO 1230: 2·log2(40/56) = −0.971 stops.
        self.assertIn("now 40.0 m: 1 stop over the class default figure", page)
        self.post(url, readings=READINGS, act="accept")
        light = self.piece(number).document
        figure = light["reflectors"][0]["gn_m"]
        self.assertEqual((figure["source"], figure["on"]), ("measured", "2027-06-19"))
        self.assertAlmostEqual(figure["value"], 56, delta=0.2)
        self.assertAlmostEqual(light["hss_toll"]["value"], 1.02, delta=0.05)
        self.assertIn("was 40 m, class default", words(self.get(f"/kit/{number}")))
        self.post(f"/kit/{number}/take-back", figure="reflectors[0].gn_m")
        self.assertEqual(
            self.piece(number).document["reflectors"][0]["gn_m"],
            {"value": 40, "source": "class", "plus_minus": 1.0},
        )
        self.post(f"/kit/{number}/take-back", 422, figure="reflectors[0].gn_m")
        self.post(f"/kit/{number}/take-back", 422, figure="reflectors[9].gn_m")
        for _ in range(2):
            self.post(f"/kit/{number}/undo")
        ((_, kept),) = self.store.measurements.of(number)
        self.assertEqual(kept["readings"].replace("\r\n", "\n"), READINGS)
        self.assertIn("f/19.8", self.get(f"/kit/{number}"))

    def test_readings_that_cannot_be_read_are_kept_on_the_page_and_nowhere_else(self) -> None:
        number = self.add()
        url = f"/kit/{number}/measure/toll"
        for readings, said in (("soon", "line 1: ‘soon’"), ("2 m, 1/1, f/8", "readings: write readings")):
            page = self.post(url, 422, readings=readings)
            self.assertIn(said, page)
            self.assertIn(readings, page)
        self.assertIn("face across: is empty", self.post(url, 422, readings="2 m, 1/1, f/8", across=""))
        self.assertEqual(self.store.measurements.of(number), ())

    def test_the_same_readings_are_kept_once(self) -> None:
        number = self.add()
        for _ in range(3):
            self.post(f"/kit/{number}/measure/power_scale", readings="1/1, f/22\n1/2, f/16")
        self.assertEqual(len(self.store.measurements.of(number)), 1)

    def test_a_modifiers_loss_from_one_light_becomes_a_row_of_its_own(self) -> None:
        self.add(name="Head")
        box = self.add("modifier", "box")
        text = "without: 2 m, 1/1, f/16\nwith: 2 m, 1/1, f/8"
        self.post(
            f"/kit/{box}/measure/modifier_loss", readings=text, about="Head", across="0", act="accept"
        )
        document = self.piece(box).document
        self.assertEqual((document["losses"][0]["light"], document["loss"]["value"]), ("Head", 0.5))
        self.assertAlmostEqual(document["losses"][0]["loss"]["value"], 2)

    def test_what_a_sheet_finds_of_filter_body_and_scale_is_taken(self) -> None:
        glass, body, head = self.add("filter", "nd6"), self.add("body", "full_frame"), self.add()
        text = "without: EV 12, 5500 K\nwith: EV 5.7, 5200 K"
        self.post(f"/kit/{glass}/measure/filter", readings=text, act="accept")
        self.assertAlmostEqual(self.piece(glass).document["least"]["value"], 6.3)
        self.assertAlmostEqual(self.piece(glass).document["colour"]["value"], 10.5, delta=0.1)
        text = "1/160: 100\n1/200: 82\n1/250: 66"
        self.post(f"/kit/{body}/measure/sync_speed", readings=text, act="accept")
        self.assertAlmostEqual(self.piece(body).document["sync_s"]["value"], 1 / 160, places=5)
        self.assertAlmostEqual(self.piece(body).document["curtain_s"]["value"], 0.0061, places=4)
        self.post(f"/kit/{head}/measure/power_scale", readings="1/1, f/22\n1/2, f/14", act="accept")
        self.assertAlmostEqual(self.piece(head).document["power_off"]["value"], 0.304, places=3)
        self.post(f"/kit/{body}/take-back", figure="curtain_s")
        self.assertNotIn("curtain_s", self.piece(body).document)

    def test_simulated_readings_say_so_and_every_sheet_has_some(self) -> None:
        load_demo_once(self.store, self.wiring.clock)
        seen = set()
        for piece in kit.all_gear(self.store):
            for key, _ in sheets_for(kit.kind_of(piece)):
                page = self.post(f"/kit/{piece.id}/measure/{key}", act="simulate")
                self.assertIn("These readings are simulated.", page)
                rng = Random(1)  # noqa: S311 - a fixed seed is what a test wants
                filled = measuring.filled(
                    piece, simulation.simulated(piece, measuring.fresh(piece, key), rng)
                )
                self.assertEqual(filled.problem, "")
                seen.add(key)
        self.assertEqual(seen, set(SHEETS))

    def test_a_sheet_of_other_gear_is_not_here(self) -> None:
        self.assertEqual(self.client.get(f"/kit/{self.add()}/measure/filter").status_code, 404)
        self.assertEqual(self.client.get(f"/kit/{self.add()}/measure/guess").status_code, 404)


class Documents(KitCase):
    database = "demo"

    def test_a_kit_goes_out_and_comes_in_the_same(self) -> None:
        document = json.loads(self.get("/kit/kit.json"))
        read_kit(document)

        def same(found: list[dict[str, Any]]) -> list[str]:
            return sorted(json.dumps(item, sort_keys=True) for item in found)

        self.assertEqual(same(document["gear"]), same(demo_kit()["gear"]))
        page = words(self.post("/kit/import", document=json.dumps(document)))
        self.assertIn("35 were there already, and stay as they are", page)

    def test_a_kit_changes_what_has_the_same_name_and_that_undoes(self) -> None:
        document = demo_kit()
        document["gear"][0]["item"]["notes"] = "scratched"
        document["gear"].append({"item": {**document["gear"][-1]["item"], "name": "One more bag of sand"}})
        page = words(self.post("/kit/import", document=json.dumps(document)))
        for said in (
            "1 was added One more bag of sand",
            "1 was changed Full-frame body",
            "34 were there already",
        ):
            self.assertIn(said, page)
        body = next(item for item in kit.all_gear(self.store) if item.document.get("notes") == "scratched")
        self.post(f"/kit/{body.id}/undo")
        self.assertNotIn("notes", self.piece(body.id).document)

    def test_a_bad_kit_changes_nothing_and_is_named_beside_what_was_pasted(self) -> None:
        document = demo_kit()
        document["gear"][3]["item"]["widest"] = "wide"
        before = self.get("/kit/kit.json")
        page = self.post("/kit/import", 422, document=json.dumps(document))
        self.assertIn('gear[3].item.widest: "wide" is not a number', page)
        self.assertEqual(self.get("/kit/kit.json"), before)
        self.assertIn("the document is empty", self.post("/kit/import", 422, document=""))

    def test_readings_go_out_as_csv_and_come_in_with_gear_that_knows_them_not(self) -> None:
        text = self.get("/kit/readings.csv")
        rows = list(csv.DictReader(io.StringIO(text)))
        self.assertEqual(sum(row["sheet"] == "guide_number" for row in rows), 10)
        self.assertIn("0 new measurements", self.post("/kit/import", document=text))
        light = next(item for item in kit.all_gear(self.store) if item.name == "Speedlight")
        more = 'gear,sheet,taken,reading\nSpeedlight,power_scale,2027-05-10,"1/1, f/22"\n'
        more += 'Speedlight,power_scale,2027-05-10,"1/2, f/16"\n'
        self.assertIn("1 new measurement", self.post("/kit/import", document=more))
        self.assertEqual(len(self.store.measurements.of(light.id)), 1)

    def test_a_bad_row_is_named_and_nothing_is_kept(self) -> None:
        head = "gear,sheet,taken,reading\n"
        for rows, said in (
            ("Nobody,toll,2027-05-10,x", "row 2: no gear in the kit is called ‘Nobody’"),
            ("Speedlight,toll,2027-05-10,x", "Speedlight: reading: line 1: ‘x’ is not a reading"),
            ("Speedlight,guess,2027-05-10,x", "Speedlight: sheet:"),
            (
                "Speedlight,filter,2027-05-10,without: EV 3",
                "Speedlight: sheet: Filter does not apply to this gear",
            ),
            ("Speedlight,toll,lately,x", "Speedlight: taken:"),
        ):
            with self.subTest(rows=rows):
                self.assertIn(said, self.post("/kit/import", 422, document=head + rows))
        self.assertIn("names no column gear", self.post("/kit/import", 422, document="a,b\n1,2"))

    def test_an_import_that_breaks_off_brings_nothing(self) -> None:
        document = demo_kit()
        for owned in document["gear"]:
            owned["item"]["notes"] = "from the other computer"
        before = self.get("/kit/kit.json")
        with (
            patch.object(self.store.measurements, "add", side_effect=OSError("the disk is full")),
            self.assertRaises(OSError),
        ):
            # The last piece has a reading that is new: everything else was written by then.
            body = document["gear"][0]
            document["gear"].append({**body, "item": {**body["item"], "name": "Third body"}})
            kit_document.import_kit(self.store, self.wiring.clock, document)
        self.assertEqual(self.get("/kit/kit.json"), before)


class FromTheBench(KitCase):
    def test_a_light_typed_into_a_set_up_is_put_into_the_kit_and_measured_there(self) -> None:
        light = {**NOON["lights"][0], "name": "Borrowed head", "gn_m": 50}
        setup_id = setups.import_setup(self.store, self.wiring.clock, {**NOON, "lights": [light]})
        self.assertIn("Put it in the kit to measure it", self.get(f"/setups/{setup_id}"))
        page = self.post(f"/setups/{setup_id}/lights/0/kit")
        self.assertIn("Light: Borrowed head", page)
        (item,) = kit.all_gear(self.store)
        self.assertEqual(item.document["reflectors"][0]["gn_m"]["value"], 50)
        self.assertEqual(item.document["hss_toll"]["value"], 1.1)
        bench = self.get(f"/setups/{setup_id}")
        self.assertNotIn("Put it in the kit to measure it", bench)
        self.assertIn("Its figures in the kit, and measuring it", bench)
        # The second press finds it there.
        self.post(f"/setups/{setup_id}/lights/0/kit")
        self.assertEqual(len(kit.all_gear(self.store)), 1)
        self.post(f"/setups/{setup_id}/lights/7/kit", 422)


class Bags(KitCase):
    database = "demo"

    def test_a_bag_is_packed_unpacked_and_undone_and_the_bench_offers_only_it(self) -> None:
        store = self.store
        page = self.post("/bags", name="Small")
        self.assertIn("33 of 33 packed", words(page))
        bag = next(bag for bag in bags.all_bags(store) if bag.name == "Small")
        large = next(item for item in kit.all_gear(store) if item.name.startswith("Large"))
        self.post(f"/bags/{bag.id}/pack", gear=str(large.id), into="0")
        setup_id = results.listed(store)[0][0].id
        self.client.post(f"/setups/{setup_id}/figures/bag", data={"text": "Small"})
        bench = self.get(f"/setups/{setup_id}")
        self.assertNotIn('<option value="kit:Large head', bench)
        self.assertIn("Not in the bag: Large head, 600 Ws class.", bench)
        self.post(f"/bags/{bag.id}/undo")
        self.assertIn('<option value="kit:Large head', self.get(f"/setups/{setup_id}"))
        self.post(f"/bags/{bag.id}/redo")
        self.assertEqual(len(bags.packed(store, bags.open_bag(store, bag.id))), 32)

    def test_a_bag_has_a_day_and_says_what_is_missed(self) -> None:
        self.post("/bags", name="Light")
        bag = next(bag for bag in bags.all_bags(self.store) if bag.name == "Light")
        self.assertIn("is not a date", self.post(f"/bags/{bag.id}/figures/day", 422, text="Saturday"))
        self.post(f"/bags/{bag.id}/figures/day", text="2027-06-19")
        gear = kit.all_gear(self.store)
        for kind in ("trigger", "stand", "body"):
            for item in gear:
                if kit.kind_of(item) == kind:
                    self.post(f"/bags/{bag.id}/pack", gear=str(item.id), into="0")
        page = words(self.get(f"/bags/{bag.id}"))
        for said in ("Pack a camera body", "Pack a transmitter", "5 lights, 0 stands"):
            self.assertIn(said, page)

    def test_archived_and_back_and_no_two_of_a_name(self) -> None:
        bag = bags.all_bags(self.store)[0]
        self.post("/bags", 422, name=bag.name)
        self.post(f"/bags/{bag.id}/archive")
        self.assertIn(bag.name, self.post(f"/bags/{bag.id}/bring-back"))


class Reach(KitCase):
    def test_without_a_set_up_it_says_what_to_do(self) -> None:
        self.assertIn("Plan a picture first", self.get("/reach"))

    def test_a_cell_reaches_as_far_as_the_bench_says_and_opens_there(self) -> None:
        load_demo_once(self.store, self.wiring.clock)
        store = self.store
        setup_id = results.listed(store)[0][0].id
        page = self.get(f"/reach?setup={setup_id}&aperture=f/4")
        cell = re.search(r"Large head.*?bare head.*?(\d\.\d\d) m", page, re.DOTALL)
        assert cell is not None
        self.post(
            f"/reach/{setup_id}",
            light="kit:Large head, 600 Ws class:standard reflector",
            modifier="bare",
            bag="Observatory wedding",
            aperture="f/4",
        )
        self.client.post(f"/setups/{setup_id}/figures/light_distance-0", data={"text": cell[1]})
        opened = setups.open_setup(store, setup_id)
        self.assertEqual(opened.setup.intent.aperture, 4)
        # At its farthest the light has nothing left: some way at sync comes out within a dial step of that.
        stopped = opened.plan.way("stop_down").reserve
        assert stopped is not None
        self.assertAlmostEqual(stopped, 0, delta=0.34)
        for _ in range(2):
            kept.move(store, self.wiring.clock, setups.SETUPS, setup_id, -1)
        self.assertEqual(setups.open_setup(store, setup_id).setup.intent.aperture, 2)

    def test_a_wrong_figure_is_said_and_kept(self) -> None:
        load_demo_once(self.store, self.wiring.clock)
        page = self.get("/reach?aperture=wide")
        self.assertIn("‘wide’ is not an aperture", page)
        self.assertIn('value="wide"', page)
        number = results.listed(self.store)[0][0].id
        self.post(f"/reach/{number}", 422, light="x", modifier="bare")

    def test_by_class_where_there_is_no_kit(self) -> None:
        self.store.setups.add(canonical(NOON), self.wiring.clock())
        self.assertIn("Studio head, 500 Ws class", self.get("/reach"))


class Recall(KitCase):
    def test_a_sheet_that_was_kept_says_the_same_again(self) -> None:
        number = self.add()
        filled = measuring.filled(self.piece(number), Filled("guide_number", READINGS, across="0.4 m"))
        measuring.keep(self.store, self.wiring.clock, self.piece(number), filled)
        ((_, again),) = measuring.kept_sheets(self.store, self.piece(number))
        assert filled.outcome
        assert again.outcome
        self.assertEqual(
            [found.measured for found in again.outcome.found],
            [found.measured for found in filled.outcome.found],
        )
