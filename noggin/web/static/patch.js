/* A box dragged on a frame's small picture, as percent of it, into the fields that take it in figures too. */
(() => {
  "use strict";

  const form = document.querySelector("[data-box]");
  const figure = document.querySelector("[data-boxed]");
  if (!form || !figure) return;
  const image = figure.querySelector("img");
  const box = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  box.setAttribute("class", "log-patches log-new");
  box.setAttribute("viewBox", "0 0 100 100");
  box.setAttribute("preserveAspectRatio", "none");
  box.setAttribute("aria-hidden", "true");
  const drawn = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  box.append(drawn);
  figure.append(box);
  let from = null;

  const field = (name) => form.elements[name];

  function at(event) {
    const area = image.getBoundingClientRect();
    const part = (value, low, size) => Math.min(100, Math.max(0, (100 * (value - low)) / size));
    return [part(event.clientX, area.left, area.width), part(event.clientY, area.top, area.height)];
  }

  function show() {
    const [x, y, width, height] = ["left", "top", "width", "height"].map((name) => Number(field(name).value) || 0);
    for (const [name, value] of Object.entries({ x, y, width, height })) drawn.setAttribute(name, value);
  }

  image.addEventListener("pointerdown", (event) => {
    if (form.closest("details:not([open])")) return;
    event.preventDefault();
    image.setPointerCapture(event.pointerId);
    from = at(event);
  });
  image.addEventListener("pointermove", (event) => {
    if (!from) return;
    const to = at(event);
    field("left").value = Math.min(from[0], to[0]).toFixed(1);
    field("top").value = Math.min(from[1], to[1]).toFixed(1);
    field("width").value = Math.abs(to[0] - from[0]).toFixed(1);
    field("height").value = Math.abs(to[1] - from[1]).toFixed(1);
    show();
  });
  image.addEventListener("pointerup", () => { from = null; });
  form.addEventListener("input", show);
})();
