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

from playwright.sync_api import Frame, Page, Route, ViewportSize, sync_playwright
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

CHANGE = """(text) => new Promise((resolve) => {
  new PerformanceObserver((seen, self) => {
    const sent = seen.getEntries().find((one) => one.name.includes("/figures/aperture"));
    if (sent) { self.disconnect(); resolve(sent.duration); }
  }).observe({ type: "resource" });
  const field = document.getElementById("i-aperture");
  field.focus();
  field.value = text;
  field.dispatchEvent(new Event("input", { bubbles: true }));
  field.dispatchEvent(new Event("change", { bubbles: true }));
})"""


def main() -> None:
    """Print sizes, both starts and both changes, with their ratios."""
    with ExitStack() as stack:
        folder = stack.enter_context(tempfile.TemporaryDirectory())
        home, fetched = stack.enter_context(served(Path(folder)))
        play = stack.enter_context(sync_playwright())
        browser = play.chromium.launch(executable_path=CHIP, args=["--no-sandbox"])
        page = browser.new_page(viewport=PHONE)
        page.route("**/pocket/bare.js", bare)
        page.route("**/pocket/bare.html", lambda route: route.fulfill(body="<p>", content_type="text/html"))
        first, second = started(page, home), started(page, home)
        page.goto(f"{home}/pocket/bare.html")
        begun = perf_counter()
        page.evaluate(START_BARE)
        alone = perf_counter() - begun
        started(page, home)
        there = changed(opened(page, f"{home}/pocket/app/setups/1"))
        beside = browser.new_page(viewport=PHONE)
        beside.goto(f"{home}/setups/1")
        here = changed(beside.main_frame)
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


def opened(page: Page, address: str) -> Frame:
    """A page of Noggin's inside the one that stays."""
    frame = page.frames[-1]
    frame.goto(address)
    return frame


def changed(frame: Frame) -> float:
    """Milliseconds of a figure changed, the median of some."""
    frame.locator("#group-composition").evaluate("group => { group.open = true; }")
    frame.page.wait_for_timeout(1000)
    return median(frame.evaluate(CHANGE, ("4", "2.8")[turn % 2]) for turn in range(TURNS))


if __name__ == "__main__":
    main()
