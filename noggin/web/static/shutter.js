/* Moves through the moments that the server has worked out: curtains, the mark of time, the frame so far and the
   sentence of the moment. It plays to the end and stops there; who wants less motion is shown it step by step. */
"use strict";

(function () {
  const STEP_MS = 160;
  const CALM_STEP_MS = 700;
  const HEIGHT = 180;
  let playing = 0;

  const part = (name) => document.querySelector(name);

  function show(at) {
    const shutter = part("[data-shutter]");
    const [first, second] = shutter.dataset.passed.trim().split(" ")[at].split(",").map(Number);
    const said = part("[data-states]").children[at].textContent;
    const [one, other] = ["first", "second"].map((name) => part(`[data-curtain=${name}]`));
    if (shutter.dataset.rowsApart === "1") {
      one.setAttribute("height", HEIGHT * (1 - first));
      other.setAttribute("y", HEIGHT * (1 - second));
      other.setAttribute("height", HEIGHT * second);
    } else {
      one.setAttribute("opacity", 1 - first);
      other.setAttribute("opacity", second);
    }
    part("[data-gathered]").setAttribute("y", -HEIGHT * at);
    part("[data-cursor]").setAttribute("transform", `translate(${shutter.dataset.cursors.trim().split(" ")[at]} 0)`);
    part("#shutter-state").textContent = said;
    part("#shutter-at").value = at;
    part("#shutter-at").setAttribute("aria-valuetext", said);
  }

  function stop() {
    clearTimeout(playing);
    playing = 0;
    const button = part("[data-play]");
    if (button) button.textContent = "Play";
  }

  function play() {
    const slider = part("#shutter-at");
    const last = Number(slider.max);
    const calm = matchMedia("(prefers-reduced-motion: reduce)").matches;
    part("[data-play]").textContent = "Stop";
    let at = Number(slider.value) >= last ? 0 : Number(slider.value);
    const step = () => {
      show(at);
      if (at >= last) return stop();
      at += 1;
      playing = setTimeout(step, calm ? CALM_STEP_MS : STEP_MS);
    };
    step();
  }

  document.addEventListener("input", (event) => {
    if (event.target.id !== "shutter-at") return;
    stop();
    show(Number(event.target.value));
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-play]")) (playing ? stop : play)();
  });
  const offer = () => {
    const button = part("[data-play]");
    if (button) button.hidden = false;
  };
  document.addEventListener("htmx:after:swap", () => {
    stop();
    offer();
  });
  offer();
})();
