// What HTML and htmx cannot say of figures: usual notation after a morph, steps by arrow keys and held keys,
// dragging, details that stay open, fields told wrong to a screen reader.
(() => {
  const byId = (id) => document.getElementById(id);
  const trouble = () => byId("trouble");

  const markFields = () => {
    for (const field of document.querySelectorAll(".field")) {
      const input = field.querySelector("input[name=text], select");
      const problem = field.querySelector(".problem");
      if (problem) {
        input.setAttribute("aria-invalid", "true");
        input.setAttribute("aria-errormessage", problem.id);
      } else {
        input.removeAttribute("aria-invalid");
        input.removeAttribute("aria-errormessage");
      }
    }
  };

  // A morph leaves a field's text as it was typed: put the usual notation in its place. A field whose own
  // answer is still to come, or that is being typed in, is let alone.
  const waiting = new Set();
  for (const kind of ["input", "change"]) {
    document.addEventListener(kind, (event) => event.target.closest(".field") && waiting.add(event.target.id), true);
  }
  // A figure that is still being typed plans nothing until it can be meant: 13. on the way to 13.5.
  const HALF_TYPED = /([.,/+−–-]|(^|\s)f\/?)$/i;
  document.addEventListener(
    "input",
    (event) => {
      if (event.target.closest(".field") && HALF_TYPED.test(event.target.value)) event.stopPropagation();
    },
    true,
  );
  const asSent = (input) =>
    input.localName === "select"
      ? (input.querySelector("option[selected]")?.value ?? input.value)
      : input.getAttribute("value");
  const takeNotation = () => {
    const settled = document.querySelectorAll("[data-settled]");
    if (!settled.length) return;
    for (const mark of settled) mark.remove();
    for (const input of document.querySelectorAll(".field input[name=text], .field select")) {
      const own = input.dataset.taken;
      input.removeAttribute("data-taken");
      if (own !== undefined && own === input.value) waiting.delete(input.id);
      if (waiting.has(input.id) || input.closest(".field").querySelector(".problem")) continue;
      if (own === undefined && input === document.activeElement) continue;
      input.value = asSent(input);
    }
  };

  // A form that leads to another page goes out once, however often it is pressed.
  const sent = new WeakSet();
  document.addEventListener("submit", (event) => {
    if (event.defaultPrevented || event.target.method !== "post") return;
    if (sent.has(event.target)) event.preventDefault();
    sent.add(event.target);
  });

  // A form that keeps something new goes out once until it is answered: a double tap is one tap.
  document.addEventListener(
    "submit",
    (event) => {
      const form = event.target;
      if (!form.querySelector("[name=once]")) return;
      if (form.dataset.busy !== undefined) {
        event.preventDefault();
        event.stopImmediatePropagation();
      }
      form.dataset.busy = "";
    },
    true,
  );
  document.addEventListener("htmx:finally:request", (event) => {
    event.detail.ctx.sourceElement?.closest?.("form")?.removeAttribute("data-busy");
  });

  // What is tapped again and again stays under the thumb when the parts above it come anew.
  let stood = null;
  const still = () => document.querySelector("[data-still]");
  const topOf = (node) => node && node.getBoundingClientRect().top;
  document.addEventListener("htmx:before:swap", () => { stood = topOf(still()); });
  document.addEventListener("htmx:after:swap", () => {
    if (stood > 0 && stood < innerHeight && still()) scrollBy({ top: topOf(still()) - stood, behavior: "instant" });
  });

  // A choice that leads to another page goes there at once; its button is for those without scripts.
  document.addEventListener("change", (event) => event.target.closest("form[data-reload]")?.requestSubmit());

  // Details stay as they were opened or folded when their part of the page comes anew; groups of figures
  // also over visits. What waits to be looked at stays open.
  const FOLDS = "noggin-folds";
  const folds = new Map(Object.entries(JSON.parse(localStorage.getItem(FOLDS) ?? "{}")));
  document.addEventListener(
    "toggle",
    (event) => {
      const details = event.target;
      if (details.dataset?.keepOpen === undefined || "waits" in details.dataset) return;
      folds.set(details.id, details.open);
      const kept = [...folds].filter(([id]) => byId(id)?.dataset.remember !== undefined);
      if (details.dataset.remember !== undefined) localStorage.setItem(FOLDS, JSON.stringify(Object.fromEntries(kept)));
    },
    true,
  );
  const onPhone = matchMedia("(max-width: 30em)");
  const keepOpen = () => {
    if (onPhone.matches) {
      for (const details of document.querySelectorAll("details[data-phone-fold]")) {
        if (!folds.has(details.id) && !("waits" in details.dataset)) details.open = false;
      }
    }
    for (const [id, isOpen] of folds) {
      const details = byId(id);
      if (details && !("waits" in details.dataset)) details.open = isOpen;
    }
  };
  const openAsked = () => {
    const asked = location.hash.length > 1 && byId(location.hash.slice(1));
    if (asked && asked.localName === "details") {
      asked.open = true;
      asked.querySelector("summary").focus();
    }
  };
  // A page that the browser kept as it was is asked for anew: it may have changed since.
  addEventListener("pageshow", (event) => event.persisted && location.reload());
  addEventListener("hashchange", openAsked);
  document.addEventListener("click", (event) => {
    if (event.target.closest("a.ask")) setTimeout(openAsked);
  });

  // A date or a time that is picked is typed into its figure, which does the rest.
  document.addEventListener("change", (event) => {
    const input = event.target.dataset.picks && byId(event.target.dataset.picks);
    if (!input || !event.target.value) return;
    input.value = event.target.value;
    for (const kind of ["input", "change"]) input.dispatchEvent(new Event(kind, { bubbles: true }));
  });

  // What is printed is the sheet of the page: a set-up, a day, a packing list.
  const offerPrint = () => document.querySelectorAll("[data-print], [data-share]").forEach((button) => { button.hidden = false; });
  document.addEventListener("click", (event) => event.target.closest("[data-print]") && print());

  // A page is shared by the phone's own sheet; where there is none its address is copied, or shown to be copied.
  const showAddress = (button) => {
    const address = document.createElement("input");
    Object.assign(address, { value: location.href, readOnly: true, className: "address" });
    address.setAttribute("aria-label", "The address of this page");
    button.after(address);
    address.select();
  };
  document.addEventListener("click", async (event) => {
    const button = event.target.closest("[data-share]");
    if (!button) return;
    const given = { title: document.title, url: location.href };
    // Closed again without a choice is an answer too.
    const share = () => navigator.share(given).then(() => true, (error) => error.name === "AbortError");
    if (navigator.canShare?.(given) && (await share())) return;
    const copied = await (navigator.clipboard?.writeText(given.url) ?? Promise.reject()).then(() => true, () => false);
    if (!copied) showAddress(button);
    else byId("announce").textContent = button.textContent = "The link is copied";
  });

  // In a figure, the arrow keys are its steppers.
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey || !/^Arrow(Up|Down)$/.test(event.key)) return;
    const field = event.target.matches("input[name=text]") && event.target.closest(".field");
    const step = field && field.querySelector(`.stepper[value="${event.key === "ArrowUp" ? 1 : -1}"]`);
    if (!step) return;
    event.preventDefault();
    step.click();
  });

  // A key that is held and fast clicks: one step of a figure is under way, and all presses since then make
  // the next one together.
  const pressed = new Map();
  const stepperOf = (action) => document.querySelector(`.field[action="${action}"] .stepper`);
  document.addEventListener(
    "submit",
    (event) => {
      if (!event.submitter?.matches(".stepper")) return;
      const action = event.target.getAttribute("action");
      if (pressed.has(action)) {
        pressed.set(action, pressed.get(action) + Number(event.submitter.value));
        event.preventDefault();
        event.stopImmediatePropagation();
      } else pressed.set(action, 0);
    },
    true,
  );
  document.addEventListener("htmx:finally:request", (event) => {
    if (!event.detail.ctx.request.submitter?.matches(".stepper")) return;
    const action = event.detail.ctx.request.form.getAttribute("action");
    const by = Math.max(-99, Math.min(pressed.get(action) ?? 0, 99));
    pressed.delete(action);
    const stepper = by && stepperOf(action);
    if (!stepper) return;
    const one = stepper.value;
    stepper.value = by;
    stepper.click();
    stepper.value = one;
  });

  // Follows the pointer until it is let go, and then says that the figure has changed.
  const whileDragged = (move, input) => {
    const end = () => {
      removeEventListener("pointermove", move);
      input.dispatchEvent(new Event("change", { bubbles: true }));
    };
    addEventListener("pointermove", move);
    addEventListener("pointerup", end, { once: true });
    addEventListener("pointercancel", end, { once: true });
  };

  // What is meant can be dragged along the scale: the drag types into the figure, which does the rest.
  document.addEventListener("pointerdown", (event) => {
    const figure = event.target.dataset?.drag;
    if (!figure) return;
    event.preventDefault();
    const scale = event.target.closest("svg");
    const { zero, stop } = scale.dataset;
    const input = byId(`i-${figure}`);
    const move = (at) => {
      const box = document.querySelector(`.scale[data-zero="${zero}"]`).getBoundingClientRect();
      const x = ((at.clientX - box.left) * scale.viewBox.baseVal.width) / box.width;
      const thirds = Math.max(-18, Math.min(12, Math.round((3 * (x - zero)) / stop)));
      const text = (thirds / 3).toFixed(2);
      if (input.value === text) return;
      input.value = text;
      input.dispatchEvent(new Event("input", { bubbles: true }));
    };
    whileDragged(move, input);
  });

  // A set-up can be dragged along the day: the drag types its start, in steps of five minutes.
  document.addEventListener("pointerdown", (event) => {
    const figure = event.target.dataset?.slide;
    if (!figure) return;
    event.preventDefault();
    const block = event.target;
    const input = byId(`i-${figure}`);
    const { begins, minutes } = block.closest("svg").dataset;
    const perPixel = minutes / block.closest("svg").getBoundingClientRect().width;
    const [hour, minute] = input.value.split(":").map(Number);
    const from = 60 * hour + minute;
    const x = Number(block.getAttribute("x"));
    const move = (at) => {
      const wanted = Math.round((from + (at.clientX - event.clientX) * perPixel) / 5) * 5;
      const start = Math.max(begins, Math.min(wanted, Number(begins) + Number(minutes) - 5, 1435));
      input.value = `${String(Math.floor(start / 60)).padStart(2, "0")}:${String(start % 60).padStart(2, "0")}`;
      block.setAttribute("x", x + ((start - from) * 1000) / minutes);
    };
    whileDragged(move, input);
  });

  // A part that comes later stays as it is until then. Figures do not wait for pictures: those are asked for
  // when the figures have been painted, and not for each step of a held key.
  const PICTURES_AFTER_MS = 120;
  const pictures = new WeakMap();
  const pictureLater = (shown, coming) => {
    clearTimeout(pictures.get(shown));
    const source = coming.getAttribute("src");
    coming.setAttribute("src", shown.getAttribute("src"));
    pictures.set(shown, setTimeout(() => shown.setAttribute("src", source), PICTURES_AFTER_MS));
  };
  // A large one waits until somebody looks at it, or prints.
  const unseen = new Map();
  const showPicture = (shown) => {
    shown.setAttribute("src", unseen.get(shown));
    unseen.delete(shown);
    seen.unobserve(shown);
  };
  const seen = new IntersectionObserver((entries) => {
    for (const { target, isIntersecting } of entries) if (isIntersecting && unseen.has(target)) showPicture(target);
  }, { rootMargin: "100px" });
  const pictureWhenSeen = (shown, coming) => {
    forgetGone();
    unseen.set(shown, coming.getAttribute("src"));
    coming.setAttribute("src", shown.getAttribute("src"));
    seen.unobserve(shown);
    seen.observe(shown);
  };
  const forgetGone = () => { for (const shown of unseen.keys()) if (!shown.isConnected) unseen.delete(shown); };
  addEventListener("beforeprint", () => {
    forgetGone();
    [...unseen.keys()].forEach(showPicture);
  });
  htmx.registerExtension("later", {
    htmx_before_morph_node: (_, { oldNode, newNode }) => {
      if (newNode.matches?.(".way-picture")) pictureLater(oldNode, newNode);
      if (newNode.matches?.(".proof-view img, .proof-tones")) pictureWhenSeen(oldNode, newNode);
      return newNode.dataset?.later === undefined;
    },
  });
  // A remedy that was tried is taken back where it was: focus stays there.
  let tried = false;
  document.addEventListener("submit", (event) => { tried = event.target.matches(".remedies form, .said-act"); }, true);
  const focusTried = () => {
    if (!tried || !byId("remedy-undo")) return;
    if (document.activeElement === document.body) byId("remedy-undo").focus();
    tried = false;
  };
  // A form that was refused is brought into view at the field that was refused.
  const showRefused = () => {
    const wrong = document.querySelector("main form:not(.field) [aria-invalid=true]");
    if (!wrong) return;
    for (let part = wrong; part; part = part.parentElement) if (part.localName === "details") part.open = true;
    wrong.focus({ preventScroll: true });
    wrong.scrollIntoView({ block: "center" });
  };
  // Figures that stayed as they were were not sent again: what they offer is offered as they are now.
  const offerNow = () => {
    const now = document.querySelector("#rest > [data-offered]");
    if (!now) return;
    for (const input of document.querySelectorAll("#steps [name=offered]")) input.value = now.dataset.offered;
    now.remove();
  };
  document.addEventListener("htmx:after:swap", (event) => {
    offerNow();
    takeNotation();
    focusTried();
    if (event.detail.ctx?.sourceElement?.matches?.("form:not(.field)")) showRefused();
    keepOpen();
    markFields();
    offerPrint();
  });
  document.addEventListener("htmx:after:request", (event) => {
    const { response, sourceEvent, target } = event.detail.ctx;
    // What the page fetches of itself is no answer to what was refused.
    const ofItself = sourceEvent?.type === "load" || target === document.body;
    if (response?.status < 400 && !ofItself) trouble().replaceChildren();
  });
  keepOpen();
  markFields();
  offerPrint();
  openAsked();
  showRefused();
})();
