"""What is typed while Noggin is away, in a real browser: it waits, goes out in order, and tells."""

from datetime import timedelta

from playwright.sync_api import APIResponse, Page, Route, expect

from noggin.services.frames import take
from noggin.services.passphrase import PassPhrase
from noggin.services.setups import setups as services
from noggin.web import create_app
from tests.e2e.browser import Browser
from tests.support import CHEAP, NOW, SETTINGS


class Away(Browser):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.open("/setups/1")
        expect(self.page.locator("#saving")).to_have_text("Saved")

    def leave(self, page: Page | None = None) -> None:
        """Noggin answers nothing any more."""
        (page or self.page).route("**/*", lambda route: route.abort())

    def come_back(self) -> None:
        self.page.unroute("**/*")

    def enter(self, label: str, text: str, page: Page | None = None) -> None:
        (page or self.page).get_by_label(label, exact=True).fill(text)
        (page or self.page).keyboard.press("Tab")

    def intent(self) -> tuple[float, float]:
        setup = services.open_setup(self.store, 1).setup
        return setup.intent.aperture, setup.scene.subject_distance_m

    def test_figures_wait_marked_and_go_out_by_themselves(self) -> None:
        self.leave()
        self.enter("Aperture", "4")
        self.enter("Subject distance", "5")
        sign = self.page.locator("#saving")
        expect(sign).to_have_text("Offline. 2 figures wait here.")
        expect(self.page.locator(".field[data-waits]")).to_have_count(2)
        expect(self.page.locator("#trouble")).to_contain_text("Noggin is not answering")
        self.come_back()
        expect(sign).to_have_text("Saved")
        expect(self.page.locator("[data-waits]")).to_have_count(0)
        expect(self.page.locator("#trouble")).to_be_empty()
        expect(self.page.get_by_label("Aperture", exact=True)).to_have_value("f/4")
        self.assertEqual(self.intent(), (4, 5))

    def test_what_waits_outlasts_a_reload(self) -> None:
        for address in ("**/figures/*", "**/alive"):
            self.page.route(address, lambda route: route.abort())
        self.enter("Aperture", "4")
        expect(self.page.locator("#saving")).to_have_text("Offline. 1 figure waits here.")
        self.page.reload()
        expect(self.page.locator("#saving")).to_have_text("Offline. 1 figure waits here.")
        self.page.unroute("**/alive")
        self.page.unroute("**/figures/*")
        expect(self.page.locator("#saving")).to_have_text("Saved")
        self.assertEqual(self.intent(), (4, 3.2))

    def test_what_was_changed_meanwhile_is_said(self) -> None:
        self.leave()
        self.enter("Aperture", "4")
        expect(self.page.locator("#saving")).to_contain_text("1 figure waits")
        self.page.wait_for_timeout(300)  # the text that was typed and the text that was left both go out
        services.enter(self.store, lambda: NOW - timedelta(minutes=1), 1, "aperture", "8")
        self.come_back()
        expect(self.page.locator("#trouble")).to_contain_text(
            "Aperture was changed to f/8 meanwhile. Yours, f/4, is kept now; Undo takes it back.",
        )
        self.assertEqual(self.intent()[0], 4)
        self.page.get_by_role("button", name="Undo: aperture").click()
        expect(self.page.get_by_label("Aperture", exact=True)).to_have_value("f/8")

    def test_steps_wait_together_and_follow_what_was_typed_before(self) -> None:
        self.leave()
        self.enter("Aperture", "4")
        up = self.page.get_by_role("button", name="Aperture, one step up")
        for count in (1, 2):
            up.click()
            expect(self.page.locator("#saving")).to_contain_text("2 figures wait")
            expect(up).to_be_enabled()
            self.page.wait_for_function(
                "count => JSON.parse(localStorage['noggin-waiting']).at(-1).by === count", arg=count
            )
            # What waits is seen where it was pressed.
            field = self.page.locator(".field", has=self.page.get_by_label("Aperture", exact=True))
            words = f"waits: {count} step{'s' if count > 1 else ''} up"
            expect(field).to_have_attribute("data-waits", words)
        self.come_back()
        expect(self.page.locator("#saving")).to_have_text("Saved")
        self.assertEqual(self.intent()[0], 5)

    def test_steps_from_a_figure_that_changed_meanwhile_are_left_out(self) -> None:
        self.leave()
        self.page.get_by_role("button", name="Aperture, one step up").click()
        expect(self.page.locator("#saving")).to_contain_text("1 figure waits")
        services.enter(self.store, self.wiring.clock, 1, "aperture", "8")
        self.come_back()
        expect(self.page.locator("#trouble")).to_contain_text("Your steps were left out")
        self.assertEqual(self.intent()[0], 8)

    def test_typing_and_leaving_at_once_loses_nothing(self) -> None:
        self.page.get_by_label("Subject distance", exact=True).fill("7")
        self.page.goto("about:blank")
        self.wait_until(lambda: self.intent()[1] == 7)
        again = self.open("/setups/1")
        expect(again.locator("#saving")).to_have_text("Saved")
        again.wait_for_function("() => !localStorage['noggin-waiting']")
        expect(again.locator("#trouble")).to_be_empty()

    def test_a_slow_answer_says_that_noggin_works_on_it(self) -> None:
        held = self.hold(self.page, "**/figures/*")
        self.enter("Aperture", "4")
        expect(self.page.locator("#saving")).to_have_text("Working…")
        for route in held[:1]:
            route.continue_()
        self.page.unroute("**/figures/*")
        expect(self.page.locator("#saving")).to_have_text("Saved")

    def test_what_was_asked_before_a_change_never_overwrites_it(self) -> None:
        asked: list[tuple[Route, APIResponse]] = []
        self.page.route("**/rest?*", lambda route: asked.append((route, route.fetch())))
        field = self.page.get_by_label("Aperture", exact=True)
        self.page.get_by_role("button", name="Aperture, one step up").click()
        self.page.wait_for_function("() => document.querySelector('[id^=rest-of-].htmx-request')")
        expect(field).to_have_value("f/2.2")
        self.page.keyboard.press("Control+z")
        expect(field).to_have_value("f/2")
        self.told(self.page, asked)
        route, old = asked[0]
        with self.page.expect_response("**/rest?*"):
            route.fulfill(response=old)
        self.page.wait_for_timeout(200)
        expect(field).to_have_value("f/2")
        expect(self.page.locator("#act-redo")).to_be_enabled()

    def test_a_half_typed_figure_plans_nothing(self) -> None:
        asked: list[str] = []
        self.page.on("request", lambda request: asked.append(request.post_data or ""))
        field = self.page.get_by_label("Faces, in shade", exact=True)
        field.fill("13.")
        self.page.wait_for_timeout(400)
        self.assertEqual([one for one in asked if "text=" in one], [])
        field.press_sequentially("5")
        self.wait_until(lambda: services.open_setup(self.store, 1).setup.scene.subject == 13.5)

    def test_another_window_shows_a_change_by_itself(self) -> None:
        # A window of the same browser: it is told at once.
        with self.page.expect_popup() as opened:
            self.page.evaluate("window.open(location.href, '_blank', 'popup')")
        other = opened.value
        self.enter("Aperture", "4")
        expect(self.page.get_by_label("Aperture", exact=True)).to_have_value("f/4")
        expect(other.get_by_label("Aperture", exact=True)).to_have_value("f/4")
        expect(other.get_by_text("changed in another window")).to_have_count(0)
        self.enter("Subject distance", "6", other)
        expect(other.get_by_text("changed in another window")).to_have_count(0)
        self.assertEqual(self.said, [])

    def test_another_browser_shows_a_change_by_itself_and_never_while_typing(self) -> None:
        field = self.page.get_by_label("Subject distance", exact=True)
        self.hold(self.page, "**/figures/*")
        field.fill("6.5")
        services.enter(self.store, self.wiring.clock, 1, "aperture", "8")
        self.page.wait_for_timeout(4400)
        expect(field).to_have_value("6.5")
        expect(self.page.get_by_label("Aperture", exact=True)).to_have_value("f/2")
        self.page.unroute("**/figures/*")
        field.fill("6.6")
        expect(self.page.locator(".way.advised")).to_be_visible()


class SignedOut(Browser):
    """A session that ends while a page is open: what is typed then waits until somebody has signed in."""

    def setUp(self) -> None:
        super().setUp()
        self.set_words("four plain words here")
        self.app = create_app({**SETTINGS, "DATABASE": self.path, "ADDRESSES": ()})
        self.store = self.app.extensions["noggin"].store
        self.addCleanup(self.store.close)
        self.page = self.open("/setups/1")
        self.sign_in(self.page)
        expect(self.page.locator("#saving")).to_have_text("Saved")

    def set_words(self, words: str) -> None:
        """Another pass-phrase: every session ends."""
        self.words = words
        PassPhrase(self.path, CHEAP).set(words)

    def sign_in(self, page: Page) -> None:
        page.get_by_label("Pass-phrase").fill(self.words)
        page.get_by_role("button", name="Sign in").click()

    def test_what_is_entered_signed_out_waits_and_goes_out_after_signing_in(self) -> None:
        page = self.page
        self.set_words("four other words then")
        page.get_by_label("Aperture", exact=True).fill("4")
        page.keyboard.press("Tab")
        page.get_by_role("button", name="Subject distance, one step up").click()
        expect(page.locator("#saving")).to_have_text("Signed out. 2 figures wait here.")
        expect(page.locator("#trouble")).to_contain_text("You are signed out")
        expect(page.get_by_label("Aperture", exact=True)).to_have_value("4")
        self.assertEqual(services.open_setup(self.store, 1).setup.intent.aperture, 2)
        other = page.context.new_page()
        other.goto(self.home + "/sign-in")
        self.sign_in(other)
        expect(page.locator("#saving")).to_have_text("Saved")
        expect(page.locator("#trouble")).to_be_empty()
        setup = services.open_setup(self.store, 1).setup
        self.assertEqual(setup.intent.aperture, 4)
        self.assertGreater(setup.scene.subject_distance_m, 3.2)

    def test_a_page_is_not_replaced_by_the_sign_in_while_it_is_read(self) -> None:
        self.set_words("four other words then")
        self.page.evaluate("dispatchEvent(new Event('focus'))")
        expect(self.page.locator("#saving")).to_have_text("Signed out")
        expect(self.page.get_by_label("Aperture", exact=True)).to_be_visible()


class AwayAtTheSpot(Browser):
    """Frames and ticks wait as figures do; other acts say that they were not kept until one is answered."""

    def setUp(self) -> None:
        super().setUp()
        self.page = self.open("/setups/1/shoot")

    def leave(self) -> None:
        """Noggin answers nothing any more."""
        self.page.route("**/*", lambda route: route.abort())

    def come_back(self) -> None:
        self.page.unroute("**/*")

    def say(self, zone: str, word: str) -> None:
        group = self.page.get_by_role("group", name=zone)
        group.locator("label").filter(has=self.page.get_by_text(word, exact=True)).click()

    def kept(self) -> int:
        return len(take.open_take(self.store, self.wiring.clock, 1).shots)

    def test_frames_and_ticks_wait_and_go_out_once(self) -> None:
        sign = self.page.locator("#saving")
        self.leave()
        self.page.get_by_role("button", name="Camera on manual").click()
        expect(sign).to_have_text("Offline. 1 entry waits here.")
        for count, word in ((2, "right"), (3, "a little under")):
            self.say("Background", word)
            self.page.get_by_role("button", name="Keep this frame").click()
            expect(sign).to_have_text(f"Offline. {count} entries wait here.")
            expect(self.page.locator("#trouble")).to_contain_text("This frame waits in this browser")
            self.assertEqual(self.page.locator(".saw-word:checked").count(), 0)
        self.assertEqual(self.kept(), 0)
        self.come_back()
        expect(self.page.get_by_role("heading", name="2 frames, the last one first")).to_be_visible()
        expect(sign).to_have_text("Saved")
        self.assertEqual(self.kept(), 2)
        checked = take.open_take(self.store, self.wiring.clock, 1).ticked
        self.assertEqual(checked, {"manual"})

    def test_a_frame_that_is_sent_twice_is_kept_once(self) -> None:
        # The first answer is lost on its way: the frame is kept, waits all the same, and goes out again.
        def lost(route: Route) -> None:
            route.fetch()
            route.abort()

        self.page.route("**/shoot/frames", lost, times=1)
        self.say("Background", "right")
        self.page.get_by_role("button", name="Keep this frame").click()
        expect(self.page.get_by_role("heading", name="1 frame, the last one first")).to_be_visible()
        expect(self.page.locator("#saving")).to_have_text("Saved")
        self.assertEqual(self.kept(), 1)

    def test_a_double_tap_is_one_frame_and_no_alarm(self) -> None:
        self.say("Background", "right")
        self.page.get_by_role("button", name="Keep this frame").dblclick()
        expect(self.page.get_by_role("heading", name="1 frame, the last one first")).to_be_visible()
        expect(self.page.locator("#trouble")).to_be_empty()
        alerts = self.page.locator("[role=alert]").all_inner_texts()
        self.assertEqual([words for words in alerts if words], [])
        self.assertEqual(self.kept(), 1)

    def test_what_cannot_wait_is_said_not_to_be_kept_until_a_press_is_answered(self) -> None:
        sign = self.page.locator("#saving")
        self.leave()
        self.page.get_by_role("button", name="Rehearse with a simulated spot").click()
        expect(self.page.locator("#trouble")).to_contain_text("then press that again")
        self.come_back()
        expect(sign).to_have_text("Not kept. Press it again.")
        expect(self.page.locator("#trouble")).to_contain_text("then press that again")
        self.page.get_by_role("button", name="Rehearse with a simulated spot").click()
        expect(self.page.get_by_text("Rehearsal.")).to_be_visible()
        expect(sign).to_have_text("Saved")
        expect(self.page.locator("#trouble")).to_be_empty()
