"""For everybody who uses the keyboard alone: stops, single keys, undo, menus."""

import re
from typing import Any

from playwright.sync_api import expect

from noggin.services.day import shoots
from noggin.services.gear import kit
from tests.e2e.browser import Browser

TOLD = """
() => {
  const node = document.getElementById("announce");
  window.told = [];
  new MutationObserver(() => window.told.push(node.textContent)).observe(node, { childList: true });
}"""


class Keys(Browser):
    """By keyboard alone."""

    def test_at_most_fifty_stops_on_a_bench_with_one_light(self) -> None:
        page = self.open("/setups/1", folded=True)
        stops: list[Any] = []
        for _ in range(80):
            page.keyboard.press("Tab")
            stop = page.evaluate(
                "document.activeElement.matches('body') || document.activeElement.outerHTML"
            )
            if stop is True:
                break
            stops.append(stop)
        self.assertLessEqual(len(stops), 50, stops)
        to_board = next(index for index, stop in enumerate(stops) if 'data-row="name"' in stop)
        self.assertLessEqual(to_board, 16, stops)

    def test_the_board_is_one_stop_and_arrow_keys_go_through_it(self) -> None:
        page = self.open("/setups/1")
        expect(page.locator("[data-rove=board] a[tabindex='0']")).to_have_count(1)
        expect(page.locator("[data-rove=board] a[tabindex='-1']")).not_to_have_count(0)
        page.locator(".way.advised h3 a").focus()
        page.keyboard.press("ArrowDown")
        expect(page.locator(".way.advised .dial .ask")).to_be_focused()
        page.keyboard.press("ArrowRight")
        expect(page.locator(".way").nth(1).locator(".dial .ask")).to_be_focused()
        page.keyboard.press("Home")
        expect(page.locator(".way").nth(1).locator("h3 a")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.locator(".way.looked h3 a")).to_have_text("Mixed")
        expect(page.locator(".way.looked h3 a")).to_be_focused()
        self.assertEqual(self.said, [])

    def test_skip_links_lead_to_the_board_and_the_figures(self) -> None:
        page = self.open("/setups/1")
        page.keyboard.press("Tab")
        expect(page.get_by_role("link", name="Skip to the methods")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.locator("#board")).to_be_focused()

    def test_single_keys_can_be_switched_off_and_leave_links_and_buttons_alone(self) -> None:
        page = self.open("/setups/1")
        page.get_by_role("link", name="Kit", exact=True).focus()
        page.keyboard.press("3")
        expect(page.locator(".way.looked h3 a")).to_have_text("ND at sync")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("?")
        page.get_by_label("Single keys work").uncheck()
        page.keyboard.press("Escape")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("3")
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_be_hidden()
        expect(page.locator(".way.looked h3 a")).to_have_text("ND at sync")
        page.reload()
        page.keyboard.press("3")
        expect(page.locator(".way.looked h3 a")).to_have_text("ND at sync")

    def test_undo_as_everywhere(self) -> None:
        page = self.open("/setups/1")
        page.get_by_role("button", name="Aperture, one step up").click()
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/2.2")
        page.keyboard.press("Control+z")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/2")
        page.keyboard.press("Control+Shift+z")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/2.2")

    def test_keys_that_are_faster_than_the_answers_are_not_lost(self) -> None:
        page = self.open("/setups/1")
        asked: list[str] = []
        page.on("request", lambda sent: asked.append(sent.url) if sent.method == "POST" else None)
        # Something that the page asked for is under way: what is pressed then waits its turn.
        held = self.hold(page, re.compile(r"/alive\?held"))
        page.evaluate("() => void htmx.ajax('GET', '/alive?held', { source: document.body, swap: 'none' })")
        self.told(page, held)
        page.get_by_role("button", name="Aperture, one step up").click()
        with page.expect_response(lambda answer: answer.url.endswith("/redo") and len(asked) == 5):
            for key in ("Control+z", "Control+Shift+z", "Control+z", "Control+y"):
                page.keyboard.press(key)
            held[0].fulfill(status=204)
        expect(page.get_by_role("button", name="Undo: Aperture")).to_be_enabled()
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("f/2.2")
        self.assertEqual([url.rpartition("/")[2] for url in asked[1:]], ["undo", "redo", "undo", "redo"])

    def test_a_menu_closes_on_escape_and_outside(self) -> None:
        page = self.open("/setups/1")
        menu = page.locator("#acts-more")
        menu.locator("summary").click()
        page.get_by_role("link", name="Set-up document").focus()
        page.keyboard.press("Escape")
        expect(menu).not_to_have_attribute("open", "")
        expect(menu.locator("summary")).to_be_focused()
        menu.locator("summary").click()
        page.locator(".said").click()
        expect(menu).not_to_have_attribute("open", "")

    def test_an_act_offers_undo_where_it_happened_and_the_focus_goes_to_what_it_made(self) -> None:
        page = self.open("/setups/1")
        page.get_by_role("button", name="as rim").click()
        expect(page.locator("#light-1")).to_be_focused()
        done = page.locator("#group-lights .done")
        expect(done).to_contain_text("Undo")
        done.get_by_role("button").click()
        expect(page.locator(".light-title")).to_have_count(1)
        page.get_by_role("button", name="as rim").click()
        expect(page.locator(".light-title")).to_have_count(2)
        page.get_by_role("button", name=re.compile("^Remove Rim")).click()
        expect(page.locator(".light-title")).to_have_count(1)
        expect(page.locator("#group-lights .done").get_by_role("button")).to_be_focused()

    def test_what_the_page_fetches_meanwhile_takes_the_focus_from_no_act(self) -> None:
        page = self.open("/setups/1")
        held = self.hold(page, "**/lights")
        page.get_by_role("button", name="as rim").click()
        self.wait_until(lambda: bool(page.evaluate("1") and held))
        page.evaluate(
            "htmx.ajax('GET', '/setups/1/rest', { target: '#rest', swap: 'innerMorph', source: '#rest' })"
        )
        page.wait_for_timeout(300)
        self.told(page, held)
        held[0].continue_()
        expect(page.locator("#light-1")).to_be_focused()

    def test_a_set_up_put_on_the_day_has_the_focus(self) -> None:
        page = self.open(f"/shoots/{shoots.listed_shoots(self.store)[0][0].id}")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator("#i-start-8")).to_be_focused()

    def test_a_reading_that_was_kept_and_what_a_sheet_says_have_the_focus(self) -> None:
        page = self.open(f"/shoots/{shoots.listed_shoots(self.store)[0][0].id}")
        page.locator("#read-time").fill("13:10")
        page.locator("#read-ev").fill("EV 12.3")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.locator(":focus")).to_contain_text("13:10, sunlit side EV 12.3")
        light = kit.gear_named(self.store, "Large head, 600 Ws class")
        page.goto(f"{self.home}/kit/{light}/measure/guide_number")
        page.get_by_role("button", name="Fill in simulated readings").click()
        expect(page.get_by_role("heading", name="What they say")).to_be_focused()
        page.get_by_label("One reading a line").fill("what")
        page.get_by_role("button", name="Work it out").click()
        expect(page.get_by_label("One reading a line")).to_be_focused()

    def test_a_form_that_leads_away_goes_out_once(self) -> None:
        page = self.open("/setups")
        before = len(self.store.setups.all())
        page.get_by_role("button", name="New set-up").dblclick()
        expect(page.locator(".board")).to_be_visible()
        self.all_answered()
        self.assertEqual(len(self.store.setups.all()), before + 1)

    def test_a_picked_date_is_typed(self) -> None:
        page = self.open("/shoots")
        page.get_by_label("Pick Date").fill("2027-08-01")
        expect(page.get_by_label("Date", exact=True)).to_have_value("2027-08-01")

    def test_what_changed_is_spoken_also_where_the_advice_stays(self) -> None:
        page = self.open("/setups/1")
        told = page.locator("#announce")
        # A step whose sentence on top stays: the figure itself.
        page.get_by_label("Subject distance", exact=True).focus()
        page.keyboard.press("ArrowUp")
        expect(told).to_contain_text(re.compile(r"^Subject distance [\d.]+ m"))
        page.get_by_role("link", name="High-speed sync", exact=True).click()
        expect(told).to_contain_text(re.compile(r"^High-speed sync, .+, 1/\d+ f/"))
        page.get_by_role("button", name="Pin to compare").click()
        expect(told).to_have_text("This version is pinned.")
        page.get_by_role("button", name="Unpin").click()
        expect(told).to_have_text("Nothing is pinned.")
        page.goto(self.home + "/setups/1/shoot")
        page.get_by_role("button", name="Camera on manual").click()
        expect(told).to_contain_text("Done: Camera on manual")
        day = shoots.listed_shoots(self.store)[0][0].id
        page.goto(f"{self.home}/shoots/{day}")
        page.get_by_role("button", name="Dome door, parents in open shade: Starts, one step up").click()
        expect(told).to_contain_text(re.compile(r"^Dome door, parents in open shade: Starts \d\d:\d\d"))

    def test_results_are_told_once_after_a_pause(self) -> None:
        page = self.open("/setups/1")
        told = page.locator("#announce")
        page.evaluate(TOLD)
        field = page.get_by_label("Aperture", exact=True)
        field.fill("")
        field.press_sequentially("16", delay=60)
        expect(told).to_contain_text("Recommended: Within sync.")
        expect(told).to_contain_text("No longer possible")
        page.wait_for_timeout(1200)
        self.assertEqual(len(page.evaluate("window.told")), 1)
