/* A field that looks up what is typed: a list under it, by arrows, Enter and Escape or by a tap; and the place
   where one is, as the browser knows it. Noggin itself is asked, nobody else. */
(() => {
  "use strict";
  const WAIT_MS = 150;
  const HERE_MS = 15000;
  let waiting = 0;
  let asked = null;

  const listOf = (field) => document.getElementById(field.getAttribute("aria-controls"));

  function close(field) {
    clearTimeout(waiting);
    asked?.abort();
    const list = listOf(field);
    if (!list) return;
    list.hidden = true;
    list.replaceChildren();
    field.setAttribute("aria-expanded", "false");
    field.removeAttribute("aria-activedescendant");
  }

  async function look(field) {
    asked?.abort();
    asked = new AbortController();
    const url = `${field.dataset.finds}?find=${encodeURIComponent(field.value)}`;
    try {
      const answer = await fetch(url, { signal: asked.signal });
      if (!answer.ok || document.activeElement !== field) return;
      const list = listOf(field);
      list.innerHTML = await answer.text();
      [...list.children].forEach((option, index) => { option.id = `${list.id}-${index}`; });
      list.hidden = !list.children.length;
      field.setAttribute("aria-expanded", String(!list.hidden));
    } catch {
      // Typed on, or Noggin is away: a name that is typed whole is understood all the same.
    }
  }

  function mark(field, by) {
    const options = [...listOf(field).children];
    if (!options.length) return;
    const now = options.findIndex((option) => option.getAttribute("aria-selected") === "true");
    const next = (now + by + options.length + (now < 0 && by < 0 ? 1 : 0)) % options.length;
    options.forEach((option, index) => option.setAttribute("aria-selected", String(index === next)));
    options[next].scrollIntoView({ block: "nearest" });
    field.setAttribute("aria-activedescendant", options[next].id);
  }

  function take(field, text) {
    field.value = text;
    close(field);
    field.dispatchEvent(new Event("change", { bubbles: true }));
  }

  document.addEventListener("input", (event) => {
    const field = event.target;
    if (!field.dataset?.finds) return;
    clearTimeout(waiting);
    if (field.value.trim().length < 2) close(field);
    else waiting = setTimeout(() => look(field), WAIT_MS);
  });

  document.addEventListener("keydown", (event) => {
    const field = event.target;
    if (!field.dataset?.finds || field.getAttribute("aria-expanded") !== "true") return;
    const marked = listOf(field).querySelector('[aria-selected="true"]');
    if (event.key === "ArrowDown" || event.key === "ArrowUp") mark(field, event.key === "ArrowDown" ? 1 : -1);
    else if (event.key === "Enter" && marked) take(field, marked.textContent);
    else if (event.key === "Escape") close(field);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }, true);

  // Before the field loses the focus, and with it what was typed.
  document.addEventListener("mousedown", (event) => {
    const option = event.target.closest?.('.towns [role="option"]');
    if (!option) return;
    event.preventDefault();
    const list = option.parentElement;
    take(document.querySelector(`[aria-controls="${list.id}"]`), option.textContent);
  });

  document.addEventListener("focusout", (event) => {
    if (event.target.dataset?.finds) close(event.target);
  });

  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-here]");
    if (!button) return;
    const field = document.getElementById(button.dataset.here);
    const said = document.getElementById("announce");
    button.disabled = true;
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => {
        button.disabled = false;
        take(field, `${coords.latitude.toFixed(5)}, ${coords.longitude.toFixed(5)}`);
      },
      () => {
        button.disabled = false;
        said.textContent = button.title = "The browser does not say where you are. Type a town.";
      },
      { maximumAge: 600000, timeout: HERE_MS },
    );
  });

  // What the browser knows is offered: its own zone first, its place where it may be asked.
  function offer() {
    const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
    const zones = document.getElementById("zones");
    if (zone && zones && zones.firstElementChild?.value !== zone) {
      zones.prepend(Object.assign(document.createElement("option"), { value: zone, label: "this browser's" }));
    }
    const can = "geolocation" in navigator && window.isSecureContext;
    document.querySelectorAll("[data-here]").forEach((button) => { button.hidden = !can; });
  }
  document.addEventListener("DOMContentLoaded", offer);
  document.addEventListener("htmx:after:swap", offer);
})();
