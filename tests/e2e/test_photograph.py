"""The place from a photograph, by mouse on a desk and by thumb on a phone."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect

from noggin.services.setups import place_photograph
from noggin.services.setups import setups as services
from tests.e2e.browser import PHONE, Browser
from tests.web.test_photograph import AT, camera_jpeg


class Place(Browser):
    def file(self, background: float = -0.3, sky: float = 1.2, middle: float | None = None) -> Path:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "place.jpg"
        path.write_bytes(camera_jpeg(background, sky, middle))
        return path

    def bring(self, page: Page) -> None:
        page.locator(".place-bring input[name=picture]").set_input_files(self.file())
        page.get_by_role("button", name="Bring it").click()
        expect(page.locator(".place-frame img")).to_be_visible()


class OnADesk(Place):
    def test_a_box_is_dragged_and_the_light_goes_into_the_set_up(self) -> None:
        page = self.open("/setups/1/photograph")
        self.clean(page)
        self.bring(page)
        expect(page.get_by_text("Dashed: the frame at 85 mm")).to_be_visible()
        image = page.locator(".place-frame img").bounding_box()
        assert image
        form = page.locator("form[data-box]")
        form.get_by_label("Zone").select_option("sky")
        page.mouse.move(image["x"] + 0.2 * image["width"], image["y"] + 0.05 * image["height"])
        page.mouse.down()
        page.mouse.move(image["x"] + 0.6 * image["width"], image["y"] + 0.2 * image["height"], steps=3)
        page.mouse.up()
        expect(form.get_by_label("Left, %")).to_have_value("20.0")
        expect(form.get_by_label("Width, %")).to_have_value("40.0")
        form.get_by_role("button", name="Read it").click()
        expect(page.locator(".place-marks rect")).to_have_count(2)
        page.get_by_role("button", name="Take this light for the set-up").click()
        expect(page.get_by_text("Taken as readings of that minute")).to_be_visible()
        self.clean(page)
        scene = services.open_setup(self.store, 1).setup.scene
        assert scene.baseline
        self.assertEqual(scene.baseline.time, AT)
        page.goto(f"{self.home}/setups/1")
        expect(page.locator("#proof-words")).to_have_count(1)
        expect(page.get_by_text("the place is your photograph")).to_have_count(1)


class OnAPhone(Place):
    def test_three_pictures_make_a_set_up_by_thumb(self) -> None:
        size = {"width": PHONE[0], "height": PHONE[1]}
        page = self.open("/setups", viewport=size, has_touch=True)
        page.get_by_role("link", name="From pictures of the place").first.tap()
        page.get_by_label("What will be behind them").set_input_files(self.file())
        page.get_by_label("The shade where they will stand").set_input_files(self.file(0, 0, -1.0))
        page.get_by_label("read off").first.select_option("grass")
        page.get_by_label("The same in the sun").set_input_files(self.file(0, 0, 0.9))
        page.get_by_role("button", name="Make the set-up").tap()
        expect(page.locator(".place-frame img")).to_be_visible()
        expect(page.locator("table.known tbody tr")).to_have_count(4)
        self.clean(page)
        number = int(page.url.split("/")[-2])
        shown = place_photograph.shown(self.store, number)
        assert shown
        self.assertEqual({one.zone for one in shown.zones}, {"background", "sky", "subject", "rim"})
