"""The pocket edition against what it stands on, in one run: from opening to first figures against the bare
runtime with pydantic, and a figure changed against the same change on the server. Run:
python -m benchmarks.pocket
"""

import gzip
import tempfile
import threading
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from statistics import median
from time import perf_counter

from playwright.sync_api import Frame, Page, Route, ViewportSize, expect, sync_playwright
from werkzeug.serving import make_server

from noggin.services.clock import system_clock
from noggin.services.whole.demo import load_demo_once
from noggin.services.whole.pocket_site import for_a_phone, pocket_site
from noggin.web import create_app

CHIP = "/usr/bin/chromium"

WANTED_START, WANTED_CHANGE = 1.5, 4.0
"""Ratios that are wanted at most."""

TURNS = 12

PHONE: ViewportSize = {"width": 390, "height": 844}

BARE = """
import { loadPyodide } from "/pocket/vendor/pyodide.mjs";
onmessage = async () => {
  const python = await loadPyodide({ indexURL: `${location.origin}/pocket/vendor/`,
    lockFileContents: { info: { arch: "wasm32", abi_version: "2026_0", platform: "emscripten_5_0_3",
                                python: "3.14.2", version: "314.0.7" }, packages: {} } });
  const packages = await (await fetch("/pocket/vendor/packages.tar.xz")).arrayBuffer();
  python.unpackArchive(packages, "xztar", { extractDir: "/lib/packages" });
  python.runPython("import sys; sys.path.insert(0, '/lib/packages'); import pydantic; pydantic.BaseModel");
  postMessage("ready");
};
"""

START_BARE = """() => new Promise((resolve) => {
  const worker = new Worker("/pocket/bare.js", { type: "module" });
  worker.onmessage = resolve;
  worker.postMessage("go");
})"""


def main() -> None:
    """Print sizes, both starts and both changes, with their ratios."""
    with ExitStack() as stack:
        folder = stack.enter_context(tempfile.TemporaryDirectory())
        home, fetched = stack.enter_context(served(Path(folder)))
        play = stack.enter_context(sync_playwright())
        browser = play.chromium.launch(executable_path=CHIP, args=["--no-sandbox"])
        page = browser.new_page(viewport=PHONE)
        first, second = started(page, home), started(page, home)
        beside = browser.new_context(service_workers="block").new_page()
        beside.route("**/pocket/bare.js", bare)
        beside.route(
            "**/pocket/bare.html", lambda route: route.fulfill(body="<p>", content_type="text/html")
        )
        beside.goto(f"{home}/pocket/bare.html")
        begun = perf_counter()
        beside.evaluate(START_BARE)
        alone = perf_counter() - begun
        there = changed(page.frames[-1], f"{home}/pocket/app")
        here = changed(browser.new_page(viewport=PHONE).main_frame, home)
        browser.close()
    print(f"fetched: {fetched / 1e6:.1f} MB compressed")
    print(f"start: {first:.1f} s at first, {second:.1f} s after; runtime and pydantic alone {alone:.1f} s:")
    print(f"  {second / alone:.1f} (wanted: {WANTED_START} at most)")
    print(f"a figure changed: {there:.0f} ms, on the server {here:.0f} ms:")
    print(f"  {there / here:.1f} (wanted: {WANTED_CHANGE} at most)")


@contextmanager
def served(folder: Path) -> Iterator[tuple[str, int]]:
    """A server with the demo, whose pocket edition brings it along; its address, and bytes fetched."""
    from noggin.web.pages import pocket

    app = create_app({"DATABASE": folder / "noggin.sqlite3"})
    store = app.extensions["noggin"].store
    load_demo_once(store, system_clock)
    site = pocket_site(list(for_a_phone(store, system_clock)))
    pocket._site = lambda: site  # type: ignore[assignment]
    server = make_server("127.0.0.1", 0, app, threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.port}", sum(len(gzip.compress(one)) for one in site.values())
    finally:
        server.shutdown()
        store.close()


def bare(route: Route) -> None:
    """The script that starts the runtime alone."""
    route.fulfill(body=BARE, content_type="text/javascript")


def started(page: Page, home: str) -> float:
    """Seconds from opening to the first page."""
    page.goto("about:blank")
    begun = perf_counter()
    page.goto(f"{home}/pocket/")
    page.locator("html[data-state=open]").wait_for(state="attached", timeout=180_000)
    return perf_counter() - begun


def changed(frame: Frame, home: str) -> float:
    """Milliseconds from a figure typed on the first Bench to the board that says it, the median of some."""
    frame.goto(f"{home}/setups")
    frame.locator(".setup a").first.click()
    frame.locator("#group-composition").evaluate("group => { group.open = true; }")
    field, dial = frame.locator("#i-aperture"), frame.locator(".way.looked .dial")
    took = []
    for turn in range(TURNS):
        text = ("4", "2.8")[turn % 2]
        begun = perf_counter()
        field.fill(text)
        field.press("Tab")
        expect(dial).to_contain_text(f"f/{text}")
        took.append(1000 * (perf_counter() - begun))
    return median(took)


if __name__ == "__main__":
    main()
