"""The plan's page and the proofs of a set-up, over HTTP."""

from io import BytesIO
from math import dist
from re import findall, search
from typing import Any
from xml.etree import ElementTree

from PIL import Image, ImageChops, ImageStat

from noggin.core.planning.plan import plan
from noggin.core.planning.ways import WAYS
from noggin.core.wording import signed
from noggin.services.setups import setups as services
from noggin.services.setups.proofs import recipe_of
from tests.documents.test_layout import standing
from tests.support import AppCase

PART = {"HX-Request": "true"}


class Case(AppCase):
    database = "empty"

    def setUp(self) -> None:
        super().setUp()
        self.number = services.import_setup(self.store, self.wiring.clock, standing())

    @property
    def url(self) -> str:
        return f"/setups/{self.number}"

    @property
    def document(self) -> Any:
        return services.open_setup(self.store, self.number).document

    def send(self, path: str, status: int = 200, **fields: Any) -> str:
        answer = self.client.post(f"{self.url}/plan/{path}", data=fields, headers=PART)
        self.assertEqual(answer.status_code, status, answer.text[:400])
        return answer.text


class Plan(Case):
    def test_everything_stands_where_the_document_says(self) -> None:
        page = self.client.get(f"{self.url}/plan").text
        self.assertIn('data-item="light:Large head"', page)
        self.assertIn("translate(-173.9 173.9)", page)
        self.assertIn('data-item="surface:0"', page)
        self.assertIn("short side" if "short side" in page else "broad side", page)
        for words in (
            "Distance",
            "2.50 m",
            "−45°",
            "Looks toward",
            "200°",
            "<dt>Placement</dt>",
            "hard, a point",
        ):
            self.assertIn(words, page)

    def test_a_light_that_is_dragged_moves_in_figures_and_back(self) -> None:
        before = self.document
        self.send("move", item="light:Large head", x="-1.000 m", y="-2.000 m", height="2.000 m")
        light = self.document["lights"][0]
        # √(1² + 2² + 0.45²) = 2.281; atan(1/2) = 26.6° off the lens.
        self.assertAlmostEqual(light["distance_m"], 2.281, places=2)
        self.assertAlmostEqual(light["angle_deg"], 26.6, places=1)
        bench = self.client.get(self.url).text
        self.assertIn('value="2.28"', bench)
        page = self.send("undo")
        self.assertEqual(self.document["lights"], before["lights"])
        self.assertIn("Redo: Large head moved", page)

    def test_a_figure_of_the_bench_moves_the_light(self) -> None:
        self.client.post(f"{self.url}/figures/light_distance-0", data={"text": "1.8"})
        spot = self.document["scene"]["plan"]["lights"]["Large head"]
        self.assertEqual(self.document["lights"][0]["distance_m"], 1.8)
        self.assertAlmostEqual(spot["x_m"], spot["y_m"], places=2)
        self.assertGreater(spot["x_m"], -1.3)

    def test_figures_are_typed_as_people_write_them(self) -> None:
        self.send("move", item="light:Large head", distance="180 cm", angle="−60°", height="1.9 m")
        light = self.document["lights"][0]
        self.assertEqual((light["distance_m"], light["angle_deg"]), (1.8, 60.0))
        self.send("move", item="person:0", turn="-20", height="1.6")
        person = self.document["scene"]["plan"]["people"][0]
        self.assertEqual((person["turn_deg"], person["height_m"]), (-20.0, 1.6))
        self.send("move", item="camera", away="4 m", facing="270°")
        self.assertEqual(self.document["scene"]["subject_distance_m"], 4.0)
        self.assertEqual(self.document["scene"]["plan"]["facing_deg"], 270)

    def test_a_light_is_feathered_by_degrees(self) -> None:
        page = self.send("move", item="light:Large head", past="20")
        self.assertIn("aimed 20° past the face, toward the camera", page)
        page = self.send("move", item="light:Large head", past="-20")
        self.assertIn("aimed 20° past the face, away from the camera", page)
        self.assertIsNotNone(self.document["scene"]["plan"]["lights"]["Large head"]["aim"])
        self.send("move", item="light:Large head", past="0")
        self.assertIsNone(self.document["scene"]["plan"]["lights"]["Large head"]["aim"])

    def test_what_cannot_be_is_said_beside_the_field_and_nothing_is_lost(self) -> None:
        before = self.document
        page = self.send("move", 422, item="light:Large head", distance="far", angle="12°")
        self.assertIn("‘far’ is not a distance", page)
        self.assertIn('value="far"', page)
        self.assertIn('value="12°"', page)
        page = self.send("move", 422, item="light:Large head", height="500 m")
        self.assertIn("500 is outside", page)
        self.assertEqual(self.document, before)
        self.send("move", 404, item="light:Moon", x="1 m")
        self.send("move", 404, item="person:9", x="1 m")
        self.send("move", 404, item="nothing", x="1 m")

    def test_the_camera_does_not_pass_the_subject(self) -> None:
        before = self.document
        for figure, text in (("away", "-4 m"), ("away", "0"), ("y", "0.5 m")):
            page = self.send("move", 422, item="camera", **{figure: text})
            self.assertIn("the camera stands before the subject", page)
        self.assertIn("0.05 is outside 0.1", self.send("move", 422, item="camera", away="5 cm"))
        told = self.client.get(f"{self.url}/plan/preview?item=camera&y=1 m").text
        self.assertIn("the camera stands before the subject", told)
        self.assertEqual(self.document, before)

    def test_one_figure_is_changed_and_the_others_stay_to_their_last_digit(self) -> None:
        self.send("move", item="light:Large head", x="-1.312 m", y="-2.047 m")
        self.send("move", item="light:Large head", past="-17")
        row = self.row("light:Large head")
        self.assertEqual((row["angle"], row["past"]), ("−33°", "−17°"))
        before = self.document["scene"]["plan"]["lights"]["Large head"]
        moved: dict[str, Any] = {**row, "height": "2.3 m"}
        self.send("move", item="light:Large head", **moved)
        self.assertEqual(
            self.document["scene"]["plan"]["lights"]["Large head"], {**before, "height_m": 2.3}
        )

    def row(self, item: str) -> dict[str, str]:
        """The figures of a row as the page has them, by their names."""
        form = self.client.get(f"{self.url}/plan").text.split(f'name="item" value="{item}"')[1]
        return dict(findall(r'name="(\w+)"\s+id="plan-[^"]+"\s+value="([^"]*)"', form.split("</form>")[0]))

    def test_a_light_on_the_background_is_moved_by_its_place(self) -> None:
        self.client.post(f"{self.url}/lights", data={"role": "background"})
        row = self.row("light:Large head 2")
        self.assertEqual(set(row), {"x", "y", "height"})
        self.send("move", item="light:Large head 2", x="-2 m")
        spot = self.document["scene"]["plan"]["lights"]["Large head 2"]
        self.assertEqual(spot["x_m"], -2)
        far = dist((spot["x_m"], spot["y_m"], spot["height_m"]), spot["aim"])
        self.assertAlmostEqual(self.document["lights"][1]["distance_m"], far, places=1)

    def test_a_plan_holds_so_many_and_says_so(self) -> None:
        for kind, most in (("wall", 12), ("person", 40)):
            there = len(self.document["scene"]["plan"]["surfaces" if kind == "wall" else "people"])
            for _ in range(there, most):
                self.send(f"add/{kind}")
            self.assertIn(f"a plan holds {most}", self.send(f"add/{kind}", 422))

    def test_people_walls_and_reflectors_come_and_go(self) -> None:
        for kind in ("person", "wall", "reflector"):
            self.send(f"add/{kind}", offered=services.open_setup(self.store, self.number).revision)
        plan = self.document["scene"]["plan"]
        self.assertEqual((len(plan["people"]), len(plan["surfaces"])), (2, 3))
        self.assertEqual(len(self.document["scene"]["face_distances_m"]), 2)
        self.send("remove", item="person:1")
        self.send("remove", item="surface:2")
        plan = self.document["scene"]["plan"]
        self.assertEqual((len(plan["people"]), len(plan["surfaces"])), (1, 2))
        self.assertEqual(self.document["scene"].get("face_distances_m", []), [])
        self.send("add/piano", 404)
        answer = self.client.post(f"{self.url}/plan/remove", data={"item": "person:0"}, headers=PART)
        self.assertEqual(answer.status_code, 422)

    def test_a_scrim_takes_its_stops_off_the_face_and_gives_them_back(self) -> None:
        def subject() -> float:
            return float(self.document["scene"]["ev100"]["subject"])

        before = subject()
        page = self.send("add/scrim")
        self.assertEqual(subject(), before - 1.5)
        self.assertIn("1.5 stops off their daylight", page)
        self.assertNotIn("Add a scrim", page)
        page = self.send("move", item="scrim", takes="2", wide="2 m", height="9'")
        self.assertEqual(subject(), before - 2)
        held = self.document["scene"]["plan"]["scrim"]
        self.assertEqual((held["radius_m"], held["stops"]), (1.0, 2.0))
        self.assertAlmostEqual(held["height_m"], 9 * 0.3048, places=3)
        # Above the eyes of everybody it is, but not in the frame's way: what is out of range is refused.
        self.assertIn("is outside 0.3", self.send("move", 422, item="scrim", takes="9"))
        self.assertEqual(subject(), before - 2)
        self.send("undo")
        self.assertEqual(subject(), before - 1.5)
        self.send("redo")
        self.send("remove", item="scrim")
        self.assertEqual(subject(), before)
        self.assertIsNone(self.document["scene"]["plan"]["scrim"])
        self.send("add/scrim")
        self.send("forget")
        self.assertEqual(subject(), before)

    def test_a_cable_and_the_wind_come_and_go(self) -> None:
        item = "light:Large head"
        self.assertNotIn("cable", self.client.get(f"{self.url}/plan").text.partition("Sun and wind")[2])
        self.send("cable", item=item)
        self.assertEqual(self.document["scene"]["plan"]["lights"]["Large head"]["cable"], [-4.239, -1.739])
        page = self.send("move", item="cable:Large head", x="2 m", y="-1.5 m")
        self.assertIn("lead it round, or tape it down", page)
        self.assertEqual(self.document["scene"]["plan"]["lights"]["Large head"]["cable"], [2.0, -1.5])
        self.send("remove", item="cable:Large head")
        self.assertIsNone(self.document["scene"]["plan"]["lights"]["Large head"]["cable"])
        self.send("cable", 404, item="light:Gone")
        self.send("move", 404, item="cable:Large head", x="1 m")
        side: dict[str, Any] = {"from": "-60"}
        page = self.send("move", item="wind", **side)
        self.assertEqual(self.document["scene"]["plan"]["wind_deg"], -60)
        self.assertIn("from behind the subject, left", page)
        self.assertIn('class="plan-wind"', page)
        self.assertIn("is outside", self.send("move", 422, item="wind", **{"from": "400"}))
        self.assertNotIn('class="plan-wind"', self.send("remove", item="wind"))

    def test_what_a_reflector_throws_on_is_said_beside_it(self) -> None:
        page = self.send("add/reflector")
        row = page.partition('id="row-surface:1"')[2]
        self.assertIn("<dt>Throws on</dt>", row)
        self.assertIn("Reflector", row[:1200])

    def test_one_person_alone_is_the_subject_wherever_they_stand(self) -> None:
        self.send("move", item="person:0", x="0 m", y="0.5 m")
        self.assertEqual(self.document["scene"]["subject_distance_m"], 3.7)
        self.assertEqual(self.document["scene"]["plan"]["people"][0]["y_m"], 0.0)

    def test_mirrored_twice_is_as_it_was(self) -> None:
        before = self.document["scene"]["plan"]
        self.send("mirror")
        self.assertEqual(self.document["scene"]["plan"]["lights"]["Large head"]["x_m"], 1.739)
        self.send("mirror")
        self.assertEqual(self.document["scene"]["plan"], before)

    def test_a_copy_of_the_key_is_a_fill_on_the_other_side(self) -> None:
        self.send("copy", item="light:Large head")
        plan, lights = self.document["scene"]["plan"], self.document["lights"]
        self.assertEqual([light["role"] for light in lights], ["key", "fill"])
        self.assertEqual(plan["lights"]["Large head 2"]["x_m"], -plan["lights"]["Large head"]["x_m"])
        self.send("copy", 404, item="light:Moon")

    def test_placements_by_intention(self) -> None:
        page = self.client.get(f"{self.url}/plan").text
        self.assertEqual(len(findall(r'id="offer-', page)), 10)
        self.assertIn("needs a fill light", page)
        page = self.send("arrange/short_sculpted")
        self.assertIn("short side", page)
        self.assertGreater(self.document["scene"]["plan"]["lights"]["Large head"]["x_m"], 0)
        self.send("arrange/nonsense", 404)
        answer = self.client.post(f"{self.url}/plan/arrange/clamshell", headers=PART)
        self.assertEqual(answer.status_code, 422)

    def test_a_light_that_is_added_or_taken_away_takes_its_place_along(self) -> None:
        self.client.post(f"{self.url}/lights", data={"role": "rim"})
        lights = self.document["scene"]["plan"]["lights"]
        self.assertEqual(set(lights), {"Large head", "Large head 2"})
        self.assertGreater(lights["Large head 2"]["y_m"], 0)
        self.client.post(f"{self.url}/figures/light_name-1", data={"text": "Kicker"})
        self.assertEqual(self.document["scene"]["plan"]["lights"]["Kicker"], lights["Large head 2"])
        self.client.post(f"{self.url}/lights/1/remove")
        self.assertEqual(set(self.document["scene"]["plan"]["lights"]), {"Large head"})

    def test_a_remedy_that_brings_a_light_closer_says_where_it_still_stays_out(self) -> None:
        self.client.post(f"{self.url}/figures/gn-0", data={"text": "14"})
        page = self.client.get(f"{self.url}?look=nd").text
        self.assertIn("where it shows at the edge of the frame (out of it from 0.", page)
        self.client.post(f"{self.url}/remedies/nd/closer")
        light = self.document["lights"][0]
        spot = self.document["scene"]["plan"]["lights"]["Large head"]
        far = (spot["x_m"] ** 2 + spot["y_m"] ** 2 + (spot["height_m"] - 1.55) ** 2) ** 0.5
        self.assertLess(light["distance_m"], 1.5)
        self.assertAlmostEqual(light["distance_m"], far, places=2)

    def test_a_light_in_the_frame_is_told_on_the_bench_with_its_ways_out(self) -> None:
        self.send("move", item="light:Large head", x="0.3 m", y="-0.8 m", height="1.6 m")
        page = self.client.get(self.url).text
        self.assertRegex(page, r"shows at the edge of the frame\. Out of it: [\d.]+ m away")

    def test_a_preview_says_what_would_be_and_keeps_nothing(self) -> None:
        before = self.document
        given = {"item": "light:Large head", "x": "0.2 m", "y": "-0.9 m", "height": "1.5 m"}
        answer = self.client.get(f"{self.url}/plan/preview", query_string=given)
        self.assertIn("In the frame", answer.text)
        self.assertEqual(self.document, before)
        bad = self.client.get(f"{self.url}/plan/preview", query_string={**given, "x": "far"})
        self.assertEqual(bad.status_code, 422)
        self.assertEqual(self.client.get(f"{self.url}/plan/preview?item=piano").status_code, 404)

    def test_a_plan_is_let_go(self) -> None:
        self.send("forget")
        self.assertIsNone(self.document["scene"].get("plan"))
        self.assertIn("Nobody has said where things stand", self.client.get(f"{self.url}/plan").text)

    def test_without_a_script_every_act_is_a_page(self) -> None:
        answer = self.client.post(f"{self.url}/plan/move", data={"item": "camera", "away": "5 m"})
        self.assertEqual((answer.status_code, answer.location), (303, f"{self.url}/plan"))
        answer = self.client.post(f"{self.url}/plan/move", data={"item": "camera", "away": "x"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("<html", answer.text)


class ProofFiles(Case):
    def picture(self, address: str) -> Image.Image:
        answer = self.client.get(address)
        self.assertEqual((answer.status_code, answer.mimetype), (200, "image/webp"))
        return Image.open(BytesIO(answer.data))

    def test_every_method_is_headed_by_its_part_of_one_file_under_an_address_of_its_content(self) -> None:
        head = (
            r'id="way-\d+">|class="way-picture place-(\d)"\s+src="([^"]+)"|data-row="name"[^>]*>([^<]+)</a>'
        )
        page = self.client.get(self.url).text
        pictures = findall(r'class="way-picture place-(\d)"\s+src="([^"]+)"', page)
        names = [name for _, _, name in findall(head, page) if name]
        (address,) = {source for _, source in pictures}
        in_order = {kind.label: place for place, kind in enumerate(WAYS.values())}
        self.assertEqual([int(place) for place, _ in pictures], [in_order[name] for name in names])
        answer = self.client.get(address)
        self.assertEqual((answer.status_code, answer.mimetype), (200, "image/avif"))
        self.assertIn("immutable", answer.headers["Cache-Control"])
        board = Image.open(BytesIO(answer.data))
        self.assertEqual(board.size, (204, 136 * 10))
        # Each part is what the method's own file shows, as near as the file's quality goes.
        for key, place in zip(WAYS, range(len(WAYS)), strict=True):
            own = f"{self.url}/proofs/{key}/now.webp?size=small"
            alone = self.picture(self.client.get(own).location).convert("L").resize((24, 16))
            part = board.crop((0, 136 * place, 204, 136 * (place + 1))).convert("L").resize((24, 16))
            apart = ImageStat.Stat(ImageChops.difference(alone, part)).mean[0]
            self.assertLess(apart, 4, key)
        self.client.post(f"{self.url}/figures/background_level", data={"text": "-3"})
        sent_on = self.client.get(address)
        self.assertEqual(sent_on.status_code, 307)
        self.assertNotEqual(sent_on.location, address)
        self.assertEqual(self.client.get(sent_on.location).mimetype, "image/avif")

    def test_an_address_of_another_picture_is_sent_on_and_never_answered_with_one(self) -> None:
        address = f"{self.url}/proofs/nd/{'0' * 20}.webp"
        for more in ("", "?size=small", "?only=daylight"):
            answer = self.client.get(address + more)
            self.assertEqual(answer.status_code, 307)
            self.assertNotIn("immutable", answer.headers.get("Cache-Control", ""))
            self.assertTrue(answer.location.endswith(more), answer.location)
            self.assertEqual(self.client.get(answer.location).mimetype, "image/webp")
        self.assertEqual(self.client.get(f"{self.url}/proofs/magic/{'0' * 20}.webp").status_code, 404)
        moon = self.client.get(f"{address}?only=Moon", follow_redirects=True)
        self.assertEqual(moon.status_code, 404)

    def test_each_light_alone(self) -> None:
        page = self.client.get(f"{self.url}/proof?show=daylight&look=nd").text
        self.assertIn("Flash off", page)
        self.assertIn("only=daylight", page)
        self.assertEqual(self.client.get(f"{self.url}/proof?show=Moon").status_code, 404)
        src = search(r'<img src="(/setups/[^"]+only=daylight[^"]*)"', page)
        assert src
        day = self.picture(src[1].replace("&amp;", "&"))
        whole = self.picture(src[1].split("?")[0])
        self.assertLess(sum(day.convert("L").tobytes()), sum(whole.convert("L").tobytes()))

    def test_tones_are_read_in_stops(self) -> None:
        opened = services.open_setup(self.store, self.number)
        way = opened.plan.way("nd")
        name = recipe_of(opened.setup, way).name
        found = self.client.get(f"{self.url}/proofs/nd/{name}.json").json
        assert found
        self.assertEqual((found["columns"], found["rows"]), (60, 40))
        levels = [level for row in found["levels"] for level in row]
        self.assertTrue(all(-8 <= level <= 12 for level in levels))
        near = [level for level in levels if abs(level - way.lighting.levels.background) < 1]
        self.assertGreater(len(near), 200)
        tones = self.client.get(f"{self.url}/proofs/nd/{name}-tones.svg")
        self.assertEqual(ElementTree.fromstring(tones.text).tag.split("}")[1], "svg")  # noqa: S314 - our own

    def test_files_to_be_saved(self) -> None:
        png = self.client.get(f"{self.url}/proof.png")
        self.assertEqual(Image.open(BytesIO(png.data)).size, (600, 400))
        self.assertIn("attachment", png.headers["Content-Disposition"])
        svg = self.client.get(f"{self.url}/proof.svg").text
        self.assertIn("data:image/png;base64,", svg)
        self.assertIn("ISO 100", svg)
        alone = self.client.get(f"{self.url}/setup.html").text
        self.assertIn("data:image/webp;base64,", alone)

    def test_a_picture_is_told_in_words_too(self) -> None:
        page = self.client.get(f"{self.url}?look=nd").text
        levels = plan(services.open_setup(self.store, self.number).setup).way("nd").lighting.levels
        self.assertIn(f"faces at {signed(levels.subject)}", page)
        self.assertIn("key hard from the left", page)
