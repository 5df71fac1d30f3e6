"""Many browsers at once on one Noggin as it is served: each packs a bag, copies a set-up, adds a light to
its copy and presses the steppers of a set-up that all share. Nothing may be doubled, nothing lost, nothing
may be answered with a status of 500.

Run: python -m tools.crowd [BROWSERS]
"""

import asyncio
import sys
import tempfile
import threading
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

from playwright.async_api import Browser, Page, Response, async_playwright, expect

from noggin.services.clock import system_clock
from noggin.services.gear import bags
from noggin.services.setups import setups
from noggin.services.whole.demo import load_demo_once
from noggin.services.whole.opening import open_store
from noggin.store.store import Store
from noggin.web import create_app
from noggin.web.serving.server import listen, usual_readers

SHARED = 1
"""The set-up that all change."""

PRESSES = 2
"""Steps down of its background, by each browser."""

WAIT_MS = 120_000


@dataclass
class Crowd:
    """What the browsers saw."""

    home: str
    statuses: Counter[int] = field(default_factory=Counter)
    troubles: list[str] = field(default_factory=list)

    def saw(self, response: Response) -> None:
        """Note an answer."""
        self.statuses[response.status] += 1
        if response.status >= 400:
            self.troubles.append(f"{response.status} {response.request.method} {response.url}")

    async def act(self, browser: Browser, number: int) -> None:
        """What one of them does."""
        context = await browser.new_context()
        context.set_default_timeout(WAIT_MS)
        page = await context.new_page()
        page.on("response", self.saw)
        page.on("pageerror", lambda error: self.troubles.append(str(error)))
        await page.goto(f"{self.home}/bags")
        await page.get_by_label("Pack a bag named").fill(f"Bag of {number}")
        await page.get_by_role("button", name="Pack", exact=True).click()
        await page.wait_for_url("**/bags/*")
        await self._own_copy(page)
        await self._shared(page)
        await context.close()

    async def _own_copy(self, page: Page) -> None:
        await page.goto(f"{self.home}/setups/{SHARED}")
        await page.locator("#acts-more summary").click()
        await page.get_by_role("button", name="Copy this set-up").click()
        await page.wait_for_url(lambda url: url.rstrip("/").split("/")[-1] not in (str(SHARED), "copy"))
        await page.locator("#group-lights").evaluate("group => { group.open = true; }")
        await page.get_by_role("button", name="as rim").click()
        await expect(page.locator("#light-1")).to_be_visible(timeout=WAIT_MS)

    async def _shared(self, page: Page) -> None:
        await page.goto(f"{self.home}/setups/{SHARED}")
        await page.locator("#group-daylight").evaluate("group => { group.open = true; }")
        step = page.locator("#group-daylight").get_by_role("button", name="Background, one step down")
        for _ in range(PRESSES):
            async with page.expect_response("**/figures/ev_background*", timeout=WAIT_MS):
                await step.click()
        await expect(page.locator("#saving")).to_have_text("Saved", timeout=WAIT_MS)


async def together(home: str, count: int) -> Crowd:
    """So many browsers at once."""
    crowd = Crowd(home)
    async with async_playwright() as driver:
        browser = await driver.chromium.launch(executable_path="/usr/bin/chromium")
        await asyncio.gather(*(crowd.act(browser, number) for number in range(count)))
        await browser.close()
    return crowd


def missing(store: Store, count: int, background: float) -> list[str]:
    """What is not as so many browsers should have left it; the shared background was at `background`."""
    found = []
    names = sorted(bag.name for bag in bags.all_bags(store) if bag.name.startswith("Bag of "))
    if names != sorted(f"Bag of {number}" for number in range(count)):
        found.append(f"bags: {names}")
    shared = setups.open_setup(store, SHARED).setup
    copies = [
        setups.open_setup(store, number).setup
        for number, name in setups.recent(store)
        if name == f"{shared.name}, copy"
    ]
    if [len(copy.lights) for copy in copies] != [2] * count:
        found.append(f"copies with lights: {[len(copy.lights) for copy in copies]}")
    wanted = background
    for _ in range(count * PRESSES):
        wanted = round(wanted - 1 / 3, 1)
    if abs(shared.scene.background - wanted) > 1e-9:
        found.append(f"background at {shared.scene.background}, wanted {wanted}")
    return found


def crowded(database: Path, count: int) -> tuple[list[str], int]:
    """Serve a database with the demo in it to so many browsers at once: what was wrong, and how many
    answers they had."""
    app = create_app({"DATABASE": database})
    store = app.extensions["noggin"].store
    background = setups.enter(store, system_clock, SHARED, "ev_background", "17").setup.scene.background
    server = listen(app, "127.0.0.1", 0, usual_readers())
    threading.Thread(target=server.run, daemon=True).start()
    crowd = asyncio.run(together(f"http://127.0.0.1:{server.effective_port}", count))
    faults = [*crowd.troubles, *missing(store, count, background)]
    server.close()
    store.close()
    return faults, sum(crowd.statuses.values())


def main(arguments: list[str]) -> int:
    """Print what was wrong; 1 where anything was."""
    count = int(arguments[0]) if arguments else 24
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "noggin.sqlite3"
        store = open_store(database)
        load_demo_once(store, system_clock)
        store.close()
        faults, answers = crowded(database, count)
    for fault in faults[:20]:
        print(fault)
    print(f"{count} browsers, {answers} answers, {len(faults)} faults")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
