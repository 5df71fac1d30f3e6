"""Pages: what is answered, what is refused, what stays when an entry cannot be taken."""

import json
import re

from noggin.core.advice import way_table
from noggin.core.advice.details import details
from noggin.core.advice.reasons import RULE
from noggin.core.advice.remedies import remedies
from noggin.core.planning.way import Plan
from noggin.core.wording import signed_stops
from noggin.demo import demo_documents
from noggin.documents.plan import plan_document
from noggin.documents.setup import canonical
from noggin.services.day import shoots
from noggin.services.setups import setups as services
from noggin.services.setups.setups import OpenSetUp
from noggin.services.whole.demo import load_demo_once
from noggin.web import create_app
from noggin.web.serving.server import PortTaken, listen
from tests.support import NOON, NOW, AppCase

PART = {"HX-Request": "true"}


def words(html: str) -> str:
    """A page's text without its tags, white space folded."""
    return " ".join(re.sub(r"<[^>]+>", " ", html).split())


class Visits(AppCase):
    def test_an_empty_noggin_says_what_to_do_first_and_offers_the_demo(self) -> None:
        page = self.client.get("/", follow_redirects=True).text
        self.assertIn("Three questions to a first plan", page)
        self.assertIn("Nothing planned yet", self.client.get("/setups").text)
        page = self.client.post("/demo", follow_redirects=True).text
        self.assertIn("Orchard wall, both of them", page)

    def test_a_new_set_up_opens_on_the_bench_with_a_plan(self) -> None:
        page = self.client.post("/setups", follow_redirects=True).text
        self.assertIn("Where the light went", page)
        self.assertIn("Recommended: High-speed sync. Just enough flash at your f/2.8.", page)

    def test_the_list_shows_what_is_advised(self) -> None:
        load_demo_once(self.store, self.wiring.clock)
        page = words(self.client.get("/setups").text)
        self.assertIn("1/160 f/2 ND at sync ISO 100 · 6-stop ND +1.0 ± 0.1 reserve, stops", page)
        self.assertIn("no method works", page)

    def test_many_set_ups_stand_under_their_days(self) -> None:
        load_demo_once(self.store, self.wiring.clock)
        for _ in range(33):
            services.new_setup(self.store, self.wiring.clock)
        page = words(self.client.get("/setups").text)
        day, alone = page.index("Wedding at the hilltop observatory"), page.index("On no day 33 set-ups")
        self.assertLess(day, page.index("Orchard wall, both of them"))
        self.assertLess(page.index("West terrace at dusk"), alone)
        # One that lies on two days stands under the one that was worked on last.
        first = self.store.setups.named("Orchard wall, both of them")
        assert first
        other = shoots.new_day_of(self.store, self.wiring.clock, first).id
        page = words(self.client.get("/setups?find=Orchard wall").text)
        self.assertNotIn("Wedding at the hilltop observatory", page)
        self.assertLess(page.index("Orchard wall, both of them, the day"), page.index("1 set-up"))
        self.assertIn(f"/shoots/{other}", self.client.get("/setups?find=Orchard wall").text)

    def test_anything_is_found_by_its_name_from_every_page(self) -> None:
        self.assertIn("Nothing is kept yet", self.client.get("/find").text)
        load_demo_once(self.store, self.wiring.clock)
        self.assertIn('href="/find"', self.client.get("/log").text)
        found = words(self.client.get("/find?find=OBSERVATORY").text)
        # A day by its name, with its set-ups; a bag.
        for name in (
            "Wedding at the hilltop observatory",
            "Orchard wall, both of them",
            "Observatory wedding",
        ):
            self.assertIn(name, found)
        # What is named so itself comes before what only lies on a day of that name.
        roof = services.new_setup(self.store, self.wiring.clock)
        services.enter(self.store, self.wiring.clock, roof, "name", "Observatory roof")
        found = words(self.client.get("/find?find=observatory").text)
        self.assertLess(found.index("Observatory roof"), found.index("Orchard wall, both of them"))
        self.assertIn("Speedlight", words(self.client.get("/find?find=speedl", headers=PART).text))
        self.assertIn("Nothing has “100%_” in its name", words(self.client.get("/find?find=100%_").text))
        self.assertIn("&lt;b&gt;", self.client.get("/find?find=<b>").text)

    def test_what_is_not_there_is_a_page_and_not_a_trace(self) -> None:
        answer = self.client.get("/setups/99")
        self.assertEqual(answer.status_code, 404)
        self.assertIn("There is no set-up 99.", answer.text)
        self.assertEqual(self.client.get("/nowhere").status_code, 404)

    def test_strict_policy_on_every_answer(self) -> None:
        policy = self.client.get("/setups").headers["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertNotIn("unsafe", policy)

    def test_a_change_without_its_token_is_refused(self) -> None:
        self.app.config["WTF_CSRF_ENABLED"] = True
        answer = self.client.post("/setups")
        self.assertEqual((answer.status_code, self.store.setups.all()), (400, ()))
        self.assertIn("Reload the page", answer.text)

    def test_another_host_name_is_not_answered(self) -> None:
        answer = self.client.get("/setups", headers={"Host": "elsewhere.example"})
        self.assertEqual(answer.status_code, 400)

    def test_sessions_outlive_the_server(self) -> None:
        keys = []
        for _ in range(2):
            app = create_app({"DATABASE": self.path})
            keys.append(app.config["SECRET_KEY"])
            app.extensions["noggin"].store.close()
        self.assertEqual(keys[0], keys[1])

    def test_a_taken_port_is_said_in_words(self) -> None:
        server = listen(self.app, "127.0.0.1", 0)
        self.addCleanup(server.close)
        port = int(server.effective_port)
        with self.assertRaisesRegex(PortTaken, f"Port {port} is in use.*PORT={port + 1}"):
            listen(self.app, "127.0.0.1", port)


class Bench(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.setup_id = self.store.setups.add(canonical(NOON), NOW).id
        self.url = f"/setups/{self.setup_id}"

    def enter(self, key: str, text: str) -> str:
        return self.client.post(f"{self.url}/figures/{key}", data={"text": text}, headers=PART).text

    def step(self, key: str, by: int) -> None:
        self.client.post(f"{self.url}/figures/{key}", data={"by": by}, headers=PART)

    def page(self) -> str:
        return self.client.get(self.url).text

    def shown(self, key: str) -> str:
        """What stands in a figure's field after the page is loaded anew."""
        return re.findall(rf'id="i-{key}"\s+name="text"\s+value="([^"]*)"', self.page())[0]

    def plan(self) -> Plan:
        return services.open_setup(self.store, self.setup_id).plan

    def chosen(self) -> str | None:
        chosen = self.plan().chosen
        return chosen.key if chosen else None

    def test_screen_table_and_document_say_the_same(self) -> None:
        page = words(self.client.get(self.url).text)
        plan = self.plan()
        for way in plan.ways:
            figures = way_table.figures(way)
            for key in ("camera", "filter", "power", "reserve", "focus", "blur", "share"):
                self.assertIn(figures[key], page)
        document = json.loads(plan_document(plan, remedies(plan)).model_dump_json())
        self.assertEqual([way["way"] for way in document["ways"]], [way.key for way in plan.ways])
        self.assertIn(document["ways"][0]["lights"][0]["power_label"], page)

    def of_demo(self, number: int) -> OpenSetUp:
        """One of the demo's set-ups, kept and opened."""
        document = canonical(demo_documents()[number - 1])
        kept = self.store.setups.add(document, NOW)
        return services.open_setup(self.store, kept.id)

    def test_what_helps_is_shown_with_its_gain_and_whether_it_is_enough(self) -> None:
        opened = self.of_demo(2)
        page = words(self.client.get(f"/setups/{opened.id}?look=hss").text)
        self.assertIn("What would help High-speed sync", page)
        self.assertGreater(len(opened.remedies("hss")), 5)
        for helps in opened.remedies("hss"):
            enough = "enough" if helps.suffices else "not enough on its own"
            self.assertIn(f"{signed_stops(helps.gives)} {helps.label} {helps.by} {enough}", page)

    def test_details_and_the_rule_of_the_advice_are_shown(self) -> None:
        opened = self.of_demo(3)
        page = words(self.client.get(f"/setups/{opened.id}").text)
        shown = list(details(opened.setup, opened.plan.ways[0]))
        self.assertIn("movement", [label for label, _ in shown])
        for label, answer in shown:
            self.assertIn(f"{label} {' '.join(answer.split())}", page)
        self.assertIn(RULE, page)

    def test_a_figure_is_taken_saved_and_changes_what_is_advised(self) -> None:
        self.assertEqual(self.chosen(), "nd")
        answer = self.enter("aperture", "f/16")
        self.assertIn("Your settings already work within sync speed", answer)
        self.assertEqual(self.chosen(), "within_sync")
        self.assertIn('value="f/16"', self.client.get(self.url).text)

    def test_what_people_type(self) -> None:
        for key, text, shown in (
            ("sync", "250", "1/250"),
            ("light_distance-0", "8 ft", "2.44"),
            ("background_level", "-1.3", "−1.3"),
            ("filters", "ND8; 2-5", "3, 2–5"),
            ("toll-0", "1.3", "1.3"),
            ("loss-0", "0.7", "0.7"),
            ("toll-0", "", ""),
            ("ev_sky", "EV 15,1", "15.1"),
            ("gn-0", "197 ft", "60.1"),
            ("name", "  Two   of them ", "Two of them"),
            ("light_name-0", "Second head", "Second head"),
            ("power_min-0", "1/64", "1/64"),
            ("power_min-0", "0.4", "0.4"),
        ):
            with self.subTest(key=key, text=text):
                self.enter(key, text)
                self.assertEqual(self.shown(key), shown)

    def test_an_entry_that_cannot_be_read_stays_with_its_reason_beside_it(self) -> None:
        before = self.plan()
        answer = self.enter("ev_background", "bright")
        self.assertIn("‘bright’ is not an EV. Try 14.6", answer)
        self.assertEqual(self.plan(), before)
        page = self.client.get(self.url).text
        self.assertIn('value="bright"', page)
        self.assertRegex(words(page), "‘bright’ is not an EV. Try 14.6")
        self.enter("ev_background", "14")
        self.assertEqual(self.shown("ev_background"), "14.0")
        self.assertNotIn('class="problem"', self.page())

    def test_limits_are_told_beside_the_figure(self) -> None:
        self.assertIn("41 is outside −10 … 20", self.enter("ev_background", "41"))
        self.assertIn("is outside 0.1 … 200 m", self.enter("light_distance-0", "0"))
        self.assertEqual(len(re.findall('class="problem"', self.page())), 2)

    def test_two_figures_that_only_fit_together_are_taken_together(self) -> None:
        # Opening at f/2.8 contradicts the f/2 that is wanted; with f/4 wanted both are right.
        answer = self.enter("widest", "2.8")
        self.assertIn("Aperture: f/2 is outside what the lens reaches, f/2.8 … f/16", answer)
        self.assertEqual(self.plan().setup.lens.widest, 1.8)
        self.enter("aperture", "4")
        self.assertEqual(self.plan().setup.lens.widest, 2.8)
        self.assertNotIn('class="problem"', self.page())

    def test_a_waiting_figure_does_not_hold_up_the_others(self) -> None:
        self.enter("widest", "lots")
        self.enter("ev_subject", "11")
        self.assertEqual(self.plan().setup.scene.subject, 11)
        self.assertIn('value="lots"', self.page())

    def test_steps(self) -> None:
        for key, by, shown in (
            ("aperture", 1, "f/2.2"),
            ("aperture", -1, "f/2"),
            ("aperture", -1, "f/1.8"),
            ("aperture", -1, "f/1.8"),
            ("sync", 1, "1/250"),
            ("fastest", -1, "1/6400"),
            ("slowest", -1, "1/50"),
            ("background_level", -1, "−1.3"),
            ("background_level", -1, "−1.7"),
            ("ev_background", 1, "14.9"),
            ("ev_sky", 1, "15.2"),
            ("light_distance-0", -1, "2.4"),
            ("subject_distance", 1, "3.3"),
            ("focal", 1, "105"),
            ("iso_lowest", -1, "80"),
            ("toll-0", 1, "1.2"),
            ("toll-0", 1, "1.3"),
            ("power_min-0", -1, "1/256"),
        ):
            with self.subTest(key=key, by=by):
                self.step(key, by)
                self.assertEqual(self.shown(key), shown)

    def test_a_held_key_is_as_many_presses_up_to_where_it_ends(self) -> None:
        for key, by, shown in (
            ("aperture", 3, "f/2.8"),
            ("background_level", -2, "−1.7"),
            ("background_distance", 2, "42"),
        ):
            with self.subTest(key=key, by=by):
                self.step(key, by)
                self.assertEqual(self.shown(key), shown)
        for text in ("0", "100", "-100", "1.5", "x"):
            answer = self.client.post("/setups/1/figures/aperture", data={"by": text})
            self.assertEqual(answer.status_code, 400, text)

    def test_measured_amounts_are_taken_at_their_word(self) -> None:
        self.enter("toll-0", "1.3")
        self.enter("loss-0", "0.6")
        self.step("loss-0", 1)
        key = self.plan().setup.key
        self.assertEqual((key.hss_toll, key.loss), (1.3, 0.7))

    def test_what_the_dial_makes_of_a_figure_is_said(self) -> None:
        for key, text, words in (
            ("sync", "1/180", "dialled 1/160"),
            ("aperture", "2.1", "dialled f/2"),
            ("widest", "1.7", "dialled f/1.8"),
            ("iso_lowest", "70", "dialled 64"),
            ("sync", "1/200", ""),
        ):
            with self.subTest(key=key, text=text):
                self.enter(key, text)
                self.assertRegex(self.page(), rf'id="n-{key}">{words}</p>')

    def test_looking_at_the_advised_way_follows_the_advice(self) -> None:
        advised, other = re.findall(r'<a href="(/setups/[^"]*)"\s+data-row="name"', self.page())[:2]
        self.assertEqual((advised, other), (self.url, f"{self.url}?look=mixed"))

    def test_a_step_past_the_limit_stays_there_and_says_why_beside_the_figure(self) -> None:
        self.enter("ev_background", "20")
        for part in ({}, PART):
            answer = self.client.post(f"{self.url}/figures/ev_background", data={"by": "3"}, headers=part)
            self.assertIn("As far as it goes: 20.3 is outside −10 … 20", answer.text)
            self.assertRegex(answer.text, r'id="i-ev_background"\s+name="text"\s+value="20.0"')
        self.assertEqual(services.open_setup(self.store, self.setup_id).pending, {})
        self.assertEqual(self.plan().setup.scene.background, 20)

    def test_the_way_looked_at_stays_while_figures_change(self) -> None:
        self.assertIn("The picture, High-speed sync", self.client.get(f"{self.url}?look=hss").text)
        answer = self.client.post(
            f"{self.url}/figures/ev_subject", data={"text": "11", "look": "hss"}, headers=PART
        )
        self.assertRegex(answer.text, r'aria-current="true">High-speed sync')
        rest = self.client.get(f"{self.url}/rest?look=hss", headers=PART).text
        self.assertIn("The picture, High-speed sync", rest)
        self.assertEqual(self.client.get(f"{self.url}/rest").status_code, 302)

    def test_a_wrong_entry_is_tied_to_its_field_without_scripts(self) -> None:
        self.enter("aperture", "wide")
        self.assertRegex(
            self.page(), r'id="i-aperture"[^>]*aria-invalid="true"[^>]*aria-errormessage="p-aperture"'
        )

    def test_without_script_a_form_still_works(self) -> None:
        answer = self.client.post(f"{self.url}/figures/aperture", data={"text": "16"})
        self.assertEqual((answer.status_code, answer.location), (303, self.url))

    def test_unknown_figures_and_steps_are_refused(self) -> None:
        self.assertEqual(self.client.post(f"{self.url}/figures/moon", data={"text": "1"}).status_code, 404)
        self.assertEqual(self.client.post(f"{self.url}/figures/name", data={"by": "1"}).status_code, 404)
        self.assertEqual(self.client.post(f"{self.url}/figures/gn", data={"by": "900"}).status_code, 400)

    def test_markup_in_a_name_is_only_text(self) -> None:
        self.enter("name", "<script>alert(1)</script>")
        self.assertNotIn("<script>alert", self.page())
