"""The start of a visit, and the day as it is lived, by the demo's clock: its wedding day, 11:40 there."""

import re
from datetime import UTC, datetime, timedelta

from noggin.services.day import shoots
from noggin.services.day.live import live
from noggin.services.day.today import ahead_words, today
from noggin.services.gear import kit
from noggin.services.setups import setups as services
from noggin.web.shared.wiring import Wiring
from tests.support import NOW, AppCase

ANSWERS = {
    "camera": "crop",
    "lens": "50",
    "class-0": "speedlight",
    "where": "42.46, 0.71 2027-06-19 13:10 Europe/Madrid",
    "sky_kind": "overcast",
    "mood": "",
    "aperture": "2.8",
}


class Begin(AppCase):
    def test_an_empty_database_leads_by_three_questions_to_a_plan(self) -> None:
        page = self.client.get("/").text
        for asks in ("What do you bring?", "Where and when?", "What picture?"):
            self.assertIn(asks, page)
        answer = self.client.post("/first", data=ANSWERS)
        self.assertEqual(answer.status_code, 303)
        opened = services.open_setup(self.store, int(answer.location.rsplit("/", 1)[1]))
        self.assertEqual(opened.setup.camera.name, "1.5 crop body")
        self.assertEqual(opened.setup.key.name, "Speedlight")
        self.assertEqual((opened.setup.lens.focal_mm, opened.setup.wanted_aperture.label), (50, "2.8"))
        self.assertEqual(opened.assumed, "")
        self.assertNotEqual(opened.setup.scene.background, 14.6)
        self.assertNotIn("Three questions", self.client.get("/").text)

    def test_what_is_left_open_is_assumed_and_says_so(self) -> None:
        answer = self.client.post("/first", data={**ANSWERS, "where": "", "aperture": ""})
        page = self.client.get(answer.location).text
        self.assertIn("Assumed: daylight on the background and the faces.", page)
        self.client.post(f"{answer.location}/figures/ev_background", data={"text": "13"})
        self.assertIn("Assumed: daylight on the faces.", self.client.get(answer.location).text)

    def test_a_wrong_answer_is_said_beside_it_and_nothing_typed_is_lost(self) -> None:
        answer = self.client.post("/first", data={**ANSWERS, "where": "up the hill", "aperture": "wide"})
        self.assertEqual(answer.status_code, 422)
        for key, typed in (("where", "up the hill"), ("aperture", "wide")):
            self.assertRegex(answer.text, rf'id="q-{key}"\s+name="{key}"\s+value="{typed}"')
            self.assertIn(f'id="qp-{key}"', answer.text)
        self.assertRegex(answer.text, r'value="speedlight"\s+selected')
        self.assertEqual(self.store.setups.all(), ())

    def test_an_answer_out_of_range_is_said_beside_it_too(self) -> None:
        for key, typed in (("aperture", "999999"), ("where", "42.46, 0.71 2027-06-19 13:10 Nowhere/Land")):
            with self.subTest(key=key):
                answer = self.client.post("/first", data={**ANSWERS, key: typed})
                self.assertEqual(answer.status_code, 422)
                self.assertRegex(answer.text, rf'id="q-{key}"\s+name="{key}"\s+value="{typed}"')
                self.assertRegex(answer.text, rf'class="problem"\s+id="qp-{key}">\s*[^<\s]')
        self.assertEqual(self.store.setups.all(), ())


class Ahead(AppCase):
    database = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.number = shoots.listed_shoots(self.store)[0][0].id

    def test_the_next_shoot_and_what_it_needs(self) -> None:
        found = today(self.store, lambda: NOW)
        assert found.day
        self.assertEqual([placed.name for placed in found.no_way], ["Same wall, speedlight in an umbrella"])
        self.assertEqual(found.missing, ())
        self.assertEqual(
            [name for name, _ in found.unmeasured], ["Speedlight", "Studio head, 500 Ws class"]
        )
        page = self.client.get("/").text
        for words in ("Wedding at the hilltop observatory", "0.9 stop too bright", "Where you were"):
            self.assertIn(words, page)

    def test_what_is_not_in_the_bag_is_named(self) -> None:
        for item in kit.all_gear(self.store):
            if item.name == "6-stop ND":
                self.client.post(f"/kit/{item.id}/archive")
        self.assertIn("6-stop ND", today(self.store, lambda: NOW).missing)

    def test_how_long_until_then(self) -> None:
        day = shoots.open_shoot(self.store, lambda: NOW, self.number)
        begins = day.begins
        for before, words in (
            (timedelta(0), "now"),
            (timedelta(minutes=25), "in 25 min"),
            (timedelta(hours=2, minutes=5), "in 2 h 05 min"),
            (timedelta(hours=20), "tomorrow at 09:30"),
            (timedelta(days=2), "in 2 days"),
            (timedelta(days=200), "in 200 days"),
        ):
            self.assertEqual(ahead_words((begins - before).astimezone(UTC), day), words)

    def test_a_shoot_that_is_over_is_not_next(self) -> None:
        day = shoots.open_shoot(self.store, lambda: NOW, self.number)
        for now, there in ((day.ends - timedelta(minutes=1), True), (day.ends, False)):
            self.assertEqual(shoots.next_shoot(self.store, now.astimezone(UTC)) is not None, there)


class Live(AppCase):
    database = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.number = shoots.listed_shoots(self.store)[0][0].id
        self.url = f"/shoots/{self.number}/live"

    def at(self, **asked: str):  # type: ignore[no-untyped-def]
        day = shoots.open_shoot(self.store, lambda: NOW, self.number)
        found = live(day, lambda: NOW, asked)
        assert found
        return found

    def test_by_the_clock_the_set_up_of_this_hour(self) -> None:
        found = self.at()
        self.assertTrue(found.is_clock)
        self.assertEqual(f"{found.now:%H:%M}", "11:40")
        self.assertEqual((found.on.name, found.begun), (found.day.slots[1].name, False))
        self.assertEqual(self.at(at="09:40").on, found.day.slots[0])
        self.assertTrue(self.at(at="09:40").begun)
        last = self.at(at="23:30")
        self.assertEqual((last.on, last.then, last.over), (found.day.slots[-1], None, True))

    def test_on_another_day_it_opens_at_the_first_set_up_and_says_so(self) -> None:
        self.app.extensions["noggin"] = Wiring(self.store, lambda: datetime(2026, 11, 28, tzinfo=UTC))
        page = self.client.get(self.url).text
        self.assertIn("(not now)", page)
        self.assertIn("09:30", page)
        self.assertNotIn("every 30s", page)

    def test_the_dial_at_the_start_is_the_plan(self) -> None:
        for placed in shoots.open_shoot(self.store, lambda: NOW, self.number).slots:
            assert placed.slot
            found = self.at(on=str(placed.index), at=f"{placed.slot.start:%H:%M}")
            self.assertEqual(found.rung.way.settings, placed.way.settings, placed.name)  # type: ignore[union-attr]
            self.assertEqual(found.rung.way.lighting.key.power, placed.way.lighting.key.power)  # type: ignore[union-attr]

    def test_thirds_walk_the_ladder(self) -> None:
        """A stop darker is a stop of shutter within sync: common practice, and the definition of a stop."""
        foreseen, darker = self.at(at="19:05"), self.at(at="19:05", thirds="-3")
        self.assertEqual(foreseen.on.name, "Under the pear trees, three generations")
        moved = foreseen.rung.way.settings.shutter.stops - darker.rung.way.settings.shutter.stops
        self.assertAlmostEqual(moved, 1)
        self.assertEqual(darker.rung.way.lighting.key.power, foreseen.rung.way.lighting.key.power)
        for text, thirds in (("40", 12), ("-40", -12), ("x", 0)):
            self.assertEqual(self.at(thirds=text).thirds, thirds)

    def test_what_is_kept_as_a_reading_becomes_the_forecast(self) -> None:
        before = self.at(thirds="-2")
        answer = self.client.post(f"{self.url}/reading", data={"thirds": "-2"})
        self.assertEqual(answer.status_code, 303)
        after = self.at()
        self.assertAlmostEqual(after.reading, before.reading, places=2)
        self.assertEqual([f"{reading.time:%H:%M}" for reading in after.day.readings][-1:], ["11:40"])

    def test_what_is_asked_for_another_hour_is_no_reading(self) -> None:
        before = self.at().day.readings
        self.assertIn("Keep it as a reading of 11:40", self.client.get(f"{self.url}?thirds=-2").text)
        page = self.client.get(f"{self.url}?at=18:20&thirds=-2").text
        self.assertNotIn("Keep it as a reading", page)
        answer = self.client.post(f"{self.url}/reading", data={"at": "18:20", "thirds": "-2"})
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.at().day.readings, before)

    def test_a_light_that_changed_stays_so_for_the_next_set_up_and_says_no_until(self) -> None:
        self.assertIn("works until 19:55", self.client.get(f"{self.url}?at=19:05").text)
        page = self.client.get(f"{self.url}?at=19:05&thirds=-2").text
        self.assertNotIn("until 19:55", page)
        to_next = re.findall(r'href="([^"]*)"[^>]*>Go to it now', page)[0]
        self.assertIn("thirds=-2", to_next)

    def test_what_comes_next_and_what_must_be_rebuilt(self) -> None:
        page = self.client.get(f"{self.url}?at=19:05").text
        for words in ("Next: West terrace at dusk", "in 2 h 30 min", "Lens: 85 mm, was 35 mm"):
            self.assertIn(words, page)
        self.assertIn("Set up the rim, Speedlight at 3 m", page)
        to_next = re.findall(r'href="([^"]*)"[^>]*>Go to it now', page)[0].replace("&amp;", "&")
        self.assertIn("West terrace at dusk</a>", self.client.get(to_next).text)

    def test_a_day_without_set_ups_says_what_to_do(self) -> None:
        typed = {"name": "Empty", "date": "2027-07-01", "place": "42.46, 0.71", "tz": "Europe/Madrid"}
        number = shoots.new_shoot(self.store, lambda: NOW, typed)
        self.assertIn("No set-up is on this day yet", self.client.get(f"/shoots/{number}/live").text)
        self.assertIn(
            "No set-up is on this day yet",
            self.client.post(f"/shoots/{number}/live/reading", follow_redirects=True).text,
        )
