// Runs before the page paints: the theme kept in this browser, else what the system prefers.
(() => {
  const root = document.documentElement;
  const system = matchMedia("(prefers-color-scheme: dark)");
  const show = () => {
    const kept = localStorage.getItem("theme");
    root.dataset.bsTheme = kept ?? (system.matches ? "dark" : "light");
  };
  show();
  system.addEventListener("change", show);
  document.addEventListener("click", (event) => {
    if (!event.target.closest("[data-theme-switch]")) return;
    localStorage.setItem("theme", root.dataset.bsTheme === "dark" ? "light" : "dark");
    show();
  });
})();
