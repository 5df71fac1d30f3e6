// A dial of a camera drill: a list, with a step back and on for a thumb.
(() => {
  "use strict";

  for (const dial of document.querySelectorAll("[data-dial]")) {
    const list = dial.querySelector("select");
    for (const button of dial.querySelectorAll("[data-by]")) {
      button.hidden = false;
      button.addEventListener("click", () => {
        const wanted = list.selectedIndex + Number(button.dataset.by);
        list.selectedIndex = Math.min(Math.max(wanted, 0), list.options.length - 1);
      });
    }
  }
})();
