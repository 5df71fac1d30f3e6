"""A photographer's walk through the demo in a real browser, with an empty console."""

import re

from playwright.sync_api import expect

from tests.e2e.browser import Browser


class Walk(Browser):
    def test_another_aperture_another_way_kept_after_a_reload(self) -> None:
        page = self.open()
        advised = page.locator(".way.advised h3 a")
        expect(page.locator(".said")).to_contain_text("1 stop")
        expect(advised).to_have_text("ND at sync")
        field = page.get_by_label("Aperture", exact=True)
        field.fill("16")
        expect(advised).to_have_text("Within sync")
        expect(field).to_be_focused()
        expect(page.locator(".scale:visible")).to_have_count(1)
        page.keyboard.press("Enter")
        expect(field).to_have_value("f/16")
        page.reload()
        expect(advised).to_have_text("Within sync")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/16")
        self.assertEqual(self.said, [])

    def test_typing_keeps_caret_and_text_while_the_board_follows(self) -> None:
        page = self.open()
        field = page.get_by_label("Faces, in shade", exact=True)
        field.fill("")
        field.press_sequentially("13.4", delay=90)
        scale = page.locator(".scale:visible")
        expect(scale).to_have_attribute("aria-label", re.compile("face, daylight −2.2"))
        expect(field).to_be_focused()
        expect(field).to_have_value("13.4")
        self.assertEqual(field.evaluate("node => node.selectionStart"), 4)
        self.assertEqual(self.said, [])

    def test_steppers_by_keyboard_keep_their_focus(self) -> None:
        page = self.open()
        button = page.get_by_role("button", name="Light distance, one step up")
        button.focus()
        for shown in ("2.6", "2.7"):
            page.keyboard.press("Enter")
            expect(page.get_by_label("Light distance", exact=True)).to_have_value(shown)
        expect(button).to_be_focused()
        self.assertEqual(self.said, [])

    def test_a_wrong_entry_says_so_beside_the_field_and_stays(self) -> None:
        page = self.open()
        field = page.locator("#i-light_distance-0")
        field.fill("far")
        note = page.locator("#n-light_distance-0")
        expect(note).to_contain_text("‘far’ is not a distance. Try 2.4 m or 8 ft")
        expect(field).to_have_attribute("aria-invalid", "true")
        expect(page.locator(".way.advised h3 a")).to_have_text("ND at sync")
        page.reload()
        expect(field).to_have_value("far")
        field.fill("8 ft")
        expect(note).to_be_empty()
        field.press("Tab")
        expect(field).to_have_value("2.44")
        self.assertEqual(self.said, [])

    def test_looking_at_another_way_redraws_and_is_there_after_a_reload(self) -> None:
        page = self.open()
        page.get_by_role("link", name="High-speed sync").click()
        expect(page.locator(".picture figcaption")).to_have_text("The picture, High-speed sync")
        expect(page.get_by_role("link", name="High-speed sync")).to_be_focused()
        page.reload()
        expect(page.locator(".picture figcaption")).to_have_text("The picture, High-speed sync")
        self.assertEqual(self.said, [])

    def test_the_theme_is_switched_and_remembered(self) -> None:
        page = self.open(color_scheme="light")
        root, button = page.locator("html"), page.locator("[data-theme-switch]")
        expect(button).to_have_attribute("aria-label", "Theme: as the system (light)")
        for words, theme in (("dark", "dark"), ("light", "light"), ("as the system (light)", "light")):
            button.click()
            expect(root).to_have_attribute("data-bs-theme", theme)
            expect(button).to_have_attribute("aria-label", f"Theme: {words}")
            expect(page.locator("#announce")).to_have_text(f"Theme: {words}")
            page.reload()
            expect(root).to_have_attribute("data-bs-theme", theme)
        # Back with the system, it goes along with it.
        page.emulate_media(color_scheme="dark")
        expect(root).to_have_attribute("data-bs-theme", "dark")
        self.assertEqual(self.said, [])

    def test_a_page_is_shared_by_the_sheet_of_the_phone_or_as_a_link(self) -> None:
        for has_sheet in (False, True):
            page = self.open()
            page.evaluate(
                """([sheet]) => {
                  window.given = [];
                  const say = (how) => async (what) => window.given.push([how, what.url ?? what]);
                  const put = (on, name, value) => Object.defineProperty(on, name, { value });
                  put(navigator, "canShare", () => sheet);
                  put(navigator, "share", say("share"));
                  put(navigator.clipboard, "writeText", say("copy"));
                }""",
                [has_sheet],
            )
            page.locator("#acts-more summary").click()
            button = page.locator("[data-share]")
            button.click()
            expect(button).to_have_text("Share the link" if has_sheet else "The link is copied")
            self.assertEqual(page.evaluate("given"), [["share" if has_sheet else "copy", page.url]])
            page.close()

    def test_a_server_that_is_gone_is_said_and_nothing_typed_is_lost(self) -> None:
        page = self.open()
        page.route("**/figures/*", lambda route: route.abort())
        field = page.get_by_label("Aperture", exact=True)
        field.fill("4")
        expect(page.get_by_role("alert")).to_contain_text("Noggin is not answering")
        expect(field).to_have_value("4")
        page.unroute("**/figures/*")
        field.press("Enter")
        expect(page.locator("#trouble")).to_be_empty()
        expect(field).to_have_value("f/4")
