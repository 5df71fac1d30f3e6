"""From a key press in a field to the repainted board, in real Chromium, with four lights and three filters.

Measured from the press to the first frame painted after the board changed, less the wait after typing
(120 ms, so that a half-typed figure is not planned). The ratio is to the same press answered with a
constant page of the same size, swapped the same way. Run: make benchmark
"""

import tempfile
import threading
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from statistics import median, quantiles

from flask import request
from flask.typing import ResponseReturnValue
from playwright.sync_api import Page, sync_playwright

from benchmarks.plan import crowded
from noggin.demo import demo_kit, demo_shoot
from noggin.documents.setup import normal
from noggin.services.kit_document import import_kit
from noggin.services.shoot_document import import_shoot
from noggin.services.shoots import add_slot
from noggin.web import create_app
from noggin.web.server import listen

ROUNDS = 60
WAIT_MS = 120
"""The debounce of a figure, as the page states it."""

PRESS = """
async (text) => {
  const input = document.getElementById("i-ev_subject");
  const done = new Promise((resolve) => {
    const painted = () => requestAnimationFrame(() => setTimeout(resolve));
    document.addEventListener("htmx:after:swap", painted, { once: true });
  });
  input.focus();
  const start = performance.now();
  input.value = text;
  input.dispatchEvent(new Event("input", { bubbles: true }));
  await done;
  return performance.now() - start;
}
"""


def main() -> None:
    """Print median and 95th percentile, for the plan and for a constant page, and their ratio."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "noggin.sqlite3"})
        constant: dict[str, str] = {}

        @app.before_request
        def stand_in() -> ResponseReturnValue | None:
            return constant.get("page") if request.method == "POST" and constant else None

        @app.after_request
        def remember(answer):  # type: ignore[no-untyped-def]
            if request.method == "POST":
                app.config["LAST"] = answer.get_data(as_text=True)
            return answer

        store = app.extensions["noggin"].store
        import_kit(store, lambda: datetime.now(UTC), demo_kit())
        setup_id = store.setups.add(normal(crowded(weak=True)), datetime.now(UTC)).id
        on_day, _ = import_shoot(store, lambda: datetime.now(UTC), demo_shoot())
        add_slot(store, lambda: datetime.now(UTC), on_day, setup_id)
        server = listen(app, "127.0.0.1", 0)
        threading.Thread(target=server.run, daemon=True).start()
        with sync_playwright() as driver:
            browser = driver.chromium.launch(executable_path="/usr/bin/chromium")
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(
                f"http://127.0.0.1:{server.effective_port}/setups/{setup_id}", wait_until="networkidle"
            )
            planned = _times(page, lambda turn: f"{11 + turn % 20 / 10:.1f}")
            constant["page"] = app.config["LAST"]
            swapped = _times(page, lambda turn: f"{11 + turn % 20 / 10:.1f}")
            browser.close()
        server.close()
        store.close()
    size = len(constant["page"]) / 1024
    _say("planned anew", planned)
    _say(f"a constant page of {size:.0f} KiB", swapped)
    print(f"ratio of the medians: {median(planned) / median(swapped):.2f}")


def _times(page: Page, text: Callable[[int], str]) -> list[float]:
    """Milliseconds of each press after the first few, without the debounce."""
    times = [page.evaluate(PRESS, text(turn)) - WAIT_MS for turn in range(ROUNDS + 5)]
    return times[5:]


def _say(what: str, times: list[float]) -> None:
    print(f"{what}: median {median(times):.0f} ms, 95th percentile {quantiles(times, n=20)[-1]:.0f} ms")


if __name__ == "__main__":
    main()
