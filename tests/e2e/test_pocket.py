"""The pocket edition in a phone's browser: Python works everything out there, with the network off."""

from playwright.sync_api import FrameLocator, Page, expect

from tests.e2e.browser import PHONE, Browser


class Pocket(Browser):
    def setUp(self) -> None:
        super().setUp()
        size = {"width": PHONE[0], "height": PHONE[1]}
        self.page = self.open("/pocket/", viewport=size, service_workers="allow")
        self.addCleanup(self.page.context.set_offline, False)

    def pages(self, page: Page) -> FrameLocator:
        """Noggin's own pages, once they are there."""
        expect(page.locator("html")).to_have_attribute("data-state", "open")
        return page.frame_locator("#pages")

    def test_a_setup_is_planned_and_kept_without_a_network(self) -> None:
        shown = self.pages(self.page)
        self.page.context.set_offline(True)
        shown.get_by_role("button", name="Show me the plan").click()
        expect(shown.locator(".way.advised .dial")).to_contain_text("f/2.8")
        expect(shown.locator("#proof")).to_contain_text("drawn where Noggin's server runs")
        shown.locator("#group-composition").evaluate("group => { group.open = true; }")
        shown.get_by_label("Aperture", exact=True).fill("4")
        self.page.keyboard.press("Tab")
        expect(shown.locator(".way.advised .dial")).to_contain_text("f/4")
        expect(shown.locator("#saving")).to_have_text("Saved")
        # The tab is gone and opened again, still without a network: it is as it was left.
        self.page.reload()
        shown = self.pages(self.page)
        expect(self.page).to_have_url(f"{self.home}/pocket/#/setups/1")
        expect(shown.locator(".way.advised .dial")).to_contain_text("f/4")
        # At the spot: two frames, the flash off and on, and one thing to change.
        shown.get_by_role("link", name="Shoot this set-up").click()
        shown.get_by_role("button", name="Rehearse with a simulated spot").click()
        shown.get_by_role("button", name="Take a simulated frame, flash off").click()
        shown.get_by_role("button", name="Fire a simulated frame").click()
        expect(shown.get_by_role("heading", name="2 frames, the last one first")).to_be_visible()
        self.looks_right(shown)

    def looks_right(self, shown: FrameLocator) -> None:
        """Nothing is wider than the phone, and nobody else opens what is open here."""
        wide = shown.locator("html").evaluate("page => page.scrollWidth - page.clientWidth")
        self.assertEqual(wide, 0)
        second = self.page.context.new_page()
        second.goto(f"{self.home}/pocket/")
        expect(second.locator("#says")).to_contain_text("open in another tab")
        second.close()
