// Runs before the page paints: the theme kept in this browser, else the system's, which the third press brings back.
(() => {
  const root = document.documentElement;
  const system = matchMedia("(prefers-color-scheme: dark)");
  const own = () => (system.matches ? "dark" : "light");
  const other = () => (system.matches ? "light" : "dark");
  const words = () => {
    const kept = localStorage.getItem("theme");
    return kept ? `Theme: ${kept}` : `Theme: as the system (${own()})`;
  };
  const show = () => {
    root.dataset.bsTheme = localStorage.getItem("theme") ?? own();
    for (const button of document.querySelectorAll("[data-theme-switch]")) {
      button.setAttribute("aria-label", words());
      button.title = words();
    }
  };
  show();
  system.addEventListener("change", show);
  document.addEventListener("DOMContentLoaded", show);
  document.addEventListener("click", (event) => {
    if (!event.target.closest("[data-theme-switch]")) return;
    const kept = localStorage.getItem("theme");
    if (!kept) localStorage.setItem("theme", other());
    else if (kept === other()) localStorage.setItem("theme", own());
    else localStorage.removeItem("theme");
    show();
    document.getElementById("announce").textContent = words();
  });
})();
