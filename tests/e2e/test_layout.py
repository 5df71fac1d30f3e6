"""The plan by mouse, finger and keyboard, and the tones of a proof under the pointer, in a browser."""

import re
from typing import Any

from playwright.sync_api import Locator, Page, expect

from noggin.services.setups import setups as services
from tests.e2e.browser import PHONE, Browser


class OnThePlan(Browser):
    database = "demo"

    def key(self, page: Page) -> Locator:
        return page.locator('.plan-thing[data-item^="light:"]').first

    def document(self) -> Any:
        return services.open_setup(self.store, 1).document

    def distance(self) -> float:
        return float(self.document()["lights"][0]["distance_m"])

    def test_a_light_is_dragged_by_the_mouse_and_the_figures_follow(self) -> None:
        page = self.open("/setups/1/plan")
        light = self.key(page)
        before, box = self.distance(), light.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 40, y + 30, steps=5)
        expect(page.locator("#plan-moving li").first).to_contain_text("m,")
        self.assertEqual(self.distance(), before)
        page.mouse.up()
        expect(page.locator("#act-undo")).to_have_attribute("title", re.compile("moved"))
        self.assertGreater(self.distance(), before + 0.2)
        shown = page.locator('input[name="distance"]').first.input_value()
        self.assertAlmostEqual(float(shown.split()[0]), self.distance(), places=2)
        page.locator("#act-undo").click()
        expect(page.locator("#act-redo")).to_be_enabled()
        self.assertEqual(self.distance(), before)

    def test_a_drag_to_where_nothing_can_stand_goes_back_and_says_why(self) -> None:
        page = self.open("/setups/1/plan")
        camera, before = page.locator('[data-item="camera"]'), self.document()
        box, bride = camera.bounding_box(), page.locator('[data-item="person:0"]').bounding_box()
        assert box
        assert bride
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2, bride["y"] - 30, steps=6)
        page.mouse.up()
        expect(page.locator("#plan-problem")).to_contain_text("stands before the subject")
        expect(page.locator(".plan-above")).to_have_count(1)
        expect(camera).to_have_attribute("data-y", "-3.2")
        self.assertEqual(self.document(), before)

    def test_everything_that_is_dragged_goes_by_keyboard(self) -> None:
        page = self.open("/setups/1/plan")
        for thing in page.locator(".plan-thing").all():
            item = thing.get_attribute("data-item") or ""
            name = thing.get_attribute("aria-label") or ""
            self.assertIn("Arrow keys move it", name)
            self.assertEqual(thing.get_attribute("tabindex"), "0", item)
        camera = page.locator('[data-item="camera"]')
        camera.focus()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Shift+ArrowDown")
        expect(page.locator("#act-undo")).to_have_attribute("title", re.compile("camera moved"))
        self.assertAlmostEqual(self.document()["scene"]["subject_distance_m"], 3.5, places=2)
        light = self.key(page)
        light.focus()
        page.keyboard.press("PageUp")
        expect(page.locator("#act-undo")).to_have_attribute("title", re.compile("head.* moved"))
        expect(self.key(page)).to_be_focused()
        page.keyboard.press("Enter")
        self.assertEqual(page.evaluate("document.activeElement.name"), "distance")

    def test_scrim_cable_and_wind_by_keyboard_alone(self) -> None:
        page = self.open("/setups/4/plan")

        def plan() -> Any:
            return services.open_setup(self.store, 4).document["scene"]["plan"]

        page.get_by_role("button", name="Add a scrim").press("Enter")
        scrim = page.locator('.plan-thing[data-item="scrim"]')
        expect(scrim).to_have_count(1)
        before = plan()["scrim"]
        scrim.focus()
        page.keyboard.press("ArrowLeft")
        page.keyboard.press("PageUp")
        expect(page.locator("#act-undo")).to_have_attribute("title", re.compile("scrim moved"))
        after = plan()["scrim"]
        self.assertAlmostEqual(after["x_m"], before["x_m"] - 0.05, delta=0.03)
        self.assertAlmostEqual(after["height_m"], before["height_m"] + 0.05, delta=0.03)
        cable = page.locator('.plan-thing[data-item^="cable:"]')
        end = plan()["lights"]["Studio head, 500 Ws class"]["cable"]
        cable.focus()
        page.keyboard.press("Shift+ArrowDown")
        expect(page.locator("#act-undo")).to_have_attribute("title", re.compile("cable moved"))
        moved = plan()["lights"]["Studio head, 500 Ws class"]["cable"]
        self.assertAlmostEqual(moved[1], end[1] - 0.25, delta=0.03)
        wind = page.get_by_label("From: 0 ahead, right +")
        wind.fill("90")
        wind.press("Enter")
        expect(page.locator(".plan-wind")).to_have_count(1)
        self.assertEqual(plan()["wind_deg"], 90)
        self.clean(page)

    def test_a_figure_is_typed_and_a_wrong_one_is_kept_with_what_is_wrong(self) -> None:
        page = self.open("/setups/1/plan")
        field = page.locator('input[name="distance"]').first
        field.fill("far away")
        field.press("Tab")
        expect(page.locator("#plan-problem")).to_contain_text("is not a distance")
        expect(page.locator('input[name="distance"]').first).to_have_value("far away")
        field = page.locator('input[name="distance"]').first
        field.fill("2 m")
        field.press("Tab")
        expect(page.locator("#plan-problem")).to_have_count(0)
        self.assertEqual(self.distance(), 2.0)

    def test_a_placement_with_one_press(self) -> None:
        page = self.open("/setups/1/plan")
        page.get_by_role("button", name="Low and dramatic").click()
        expect(page.locator("#act-undo")).to_have_attribute("title", re.compile("low and dramatic"))
        self.assertLess(self.document()["lights"][0]["stand"]["height_m"], 1.55)

    def test_a_finger_drags_on_the_phone(self) -> None:
        page = self.open("/setups/1/plan", viewport={"width": PHONE[0], "height": PHONE[1]})
        self.key(page).scroll_into_view_if_needed()
        box = self.key(page).bounding_box()
        assert box
        before = self.distance()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        for kind, at in (
            ("pointerdown", (x, y)),
            ("pointermove", (x - 25, y + 15)),
            ("pointerup", (x - 25, y + 15)),
        ):
            page.evaluate(
                """([kind, x, y]) => {
                  const target = kind === "pointerdown" ? document.elementFromPoint(x, y) : document;
                  const details = { pointerId: 1, pointerType: "touch", isPrimary: true, bubbles: true };
                  SVGElement.prototype.setPointerCapture = () => {};
                  target.dispatchEvent(new PointerEvent(kind, { ...details, clientX: x, clientY: y }));
                }""",
                [kind, *at],
            )
        expect(page.locator("#act-undo")).to_have_attribute("title", re.compile("moved"))
        self.assertGreater(self.distance(), before)


class OnTheProof(Browser):
    pictures = True

    database = "demo"

    def test_tones_are_read_by_pointer_and_by_keys(self) -> None:
        page = self.open("/setups/1")
        view = page.locator(".proof-view")
        view.scroll_into_view_if_needed()
        view.hover()
        told = page.locator(".proof-read output")
        expect(told).to_contain_text(re.compile("mid-tone|Black"))
        view.focus()
        before = page.evaluate("document.querySelector('.proof-view').dataset.at")
        page.keyboard.press("ArrowRight")
        expect(page.locator(".proof-view")).not_to_have_attribute("data-at", before)

    def test_one_light_alone_takes_the_place_of_the_picture(self) -> None:
        page = self.open("/setups/1")
        page.get_by_role("link", name="Flash off").click()
        expect(page.locator("#proof [aria-current]")).to_have_text("Flash off")
        expect(page.locator("#proof img").first).to_have_attribute("src", re.compile("only=daylight"))

    def test_a_large_picture_out_of_view_comes_when_it_is_looked_at(self) -> None:
        page = self.open("/setups/1")
        proof = page.locator("#proof .proof-view img")
        before = proof.get_attribute("src") or ""
        revision = page.locator("#revision").input_value()
        page.locator("#i-background_level").focus()
        page.keyboard.press("ArrowDown")
        # The rest has come when what it reads tones from is another picture.
        expect(page.locator("#revision")).not_to_have_value(revision)
        name = re.compile(re.escape(before.rpartition("/")[2].partition(".")[0]))
        expect(page.locator(".proof-view")).not_to_have_attribute("data-reading", name)
        expect(proof).to_have_attribute("src", before)
        proof.scroll_into_view_if_needed()
        expect(proof).not_to_have_attribute("src", before)

    def test_the_board_shows_its_figures_without_waiting_for_pictures(self) -> None:
        page = self.open("/setups/1")
        self.hold(page, "**/*.avif*")  # pictures never come
        before = page.locator(".way-picture").first.get_attribute("src") or ""
        page.locator("#i-background_level").focus()
        page.keyboard.press("ArrowDown")
        expect(page.locator(".way-picture").first).not_to_have_attribute("src", before)
        expect(page.locator("#i-background_level")).to_have_value("−1.3")


class Hour(Browser):
    def test_the_hour_is_moved_by_keyboard_and_sun_and_picture_follow(self) -> None:
        page = self.open("/setups/5/plan")
        slider = page.get_by_role("slider", name="Hour")
        slider.focus()
        picture = page.locator(".plan-proof img").get_attribute("src")
        for _ in range(12):
            page.keyboard.press("ArrowLeft")
        expect(page.locator(".hour-slider output")).to_contain_text("back to")
        expect(slider).to_be_focused()
        expect(page.locator(".plan-proof img")).not_to_have_attribute("src", picture or "")
        expect(page.locator(".plan-shadow").first).to_be_attached()
        page.get_by_role("link", name="back to").click()
        expect(page.locator(".plan-proof img")).to_have_attribute("src", picture or "")

    def test_two_pictures_and_the_line_between_them(self) -> None:
        page = self.open("/setups/1/pictures?first=stop_down&second=nd")
        slider = page.get_by_role("slider")
        slider.focus()
        page.keyboard.press("Home")
        at = "document.querySelector('.two-pictures').style.getPropertyValue('--two-at')"
        self.assertEqual(page.evaluate(at), "0%")
        box = page.locator(".two-pictures").bounding_box()
        assert box
        page.mouse.click(box["x"] + 0.75 * box["width"], box["y"] + 50)
        self.assertEqual(page.evaluate(at), "75%")
        self.clean(page)
        page.get_by_label("Left").select_option("hss")
        expect(page).to_have_url(re.compile("first=hss"))

    def test_the_strip_begins_at_the_hour_that_the_set_up_is_for(self) -> None:
        page = self.open("/setups/5/hours")
        now = page.locator(".hour-now")
        expect(now).to_be_in_viewport()
        self.assertGreater(page.evaluate("document.querySelector('.hours').scrollLeft"), 1000)
        self.clean(page)
