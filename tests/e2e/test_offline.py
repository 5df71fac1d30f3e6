"""The day in a phone's browser while the server is stopped (Service Workers, W3C; over this machine's own
address, which counts as secure)."""

from time import sleep
from typing import Any

from playwright.sync_api import Page, expect

from noggin.services.day import shoots
from noggin.services.passphrase import PassPhrase
from noggin.services.setups import setups as services
from noggin.web import create_app
from tests.e2e.browser import PHONE, Browser
from tests.support import CHEAP, SETTINGS


class Phone(Browser):
    """A phone that opened the day, with what its browser kept of it: more than so many pages."""

    kept = 8
    pictures = True

    def setUp(self) -> None:
        super().setUp()
        self.day = shoots.listed_shoots(self.store)[0][0].id
        size = {"width": PHONE[0], "height": PHONE[1]}
        self.page = self.open(self.first(), viewport=size, service_workers="allow")
        self.let_in()
        self.addCleanup(self.page.context.set_offline, False)
        self.page.wait_for_function(f"() => document.documentElement.dataset.kept > {self.kept}")

    def first(self) -> str:
        """Where the phone begins."""
        return f"/shoots/{self.day}"

    def let_in(self) -> None:
        """What it does to get in."""

    def stop(self) -> None:
        """The server answers nothing any more: every connection ends without an answer."""
        self.page.context.set_offline(True)

    def visit(self, path: str) -> Page:
        self.page.goto(self.home + path, wait_until="domcontentloaded")
        return self.page

    def reads_the_day(self) -> None:
        self.stop()
        day = shoots.open_shoot(self.store, self.wiring.clock, self.day)
        for placed in day.slots:
            page = self.visit(f"/setups/{placed.setup_id}")
            expect(page.locator(".as-of")).to_contain_text("This page is as it was at")
            expect(page.locator(".way .dial").first).to_be_visible()
            loaded = "[...document.querySelectorAll('.way-picture')].every((one) => one.naturalWidth > 0)"
            page.wait_for_function(loaded)
        spot = self.visit(f"/setups/{day.slots[0].setup_id}/shoot")
        expect(spot.locator(".dial-camera")).to_be_visible()
        expect(self.visit(f"/shoots/{self.day}").get_by_role("heading", level=1)).to_contain_text("Wedding")
        expect(self.visit(f"/shoots/{self.day}/live").locator(".live-dial").first).to_be_visible()


class Stopped(Phone):
    def test_every_page_of_the_day_is_read_and_says_of_when_it_is(self) -> None:
        self.reads_the_day()


class Meanwhile(Phone):
    """A phone that opened one set-up."""

    kept = 0

    def first(self) -> str:
        return "/setups/1"

    def test_what_is_entered_meanwhile_waits_and_is_sent(self) -> None:
        self.stop()
        page = self.visit("/setups/1")
        page.locator("#group-composition").evaluate("group => { group.open = true; }")
        page.get_by_label("Aperture", exact=True).fill("4")
        page.keyboard.press("Tab")
        expect(page.locator("#saving")).to_have_text("Offline. 1 figure waits here.")
        self.page.context.set_offline(False)
        expect(page.locator("#saving")).to_have_text("Saved")
        self.assertEqual(services.open_setup(self.store, 1).setup.intent.aperture, 4)
        expect(page.locator(".as-of")).to_have_count(0)

    def test_a_page_that_is_not_kept_waits_for_a_slow_server(self) -> None:
        answer, slow = self.app, 5.5  # longer than a kept page waits

        def slowly(environ: Any, start_response: Any) -> Any:
            if environ["PATH_INFO"] == "/reach":
                sleep(slow)
            return answer(environ, start_response)

        self.app = slowly  # type: ignore[assignment]  # it is only called
        expect(self.visit("/reach").get_by_role("heading", level=1)).to_contain_text("Reach")

    def test_while_the_server_answers_it_alone_is_asked(self) -> None:
        services.enter(self.store, self.wiring.clock, 1, "aperture", "8")
        page = self.visit("/setups/1")
        expect(page.locator("#i-aperture")).to_have_value("f/8")
        expect(page.locator(".as-of")).to_have_count(0)


class Paired(Phone):
    """The same on a phone that was paired by its code."""

    def first(self) -> str:
        PassPhrase(self.path, CHEAP).set("four plain words here")
        self.app = create_app({**SETTINGS, "DATABASE": self.path, "ADDRESSES": ()})
        self.store = self.app.extensions["noggin"].store
        self.addCleanup(self.store.close)
        with self.app.app_context():
            return f"/pair/{self.app.extensions['noggin_gate'].code()}"

    def let_in(self) -> None:
        self.page.get_by_role("button", name="Pair").click()
        self.page.goto(f"{self.home}/shoots/{self.day}")

    def test_it_reads_the_day_while_the_server_is_stopped(self) -> None:
        self.reads_the_day()

    def test_after_a_new_pass_phrase_the_pages_that_were_kept_are_gone(self) -> None:
        PassPhrase(self.path, CHEAP).set("other plain words here")
        self.page.goto(f"{self.home}/setups/1")
        expect(self.page.get_by_label("Pass-phrase")).to_be_visible()
        self.page.wait_for_function("async () => (await caches.keys()).length === 0")
