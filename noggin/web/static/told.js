// What a change leads to is told once, politely, after a pause; an act says what it did and offers Undo where
// it happened, and the focus goes to what it made or stays where it was.
(() => {
  const PAUSE_MS = 900;
  const byId = (id) => document.getElementById(id);
  const textOf = (node) => node.textContent.replace(/\s+/g, " ").trim();

  // ---- results ----

  const cannot = () => [...document.querySelectorAll(".way.cannot h3 a")].map(textOf);
  const wrong = () => {
    const problem = document.activeElement?.closest(".field")?.querySelector(".problem");
    return problem ? textOf(problem) : "";
  };
  // The method that is looked at, with what is dialled.
  const looked = () => [...document.querySelectorAll(".way.looked :is(h3 a, .verdict, .dial)")].map(textOf).join(", ");
  // What was stepped, as it stands now; what was pressed, in words of its own where it has some.
  let stepped = "";
  let pressed = "";
  document.addEventListener("htmx:after:request", ({ detail: { ctx } }) => {
    if (ctx.request.method === "GET") return;
    const { submitter, form } = ctx.request;
    stepped = submitter?.matches(".stepper") ? form.getAttribute("action") : "";
    pressed = submitter?.id ?? "";
  });
  const done = () => {
    const field = stepped && document.querySelector(`.field[action="${stepped}"]`);
    const told = pressed && byId(pressed)?.dataset.told;
    [stepped, pressed] = ["", ""];
    if (!field) return told || "";
    const unit = field.querySelector(".unit");
    return `${textOf(field.querySelector("label"))} ${field.querySelector("[name=text]").value} ${unit ? textOf(unit) : ""}`.trim();
  };
  const results = () => ({
    said: [...document.querySelectorAll("[data-announce]")].map(textOf).join(" "),
    looked: looked(),
    cannot: cannot(),
    problem: wrong(),
  });
  let before = results();
  let pause = null;
  const announce = () => {
    const now = results();
    const lost = now.cannot.filter((way) => !before.cannot.includes(way));
    const words = [
      done(),
      now.looked !== before.looked && now.said === before.said ? now.looked : "",
      now.problem !== before.problem ? now.problem : "",
      now.said !== before.said ? now.said : "",
      lost.length ? `No longer possible: ${lost.join(", ")}.` : "",
    ];
    before = now;
    const said = words.filter(Boolean).join(" ");
    if (said) byId("announce").textContent = said;
  };
  const announceSoon = () => {
    clearTimeout(pause);
    pause = setTimeout(announce, PAUSE_MS);
  };

  // ---- acts: what was pressed, and in which part of the page ----

  // What an act makes has a heading or a figure of its own, or is a line that is known by its words.
  const made = () => [...document.querySelectorAll("#content :is(:is(h3, .field input, .field select)[id], [data-made])")];
  const nameOf = (node) => node.id || textOf(node);
  // Which step it takes back is not on the button, whose size must not change.
  const stepOf = (undo) => undo?.title || textOf(undo);
  let act = null;
  document.addEventListener("htmx:before:request", (event) => {
    const { ctx } = event.detail;
    const { request, sourceElement } = ctx;
    if (request.method === "GET" || sourceElement.closest?.(".field, .acts")) return;
    const place = sourceElement.closest("[id]:not(form)");
    const known = new Set(made().map(nameOf));
    act = { ctx, place: place?.id, undo: stepOf(byId("act-undo") ?? place), focus: document.activeElement, known };
  });
  const doneWords = (undo) => stepOf(undo).replace(/^Undo:?\s*/, "");
  const offerUndo = () => {
    const undo = byId("act-undo");
    const place = byId(act.place);
    if (!undo || undo.disabled || stepOf(undo) === act.undo || !place) return null;
    const note = document.createElement("p");
    note.className = "done";
    const button = document.createElement("button");
    button.type = "button";
    button.className = "act act-small";
    button.textContent = "Undo";
    button.setAttribute("aria-label", stepOf(undo));
    button.addEventListener("click", () => byId("act-undo").click());
    note.append(`${doneWords(undo)} `, button);
    const head = place.querySelector(":scope > summary, :scope > h2, :scope > h3");
    if (head) head.after(note);
    else place.prepend(note);
    return button;
  };
  const afterAct = () => {
    const fresh = made().find((node) => !act.known.has(nameOf(node)) && node.checkVisibility());
    const undo = offerUndo();
    if (fresh) {
      if (fresh.localName === "h3") fresh.tabIndex = -1;
      fresh.focus();
    } else if (!act.focus?.isConnected) undo?.focus();
    act = null;
  };

  document.addEventListener("htmx:after:swap", (event) => {
    // Parts that the page fetches of itself come in between.
    if (act && event.detail.ctx === act.ctx) afterAct();
    announceSoon();
  });
})();
