// Two pictures over each other, and a slider that says where the one ends and the other begins. The picture itself
// can be dragged too.
(() => {
  "use strict";

  for (const both of document.querySelectorAll("[data-two]")) {
    const slider = both.querySelector("input");
    const pictures = both.querySelector(".two-pictures");
    const show = () => pictures.style.setProperty("--two-at", `${slider.value}%`);

    const to = (event) => {
      const box = pictures.getBoundingClientRect();
      slider.value = Math.round((100 * (event.clientX - box.left)) / box.width);
      show();
    };

    both.classList.add("two-live");
    both.querySelector(".two-slider").hidden = false;
    slider.addEventListener("input", show);
    pictures.addEventListener("pointerdown", (event) => {
      event.preventDefault();
      pictures.setPointerCapture(event.pointerId);
      to(event);
    });
    pictures.addEventListener("pointermove", (event) => {
      if (pictures.hasPointerCapture(event.pointerId)) to(event);
    });
    show();
  }
})();
