"""From a key press in a field to the repainted board, in real Chromium.

Measured from the press to the first frame painted after the board changed, each time when the page is idle
again, less the wait after typing (120 ms, so that a half-typed figure is not planned). The ratio is to the
same press answered with a constant page of the same size, swapped the same way. Run: make benchmark
"""

import tempfile
import threading
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from statistics import median, quantiles
from typing import Any

import brotli
from flask import request
from flask.typing import ResponseReturnValue
from playwright.sync_api import Page, sync_playwright

from benchmarks.plan import crowded
from noggin.demo import demo_kit, demo_shoot
from noggin.documents.setup import canonical
from noggin.services.day.shoot_document import import_shoot
from noggin.services.day.shoots import add_slot
from noggin.services.gear.kit_document import import_kit
from noggin.web import create_app
from noggin.web.serving.server import listen

ROUNDS = 60
HELD_PRESSES = 18
WAIT_MS = 120
"""The debounce of a figure, as the page states it."""

PRESS = """
async (text) => {
  const input = document.getElementById("i-ev_subject");
  const done = new Promise((resolve) => {
    const painted = (event) => {
      if (event.detail.ctx?.target?.id !== "plan") return;
      document.removeEventListener("htmx:after:swap", painted);
      requestAnimationFrame(() => setTimeout(resolve));
    };
    document.addEventListener("htmx:after:swap", painted);
  });
  input.focus();
  const start = performance.now();
  input.value = text;
  input.dispatchEvent(new Event("input", { bubbles: true }));
  await done;
  const taken = performance.now() - start;
  await new Promise((resolve) => setTimeout(resolve, 400));
  return taken;
}
"""


HELD = """
async (presses) => {
  const input = document.getElementById("i-ev_subject");
  input.focus();
  const wanted = () => document.getElementById("i-ev_subject").value;
  const before = wanted();
  for (let press = 0; press < presses; press += 1) {
    input.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowUp", bubbles: true }));
    await new Promise((resolve) => setTimeout(resolve, 33));
  }
  const start = performance.now();
  let last = wanted();
  let changed = start;
  while (performance.now() - start < 1500) {
    await new Promise((resolve) => requestAnimationFrame(resolve));
    if (wanted() !== last) {
      last = wanted();
      changed = performance.now();
    }
  }
  return [changed - start, Math.round((Number(last) - Number(before)) / 0.3)];
}
"""
"""A key held for some presses, thirty a second: until when the figure still moves after the last press, and
by how many steps of its dial (0.3 as it is written) it moved."""

LONG_TASKS = """
() => {
  window.long = [];
  const take = (list) => window.long.push(...list.getEntries().map((entry) => entry.duration));
  new PerformanceObserver(take).observe({ type: "longtask" });
}
"""


SHIFTS = """
() => {
  window.shifts = [];
  const take = (list) => window.shifts.push(...list.getEntries().map((entry) => entry.value));
  new PerformanceObserver(take).observe({ type: "layout-shift", buffered: false });
}"""
"""Notes every layout shift (W3C, Layout Instability draft)."""

TAKEN = """
async (text) => {
  performance.clearResourceTimings();
  const input = document.getElementById("i-ev_subject");
  input.focus();
  input.value = text;
  input.dispatchEvent(new Event("input", { bubbles: true }));
  await new Promise((resolve) => setTimeout(resolve, 4000));
  const found = performance.getEntriesByType("resource").filter(({ name }) => name.includes("/setups/"));
  return found.map((one) => one.encodedBodySize);
}"""
"""Bytes of each request that a change made, once it has settled."""

CHANGES = """
async (times) => {
  let made = 0;
  const levels = ["background_level", "subject_level"];
  for (const name of ["aperture", "ev_subject", "ev_background", "ev_sky", ...levels]) {
    const id = `i-${name}`;
    for (const key of ["ArrowUp", "ArrowDown"]) {
      for (let time = 0; time < times; time += 1) {
        const field = document.getElementById(id);
        const done = new Promise((resolve) => {
          const seen = (event) => {
            if (!event.detail.ctx.request.submitter?.matches(".stepper")) return;
            document.removeEventListener("htmx:finally:request", seen);
            setTimeout(resolve, 20);
          };
          document.addEventListener("htmx:finally:request", seen);
        });
        field.focus();
        field.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
        await done;
        made += 1;
      }
    }
  }
  return made;
}"""
"""Six figures stepped up and down so many times each; how many changes that were."""


def main() -> None:
    """Print median and 95th percentile, for the plan and for a constant page, and their ratio; what a held
    key lags behind, how far the page shifted, and how long its longest task was."""
    for words, found in (
        ("two lights, three filters", crowded(weak=False, lights=2)),
        ("four lights, all short", crowded(weak=True)),
        ("twelve lights, all that there may be", crowded(weak=False, lights=12)),
    ):
        print(f"{words}:")
        _measure(found)


def _measure(found: dict[str, Any]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "noggin.sqlite3"})
        constant: dict[str, str] = {}

        @app.before_request
        def stand_in() -> ResponseReturnValue | None:
            return constant.get("page") if request.method == "POST" and constant else None

        @app.after_request
        def remember(answer):  # type: ignore[no-untyped-def]
            if request.method == "POST" and not constant:
                app.config["LAST"] = _whole(answer)
            return answer

        store = app.extensions["noggin"].store
        import_kit(store, lambda: datetime.now(UTC), demo_kit())
        setup_id = store.setups.add(canonical(found), datetime.now(UTC)).id
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
            lag, moved = page.evaluate(HELD, HELD_PRESSES)
            page.evaluate(SHIFTS)
            made = page.evaluate(CHANGES, 5)
            shifts = page.evaluate("window.shifts")
            page.wait_for_timeout(3000)
            taken = page.evaluate(TAKEN, "13.3")
            page.evaluate(LONG_TASKS)
            planned = _times(page, lambda turn: f"{11 + turn % 20 / 10:.1f}")
            long = page.evaluate("window.long")
            constant["page"] = app.config["LAST"]
            swapped = _times(page, lambda turn: f"{11 + turn % 20 / 10:.1f}")
            browser.close()
        server.close()
        store.close()
    size = len(constant["page"]) / 1024
    _say("  planned anew", planned)
    _say(f"  a constant page of {size:.0f} KiB", swapped)
    print(f"  ratio of the medians: {median(planned) / median(swapped):.2f}")
    print(
        f"  a key held for {HELD_PRESSES} presses: {moved} steps, still moving {lag:.0f} ms after the last"
    )
    print(f"  the largest layout shift in {made} changes: {max(shifts, default=0):.3f}")
    print(f"  one change takes {len(taken)} requests and {sum(taken) / 1000:.1f} kB")
    longest = f"the longest {max(long, default=0):.0f} ms"
    print(f"  tasks over 50 ms: {len(long)} in {ROUNDS + 5} changes, {longest}")


def _whole(answer: Any) -> str:
    """An answer as it was before it was compressed."""
    data = answer.get_data()
    return (brotli.decompress(data) if answer.content_encoding == "br" else data).decode()


def _times(page: Page, text: Callable[[int], str]) -> list[float]:
    """Milliseconds of each press after the first few, without the debounce."""
    times = [page.evaluate(PRESS, text(turn)) - WAIT_MS for turn in range(ROUNDS + 5)]
    return times[5:]


def _say(what: str, times: list[float]) -> None:
    print(f"{what}: median {median(times):.0f} ms, 95th percentile {quantiles(times, n=20)[-1]:.0f} ms")


if __name__ == "__main__":
    main()
