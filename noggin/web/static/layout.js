/* Things on a plan: dragged by mouse or finger, or moved with the arrow keys. The server says what follows from
   it: while something moves, in words; when it is let go, the whole plan anew. */
(() => {
  "use strict";

  const STEP = 0.05;
  const MOVES = { ArrowLeft: [-1, 0, 0], ArrowRight: [1, 0, 0], ArrowUp: [0, 1, 0], ArrowDown: [0, -1, 0], PageUp: [0, 0, 1], PageDown: [0, 0, -1] };
  const SETTLES_MS = 350;
  const ASKS_MS = 120;
  let held = null;
  let waiting = 0;
  let asked = 0;

  const root = () => document.querySelector("#plan-view");

  function snapped(value) {
    return Math.round(value / STEP) * STEP;
  }

  function figures(thing) {
    const found = { item: thing.dataset.item };
    for (const name of ["x", "y", "height"]) found[name] = `${Number(thing.dataset[name]).toFixed(3)} m`;
    return found;
  }

  function put(thing, x, y) {
    thing.dataset.x = snapped(x).toFixed(3);
    thing.dataset.y = snapped(y).toFixed(3);
    if (thing.dataset.item === "camera") thing.dataset.x = "0";
    thing.setAttribute("transform", `translate(${100 * Number(thing.dataset.x)} ${-100 * Number(thing.dataset.y)})`);
  }

  async function preview(thing) {
    const mine = ++asked;
    const answer = await fetch(`${root().dataset.preview}?${new URLSearchParams(figures(thing))}`, { headers: { "HX-Request": "true" } }).catch(() => null);
    if (!answer || mine !== asked) return;
    const told = document.querySelector("#plan-moving");
    if (told) told.innerHTML = answer.ok || answer.status === 422 ? await answer.text() : "";
  }

  function ask(thing) {
    clearTimeout(preview.timer);
    preview.timer = setTimeout(() => preview(thing), ASKS_MS);
  }

  function keep(thing) {
    clearTimeout(preview.timer);
    asked += 1;
    const token = root().querySelector("[name=csrf_token]").value;
    const back = thing.id;
    window.htmx
      .ajax("POST", root().dataset.move, { source: root(), target: "#plan-view", swap: "innerMorph", values: { ...figures(thing), csrf_token: token } })
      .then(() => {
        const again = document.getElementById(back);
        if (again && document.activeElement === document.body) again.focus({ preventScroll: true });
      });
  }

  function at(event, svg) {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return [point.x / 100, -point.y / 100];
  }

  document.addEventListener("pointerdown", (event) => {
    const thing = event.target.closest && event.target.closest(".plan-thing");
    if (!thing || event.button) return;
    event.preventDefault();
    const svg = thing.ownerSVGElement;
    const [x, y] = at(event, svg);
    held = { thing, svg, off: [Number(thing.dataset.x) - x, Number(thing.dataset.y) - y], moved: false };
    thing.classList.add("held");
    thing.focus({ preventScroll: true });
    svg.setPointerCapture(event.pointerId);
  });

  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const [x, y] = at(event, held.svg);
    const before = held.thing.getAttribute("transform");
    put(held.thing, x + held.off[0], y + held.off[1]);
    if (held.thing.getAttribute("transform") !== before) {
      held.moved = true;
      ask(held.thing);
    }
  });

  function letGo() {
    if (!held) return;
    held.thing.classList.remove("held");
    if (held.moved) keep(held.thing);
    held = null;
  }

  document.addEventListener("pointerup", letGo);
  document.addEventListener("pointercancel", letGo);

  document.addEventListener("keydown", (event) => {
    const thing = event.target.closest && event.target.closest(".plan-thing");
    if (!thing) return;
    if (event.key === "Enter") {
      const row = document.getElementById(thing.id.replace("thing-", "row-"));
      if (row) row.querySelector("input[type=text]").focus();
      return;
    }
    const move = MOVES[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    const far = STEP * (event.shiftKey ? 5 : 1);
    put(thing, Number(thing.dataset.x) + move[0] * far, Number(thing.dataset.y) + move[1] * far);
    thing.dataset.height = Math.max(0.1, snapped(Number(thing.dataset.height) + move[2] * far)).toFixed(3);
    ask(thing);
    clearTimeout(waiting);
    waiting = setTimeout(() => keep(thing), SETTLES_MS);
  });
})();
