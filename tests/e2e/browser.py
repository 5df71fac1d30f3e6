"""A test in Debian's headless Chromium: the console must stay empty, no other host be asked."""

import os
import re
import threading
from collections.abc import Callable, Sized
from contextlib import closing, suppress
from dataclasses import dataclass
from functools import cache
from io import BytesIO
from multiprocessing.util import Finalize
from pathlib import Path
from time import monotonic, sleep
from typing import Any, ClassVar, cast
from urllib.parse import quote

from axe_playwright_python.sync_playwright import Axe
from PIL import Image
from playwright.sync_api import Browser as Chromium
from playwright.sync_api import (
    BrowserContext,
    CDPSession,
    ConsoleMessage,
    Error,
    Page,
    Playwright,
    Request,
    Route,
    expect,
    sync_playwright,
)
from werkzeug.serving import BaseWSGIServer, WSGIRequestHandler, make_server
from werkzeug.wsgi import ClosingIterator

from tests.support import AppCase

CHROMIUM = Path("/usr/bin/chromium")

WITHOUT = (
    # Pages of the browser's own address bar: two for each window, and half of what opening one costs.
    *("WebUIOmniboxPopup", "WebUIOmniboxAimPopup"),
    # What Playwright switches off itself: the last of such lists counts alone.
    *("AvoidUnnecessaryBeforeUnloadCheckSync", "DestroyProfileOnBrowserClose", "HttpsUpgrades"),
    *("HttpsFirstBalancedModeAutoEnable", "LensOverlay", "MediaRouter", "PaintHolding"),
    *("ThirdPartyStoragePartitioning", "AvoidCorsURLLoaderRestartOnRedirect", "OptimizationHints"),
    *("NetworkTimeServiceQuerying", "AimEnabled", "PreconnectToSearch"),
)
"""Features of the browser that no test wants."""

PATIENCE_S = float(os.environ.get("NOGGIN_PATIENCE", "240"))
"""How long something is waited for before it is said to be missing, unless NOGGIN_PATIENCE says otherwise;
how fast pages are is measured in benchmarks/."""

expect.set_options(timeout=1000 * PATIENCE_S)

DESK, PHONE = (1280, 800), (390, 844)
"""Sizes that pages are looked at in."""

FAULTS_ONLY = {
    "resultTypes": ["violations"],
    "reporter": "no-passes",
    "rules": {"target-size": {"enabled": True}, "label-content-name-mismatch": {"enabled": True}},
    "checks": {"color-contrast": {"options": {"ignorePseudo": True}}},
}
"""What axe is asked to report: every rule is tried, but what passes is not written out. Text before and
after an element keeps no figure from being judged."""


OPEN_GROUPS = """
try {
  const groups = ["composition", "daylight", "intention", "filters", "lights"];
  const all = Object.fromEntries(groups.map((key) => [`group-${key}`, true]));
  localStorage["noggin-folds"] ??= JSON.stringify(all);
} catch {
  // about:blank keeps nothing
}
"""


NO_WORKER = "Service Worker registration blocked by Playwright"
"""What Chromium writes down where a test wants no worker."""

AXE = "options => axe.run(document, options)"


class Quiet(WSGIRequestHandler):
    """Answers without a line on the terminal for each request, and many requests on one connection."""

    protocol_version = "HTTP/1.1"

    def log(self, type: str, message: str, *args: Any) -> None:  # noqa: A002 - the library's own name
        pass


def nothing_now(_: Any, start_response: Any) -> list[bytes]:
    """What the server answers before, between and after tests."""
    start_response("503 Service Unavailable", [])
    return []


@cache
def server() -> BaseWSGIServer:
    """One server for all tests of a process: what a browser keeps of one page serves the next."""
    made = make_server("127.0.0.1", 0, nothing_now, threaded=True, request_handler=Quiet)
    thread = threading.Thread(target=made.serve_forever, daemon=True)
    thread.start()
    at_the_end(made.server_close)
    at_the_end(thread.join)
    at_the_end(made.shutdown)
    return made


@cache
def driver() -> Playwright:
    """What drives the browsers of a process."""
    started = sync_playwright().start()
    at_the_end(started.stop)
    return started


@cache
def chromium(args: tuple[str, ...]) -> Chromium:
    """One browser of a process for all tests that want it started in the same way."""
    lean = f"--disable-features={','.join(WITHOUT)}"
    started = driver().chromium.launch(executable_path=CHROMIUM, args=[lean, *args])
    at_the_end(started.close)
    return started


@dataclass
class Window:
    """A page that one test after another uses, and the test that uses it now: what the page tells of
    itself is told to that one. A fresh page costs more than most tests do in it."""

    page: Page
    storage: CDPSession
    test: "Browser"

    @classmethod
    def in_context(cls, context: BrowserContext, test: "Browser") -> "Window":
        """A new page that tells whoever uses it."""
        page = context.new_page()
        page.set_default_timeout(1000 * PATIENCE_S)
        window = cls(page, context.new_cdp_session(page), test)
        page.on("console", lambda message: window.test.told_of_console(message))
        page.on("pageerror", lambda error: window.test.said.append(str(error)))
        page.on("request", lambda request: window.test.asked_for(request))
        return window

    def given_to(self, test: "Browser", options: dict[str, Any]) -> Page:
        """The page as a new one would be, for a test."""
        self.test, page = test, self.page
        origin = {"origin": test.home, "storageTypes": "all"}
        self.storage.send("Storage.clearDataForOrigin", origin)
        page.context.clear_cookies()
        page.set_viewport_size(options["viewport"])
        page.emulate_media(
            media="null",
            color_scheme=options.get("color_scheme", "light"),
            reduced_motion=options.get("reduced_motion", "no-preference"),
            forced_colors=options.get("forced_colors", "none"),
        )
        return page

    def left(self) -> None:
        """Let go of what a test had in the page."""
        for other in self.page.context.pages:
            if other is not self.page:
                other.close()
        if not self.page.is_closed():
            self.page.unroute_all(behavior="ignoreErrors")
            self.page.goto("about:blank")


PICTURE = re.compile(r"/(setups/\d+/(proofs|pictures|hours)|shoots/\d+/hours|practice/drill|log)/.*\.webp$")
"""The address of a proof."""


@cache
def plain_picture() -> bytes:
    """A grey picture in place of a proof."""
    out = BytesIO()
    Image.new("RGB", (300, 200), (118, 118, 118)).save(out, "WEBP")
    return out.getvalue()


WINDOWS: dict[str, Window] = {}
"""A window for each way of opening a page, with what its browser keeps of styles, scripts and fonts."""


def given_up(held: list[Route]) -> None:
    """Let go of what a test held back and never answered."""
    for route in held:
        with suppress(Error):
            route.abort()


def at_the_end(act: Callable[[], object]) -> None:
    """When the process ends, a worker too; what was made last goes first."""
    Finalize(None, act, exitpriority=1)


class Browser(AppCase):
    """A test with the demo in a real browser; the console must stay empty and no other host be asked. One
    browser and one server serve a process; each test has an application and finds the browser empty."""

    database = "demo"
    chromium_args: ClassVar[tuple[str, ...]] = ()

    pictures = False
    """Whether proofs are rendered: half of a server's time, and most tests look at something else."""

    def setUp(self) -> None:
        super().setUp()
        self.app.config["WTF_CSRF_ENABLED"] = True
        server().app = self.answering
        self.at_work = threading.Condition()
        self.answers = 0
        self.addCleanup(self.all_answered)  # before the database goes, and after the pages
        self.home = f"http://127.0.0.1:{server().server_port}"
        self.opened: set[str] = set()
        self.said: list[str] = []

    def answering(self, environ: Any, start_response: Any) -> Any:
        """The application, and how many requests it is answering."""
        if environ.get("HTTP_NOGGIN_TEST", quote(self.id())) != quote(self.id()):
            # A page that was closed sends what it still holds: that is not of this test any more.
            return nothing_now(environ, start_response)
        if not self.pictures and PICTURE.match(environ["PATH_INFO"]):
            start_response("200 OK", [("Content-Type", "image/webp")])
            return [plain_picture()]
        with self.at_work:
            self.answers += 1
        try:
            answer = self.app(environ, start_response)
            with closing(cast(ClosingIterator, answer)):
                return list(answer)
        finally:
            with self.at_work:
                self.answers -= 1
                self.at_work.notify_all()

    def all_answered(self) -> None:
        """Wait for what a page asked for before it was closed, and answer nothing after that."""
        server().app = nothing_now
        with self.at_work:
            self.at_work.wait_for(lambda: self.answers == 0, timeout=PATIENCE_S)

    def open(self, path: str = "/setups/1", *, folded: bool = False, **context: Any) -> Page:
        """A page, with every group of figures open unless it is to be `folded` as on a first visit. Nothing
        is in its browser's store, and one that is asked for again is another browser's."""
        # What a browser keeps to be read without the server is for the tests of that alone.
        options = {"viewport": {"width": 1280, "height": 800}, "service_workers": "block", **context}
        key = repr((self.chromium_args, folded, sorted(options.items())))
        if key in self.opened:
            another = chromium(self.chromium_args).new_context(**options)
            self.addCleanup(another.close)
            window = self.window(another, folded=folded)
        else:
            self.opened.add(key)
            if key not in WINDOWS or WINDOWS[key].page.is_closed():
                kept = WINDOWS[key].page.context if key in WINDOWS else None
                own = kept or chromium(self.chromium_args).new_context(**options)
                WINDOWS[key] = self.window(own, folded=folded)
            window = WINDOWS[key]
            self.addCleanup(window.left)
        page = window.given_to(self, options)
        page.set_extra_http_headers({"Noggin-Test": quote(self.id())})
        page.goto(self.home + path)
        return page

    def window(self, context: BrowserContext, *, folded: bool) -> Window:
        """A new page of a browser."""
        window = Window.in_context(context, self)
        if not folded:
            window.page.add_init_script(OPEN_GROUPS)
        return window

    def hold(self, page: Page, pattern: str | re.Pattern[str], *, first_alone: bool = False) -> list[Route]:
        """Hold back what a page asks for by an address, or the first of it alone; what is held, as it
        comes. What is not let go is given up when the test ends."""
        held: list[Route] = []

        def came(route: Route) -> None:
            if first_alone and held:
                route.continue_()
            else:
                held.append(route)

        page.route(pattern, came)
        self.addCleanup(given_up, held)
        return held

    def told_of_console(self, message: ConsoleMessage) -> None:
        """A line on the console: there must be none."""
        if message.text != NO_WORKER:
            self.said.append(message.text)

    def asked_for(self, request: Request) -> None:
        """Something is asked for: never of another host."""
        if self.outside(request.url):
            self.said.append(request.url)

    def wait_until(self, so: Callable[[], bool], seconds: float = PATIENCE_S) -> None:
        """Wait for something outside the page."""
        end = monotonic() + seconds
        while not so():
            self.assertLess(monotonic(), end, "waited in vain")
            sleep(0.05)

    def told(self, page: Page, some: Sized, seconds: float = PATIENCE_S) -> None:
        """Wait until a page's own events have put something into a list: they come in only while it is
        asked for something."""
        end = monotonic() + seconds
        while not some:
            self.assertLess(monotonic(), end, "waited in vain")
            page.wait_for_timeout(20)

    def clean(self, page: Page, only: tuple[str, ...] = ()) -> None:
        """Nothing for axe (by all rules, or `only` some), nothing sideways, nothing on the console."""
        size: Any = page.viewport_size
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), size["width"], "sideways")
        options = {**FAULTS_ONLY, "runOnly": list(only)} if only else FAULTS_ONLY
        # The script of axe is read once for a page, however often it is asked.
        run = Axe() if page.evaluate("typeof axe") == "undefined" else None
        found = (run.run(page, options=options).response if run else page.evaluate(AXE, options))[
            "violations"
        ]
        bad = [(fault["id"], fault["nodes"][0]["html"][:120]) for fault in found]
        self.assertEqual(bad, [])
        self.assertEqual(self.said, [])

    def outside(self, url: str) -> bool:
        return not url.startswith((self.home, "data:", "about:"))
