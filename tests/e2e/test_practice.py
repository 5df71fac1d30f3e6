"""Inside the shutter by keyboard and by thumb, in real Chromium."""

from re import compile as pattern

from playwright.sync_api import expect

from tests.e2e.browser import PHONE, Browser

BAR = "/practice/shutter?setup=1&shutter=focal_plane&sync=1%2F200&time=1%2F500&mode=pop&head=cut"


class Shutter(Browser):
    def test_moments_by_keyboard_are_seen_and_said(self) -> None:
        page = self.open(BAR)
        slider = page.get_by_role("slider", name="Moment")
        expect(page.locator("#shutter-state")).to_contain_text("the frame is closed")
        slider.focus()
        page.keyboard.press("Home")
        expect(page.locator("#shutter-state")).to_contain_text("At 0.00 ms")
        expect(page.locator("[data-curtain=first]")).to_have_attribute("height", "180")
        for _ in range(9):
            page.keyboard.press("ArrowRight")
        expect(page.locator("#shutter-state")).to_contain_text("a slit is open")
        expect(slider).to_have_attribute("aria-valuetext", pattern("a slit is open"))
        gathered = page.locator("[data-gathered]")
        expect(gathered).to_have_attribute("y", str(-180 * 9))

    def test_it_plays_to_the_end_and_stops_by_itself(self) -> None:
        page = self.open(BAR)
        page.emulate_media(reduced_motion="no-preference")
        page.get_by_role("slider", name="Moment").fill("20")
        page.get_by_role("button", name="Play").click()
        expect(page.get_by_role("button", name="Stop")).to_be_visible()
        expect(page.get_by_role("button", name="Play")).to_be_visible()
        expect(page.get_by_role("slider", name="Moment")).to_have_value("24")

    def test_a_dial_changes_what_is_seen_and_the_address_keeps_it(self) -> None:
        page = self.open(BAR)
        expect(page.locator(".shutter-sums")).to_contain_text("47%")
        page.get_by_label("Shutter time").fill("1/250")
        page.keyboard.press("Enter")
        expect(page.locator(".shutter-sums")).to_contain_text("94%")
        page.reload()
        expect(page.get_by_label("Shutter time")).to_have_value("1/250")
        page.get_by_label("Flash", exact=True).select_option("hss")
        expect(page.get_by_label("High-speed toll")).to_be_visible()
        expect(page.locator(".shutter-sums")).to_contain_text("of that by geometry")

    def test_by_thumb_on_a_phone_with_what_happens_first(self) -> None:
        page = self.open(BAR, viewport={"width": PHONE[0], "height": PHONE[1]}, has_touch=True)
        box = page.locator(".shutter-pictures").bounding_box()
        assert box
        self.assertLess(box["y"] + box["height"], PHONE[1])
        page.get_by_role("button", name="Play").tap()
        expect(page.get_by_role("button", name="Stop")).to_be_visible()
        expect(page.get_by_role("button", name="Play")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE[0])
        self.clean(page)


class Drill(Browser):
    def test_five_drills_by_keyboard_alone_and_how_one_stands(self) -> None:
        page = self.open("/practice")
        page.get_by_role("link", name="Begin").focus()
        page.keyboard.press("Enter")
        for _ in range(5):
            expect(page.locator("#drill-asks")).to_contain_text("?")
            page.locator(".drill-answer").first.focus()
            page.keyboard.press("Enter")
            expect(page.get_by_role("status")).to_contain_text(pattern("Right|It is"))
            self.clean(page)
            page.get_by_role("link", name="Next").focus()
            page.keyboard.press("Enter")
            expect(page.locator(".drill-answer").first).to_be_visible()
        page.goto(f"{self.home}/practice")
        expect(page.get_by_role("link", name="Go on")).to_be_visible()
        expect(page.locator(".standing tbody tr")).to_have_count(14)
        self.clean(page)

    def test_answers_are_as_large_as_a_thumb_on_a_phone(self) -> None:
        page = self.open(
            "/practice/drill", viewport={"width": PHONE[0], "height": PHONE[1]}, has_touch=True
        )
        for button in page.locator(".drill-answer").all():
            box = button.bounding_box()
            assert box
            self.assertGreaterEqual(box["height"], 44)
            self.assertLess(box["y"] + box["height"], PHONE[1])
        page.locator(".drill-answer").last.tap()
        expect(page.get_by_role("status")).to_be_visible()
        self.clean(page)
