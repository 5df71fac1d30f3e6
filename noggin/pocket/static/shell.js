// The page that stays: it starts Python, shows Noggin's pages in a frame, and hands what they ask from the
// service worker to Python and back.
const SCOPE = new URL("./", location.href);
const PAGES = new URL("app/", SCOPE);
const says = document.getElementById("says");
const bar = document.getElementById("done");
const frame = document.getElementById("pages");

const stop = (words) => {
  says.textContent = words;
  bar.hidden = true;
  document.documentElement.dataset.state = "stopped";
};

const host = () => {
  const python = new Worker("python_host.js", { type: "module" });
  const ready = new Promise((resolve, reject) => {
    python.onerror = (event) => reject(new Error(event.message));
    python.onmessage = ({ data }) => {
      if (data.step) {
        says.textContent = data.step;
        bar.value += 1;
      }
      if (data.failed) reject(new Error(data.failed, { cause: data.whole }));
      if (data.ready) resolve(data);
    };
  });
  python.postMessage({ origin: location.origin, root: PAGES.pathname.slice(0, -1) });
  return { python, ready };
};

const controlled = async () => {
  await navigator.serviceWorker.register("service_worker.js");
  await navigator.serviceWorker.ready;
  if (navigator.serviceWorker.controller) return;
  await new Promise((resolve) => navigator.serviceWorker.addEventListener("controllerchange", resolve, { once: true }));
};

const wanted = () => new URL(location.hash.slice(1).replace(/^\/+/, ""), PAGES);

const show = () => {
  frame.addEventListener("load", () => {
    const shown = frame.contentWindow.location;
    document.title = frame.contentDocument.title;
    const path = shown.pathname.slice(PAGES.pathname.length) + shown.search + shown.hash;
    history.replaceState(null, "", `#/${path}`);
    document.documentElement.dataset.state = "open";
    document.getElementById("start").hidden = true;
    frame.hidden = false;
  });
  const page = wanted();
  frame.src = page.href.startsWith(PAGES.href) ? page.href : PAGES.href;
};

const start = async () => {
  if (!navigator.serviceWorker) {
    stop("This browser keeps nothing for this address. Open it under https, or on this machine.");
    return;
  }
  says.textContent = "Fetching what it runs on.";
  await controlled(); // from then on every file comes from this browser
  const { python, ready } = host();
  navigator.serviceWorker.addEventListener("message", ({ data, ports }) => {
    if (data.ask) python.postMessage({ ask: data.ask }, [ports[0]]);
  });
  navigator.serviceWorker.startMessages();
  await ready;
  const lasting = await navigator.storage?.persist?.();
  document.documentElement.dataset.lasting = Boolean(lasting);
  show();
};

// Two copies of one database would each miss what the other keeps.
navigator.locks.request(`noggin ${SCOPE.pathname}`, { ifAvailable: true }, async (lock) => {
  if (!lock) {
    stop("Noggin is open in another tab. Go on there, or close it and reload this one.");
    return;
  }
  try {
    await start();
  } catch (error) {
    stop(`Noggin could not start: ${error.message}`);
    console.error(error.cause ?? error);
    return;
  }
  await new Promise(() => {}); // held until the tab is closed
});
