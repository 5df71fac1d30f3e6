// Nothing typed is lost: what no answer came for waits in this browser, also over a reload, and goes out in
// order when Noggin is there again. Pages show what other windows changed, when nobody is typing in them.
(() => {
  const ROOT = document.querySelector("meta[name=root]").content;
  const KEY = `noggin-waiting${ROOT}`;
  const BUSY_MS = 400;
  const ASK_AGAIN_MS = 1000;
  const LOOK_MS = 4000;
  const byId = (id) => document.getElementById(id);

  // ---- what waits: in the order of typing, each as { url, page, label, was, text } or with `by` steps; a form
  // that may wait (a frame at the spot, a tick) as { url, page, label, act } with everything it would send ----

  const waiting = () => {
    try {
      return JSON.parse(localStorage.getItem(KEY)) ?? [];
    } catch {
      return [];
    }
  };
  const keep = (entries) => {
    if (entries.length) localStorage.setItem(KEY, JSON.stringify(entries));
    else localStorage.removeItem(KEY);
    showWaiting();
  };
  const isOf = (url) => (entry) => entry.url === url;
  const put = (entry) => {
    const entries = waiting();
    const last = entries.findLast(isOf(entry.url));
    if (last && "by" in last && "by" in entry) last.by += entry.by;
    else if (last && "text" in last && "text" in entry) last.text = entry.text;
    else entries.push(entry);
    keep(entries);
  };

  const inputOf = (field) => field.querySelector("input[name=text], select");
  const urlOf = (field) => new URL(field.getAttribute("action"), location.href).pathname;
  const asServed = (input) =>
    input.localName === "select"
      ? (input.querySelector("option[selected]")?.value ?? "")
      : input.getAttribute("value");
  const entryOf = (field) => ({
    url: urlOf(field),
    page: location.pathname,
    label: field.querySelector("label").textContent.trim(),
    was: asServed(inputOf(field)),
  });

  // Typed, and not answered yet: by the address it goes to.
  const unsent = new Map();
  for (const kind of ["input", "change"]) {
    document.addEventListener(
      kind,
      (event) => {
        const field = event.target.closest(".field");
        if (!field || event.target !== inputOf(field)) return;
        // A change of text is only the end of typing it.
        if (kind === "change" && event.target.localName === "input") return;
        const before = unsent.get(urlOf(field)) ?? entryOf(field);
        unsent.set(urlOf(field), { ...before, text: event.target.value });
      },
      true,
    );
  }
  const answered = (field, text) => {
    const url = urlOf(field);
    if (unsent.get(url)?.text === text) unsent.delete(url);
    const rest = waiting().filter((entry) => !(isOf(url)(entry) && entry.text === text));
    if (rest.length !== waiting().length) keep(rest);
  };

  // ---- the sign: saved, busy, waiting ----

  const sign = () => byId("saving");
  // Pressed while nothing answered, and not one of what waits: so until the next press is answered.
  let refused = false;
  let underWay = 0;
  let busy = null;
  const say = (state, words) => {
    if (sign().dataset.state === state && sign().textContent === words) return;
    sign().dataset.state = state;
    sign().textContent = words;
  };
  const showState = () => {
    const count = waiting().length;
    const why = gone || "Offline";
    const figures = waiting().every((entry) => !entry.act);
    const many = figures ? "figures wait" : "entries wait";
    if (count) say("waiting", `${why}. ${count} ${count === 1 ? (figures ? "figure waits" : "entry waits") : many} here.`);
    else if (gone) say("waiting", why);
    else if (refused) say("waiting", "Not kept. Press it again.");
    else if (!underWay) say("saved", "Saved");
  };
  const showWaiting = () => {
    for (const field of document.querySelectorAll(".field")) {
      const own = waiting().filter(isOf(urlOf(field)));
      const steps = own.reduce((sum, entry) => sum + (entry.by ?? 0), 0);
      const size = Math.abs(steps);
      if (!own.length) delete field.dataset.waits;
      else field.dataset.waits = steps ? `waits: ${size} step${size === 1 ? "" : "s"} ${steps > 0 ? "up" : "down"}` : "waits";
    }
    showState();
  };
  const begun = () => {
    underWay += 1;
    busy ??= setTimeout(() => underWay && !waiting().length && say("busy", "Working…"), BUSY_MS);
  };
  const ended = () => {
    underWay = Math.max(0, underWay - 1);
    if (underWay) return;
    clearTimeout(busy);
    busy = null;
    showState();
  };

  const told = (words, className = "told") => {
    const line = document.createElement("p");
    line.className = className;
    line.textContent = words;
    byId("trouble").append(line);
  };
  const untold = () => byId("trouble").querySelectorAll(".away").forEach((line) => line.remove());

  // ---- why nothing gets through: no answer, or an answer that asks who this is ----

  class SignedOut extends Error {}
  let gone = "";
  const through = (answer) => {
    const toGate = answer.redirected && new URL(answer.url).pathname === `${ROOT}/sign-in`;
    if (answer.status === 401 || toGate) throw new SignedOut();
    return answer;
  };
  const outOfReach = (error) => {
    gone = error instanceof SignedOut ? "Signed out" : "Offline";
    if (error instanceof SignedOut && waiting().length) {
      byId("trouble").replaceChildren();
      told("You are signed out. What you entered waits in this browser and goes out when you have signed in.", "told away");
    }
    showState();
    askAgain();
  };

  // ---- what htmx sends ----

  let stamp = document.querySelector("meta[name=stamp]")?.content;
  document.addEventListener("htmx:before:request", (event) => {
    begun();
    const { ctx } = event.detail;
    // Of a page that nobody changed anything on, nothing is said to be saved.
    if (ctx.request.method !== "GET") sign().dataset.touched = "";
    const input = ctx.sourceElement;
    // Text that was typed on since is on its way itself: only the newest goes out.
    if (!input.matches?.("input[name=text]")) return;
    const newest = unsent.get(urlOf(input.closest(".field")));
    if (newest && newest.text !== ctx.request.body?.get?.("text")) event.preventDefault();
  });
  // What was entered and did not get through.
  const waits = (field, ctx) => {
    const by = ctx.request.submitter?.matches(".stepper") && Number(ctx.request.body.get("by"));
    const typed = unsent.get(urlOf(field));
    unsent.delete(urlOf(field));
    if (by) put({ ...entryOf(field), by });
    // The same text goes out while it is typed and when the field is left: it waits once.
    else if (typed || !waiting().some(isOf(urlOf(field)))) put({ ...entryOf(field), ...typed, text: inputOf(field).value });
  };
  // Everything that a form would send, when it was entered; it goes out once, however often it is sent.
  const actWaits = (form, ctx) => {
    const given = [...ctx.request.body].filter(([name]) => !["csrf_token", "frames"].includes(name));
    const when = [["waited", "1"], ["at", new Date().toISOString()]];
    const { pathname, search } = new URL(form.getAttribute("action"), location.href);
    const entry = { url: pathname + search, page: location.pathname + location.search, label: form.dataset.mayWait };
    keep([...waiting(), { ...entry, act: [...given, ...when] }]);
    form.reset();
    const once = form.querySelector("[name=once]");
    if (once) once.value = Array.from(crypto.getRandomValues(new Uint8Array(8)), (one) => one.toString(16)).join("");
  };
  const formOf = (ctx) => ctx?.sourceElement?.closest?.("form[data-may-wait]");

  // A part that does not wait its turn may be of a time before a change that was answered since, which brings
  // or asks for its own: the older one is not shown.
  let changes = 0;
  const asked = new WeakMap();
  document.addEventListener("htmx:before:request", (event) => asked.set(event.detail.ctx, changes));
  document.addEventListener("htmx:before:swap", (event) => {
    const { ctx } = event.detail;
    if (ctx.request.method === "GET" && asked.get(ctx) !== changes) event.preventDefault();
  });
  document.addEventListener("htmx:finally:request", ended);
  document.addEventListener("htmx:after:request", (event) => {
    const { ctx } = event.detail;
    const { response } = ctx;
    gone = response.status === 401 ? "Signed out" : "";
    // A part that the page fetched is newer than the page, which is so not made up to date.
    const isWhole = ctx.request.method !== "GET" || ctx.target === document.body;
    if (isWhole) stamp = response.headers.get("Noggin-Stamp") ?? stamp;
    const field = ctx.sourceElement.closest?.(".field");
    if (gone && field) waits(field, ctx);
    else if (gone && formOf(ctx)) actWaits(formOf(ctx), ctx);
    else if (field && ctx.request.body?.has?.("text")) answered(field, ctx.request.body.get("text"));
    if (ctx.request.method !== "GET") {
      if (!gone) refused = false;
      changes += 1;
      others?.postMessage(stamp);
    }
    showState();
    if (gone) askAgain();
  });
  document.addEventListener("htmx:error", (event) => {
    const { ctx } = event.detail;
    const field = ctx?.sourceElement?.closest?.(".field");
    gone = "Offline";
    byId("trouble").replaceChildren();
    if (field) {
      waits(field, ctx);
      told("Noggin is not answering. What you enter waits in this browser and goes out when it is back.", "told away");
    } else if (formOf(ctx)) {
      actWaits(formOf(ctx), ctx);
      told(`Noggin is not answering. ${formOf(ctx).dataset.mayWait} waits in this browser and goes out when it is back.`, "told away");
    } else {
      refused = ctx?.request?.method !== "GET";
      told("Noggin is not answering. Start it again, then press that again.", refused ? "told" : "told away");
    }
    showState();
    askAgain();
  });

  // ---- when it is back ----

  const read = async (answer) => new DOMParser().parseFromString(await answer.text(), "text/html");
  const servedIn = (page, entry) => {
    const field = [...page.querySelectorAll(".field")].find((one) => one.getAttribute("action") === entry.url);
    return field && asServed(inputOf(field));
  };
  const post = (entry, page) => {
    const here = location.pathname === entry.page;
    const body = new URLSearchParams({ csrf_token: page.querySelector("[name=csrf_token]").value });
    if ("by" in entry) body.set("by", Math.max(-99, Math.min(entry.by, 99)));
    else body.set("text", entry.text);
    for (const name of ["revision", "window", "elsewhere"]) {
      if (here && byId(name)) body.set(name, byId(name).value);
    }
    return fetch(`${entry.url}?settled=1`, { method: "POST", body, headers: { "HX-Request": "true" }, keepalive: true });
  };

  const sendAct = async (entry, page) => {
    const body = new URLSearchParams(entry.act);
    body.set("csrf_token", page ? page.querySelector("[name=csrf_token]").value : "");
    const headers = { "HX-Request": "true" };
    const answer = through(await fetch(entry.url, { method: "POST", body, headers, keepalive: true }));
    const problem = answer.ok && (await read(answer)).querySelector("form .problem")?.textContent.trim();
    if (!answer.ok || problem) told(`${entry.label} was not kept: ${problem || `Noggin answered ${answer.status}`}.`);
  };

  // Sends one that waited, and says what had become of its figure meanwhile. Gives what is kept of it then.
  const send = async (entry) => {
    const served = through(await fetch(entry.page, { cache: "no-store" }));
    const page = served.ok && (await read(served));
    if (entry.act) return sendAct(entry, page);
    const before = page && servedIn(page, entry);
    if (typeof before !== "string") {
      told(`${entry.label}: that figure is gone. You had entered ${entry.text ?? `${entry.by} steps`}.`);
      return before;
    }
    const changed = before !== entry.was;
    if (changed && "by" in entry) {
      told(`${entry.label} was changed to ${before} meanwhile. Your steps were left out.`);
      return before;
    }
    const answer = through(await post(entry, page));
    if (!answer.ok) {
      told(`${entry.label}: ${entry.text ?? "your steps"} could not be entered (${answer.status}).`);
      return before;
    }
    const after = servedIn(await read(answer), entry);
    if (changed && after !== before) {
      told(`${entry.label} was changed to ${before} meanwhile. Yours, ${after}, is kept now; Undo takes it back.`);
    }
    return after;
  };

  const flush = async () => {
    if (!waiting().length) return;
    for (let entry = waiting()[0]; entry; entry = waiting()[0]) {
      const was = await send(entry);
      if (unsent.get(entry.url)?.text === entry.text) unsent.delete(entry.url);
      // What was typed on meanwhile stays in line, and what follows for the same figure goes by what is kept.
      const [first, ...rest] = waiting();
      const done = first?.text === entry.text && first?.by === entry.by;
      keep((done ? rest : waiting()).map((one) => (isOf(entry.url)(one) ? { ...one, was } : one)));
    }
    await refresh();
    others?.postMessage(stamp);
  };
  const alone = (work) =>
    navigator.locks ? navigator.locks.request(KEY, { ifAvailable: true }, (lock) => lock && work()) : work();
  const alive = async () => through(await fetch(`${ROOT}/alive`, { cache: "no-store" }));
  let asking = null;
  const askAgain = () => {
    asking ??= setTimeout(async () => {
      asking = null;
      try {
        await alive();
        if (gone === "Signed out") byId("trouble").replaceChildren();
        else untold();
        await alone(flush);
        gone = "";
        showState();
        look();
      } catch (error) {
        outOfReach(error);
      }
    }, ASK_AGAIN_MS);
  };

  // Typing and closing at once: what no answer came for is sent on the way out, and kept until it is known
  // to have arrived.
  addEventListener("pagehide", () => {
    for (const entry of unsent.values()) {
      put(entry);
      post(entry, document).catch(() => {});
    }
  });

  // ---- other windows ----

  const others = window.BroadcastChannel && new BroadcastChannel("noggin");
  let held = false;
  addEventListener("pointerdown", () => { held = true; });
  for (const kind of ["pointerup", "pointercancel"]) addEventListener(kind, () => { held = false; });
  const mayRefresh = () =>
    !document.hidden && !held && !unsent.size && !underWay && !waiting().length &&
    !document.querySelector("dialog[open]") && document.activeElement?.localName !== "select" &&
    !document.activeElement?.closest?.("form:not(.field)")?.querySelector("input:not([type=hidden]), textarea");

  // The page as it is kept now, by the same means as any answer: what is being typed stays.
  const refresh = async () => {
    await htmx.ajax("GET", location.pathname + location.search, { target: document.body, swap: "innerMorph" });
    for (const input of document.querySelectorAll(".field input[name=text], .field select")) {
      const own = unsent.has(urlOf(input.closest(".field"))) || input === document.activeElement;
      if (!own) input.value = asServed(input);
    }
  };
  const look = async (newer) => {
    try {
      newer ??= (await alive()).headers.get("Noggin-Stamp");
      if (gone) askAgain();
      if (newer !== stamp && mayRefresh()) {
        stamp = newer;
        await refresh();
      }
      // A page that the browser had kept is the present one from here on.
      if (newer === stamp) document.querySelector(".as-of")?.remove();
    } catch (error) {
      outOfReach(error);
    }
  };
  others?.addEventListener("message", () => look());
  document.addEventListener("visibilitychange", () => document.hidden || look());
  addEventListener("focus", () => look());
  setInterval(() => document.hidden || gone || look(), LOOK_MS);

  document.addEventListener("htmx:after:swap", showWaiting);
  showWaiting();
  if (waiting().length) askAgain();
})();
