"""Takes the pictures in docs/screenshots/ from the demo, in Debian's Chromium."""

import tempfile
import threading
from pathlib import Path

from playwright.sync_api import sync_playwright

from noggin import services
from noggin.web import create_app
from noggin.web.server import listen

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)
VIEWS = (
    ("bench", "/setups/1", DESK, "light"),
    ("bench-short-of-light", "/setups/2", DESK, "light"),
    ("bench-dusk", "/setups/5", DESK, "dark"),
    ("bench-phone", "/setups/1", PHONE, "light"),
    ("setups", "/setups", DESK, "light"),
)
"""File name, address, size and theme of each main view."""


def main() -> None:
    """Take every picture anew."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "noggin.sqlite3"})
        wired = app.extensions["noggin"]
        services.load_demo_once(wired.store, wired.clock)
        server = listen(app, "127.0.0.1", 0)
        threading.Thread(target=server.run, daemon=True).start()
        with sync_playwright() as driver:
            browser = driver.chromium.launch(executable_path="/usr/bin/chromium")
            for name, path, (width, height), theme in VIEWS:
                page = browser.new_page(viewport={"width": width, "height": height}, color_scheme=theme)
                page.goto(f"http://127.0.0.1:{server.effective_port}{path}", wait_until="networkidle")
                page.screenshot(path=FOLDER / f"{name}.png")
                page.close()
            browser.close()
        server.close()
        wired.store.close()


if __name__ == "__main__":
    main()
