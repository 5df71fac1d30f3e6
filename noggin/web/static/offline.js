// Keeps the day readable without the server, where the browser allows it (this machine, or TLS): starts the
// worker, names it the pages of the day, and says of which instant a page is that it gave.
(() => {
  const kept = document.querySelector("meta[name=kept]")?.content;
  if (kept) {
    const of = new Date(kept);
    const day = of.toDateString() === new Date().toDateString() ? "" : ` on ${of.toLocaleDateString()}`;
    const line = document.createElement("p");
    line.className = "told as-of";
    line.textContent = `Noggin is not answering. This page is as it was at ${of.toTimeString().slice(0, 5)}${day}.`;
    document.getElementById("content").before(line);
  }
  if (!navigator.serviceWorker || document.querySelector("meta[name=root]").dataset.pocket !== undefined) return;
  // What came by the worker is kept already.
  const controlled = navigator.serviceWorker.controller !== null;
  navigator.serviceWorker
    .register("/worker.js")
    .then(() => navigator.serviceWorker.ready)
    .then(({ active }) => {
      const pages = document.querySelector("meta[name=keep-pages]")?.content.split(" ") ?? [];
      const own = kept || controlled ? [] : [location.pathname];
      active.postMessage({ keep: [...own, ...pages] });
    })
    .catch(() => {}); // a browser that will not have it shows pages from the server only
  navigator.serviceWorker.addEventListener("message", (event) => {
    if (event.data.kept !== undefined) document.documentElement.dataset.kept = event.data.kept;
  });
})();
