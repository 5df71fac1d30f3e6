"""The Bench by keyboard, by dragging and in two windows, in a real browser."""

import re
from math import log2

from playwright.sync_api import Page, Request, expect

from noggin.services.setups import setups as services
from tests.e2e.browser import Browser


class Keyboard(Browser):
    """A person without a mouse; every key press is counted."""

    database = "empty"

    def press(self, page: Page, *keys: str) -> None:
        for key in keys:
            page.keyboard.press(key)
            self.pressed += 1

    def type(self, page: Page, text: str) -> None:
        self.press(page, *text)

    def test_a_noon_set_up_from_an_empty_page_in_at_most_120_key_presses(self) -> None:
        self.pressed = 0
        page = self.open("/setups")
        expect(page.get_by_text("Nothing planned yet")).to_be_visible()
        while page.evaluate("document.activeElement.textContent.trim()") != "New set-up":
            self.press(page, "Tab")
        self.press(page, "Enter")
        expect(page.locator(".board")).to_be_visible()
        self.press(page, "f")
        for key, text in (
            ("subject_distance", "3.2"),
            ("background_distance", "40"),
            ("ev_background", "14.6"),
            ("ev_subject", "12"),
            ("background_level", "-1"),
            ("aperture", "2"),
            ("filters", "6"),
            ("class-0", "l"),
            ("light_distance-0", "2.5"),
            ("modifier-0", "ba"),
        ):
            while page.evaluate("document.activeElement.id") != f"i-{key}":
                self.press(page, "Tab")
            self.type(page, text)
        self.press(page, "Tab")
        expect(page.locator(".way.advised h3 a")).to_have_text("ND at sync")
        expect(page.locator(".way.advised .dial")).to_have_text("1/200 f/2")
        expect(page.locator("#i-modifier-0")).to_have_value("bare")
        expect(page.locator(".way.advised .reserve")).to_contain_text("+0.1")
        latest = services.latest_setup(self.store)
        assert latest is not None
        opened = services.open_setup(self.store, latest)
        reserve = opened.plan.way("nd").reserve
        # By hand (tests/core/planning/test_plan.py): 1.288 with a guide number of 60 at 2.5 m; the class
        # has 40.
        self.assertAlmostEqual(reserve or 0, 1.288 - 2 * log2(60 / 40), places=3)
        self.assertLessEqual(self.pressed, 120)
        self.assertEqual(self.said, [])


class Hands(Browser):
    def test_arrows_step_a_figure_and_the_caret_stays(self) -> None:
        page = self.open("/setups/1")
        field = page.get_by_label("Aperture", exact=True)
        field.focus()
        for shown in ("f/2.2", "f/2.5"):
            page.keyboard.press("ArrowUp")
            expect(field).to_have_value(shown)
        page.keyboard.press("ArrowDown")
        expect(field).to_have_value("f/2.2")
        expect(field).to_be_focused()
        self.assertEqual(self.said, [])

    def test_a_held_key_makes_one_request_and_one_that_waits(self) -> None:
        page = self.open("/setups/1")
        asked = self.hold(page, "**/figures/aperture*", first_alone=True)
        sent = []

        def note(request: Request) -> None:
            if request.method == "POST":
                sent.append(request.post_data or "")

        page.on("request", note)
        field = page.get_by_label("Aperture", exact=True)
        field.focus()
        for _ in range(10):
            page.keyboard.press("ArrowUp")
        page.keyboard.press("ArrowDown")
        self.told(page, asked)
        asked[0].continue_()
        expect(field).to_have_value("f/5.6")  # nine thirds of a stop from f/2
        page.keyboard.press("ArrowUp")
        expect(field).to_have_value("f/6.3")
        self.assertEqual(
            [("by=1" in data, "by=8" in data) for data in sent][:2], [(True, False), (False, True)]
        )
        self.assertEqual(len(sent), 3)
        self.assertEqual(self.said, [])

    def test_keys_undo_look_at_ways_and_list_themselves(self) -> None:
        page = self.open("/setups/1")
        page.get_by_label("Aperture", exact=True).fill("16")
        expect(page.locator(".way.advised h3 a")).to_have_text("Within sync")
        page.locator("h1").first.evaluate("() => document.activeElement.blur()")
        expect(page.get_by_role("button", name="Undo: Aperture")).to_be_enabled()
        page.keyboard.press("z")
        expect(page.locator(".way.advised h3 a")).to_have_text("ND at sync")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/2")
        page.keyboard.press("y")
        expect(page.locator(".way.advised h3 a")).to_have_text("Within sync")
        page.keyboard.press("z")
        expect(page.locator(".way.advised h3 a")).to_have_text("ND at sync")
        page.keyboard.press("3")
        expect(page.locator(".picture figcaption")).to_have_text("The picture, High-speed sync")
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("undo")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_be_hidden()
        self.assertEqual(self.said, [])

    def test_the_meant_background_is_dragged_in_thirds(self) -> None:
        page = self.open("/setups/1")
        grip = page.locator(".scale:visible [data-drag=background_level]")
        box = grip.bounding_box()
        stop = float(page.locator(".scale:visible").get_attribute("data-stop") or 0)
        assert box is not None
        scale = page.locator(".scale:visible").bounding_box()
        assert scale is not None
        pixels = stop * scale["width"] / 940
        x, y = box["x"] + box["width"] / 2, box["y"] + 8
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - pixels / 2, y)
        page.mouse.move(x - pixels, y)
        page.mouse.up()
        expect(page.locator("#i-background_level")).to_have_value("−2.0")
        self.assertEqual(self.said, [])

    def test_choosing_a_framing_and_a_light_moves_what_follows_from_them(self) -> None:
        page = self.open("/setups/1")
        page.get_by_label("Framing", exact=True).select_option("full")
        expect(page.get_by_label("Subject distance", exact=True)).to_have_value("7.52")
        page.locator("#more-light-0 summary").click()
        page.locator("#i-class-0").select_option(label="Speedlight")
        expect(page.locator("#i-gn-0")).to_have_value("29")
        expect(page.locator("#more-light-0")).to_have_attribute("open", "")
        page.get_by_role("button", name="as rim").click()
        expect(page.get_by_role("heading", name="Rim: Speedlight 2")).to_be_visible()
        self.assertEqual(self.said, [])

    def test_a_remedy_is_tried_and_taken_back(self) -> None:
        page = self.open("/setups/2?look=mixed")
        expect(page.locator(".way.advised")).to_have_count(0)
        page.get_by_role("button", name="Try it: closer").click()
        expect(page.locator(".way.advised h3 a")).to_have_text("Mixed")
        undo = page.get_by_role("button", name="Undo: tried: closer")
        page.reload()
        undo.click()
        expect(page.locator(".way.advised")).to_have_count(0)
        self.assertEqual(self.said, [])

    def press_twice(self, page: Page, button: str, address: str) -> None:
        """Press a button twice; the first press is answered only after the second one was made."""
        held = self.hold(page, address, first_alone=True)
        page.get_by_role("button", name=button).dblclick()
        self.told(page, held)
        with page.expect_response(
            lambda answer: "/days/" in answer.url
        ):  # what the page then fetches itself
            held[0].continue_()
        expect(page.locator(".best-time").first).not_to_be_empty()
        expect(page.get_by_text("That was done already")).to_be_visible()
        expect(page.locator("#plan .way")).to_have_count(5)
        (said,) = self.said  # the browser itself writes down that the second press was refused
        self.assertIn("409", said)

    def test_a_double_press_acts_once_and_keeps_the_page(self) -> None:
        page = self.open("/setups/1")
        self.press_twice(page, "as rim", "**/lights")
        expect(page.locator(".light-title")).to_have_count(2)
        page.get_by_role("link", name="Show how it stands now").click()
        expect(page.get_by_text("That was done already")).to_have_count(0)
        expect(page.locator(".light-title")).to_have_count(2)

    def test_a_double_press_on_what_is_gone_with_the_first_keeps_the_page(self) -> None:
        page = self.open("/setups/2?look=mixed")
        self.press_twice(page, "Try it: closer", "**/remedies/**")
        page.get_by_role("button", name="Undo: tried: closer").click()
        expect(page.locator(".way.advised")).to_have_count(0)
        expect(page.get_by_text("That was done already")).to_have_count(0)

    def test_a_page_the_browser_had_put_aside_shows_what_is_kept(self) -> None:
        page = self.open("/setups/1")
        services.enter(self.store, self.wiring.clock, 1, "aperture", "5.6")
        page.evaluate("dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true }))")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/5.6")
        self.assertEqual(self.said, [])

    def test_a_figure_asked_why_answers(self) -> None:
        page = self.open("/setups/1")
        page.locator(".way.advised .reserve .ask").click()
        chain = page.locator("#why-reserve")
        expect(chain).to_have_attribute("open", "")
        expect(chain).to_contain_text(re.compile("aperture f/2\\s.*ISO 1230", re.DOTALL))
        page.get_by_label("Aperture", exact=True).fill("2.8")
        expect(chain).to_contain_text("aperture f/2.8")
        expect(chain).to_have_attribute("open", "")
        self.assertEqual(self.said, [])

    def test_two_windows_keep_each_others_changes_and_say_so(self) -> None:
        first = self.open("/setups/1")
        other = self.open("/setups/1")
        # It may not look for changes by itself in between, and so not know of the other one.
        self.hold(other, "**/alive")
        first.get_by_label("Aperture", exact=True).fill("4")
        first.keyboard.press("Enter")
        expect(first.get_by_label("Aperture", exact=True)).to_have_value("f/4")
        other.get_by_label("Subject distance", exact=True).fill("5")
        other.keyboard.press("Enter")
        expect(other.get_by_text("changed in another window")).to_be_visible()
        expect(other.get_by_label("Aperture", exact=True)).to_have_value("f/4")
        setup = services.open_setup(self.store, 1).setup
        self.assertEqual((setup.intent.aperture, setup.scene.subject_distance_m), (4, 5))
        other.get_by_role("link", name="OK").click()
        expect(other.get_by_text("changed in another window")).to_have_count(0)

    def test_feet(self) -> None:
        page = self.open("/setups/1")
        page.get_by_text("More", exact=True).click()
        page.get_by_role("button", name="Distances in feet").click()
        field = page.get_by_label("Subject distance", exact=True)
        expect(field).to_have_value("10.5")
        field.fill("12")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Undo: Subject distance")).to_be_enabled()
        expect(page.locator(".way.advised")).to_contain_text("ft")
        self.assertAlmostEqual(services.open_setup(self.store, 1).setup.scene.subject_distance_m, 3.6576)
