/* Reads the tone of a proof under the pointer, the finger or a spot that arrow keys move; the server has worked
   the tones out, in stops from mid-tone. */
(() => {
  "use strict";

  const readings = new Map();

  async function reading(view) {
    const address = view.dataset.reading;
    if (!readings.has(address)) {
      readings.set(address, fetch(address).then((answer) => (answer.ok ? answer.json() : null)));
      if (readings.size > 20) readings.delete(readings.keys().next().value);
    }
    return readings.get(address);
  }

  function said(level, low) {
    if (level <= low) return "Black: 8 stops or more under mid-tone";
    const sign = level > 0 ? "+" : level < 0 ? "−" : "";
    const size = Math.abs(level).toFixed(1);
    const stops = level && Math.abs(level) <= 1 ? "stop" : "stops";
    return level === 0 ? "0.0: at mid-tone" : `${sign}${size} ${stops} from mid-tone`;
  }

  async function show(view, x, y) {
    const found = await reading(view).catch(() => null);
    const told = view.parentElement.querySelector("output");
    if (!found) {
      told.textContent = "The tones cannot be read just now.";
      return;
    }
    const column = Math.min(found.columns - 1, Math.max(0, Math.floor(x * found.columns)));
    const row = Math.min(found.rows - 1, Math.max(0, Math.floor(y * found.rows)));
    const spot = view.querySelector(".proof-spot");
    spot.hidden = false;
    view.dataset.at = `${column} ${row}`;
    spot.style.left = `${(100 * (column + 0.5)) / found.columns}%`;
    spot.style.top = `${(100 * (row + 0.5)) / found.rows}%`;
    told.textContent = said(found.levels[row][column], -8);
  }

  function pointed(event) {
    const view = event.target.closest && event.target.closest(".proof-view");
    if (!view) return;
    const area = view.getBoundingClientRect();
    show(view, (event.clientX - area.left) / area.width, (event.clientY - area.top) / area.height);
  }

  document.addEventListener("pointermove", pointed);
  document.addEventListener("pointerdown", pointed);

  document.addEventListener("keydown", async (event) => {
    const view = event.target.closest && event.target.closest(".proof-view");
    const moves = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    if (!view || !(event.key in moves)) return;
    event.preventDefault();
    event.stopPropagation();
    const found = await reading(view).catch(() => null);
    if (!found) return;
    const [column, row] = (view.dataset.at || `${found.columns / 2} ${found.rows / 2}`).split(" ").map(Number);
    const far = event.shiftKey ? 5 : 1;
    const [across, down] = moves[event.key];
    show(view, (column + across * far + 0.5) / found.columns, (row + down * far + 0.5) / found.rows);
  });
})();
