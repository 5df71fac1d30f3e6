"""The kit in a real browser: by keyboard, and what typing leaves behind."""

import re

from playwright.sync_api import expect

from noggin.services.gear import bags, kit
from tests.e2e.browser import Browser


class Kit(Browser):
    def number(self, name: str) -> int:
        return next(item.id for item in kit.all_gear(self.store) if item.name == name)

    def test_a_light_is_added_and_measured_by_keyboard(self) -> None:
        page = self.open("/kit")
        page.get_by_label("Add", exact=True).focus()
        page.keyboard.type("Pocket")
        page.keyboard.press("Tab")
        page.keyboard.type("The little one")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Light: The little one")).to_be_visible()
        page.get_by_role("link", name="Guide number").focus()
        page.keyboard.press("Enter")
        page.get_by_label("One reading a line").focus()
        page.keyboard.type("1.5 m, 1/1, f/28\n2.5 m, 1/1, f/16.8\n4 m, 1/1, f/10.6")
        page.get_by_role("button", name="Work it out").focus()
        page.keyboard.press("Enter")
        expect(page.locator(".found-figure b")).to_have_text("42.1 m")
        self.clean(page)
        page.get_by_role("button", name="Accept these figures").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_label("Guide number, narrow head", exact=True)).to_have_value("42.1")
        expect(page.get_by_label("Guide number, narrow head, source")).to_have_value("measured")
        page.get_by_role("button", name="Take back: Guide number, narrow head").click()
        expect(page.get_by_label("Guide number, narrow head", exact=True)).to_have_value("45")
        expect(page.get_by_text("1.5 m, 1/1, f/28")).to_have_count(1)
        self.assertEqual(self.said, [])

    def test_a_wrong_figure_stays_and_a_right_one_takes_the_usual_notation(self) -> None:
        page = self.open(f"/kit/{self.number('Speedlight')}")
        field = page.get_by_label("Guide number, standard zoom", exact=True)
        field.fill("bright")
        page.keyboard.press("Tab")
        expect(page.locator(".problem").filter(has_text="is not a guide number")).to_be_visible()
        expect(field).to_have_value("bright")
        field.fill("118 ft")
        page.keyboard.press("Enter")
        expect(field).to_have_value("36")
        expect(page.locator("#n-gn_m-0 .problem")).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Guide number, standard zoom, source")).to_have_value("class")
        self.assertEqual(self.said, [])

    def test_a_bag_is_packed_with_the_space_bar_and_prints_what_goes(self) -> None:
        bag = next(bag for bag in bags.all_bags(self.store) if bag.name == "Observatory wedding")
        page = self.open(f"/bags/{bag.id}")
        tick = page.get_by_role("checkbox", name="Heavy stand with boom")
        expect(tick).to_have_attribute("aria-checked", "false")
        tick.focus()
        page.keyboard.press("Space")
        expect(tick).to_have_attribute("aria-checked", "true")
        expect(tick).to_be_focused()
        expect(page.get_by_text("31 of 33 packed")).to_be_visible()
        page.emulate_media(media="print")
        expect(page.get_by_text("Packing list: Observatory wedding, 2027-06-19")).to_be_visible()
        expect(page.get_by_text("Leaf-shutter compact").first).not_to_be_visible()
        self.assertEqual(self.said, [])

    def test_another_picture_comes_with_its_own_light_and_address(self) -> None:
        page = self.open("/reach")
        page.get_by_label("Aperture", exact=True).fill("8")
        page.keyboard.press("Tab")
        page.get_by_label("Picture").select_option(label="West terrace at dusk")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/2")
        expect(page.get_by_label("Background, EV")).to_have_value("7.0")
        expect(page).to_have_url(re.compile(r"/reach\?setup=5$"))
        self.assertEqual(self.said, [])

    def test_reach_follows_the_picture_and_opens_the_bench(self) -> None:
        page = self.open("/reach")
        cell = page.get_by_role(
            "button", name="Large head, 600 Ws class, Softbox, 0.9 m, at sync: open on the Bench"
        )
        expect(cell).to_have_text("2.48 m")
        page.get_by_label("Aperture", exact=True).fill("4")
        page.keyboard.press("Tab")
        # Flash and daylight lose the same to the aperture: f/4 needs two stops less of glass, and no more.
        expect(page.get_by_text("past sync speed")).to_be_visible()
        expect(cell).to_have_text("2.48 m")
        page.get_by_label("Background, stops").fill("0")
        page.keyboard.press("Tab")
        expect(cell).not_to_have_text("2.48 m")
        cell.click()
        expect(page.get_by_label("Modifier", exact=True)).to_have_value("kit:Softbox, 0.9 m")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/4")
        expect(page.get_by_role("button", name="Undo: from reach: Large head")).to_be_visible()
        self.assertEqual(self.said, [])
