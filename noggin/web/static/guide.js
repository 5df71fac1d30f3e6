// The guide follows what is done on its page: when a part of the page was swapped, it asks how it stands now.
(() => {
  "use strict";

  const guide = document.getElementById("guide");
  let asked = false;

  document.addEventListener("htmx:after:swap", (event) => {
    if (asked || !guide.dataset.guide || guide.contains(event.target)) return;
    asked = true;
    setTimeout(async () => {
      await htmx.ajax("GET", guide.dataset.guide, { target: "#guide", swap: "innerMorph" });
      asked = false;
    });
  });
})();
