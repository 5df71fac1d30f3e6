"""A second press never acts twice and never wipes the page: every act that another press would repeat."""

import re

from noggin.services.day import shoots
from noggin.services.gear import kit
from tests.support import AppCase

PART = {"HX-Request": "true"}


class SecondPress(AppCase):
    database = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.day = shoots.listed_shoots(self.store)[0][0].id
        pieces = kit.all_gear(self.store)
        self.light = next(item.id for item in pieces if kit.kind_of(item) == "light")
        self.modifier = next(item.id for item in pieces if kit.kind_of(item) == "modifier")

    def revision(self, page: str) -> int:
        kind, number = page.strip("/").split("/")
        return (
            self.store.of({"setups": "setup", "shoots": "shoot", "kit": "gear"}[kind])
            .get(int(number))
            .revision
        )

    def press(self, path: str, offered: int, **data: object) -> tuple[int, str]:
        answer = self.client.post(path, data={"offered": offered, **data}, headers=PART)
        return answer.status_code, answer.text

    def test_every_act_is_done_once(self) -> None:
        day, light, modifier = f"/shoots/{self.day}", f"/kit/{self.light}", f"/kit/{self.modifier}"
        acts: tuple[tuple[str, str, dict[str, object]], ...] = (
            ("/setups/2", "remedies/mixed/closer", {}),
            ("/setups/1", "lights", {"role": "rim", "like": 0}),
            ("/setups/1", "lights/1/remove", {}),
            (day, "setups", {"setup": 1}),
            (day, "setups/0/remove", {}),
            (day, "readings", {"time": "15:00", "zone": "shaded", "reading": "14.6"}),
            (day, "readings/0/remove", {}),
            (light, "reflectors", {}),
            (light, "reflectors/1/remove", {}),
            (modifier, "losses", {"light": "Large head, 600 Ws class"}),
            (modifier, "losses/0/remove", {}),
        )
        for page, act, data in acts:
            with self.subTest(act=act):
                offered = self.revision(page)
                self.assertIn(f'name="offered" value="{offered}"', self.client.get(page).text)
                status, said = self.press(f"{page}/{act}", offered, **data)
                self.assertEqual(status, 200, said[:300])
                after = self.revision(page)
                self.assertGreater(after, offered)
                status, said = self.press(f"{page}/{act}", offered, **data)
                self.assertEqual((status, self.revision(page)), (409, after))
                self.assertIn("done already", said)
                self.assertNotIn("<html", said)

    def test_a_light_is_put_into_the_kit_once(self) -> None:
        self.press("/setups/1/lights", self.revision("/setups/1"), role="rim", like=0)
        self.client.post("/setups/1/figures/light_name-1", data={"text": "Borrowed head"}, headers=PART)
        before, offered = len(kit.all_gear(self.store)), self.revision("/setups/1")
        answers = [self.press("/setups/1/lights/1/kit", offered)[0] for _ in range(2)]
        self.assertLessEqual(len(kit.all_gear(self.store)), before + 1)
        self.assertIn(answers, ([303, 303], [303, 409]))

    def test_a_figure_typed_since_is_no_act(self) -> None:
        # Someone types a figure and presses at once: the press was offered before the figure was taken.
        offered = self.revision("/setups/1")
        self.client.post("/setups/1/figures/aperture", data={"text": "4"}, headers=PART)
        status, _ = self.press("/setups/1/lights", offered, role="rim", like=0)
        self.assertEqual(status, 200)

    def test_an_act_offered_before_another_was_undone_is_too_late(self) -> None:
        self.press("/setups/1/lights", self.revision("/setups/1"), role="rim", like=0)
        offered = self.revision("/setups/1")
        self.client.post("/setups/1/undo", headers=PART)
        self.assertEqual(self.press("/setups/1/lights/1/remove", offered)[0], 409)

    def test_without_scripts_the_page_leads_back(self) -> None:
        offered = self.revision("/setups/1")
        form = {"offered": offered, "role": "rim", "like": 0}
        came_from = {"Referer": "http://localhost/setups/1?look=nd"}
        first = self.client.post("/setups/1/lights", data=form, headers=came_from)
        second = self.client.post("/setups/1/lights", data=form, headers=came_from)
        self.assertEqual((first.status_code, second.status_code), (303, 409))
        self.assertRegex(second.text, re.compile('href="/setups/1\\?look=nd"'))
        stranger = {"Referer": "http://elsewhere.example/setups/1"}
        self.assertNotIn(
            "how it stands", self.client.post("/setups/1/lights", data=form, headers=stranger).text
        )

    def test_pages_are_asked_for_anew_and_only_static_files_are_stored(self) -> None:
        for url in ("/setups", "/setups/1", f"/shoots/{self.day}", "/kit", "/bags", "/reach"):
            self.assertEqual(self.client.get(url).headers["Cache-Control"], "no-store", url)
        with self.client.get("/static/noggin.js") as static:
            self.assertNotEqual(static.headers["Cache-Control"], "no-store")
