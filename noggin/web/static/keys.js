// The keyboard: single keys (which can be switched off), undo as everywhere, arrow keys within a board or a
// list that is one stop of Tab, menus that close, and a screen that stays awake.
(() => {
  const byId = (id) => document.getElementById(id);
  const OFF = "noggin-keys-off";

  // ---- single keys: never while something else listens to the keyboard ----

  // Which key goes where is said by the page (`shared/shortcuts.py`).
  const KEYS = JSON.parse(document.querySelector("meta[name=shortcuts]")?.content ?? "{}");
  const meant = (key) => [...document.querySelectorAll(KEYS[key])].find((one) => one.checkVisibility());
  const BUSY = "input, textarea, select, a, button, summary, dialog *, [contenteditable]";
  // Keys are faster than answers: they take their turn, so that a step is there when it is asked for.
  const sent = new Set();
  const due = [];
  const takeDue = () => {
    const act = !sent.size && byId(due.shift());
    if (act?.disabled) takeDue();
    else if (act) act.click();
  };
  const press = (control) => {
    if (!control?.matches("button, a")) control?.focus();
    else if (sent.size) due.push(control.id);
    else control.click();
  };
  // From when it is asked for: it may wait its turn before it is sent.
  document.addEventListener("htmx:config:request", ({ detail: { ctx } }) => ctx.request.method === "GET" || sent.add(ctx));
  document.addEventListener("htmx:finally:request", ({ detail: { ctx } }) => {
    if (sent.delete(ctx) && due.length) setTimeout(takeDue);
  });
  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches("input, textarea, select");
    if (event.ctrlKey || event.metaKey) {
      // In a field the browser takes back what was typed; elsewhere the last step is taken back.
      const undo = event.key.toLowerCase() === "z" && !event.shiftKey;
      const redo = event.key.toLowerCase() === "y" || (event.key.toLowerCase() === "z" && event.shiftKey);
      const act = !typing && !event.altKey && ((undo && byId("act-undo")) || (redo && byId("act-redo")));
      if (!act) return;
      event.preventDefault();
      press(act);
      return;
    }
    if (event.altKey || event.target.matches(BUSY) || localStorage.getItem(OFF)) return;
    if (event.key === "?") byId("shortcuts").showModal();
    else if (/^[1-9]$/.test(event.key)) document.querySelectorAll(".way h3 a")[event.key - 1]?.click();
    else if (event.key in KEYS) {
      press(meant(event.key));
      event.preventDefault();
    }
  });
  document.addEventListener("click", (event) => {
    if (!event.target.closest("[data-shortcuts]")) return;
    event.preventDefault();
    byId("shortcuts").showModal();
  });
  document.addEventListener("change", (event) => {
    if (event.target.id !== "single-keys") return;
    if (event.target.checked) localStorage.removeItem(OFF);
    else localStorage.setItem(OFF, "1");
  });

  // ---- one stop of Tab, then arrow keys: columns are `data-column`, rows go by `data-row` ----

  // What is folded away is known without asking the browser, which would lay all of it out to answer.
  const FOLDED = "details:not([open]) > :not(summary)";
  const itemsOf = (part) =>
    [...part.querySelectorAll("a[href], summary")].filter(
      (item) => item.closest("[data-rove]") === part && !item.closest(FOLDED) && item.checkVisibility());
  const columnOf = (item) => item.closest("[data-column]") ?? item.closest("[data-rove]");
  const last = new Map();
  const setStops = () => {
    // All that is asked comes before all that is changed: the page is laid out once.
    const found = [...document.querySelectorAll("[data-rove]")].map((part) => [part, itemsOf(part)]);
    for (const [part, items] of found) {
      const known = items.find((item) => item === last.get(part.dataset.rove));
      const stop = known ?? items.find((item) => item.getAttribute("aria-current")) ?? items[0];
      for (const item of items) item.tabIndex = item === stop ? 0 : -1;
    }
  };
  const go = (part, item, key) => {
    const items = itemsOf(part);
    const columns = [...new Set(items.map(columnOf))];
    const own = items.filter((one) => columnOf(one) === columnOf(item));
    const at = own.indexOf(item);
    if (key === "ArrowDown") return own[at + 1];
    if (key === "ArrowUp") return own[at - 1];
    if (key === "Home") return own[0];
    if (key === "End") return own.at(-1);
    const column = columns[columns.indexOf(columnOf(item)) + (key === "ArrowRight" ? 1 : -1)];
    const beside = items.filter((one) => columnOf(one) === column);
    return beside.find((one) => one.dataset.row === item.dataset.row) ?? beside[Math.min(at, beside.length - 1)];
  };
  document.addEventListener("keydown", (event) => {
    const part = event.target.closest("[data-rove]");
    if (!part || event.ctrlKey || event.metaKey || event.altKey || !/^(Arrow(Up|Down|Left|Right)|Home|End)$/.test(event.key)) return;
    const to = go(part, event.target, event.key);
    event.preventDefault();
    to?.focus();
  });
  document.addEventListener("focusin", (event) => {
    const part = event.target.closest?.("[data-rove]");
    if (!part) return;
    last.set(part.dataset.rove, event.target);
    setStops();
  });

  // ---- menus close on Esc and outside ----

  document.addEventListener("keydown", (event) => {
    if (event.key !== "Escape") return;
    for (const menu of document.querySelectorAll("details[data-menu][open]")) {
      if (menu.contains(document.activeElement)) menu.querySelector("summary").focus();
      menu.open = false;
    }
  });
  for (const kind of ["pointerdown", "focusin"]) {
    document.addEventListener(kind, (event) => {
      for (const menu of document.querySelectorAll("details[data-menu][open]")) {
        if (!menu.contains(event.target)) menu.open = false;
      }
    });
  }

  // ---- the screen stays awake on wish ----

  let awake = null;
  const showAwake = () => {
    const button = document.querySelector("[data-awake]");
    if (!button) return;
    button.hidden = !navigator.wakeLock;
    button.setAttribute("aria-pressed", String(Boolean(awake)));
    button.textContent = awake ? "The screen stays awake" : "Keep the screen awake";
  };
  const stayAwake = async () => {
    awake = await navigator.wakeLock.request("screen").catch(() => null);
    awake?.addEventListener("release", () => {
      awake = null;
      showAwake();
    });
    showAwake();
  };
  document.addEventListener("click", (event) => {
    if (!event.target.closest("[data-awake]")) return;
    if (awake) awake.release();
    else stayAwake();
  });

  // After the page is painted: what can be seen is asked then without laying it out once more.
  let asked = null;
  const settle = () => {
    clearTimeout(asked);
    asked = setTimeout(() => {
      setStops();
      showAwake();
    }, 60);
  };
  document.addEventListener("htmx:after:swap", settle);
  document.addEventListener("toggle", settle, true);
  settle();
  if (byId("single-keys")) byId("single-keys").checked = !localStorage.getItem(OFF);
})();
