"""Takes the pictures in docs/screenshots/ from the demo, in Debian's Chromium."""

import tempfile
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Literal

from playwright.sync_api import Page, sync_playwright

from noggin.services.whole.demo import load_demo_once
from noggin.web import create_app
from noggin.web.serving.server import listen

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)


def as_it_is(_: Page) -> None:
    """The page as it opens."""


def two_frames(page: Page) -> None:
    """At the spot after two frames: the second one says that faces are under."""
    for words in (("right", "right"), ("under", "right")):
        for number, word in enumerate(words):
            page.locator("fieldset.saw").nth(number).get_by_text(word, exact=True).first.click()
        page.get_by_role("button", name="Keep this frame").click()
        page.wait_for_timeout(1500)
    page.evaluate("window.scrollTo({top: 0, behavior: 'instant'})")


def remedies_in_view(page: Page) -> None:
    """The board with what would help under it."""
    page.locator(".remedies").evaluate(
        "part => window.scrollTo({top: part.getBoundingClientRect().bottom - 790, behavior: 'instant'})"
    )
    page.wait_for_timeout(200)


def two_tries(page: Page) -> None:
    """A drill with the camera after two frames."""
    for time, power in (("1/100 s", "1/16"), ("1/80 s", "1/64 +0.3")):
        page.get_by_label("Time", exact=True).select_option(time)
        page.get_by_label("Power", exact=True).select_option(power)
        page.get_by_role("button", name="Fire").click()
        page.locator(".camera-words").wait_for()
        page.wait_for_load_state("networkidle")
    page.get_by_text("Read the tones").click()


def simulated(page: Page) -> None:
    """The sheet of a light's guide number, filled in with simulated readings."""
    page.get_by_role("link", name="Guide number").click()
    page.get_by_role("button", name="Fill in simulated readings").click()
    page.get_by_role("heading", name="What they say").wait_for()


def lights_in_view(page: Page) -> None:
    """The kit, scrolled to its lights."""
    page.get_by_role("heading", name="Lights", exact=True).scroll_into_view_if_needed()
    page.evaluate("document.querySelector('#kind-light').scrollIntoView()")


def the_shoot(page: Page) -> None:
    """The day of the demo."""
    page.get_by_role("link", name="Wedding at the hilltop observatory").click()
    page.get_by_role("heading", name="Parts of the day").wait_for()


def looked_at(page: Page) -> None:
    """A set-up of that day, scrolled to what to change."""
    the_shoot(page)
    page.get_by_role("link", name="Meridian steps, coming down running").click()
    page.locator("#looked").wait_for()
    page.evaluate("document.querySelector('#looked').scrollIntoView({behavior: 'instant'})")
    page.wait_for_timeout(1000)  # the link's own scrolling is slow


def live(page: Page) -> None:
    """That day as it is lived, at twenty past six, a little darker than foreseen."""
    the_shoot(page)
    page.get_by_role("link", name="The day live").click()
    page.get_by_label("At another hour").fill("18:20")
    page.keyboard.press("Enter")
    for shift in ("−0.3 stop", "−0.7 stop"):
        page.get_by_role("link", name="darker").click()
        page.get_by_text(shift).wait_for()


VIEWS: tuple[tuple[str, str, tuple[int, int], Literal["light", "dark"], Callable[[Page], None]], ...] = (
    ("today", "/", DESK, "light", as_it_is),
    ("live-phone", "/shoots", PHONE, "light", live),
    ("place", "/setups/2/photograph", DESK, "light", as_it_is),
    ("bench", "/setups/1", DESK, "light", as_it_is),
    ("bench-short-of-light", "/setups/2", DESK, "light", remedies_in_view),
    ("bench-dusk", "/setups/5", DESK, "dark", as_it_is),
    ("bench-phone", "/setups/1", PHONE, "light", as_it_is),
    ("measure", "/kit/called?name=Speedlight", DESK, "light", simulated),
    ("kit", "/kit", DESK, "light", lights_in_view),
    ("plan", "/setups/5/plan", DESK, "light", as_it_is),
    ("reach", "/reach", DESK, "light", as_it_is),
    ("shoot", "/shoots", DESK, "light", the_shoot),
    ("shoot-ladder", "/shoots", DESK, "light", looked_at),
    (
        "shutter",
        "/practice/shutter?setup=1&at=14&sync=1/200&time=1/500&mode=pop&head=cut",
        DESK,
        "dark",
        as_it_is,
    ),
    ("setups", "/setups", DESK, "light", as_it_is),
    ("drill", "/practice/drill/fewest_frames/7", DESK, "light", two_tries),
    ("log", "/log", DESK, "light", as_it_is),
    ("spot-phone", "/setups/8/shoot", PHONE, "light", two_frames),
)
"""File name, address, size and theme of each main view, and what is done before the picture."""


def main() -> None:
    """Take every picture anew."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "noggin.sqlite3"})
        wired = app.extensions["noggin"]
        load_demo_once(wired.store, wired.clock)
        server = listen(app, "127.0.0.1", 0)
        threading.Thread(target=server.run, daemon=True).start()
        with sync_playwright() as driver:
            browser = driver.chromium.launch(executable_path="/usr/bin/chromium")
            for name, path, (width, height), theme, act in VIEWS:
                page = browser.new_page(viewport={"width": width, "height": height}, color_scheme=theme)
                page.goto(f"http://127.0.0.1:{server.effective_port}{path}", wait_until="networkidle")
                act(page)
                page.screenshot(path=FOLDER / f"{name}.png")
                page.close()
            browser.close()
        server.close()
        wired.store.close()


if __name__ == "__main__":
    main()
