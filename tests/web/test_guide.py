"""The guide over HTTP: it goes on when a figure is there, remembers where one was, and gets out of the
way."""

import re
from html import unescape

from noggin.core.practice.guide_steps import GUIDE_STEPS
from noggin.services.practice import guide
from tests.support import AppCase


class Led(AppCase):
    def setUp(self) -> None:
        super().setUp()
        sent = self.client.post("/guide")
        self.assertEqual(sent.status_code, 303)
        self.address = str(sent.location)
        self.number = int(self.address.rsplit("/", 1)[1])

    def title(self, page: str = "") -> str:
        """The step that the guide is at; empty where there is no guide."""
        shown = self.client.get(page or self.address).text
        found = re.search(r'id="guide-title">(.*?)</h2>', shown, re.S)
        return " ".join(re.sub("<[^>]+>", "", found[1]).split()) if found else ""

    def enter(self, figure: str, text: str) -> None:
        sent = self.client.post(f"{self.address}/figures/{figure}", data={"text": text})
        self.assertIn(sent.status_code, (200, 303), sent.text[:200])

    def say(self, step: str) -> None:
        self.client.post(f"{self.address}/guide/done", data={"step": step})

    def test_each_step_goes_on_when_its_figure_is_there(self) -> None:
        self.assertEqual(self.title(), "1 of 9 Compose first")
        self.enter("subject_distance", "3.4 m")
        self.assertEqual(self.title(), "2 of 9 Read the daylight")
        self.enter("ev_background", "14")
        self.assertEqual(self.title(), "2 of 9 Read the daylight")
        self.enter("ev_subject", "11.7")
        self.assertEqual(self.title(), "3 of 9 Set the background")
        self.enter("background_level", "-1.5")
        self.assertEqual(self.title(), "4 of 9 Past sync, or not")
        self.say("way")
        self.assertEqual(self.title(), "5 of 9 Place the light")
        self.enter("light_distance-0", "1.2 m")
        self.assertEqual(self.title(), "6 of 9 First frame: flash off")
        self.assertIn("Go to the spot", self.client.get(self.address).text)
        spot = f"{self.address}/shoot"
        self.assertEqual(self.title(spot), "6 of 9 First frame: flash off")
        self.client.post(f"{spot}/frames", data={"saw-background": "right", "saw-subject": "right"})
        self.assertEqual(self.title(spot), "7 of 9 Now the flash")

    def test_a_figure_that_is_right_as_it_is_can_be_said_so(self) -> None:
        for place, step in enumerate(GUIDE_STEPS[:5], start=1):
            self.assertTrue(self.title().startswith(f"{place} of 9"), self.title())
            self.say(step.key)
        self.assertTrue(self.title().startswith("6 of 9"))

    def test_it_is_closed_by_a_tap_and_comes_back_where_it_was(self) -> None:
        self.say("composition")
        self.client.post(f"{self.address}/guide", data={"on": "0"})
        self.assertEqual(self.title(), "")
        self.assertNotIn("guide.js", self.client.get(self.address).text)
        self.client.post(f"{self.address}/guide", data={"on": "1"})
        self.assertEqual(self.title(), "2 of 9 Read the daylight")

    def test_a_step_can_be_read_again(self) -> None:
        self.say("composition")
        self.assertEqual(self.title(f"{self.address}?guide=composition"), "1 of 9 Compose first")
        self.assertEqual(self.title(f"{self.address}?guide=nothing"), "2 of 9 Read the daylight")

    def test_every_step_says_what_to_do_what_to_look_at_and_the_mistake_and_shows_where(self) -> None:
        for step in GUIDE_STEPS:
            page = self.address if step.page == "bench" else f"{self.address}/shoot"
            shown = unescape(self.client.get(f"{page}?guide={step.key}").text)
            for words in (step.does, step.looks, step.mistake):
                self.assertTrue(words in shown, words)
            self.assertTrue(f'id="{step.part}"' in shown, step.part)

    def test_a_part_is_answered_as_a_part(self) -> None:
        part = self.client.get(f"{self.address}/guide?at=bench").text
        self.assertIn("guide-title", part)
        self.assertNotIn("<html", part)
        unknown = self.client.post(f"{self.address}/guide/done", data={"step": "magic"})
        self.assertEqual(unknown.status_code, 404)
        self.assertEqual(self.client.post("/setups/999/guide", data={"on": "1"}).status_code, 404)
        self.assertIsNone(self.store.guides.of(999).said or None)


class Known(AppCase):
    database = "demo"

    def test_who_did_not_ask_for_it_never_sees_it_and_a_set_up_with_frames_is_past_the_bench(self) -> None:
        self.assertNotIn("guide-card", self.client.get("/setups/1").text)
        guide.begin(self.store, 1)
        found = guide.guide_over(self.store, self.wiring.clock, 1)
        assert found
        self.assertIn("daylight", found.done)
