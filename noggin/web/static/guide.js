// The guide follows what is done on its page: when a part of the page was swapped, it asks how it stands now.
(() => {
  "use strict";

  const guide = document.getElementById("guide");
  let asked = false;
  // The page makes room below for the card. No style may look into the page for it (`body:has(…)`): every
  // change anywhere would then cost the styles of the whole page.
  const makeRoom = () => document.body.classList.toggle("guided", Boolean(guide.querySelector(".guide-card")));
  makeRoom();

  document.addEventListener("htmx:after:swap", (event) => {
    makeRoom();
    if (asked || !guide.dataset.guide || guide.contains(event.target)) return;
    asked = true;
    setTimeout(async () => {
      await htmx.ajax("GET", guide.dataset.guide, { target: "#guide", swap: "innerMorph" });
      asked = false;
    });
  });
})();
