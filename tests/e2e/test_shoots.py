"""A day in a real browser: by keyboard and by dragging; and the day as one file."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect

from noggin.services.day import shoots
from noggin.services.setups import setups
from tests.e2e.browser import Browser


class Day(Browser):
    def number(self) -> int:
        return shoots.listed_shoots(self.store)[0][0].id

    def start(self, index: int) -> str:
        return shoots.open_shoot(self.store, self.wiring.clock, self.number()).shoot.slots[index].start

    def test_the_best_time_comes_after_the_page(self) -> None:
        page = self.open("/setups/2?look=nd")
        expect(page.get_by_text("ND at sync works with")).to_be_visible()
        self.clean(page)

    def test_a_day_is_made_filled_and_moved_by_keyboard(self) -> None:
        page = self.open("/shoots")
        page.get_by_label("Name", exact=True).focus()
        for text in ("Quarry at noon", "19 juin 2027", "42°27′36″ N 0°42′36″ E"):
            page.keyboard.press("Control+a")
            page.keyboard.type(text)
            page.keyboard.press("Tab" if text[0] != "4" else "Enter")
        expect(page.get_by_role("heading", name="Quarry at noon, 19 June 2027")).to_be_visible()
        page.get_by_label("Add a set-up").focus()
        page.keyboard.type("Meridian")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        start = page.get_by_label("Meridian steps, coming down running: Starts", exact=True)
        expect(start).to_have_value("17:40")
        start.focus()
        page.keyboard.press("ArrowUp")
        expect(start).to_have_value("17:45")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowDown")
        expect(start).to_have_value("17:35")
        expect(start).to_be_focused()
        page.keyboard.press("Control+a")
        page.keyboard.type("later")
        page.keyboard.press("Enter")
        expect(page.locator(".problem").filter(has_text="is not a time of day")).to_be_visible()
        expect(start).to_have_value("later")
        page.keyboard.press("Control+a")
        page.keyboard.type("1815")
        page.keyboard.press("Enter")
        expect(start).to_have_value("18:15")
        self.clean(page)

    def test_a_town_is_found_by_keyboard_by_hand_and_by_where_one_is(self) -> None:
        page = self.open("/shoots")
        place = page.get_by_label("Place", exact=True)
        towns = page.get_by_role("listbox", name="Towns").get_by_role("option")
        place.fill("")
        place.press_sequentially("rond")
        expect(towns.filter(has_text="Rondonópolis, Brazil")).to_be_visible()
        place.press("Escape")
        expect(towns).to_have_count(0)
        place.press_sequentially("a, sp")
        expect(towns).to_have_text(["Ronda, Spain"])
        place.press("ArrowDown")
        place.press("Enter")
        expect(place).to_have_value("Ronda, Spain")
        page.get_by_label("Time zone").fill("")
        page.get_by_label("Name", exact=True).fill("Bridge")
        page.get_by_role("button", name="Plan this day").click()
        expect(page.get_by_label("Time zone")).to_have_value("Europe/Madrid")
        expect(page.get_by_label("Place name")).to_have_value("Ronda, Spain")
        place.fill("")
        place.press_sequentially("edinburg")
        towns.filter(has_text="Edinburgh, United Kingdom").click()
        expect(page.get_by_label("Time zone")).to_have_value("Europe/London")
        page.context.grant_permissions(["geolocation"])
        page.context.set_geolocation({"latitude": -33.9, "longitude": 18.4})
        page.get_by_role("button", name="Where I am").click()
        expect(place).to_have_value("33.9° S, 18.4° E")
        expect(page.get_by_label("Time zone")).to_have_value("Africa/Johannesburg")
        self.clean(page)

    def test_a_block_is_dragged_along_the_day_and_the_drag_is_undone(self) -> None:
        page = self.open(f"/shoots/{self.number()}")
        block = page.locator("[data-slide=start-1]")
        box, line = block.bounding_box(), page.locator(".track").nth(1).bounding_box()
        assert box
        assert line
        # 18½ hours lie on the track: an eighth of it is 2 h 18.75 min.
        page.mouse.move(box["x"] + 4, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + 4 + line["width"] / 8, box["y"] + 22, steps=6)
        page.mouse.up()
        start = page.get_by_label("Orchard wall, both of them: Starts", exact=True)
        expect(page.get_by_role("button", name="Undo: Starts")).to_be_visible()
        expect(start).to_have_value("15:30")
        self.assertEqual(self.start(1), "15:30")
        page.get_by_role("button", name="Undo: Starts").click()
        expect(start).to_have_value("13:10")
        self.assertEqual(self.start(1), "13:10")
        self.assertEqual(self.said, [])

    def test_a_thumb_steps_a_start_and_a_reading_is_kept_on_the_phone(self) -> None:
        page = self.open(f"/shoots/{self.number()}", viewport={"width": 390, "height": 844}, has_touch=True)
        page.get_by_role("button", name="Dome door, parents in open shade: Starts, one step up").tap()
        expect(page.get_by_label("Dome door, parents in open shade: Starts", exact=True)).to_have_value(
            "15:35"
        )
        page.locator("summary").filter(has_text="Readings").tap()
        page.get_by_label("At", exact=True).fill("14:30")
        page.get_by_label("of the", exact=True).select_option("shaded")
        page.get_by_label("was", exact=True).fill("1/200 f/8")
        page.get_by_role("button", name="Keep", exact=True).tap()
        expect(page.get_by_text("14:30, shaded side EV")).to_be_visible()
        self.clean(page)

    def test_another_set_up_is_looked_at_and_its_best_time_asked(self) -> None:
        page = self.open(f"/shoots/{self.number()}")
        page.get_by_role("link", name="West terrace at dusk").click()
        expect(page.get_by_role("heading", name="West terrace at dusk 21:35 to 21:50")).to_be_visible()
        before = page.locator(".look-light p b").nth(2).inner_text()
        page.get_by_label("Within sync with").select_option("two")
        expect(page.get_by_text("Works from")).to_be_visible()
        page.get_by_label("ladder").select_option("halves")
        expect(page.locator(".rungs tbody").first.locator("tr")).to_have_count(13)
        expect(page.get_by_role("heading", name="West terrace at dusk 21:35 to 21:50")).to_be_visible()
        self.assertRegex(before, r"^\d\d:\d\d$")
        self.assertEqual(self.said, [])


class Alone(Browser):
    """The day as one file, opened where there is no Noggin and no network."""

    def opened_alone(self, text: str) -> Page:
        """A file on a phone, which asks for nothing."""
        self.assertNotRegex(text, r"<script|<link|\bsrc=(?!.data:)|url\((?!#)|@import")
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "alone.html"
        path.write_text(text)
        self.home, noggin = path.as_uri(), self.home
        page = self.open("", viewport={"width": 390, "height": 844})
        self.home = noggin
        return page

    def test_the_file_holds_everything_and_asks_for_nothing(self) -> None:
        number = shoots.listed_shoots(self.store)[0][0].id
        answer = self.client.get(f"/shoots/{number}/day.html")
        self.assertIn("attachment", answer.headers["Content-Disposition"])
        page = self.opened_alone(answer.text)
        self.clean(page)
        second = page.locator("#s2")
        for words in ("Orchard wall, both of them", "1/160 f/2", "6-stop ND; flash 1/2", "By the clock"):
            expect(second.get_by_text(words).first).to_be_visible()
        expect(page.locator("section h2")).to_have_count(8)
        expect(page.locator("img.picture")).to_have_count(8)
        page.get_by_text("To pack: Observatory wedding").click()
        expect(page.get_by_label("Large head, 600 Ws class")).to_be_visible()

    def test_a_set_up_alone_holds_its_ladders_on_its_day_and_what_to_bring(self) -> None:
        umbrella = self.client.get("/setups/2/setup.html").text
        self.assertIn(">Shoot-through umbrella, 0.8 m</label>", umbrella)
        self.assertNotIn(">bare head or reflector</label>", umbrella)
        new = setups.copy_setup(self.store, self.wiring.clock, 1)
        for number, clocked in ((1, 1), (new, 0)):
            with self.subTest(number=number):
                page = self.opened_alone(self.client.get(f"/setups/{number}/setup.html").text)
                for words in ("1/160 f/2", "6-stop ND; flash 1/2", "When the light changes"):
                    expect(page.get_by_text(words).first).to_be_visible()
                expect(page.get_by_text("By the clock")).to_have_count(clocked)
                expect(page.get_by_text("on 19 June 2027, Wedding")).to_have_count(clocked)
                page.get_by_text("To bring").click()
                page.get_by_label("Large head, 600 Ws class").check()
                self.clean(page)
