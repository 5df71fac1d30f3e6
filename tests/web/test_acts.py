"""What is done with a whole set-up: undo, remedies tried, lights, versions compared, copies, documents."""

import csv
import io
import json
import re
from datetime import datetime, timedelta
from html import unescape
from math import log2
from xml.etree import ElementTree

from noggin.core.advice.derivations import DERIVATIONS
from noggin.core.advice.way_table import ROWS
from noggin.core.planning.ways import WAYS
from noggin.demo import demo_documents
from noggin.documents.setup import canonical, setup_of
from noggin.services.setups import setups as services
from noggin.services.setups.setups import OpenSetUp
from noggin.store.repository import KeptDocument
from tests.support import NOON, NOW, AppCase, raw

PART = {"HX-Request": "true"}


class Acts(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.now = NOW
        self.setup_id = self.store.setups.add(canonical(NOON), NOW).id
        self.url = f"/setups/{self.setup_id}"

    def clock(self) -> datetime:
        """A clock that lets enough time pass between any two acts for each to be a step."""
        self.now += timedelta(seconds=10)
        return self.now

    def enter(self, key: str, text: str) -> OpenSetUp:
        return services.enter(self.store, self.clock, self.setup_id, key, text)

    def opened(self) -> OpenSetUp:
        return services.open_setup(self.store, self.setup_id)

    def post(self, path: str, **data: object) -> str:
        answer = self.client.post(f"{self.url}/{path}", data=data, headers=PART)
        self.assertEqual(answer.status_code, 200, answer.text[:300])
        return answer.text

    def status(self, path: str, **data: object) -> int:
        return self.client.post(f"{self.url}/{path}", data=data, headers=PART).status_code


class Undo(Acts):
    def test_every_step_is_taken_back_and_done_again_over_a_restart(self) -> None:
        before = [self.opened().document]
        for key, text in (("aperture", "4"), ("ev_background", "13"), ("light_distance-0", "2")):
            before.append(self.enter(key, text).document)
        for document in before[-2::-1]:
            self.post("undo")
            self.assertEqual(self.opened().document, document)
        self.assertEqual(self.status("undo"), 409)
        for document in before[1:]:
            self.post("redo")
            self.assertEqual(self.opened().document, document)
        self.assertEqual(self.status("redo"), 409)

    def test_typing_one_figure_in_one_go_is_one_step(self) -> None:
        for text in ("1", "13", "13.", "13.4"):
            services.enter(self.store, lambda: NOW, self.setup_id, "ev_background", text)
        self.enter("aperture", "4")
        self.post("undo")
        self.assertEqual(self.opened().setup.scene.background, 13.4)
        self.post("undo")
        self.assertEqual(self.opened().setup.scene.background, 14.6)

    def test_a_change_after_undoing_ends_what_could_be_done_again(self) -> None:
        self.enter("aperture", "4")
        self.post("undo")
        self.enter("aperture", "8")
        self.assertIsNone(self.opened().redo)
        undo = self.opened().undo
        self.assertEqual(undo and undo.label, "Aperture")

    def test_what_waits_beside_a_figure_is_no_step(self) -> None:
        self.enter("aperture", "wide")
        self.assertIsNone(self.opened().undo)


class Remedies(Acts):
    def test_a_remedy_is_tried_with_one_tap_and_taken_back(self) -> None:
        self.setup_id = self.store.setups.add(canonical(demo_documents()[1]), NOW).id
        self.url = f"/setups/{self.setup_id}"
        before = self.opened()
        page = self.client.get(f"{self.url}?look=mixed").text
        self.assertIn(f'action="{self.url}/remedies/mixed/closer"', page)
        self.assertFalse(before.plan.way("mixed").feasible)
        answer = self.post("remedies/mixed/closer")
        self.assertTrue(self.opened().plan.way("mixed").feasible)
        self.assertIn("Undo: tried: closer", unescape(answer))
        self.post("undo")
        self.assertEqual(self.opened().document, before.document)

    def test_every_remedy_offered_can_be_tried(self) -> None:
        for number in (0, 1, 3):
            self.setup_id = self.store.setups.add(canonical(demo_documents()[number]), NOW).id
            self.url = f"/setups/{self.setup_id}"
            for way in WAYS:
                for helps in self.opened().remedies(way):
                    if helps.change:
                        with self.subTest(way=way, remedy=helps.remedy):
                            self.post(f"remedies/{way}/{helps.remedy}")
                            self.post("undo")

    def test_one_that_helps_no_more_is_said_so(self) -> None:
        self.assertEqual(self.status("remedies/nd/closer"), 409)


class Lights(Acts):
    def test_lights_are_added_copied_set_and_removed(self) -> None:
        self.post("lights", role="rim", like=0)
        self.post("lights", role="fill", like=1)
        names = [(light.role, light.name) for light in self.opened().setup.lights]
        self.assertEqual(names, [("key", "Large head"), ("rim", "Large head 2"), ("fill", "Large head 3")])
        for key, text in (
            ("light_distance-1", "3 m"),
            ("class-1", "speedlight"),
            ("modifier-2", "umbrella"),
            ("group-1", "b"),
            ("channel-1", "4"),
            ("relative-1", "+1"),
            ("face-0", "80 cm"),
            ("heads-0", "2"),
        ):
            self.enter(key, text)
        light, rim, fill = self.opened().setup.lights
        self.assertEqual((rim.name, rim.gn_m, rim.hss_toll), ("Speedlight", 29, 2.4))
        self.assertEqual((rim.distance_m, rim.group, rim.channel, rim.relative), (3, "B", 4, 1))
        # The fill is a bare tube's: what an umbrella takes goes by the head that is in it.
        self.assertEqual((fill.loss, fill.radius_m), (0.7, 0.4))
        self.assertEqual((light.radius_m, light.count), (0.4, 2))
        self.post("lights/1/remove")
        self.assertEqual([light.role for light in self.opened().setup.lights], ["key", "fill"])

    def test_the_key_stays_and_there_is_only_one(self) -> None:
        self.assertEqual(self.status("lights/0/remove"), 422)
        self.assertEqual(self.status("lights", role="key", like=0), 422)
        self.assertEqual(self.status("lights/9/remove"), 422)

    def test_powers_are_shown_in_the_lights_own_notation(self) -> None:
        self.enter("power_min-0", "1/64 -0.3")
        self.assertAlmostEqual(self.opened().setup.key.power_min, 2 ** (-6 - 1 / 3))
        self.enter("scale-0", "decimal")
        self.enter("power_min-0", "3")
        self.assertEqual(self.opened().setup.key.power_min, 1 / 128)
        entry = self.opened().entries["power_min-0"]
        self.assertEqual(entry.text(self.opened().document), "3.0")
        way = self.opened().plan.way("nd")
        self.assertRegex(way.lighting.key.power_words, r"^\d\.\d of 10$")


class Picture(Acts):
    def test_a_camera_and_a_lens_are_chosen_not_typed(self) -> None:
        self.enter("camera", "leaf")
        camera = self.opened().setup.camera
        self.assertEqual((camera.sync.label, camera.shutter, camera.hss), ("1/2000", "leaf", False))
        self.enter("camera", "crop")
        height = 15.6 * (3.2 / 85 - 0.001)
        self.enter("lens", "50")
        setup = self.opened().setup
        self.assertEqual(setup.lens.focal_mm, 50)
        # The framing stays: as high a frame from nearer by.
        self.assertAlmostEqual(15.6 * (setup.scene.subject_distance_m / 50 - 0.001), height, places=2)
        page = self.client.get(self.url).text
        self.assertRegex(page, r'<option value="50"\s+selected>')

    def test_a_framing_sets_the_distance(self) -> None:
        # A frame 2.1 m high with 85 mm on 24 mm: 85·(2.1/24 + 0.001) = 7.52 m.
        self.enter("framing", "full")
        scene = self.opened().setup.scene
        self.assertAlmostEqual(scene.subject_distance_m, 7.52, places=2)
        self.assertAlmostEqual(scene.background_distance_m - scene.subject_distance_m, 36.8, places=2)

    def test_a_group_and_its_movement(self) -> None:
        self.enter("group_depth", "0.6")
        self.enter("movement", "1.4")
        scene = self.opened().setup.scene
        self.assertEqual((scene.faces_m, scene.subject_speed_m_s), ((2.9, 3.5), 1.4))
        self.enter("group_depth", "")
        self.assertEqual(self.opened().setup.scene.faces_m, ())

    def test_light_in_every_way_it_can_be_known(self) -> None:
        # f/8 at 1/250 is EV 14; ISO 400 makes it two less; a card reads 0.60 high (ISO 2720 constants).
        for text, level, plus_minus in (
            ("1/250 f/8", 14.0, 0.3),
            ("1/250 f/8 ISO 400", 12.0, 0.3),
            ("incident 13.2", 13.2, 0.3),
            ("card 14.0", 13.4, 0.3),
            ("hazy sun", 13.6, 1.0),
            ("Overcast", 11.6, 1.0),
        ):
            with self.subTest(text=text):
                self.enter("ev_background", text)
                scene = self.opened().setup.scene
                self.assertAlmostEqual(scene.background, level, delta=0.01)
                self.assertEqual(scene.background_uncertainty, plus_minus)

    def test_each_zone_says_how_it_is_known(self) -> None:
        self.enter("ev_sky", "full sun")
        self.enter("ev_rim", "15.6")
        page = self.client.get(self.url).text
        self.assertRegex(page, r'id="n-ev_sky">\s*estimated ± 1.0')
        self.assertRegex(page, r'id="n-ev_rim">\s*read ± 0.3')

    def test_place_and_time_give_the_zones(self) -> None:
        self.assertEqual(self.status("estimate"), 422)
        self.enter("where", "42.46, 0.71 2027-06-19 17:00 Europe/Madrid")
        self.enter("sky_kind", "overcast")
        self.enter("facing", "200")
        self.post("estimate")
        scene = self.opened().setup.scene
        assert scene.moment is not None
        self.assertEqual((scene.moment.place.sky, scene.moment.place.facing_deg), ("overcast", 200))
        # Overcast, sun 48° high: an upright surface about 11.3; level ground 0.3 + 21·sin 48° = 15.9 klx
        # (IES RP-21), EV log2(100·15900/330) = 12.2. The background is half and half.
        self.assertAlmostEqual(scene.subject, 11.3, delta=0.3)
        self.assertAlmostEqual(scene.background, log2((2**11.3 + 2**12.2) / 2), delta=0.3)
        self.assertEqual(scene.background_uncertainty, 1.0)

    def test_what_belongs_to_a_place_waits_for_one(self) -> None:
        self.assertIn(
            "give a place and a time first", self.enter("facing", "200").pending["facing"].problem
        )
        self.enter("where", "42.46, 0.71 2027-06-19 17:00 Europe/Madrid")
        moment = self.opened().setup.scene.moment
        self.assertEqual(moment and moment.place.facing_deg, 200)

    def test_moods_and_schools(self) -> None:
        self.enter("mood", "dusk at noon")
        self.enter("school", "share")
        intent = self.opened().setup.intent
        self.assertEqual((intent.background_level, intent.school, intent.share), (-3, "share", 0.2))
        self.enter("share", "35 %")
        self.assertEqual(self.opened().setup.intent.share, 0.35)

    def test_filters_typed_anew_keep_their_names(self) -> None:
        self.enter("filters", "3, 6")
        names = [item.name for item in self.opened().setup.filters]
        self.assertEqual(names, ["3-stop ND", "6-stop ND"])
        document = dict(self.opened().document)
        document["filters"] = [{"name": "the brown one", "stops": 2.99}]
        self.setup_id = self.store.setups.add(canonical(document), NOW).id
        self.enter("filters", "3, 6")
        (first, _) = self.opened().setup.filters
        self.assertEqual((first.name, first.least), ("the brown one", 2.99))


class AnyText(Acts):
    JUNK = (
        "",
        " ",
        "0",
        "-1",
        "1e9",
        "9" * 40,
        "½",
        "nan",
        "1/0",
        "f/",
        "EV",
        "<b>",
        "full sun",
        "key",
        "\x00",
        "2–5",
    )

    def test_every_figure_takes_or_refuses_whatever_is_typed(self) -> None:
        self.post("lights", role="rim", like=0)
        before = self.opened().document
        with self.store.read_transaction():
            form = services.SETUPS.form(self.store, self.setup_id)
            for key in form.entries(before):
                for text in self.JUNK:
                    with self.subTest(key=key, text=text):
                        document, waiting = form.taken(before, {key: text}, newest=key)
                        kept = KeptDocument(self.setup_id, "", document, waiting, 1)
                        self.assertTrue(all(found.problem for found in form.pending(kept).values()))
                        self.assertTrue(document == before or not waiting)
                        setup_of(dict(document))

    def test_every_figure_is_kept_and_stepped_on_its_page_whatever_is_typed(self) -> None:
        self.post("lights", role="rim", like=0)
        for turn, key in enumerate(self.opened().entries):
            text = self.JUNK[turn % len(self.JUNK)]
            with self.subTest(key=key, text=text):
                waiting = self.enter(key, text).pending.get(key)
                self.assertTrue(waiting is None or waiting.problem)
                self.client.post(f"{self.url}/figures/{key}", data={"by": "1"}, headers=PART)
        self.assertEqual(self.client.get(self.url).status_code, 200)


class Versions(Acts):
    def test_a_pinned_version_is_compared_row_by_row(self) -> None:
        self.assertIn("Nothing has changed yet", self.post("pin", pinned=1))
        self.enter("aperture", "16")
        page = unescape(self.client.get(self.url).text)
        table = re.findall(r'<th scope="row">([^<]*)</th>\s*<td>([^<]*)</td>\s*<td>([^<]*)</td>', page)
        rows = {label: (before, after) for label, before, after in table}
        self.assertEqual(rows["recommended"], ("ND at sync", "Within sync"))
        self.assertEqual(rows["shutter, aperture"], ("1/200 f/2", "1/200 f/16"))
        self.assertNotIn("ISO", rows)
        self.post("pin", pinned=0)
        self.assertNotIn("Against the pinned version", self.client.get(self.url).text)

    def test_a_copy_is_a_set_up_of_its_own(self) -> None:
        answer = self.client.post(f"{self.url}/copy")
        copied = services.open_setup(self.store, int(answer.location.split("/")[-1]))
        self.assertEqual(copied.setup.name, "Noon, backlit couple, copy")
        self.assertEqual(copied.setup.scene, self.opened().setup.scene)

    def test_what_is_archived_comes_back(self) -> None:
        document = self.opened().document
        page = self.client.post(f"{self.url}/archive", follow_redirects=True).text
        self.assertIn("Archived", page)
        self.assertEqual(self.client.get(self.url).status_code, 404)
        self.client.post(f"{self.url}/bring-back")
        self.assertEqual(self.opened().document, document)
        self.assertEqual(self.client.post(f"{self.url}/bring-back").status_code, 404)


class Asked(Acts):
    def test_every_figure_of_every_way_answers_why(self) -> None:
        for way in WAYS:
            for row in ROWS:
                answer = self.client.get(f"{self.url}/why/{way}/{row.key}")
                self.assertEqual(answer.status_code, 200)
                self.assertIn(DERIVATIONS[row.key].formula, unescape(answer.text))
        self.assertEqual(self.client.get(f"{self.url}/why/nd/moon").status_code, 404)

    def test_distances_in_feet_are_read_and_written(self) -> None:
        self.assertEqual(self.client.post("/unit", data={"unit": "ft", "back": self.url}).status_code, 303)
        page = self.client.get(self.url).text
        self.assertRegex(page, r'id="i-subject_distance"\s+name="text"\s+value="10.5"')
        self.client.post(f"{self.url}/figures/subject_distance", data={"text": "12"}, headers=PART)
        self.assertAlmostEqual(self.opened().setup.scene.subject_distance_m, 12 * 0.3048)
        self.client.post(f"{self.url}/figures/subject_distance", data={"text": "3 m"}, headers=PART)
        self.assertEqual(self.opened().setup.scene.subject_distance_m, 3)
        self.assertEqual(self.client.post("/unit", data={"unit": "cubits"}).status_code, 400)
        answer = self.client.post("/unit", data={"unit": "m", "back": "//elsewhere.example"})
        self.assertEqual(answer.location, "/")

    def test_a_light_like_one_that_is_not_there_is_refused(self) -> None:
        for like in (7, -1, 10**30):
            answer = self.client.post(f"{self.url}/lights", data={"role": "fill", "like": like})
            self.assertEqual(answer.status_code, 422, like)

    def test_a_least_power_of_any_length_is_refused_beside_its_field(self) -> None:
        self.enter("scale-0", "decimal")
        answer = self.client.post(
            f"{self.url}/figures/power_min-0", data={"text": "99999999"}, headers=PART
        )
        self.assertIn("is outside 1/8192", answer.text)

    def test_a_change_in_another_window_is_said(self) -> None:
        revision = self.opened().revision
        self.enter("aperture", "4")
        answer = self.client.post(
            f"{self.url}/figures/ev_subject", data={"text": "11", "revision": revision}, headers=PART
        )
        self.assertIn("changed in another window", answer.text)
        revision = self.opened().revision
        answer = self.client.post(
            f"{self.url}/figures/ev_subject", data={"text": "11.5", "revision": revision}, headers=PART
        )
        self.assertNotIn("changed in another window", answer.text)

    def test_fast_presses_of_one_window_are_its_own(self) -> None:
        # Two figures go out before the first is answered, both with what the window had seen; one more
        # changes nothing, as when a figure is left that was sent while it was typed.
        seen = self.opened().revision
        for key, text, revision in (
            ("ev_subject", "11", seen),
            ("aperture", "4", seen),
            ("aperture", "4", seen + 2),
        ):
            form = {"text": text, "revision": revision, "window": "mine"}
            answer = self.client.post(f"{self.url}/figures/{key}", data=form, headers=PART)
            self.assertNotIn("changed in another window", answer.text)
        other = {"text": "10", "revision": seen, "window": "other"}
        answer = self.client.post(f"{self.url}/figures/ev_subject", data=other, headers=PART)
        self.assertIn("changed in another window", answer.text)


class Documents(Acts):
    def test_set_up_and_plan_documents_and_the_way_in_again(self) -> None:
        answer = self.client.get(f"{self.url}/setup.json")
        self.assertIn("noon-backlit-couple-setup.json", answer.headers["Content-Disposition"])
        self.assertEqual(setup_of(json.loads(answer.text)), self.opened().setup)
        plan = json.loads(self.client.get(f"{self.url}/plan.json").text)
        self.assertEqual((plan["format"], plan["chosen"]), ("noggin-plan", "nd"))
        again = self.client.post("/setups/import", data={"document": answer.text})
        number = int(again.location.split("/")[-1])
        self.assertEqual(services.open_setup(self.store, number).document, self.opened().document)

    def test_a_plan_document_is_shown_to_read(self) -> None:
        text = self.client.get(f"{self.url}/plan.json").text
        page = unescape(self.client.post("/setups/import", data={"document": text}).text)
        self.assertIn("Noon, backlit couple, a plan to read", page)
        for way in self.opened().plan.ways:
            self.assertIn(way.label, page)
        spoilt = text.replace('"shutter": "1/200"', '"shutter": 200', 1)
        answer = self.client.post("/setups/import", data={"document": spoilt})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("ways[0].settings.shutter: 200 is not text", unescape(answer.text))

    def test_by_file(self) -> None:
        given = {"file": (io.BytesIO(raw(NOON)), "noon.json")}
        answer = self.client.post("/setups/import", data=given, content_type="multipart/form-data")
        self.assertEqual(answer.status_code, 303)

    def test_a_bad_document_says_what_is_wrong_and_keeps_what_was_pasted(self) -> None:
        spoilt = json.dumps({**NOON, "lens": {**NOON["lens"], "widest": 99}})
        answer = self.client.post("/setups/import", data={"document": spoilt})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("lens.widest: 99 is outside 0.95 … 32", unescape(answer.text))
        self.assertIn(spoilt, unescape(answer.text))

    def test_ways_as_csv_and_proof_as_svg(self) -> None:
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"{self.url}/ways.csv").text)))
        self.assertEqual([row["method"] for row in rows], [way.label for way in self.opened().plan.ways])
        self.assertEqual(rows[0]["shutter, aperture"], "1/200 f/2")
        svg = ElementTree.fromstring(self.client.get(f"{self.url}/proof.svg").text)  # noqa: S314 - our own
        self.assertEqual(svg.tag, "{http://www.w3.org/2000/svg}svg")
        self.assertIn("Noon, backlit couple", svg[0].text or "")
