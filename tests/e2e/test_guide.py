"""The guide followed from an empty database to a kept frame, and drills with a camera, in real Chromium."""

from playwright.sync_api import Page, expect

from tests.e2e.browser import PHONE, Browser

SIZE = {"width": PHONE[0], "height": PHONE[1]}


class FromNothing(Browser):
    database = "empty"

    def at(self, page: Page, words: str) -> None:
        expect(page.locator("#guide-title")).to_contain_text(words)

    def enter(self, page: Page, label: str, text: str) -> None:
        field = page.get_by_role("textbox", name=label, exact=True)
        field.fill(text)
        field.press("Enter")

    def test_from_an_empty_database_to_a_kept_frame(self) -> None:
        page = self.open("/setups")
        page.get_by_role("button", name="Lead me through a new set-up").click()
        self.at(page, "1 of 9 Compose first")
        self.clean(page)
        self.enter(page, "Subject distance", "3.4 m")
        self.at(page, "2 of 9 Read the daylight")
        daylight = page.locator("#group-daylight")
        for place, text in (("#i-ev_background", "14"), ("#i-ev_subject", "12")):
            daylight.locator(place).fill(text)
            daylight.locator(place).press("Enter")
        self.at(page, "3 of 9 Set the background")
        page.locator("#i-background_level").fill("-1.3")
        page.locator("#i-background_level").press("Enter")
        self.at(page, "4 of 9 Past sync, or not")
        page.get_by_role("button", name="I have chosen").click()
        self.at(page, "5 of 9 Place the light")
        page.locator("[id='i-light_distance-0']").fill("1.2 m")
        page.locator("[id='i-light_distance-0']").press("Enter")
        self.at(page, "6 of 9 First frame: flash off")
        page.get_by_role("link", name="Go to the spot").click()
        for words, frames in (
            ("First frame", 1),
            ("Now the flash", 2),
            ("of 9", 3),
            ("of 9", 4),
            ("of 9", 5),
        ):
            self.at(page, words)
            for zone in ("Background", "Faces"):
                page.get_by_role("group", name=zone).get_by_text("right", exact=True).click()
            page.get_by_role("button", name="Keep this frame").click()
            expect(page.get_by_text(f"{frames} frame")).to_be_visible()
            if page.get_by_role("button", name="Done as it is").count():
                break
        page.get_by_role("button", name="Done as it is").click()
        self.at(page, "Done: shoot it")
        self.clean(page)
        page.goto(f"{self.home}/log")
        expect(page.get_by_text("New set-up").first).to_be_visible()
        page.go_back()
        page.get_by_role("button", name="Close the guide").click()
        expect(page.locator("#guide-title")).to_have_count(0)


class Camera(Browser):
    def test_a_scene_is_set_by_keyboard(self) -> None:
        page = self.open("/practice/drill/sinking_sun/5")
        for _ in range(4):
            page.get_by_label("Time", exact=True).focus()
            page.keyboard.press("ArrowUp")
            page.keyboard.press("ArrowUp")
            page.get_by_role("button", name="Fire").focus()
            page.keyboard.press("Enter")
            expect(page.locator(".camera-words")).to_be_visible()
        expect(page.locator(".drill-verdict")).to_have_text("Kept over all frames.")
        self.clean(page)

    def test_by_thumb_on_a_phone(self) -> None:
        page = self.open("/practice/drill/fewest_frames/5", viewport=SIZE, has_touch=True)
        box = page.get_by_role("button", name="Fire").bounding_box()
        assert box
        self.assertLess(box["y"] + box["height"], PHONE[1])
        time = page.get_by_label("Time", exact=True)
        before = time.input_value()
        page.get_by_role("button", name="Time, one step on").tap()
        self.assertEqual(int(time.input_value()), int(before) + 1)
        page.get_by_role("button", name="Fire").tap()
        expect(page.locator(".camera-words")).to_contain_text("Frame 1")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE[0])
        self.clean(page)
        page.get_by_role("button", name="Give up").tap()
        expect(page.locator(".drill-why").last).to_contain_text("This makes it")
        self.clean(page)


class Terms(Browser):
    def test_a_term_explains_itself_by_one_tap_where_it_stands_and_by_keyboard(self) -> None:
        page = self.open("/setups/1")
        page.locator("html[data-terms=ready]").wait_for()
        first = """() => {
            const shown = [...CSS.highlights.get("terms")].map((range) => range.getBoundingClientRect());
            const box = shown.find((one) => one.width && one.top > 60);
            return [box.x + box.width / 2, box.y + box.height / 2];
        }"""
        page.mouse.click(*page.evaluate(first))
        expect(page.locator("#term-words")).to_be_visible()
        expect(page.locator("#term-words")).to_contain_text(":")
        self.clean(page)
        page.keyboard.press("Escape")
        expect(page.locator("#term-words")).to_be_hidden()
        page.keyboard.press("?")
        here = page.locator("[data-words-here] dt")
        expect(here.filter(has_text="reserve").or_(here.filter(has_text="Reserve")).first).to_be_visible()
        page.keyboard.press("Escape")
        # What is swapped in is explained too.
        before = page.evaluate("CSS.highlights.get('terms').size")
        page.locator("#i-background_level").fill("-1.5")
        page.locator("#i-background_level").press("Enter")
        page.wait_for_function("CSS.highlights.get('terms').size > 0")
        self.assertGreater(before, 5)


class GuideByThumb(Browser):
    def test_the_guide_on_a_phone(self) -> None:
        page = self.open("/practice", viewport=SIZE, has_touch=True)
        page.get_by_role("button", name="Lead me through a new set-up").tap()
        expect(page.locator("#guide-title")).to_contain_text("1 of 9")
        for button in page.locator(".guide-card a, .guide-card button, .guide-card summary").all():
            box = button.bounding_box()
            assert box
            self.assertGreaterEqual(box["height"], 43.5, button.inner_text())
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE[0])
        self.clean(page)
        page.get_by_role("button", name="It is as it should be").tap()
        expect(page.locator("#guide-title")).to_contain_text("2 of 9")
        page.get_by_role("button", name="Close the guide").tap()
        expect(page.locator("#guide-title")).to_have_count(0)
