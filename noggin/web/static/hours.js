// The strip of the day begins at the hour that the set-up is for.
(() => {
  "use strict";

  const begin = () => {
    const strip = document.querySelector(".hours:not([data-begun])");
    const now = strip?.querySelector(".hour-now");
    if (!now) return;
    strip.dataset.begun = "";
    strip.scrollLeft = now.offsetLeft - strip.offsetLeft - (strip.clientWidth - now.offsetWidth) / 2;
  };

  document.addEventListener("htmx:after:swap", begin);
  begin();
})();
