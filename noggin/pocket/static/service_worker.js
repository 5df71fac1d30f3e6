// Keeps the files of the site, so that it opens without a network, and lets Python on the phone answer for
// Noggin's pages. VERSION and FILES stand before this.
const SCOPE = new URL("./", location.href).pathname;
const OWN = `noggin-pocket-${SCOPE}-`; // another site of this address has its own
const CACHE = `${OWN}${VERSION}`;
const PAGES = `${SCOPE}app/`;

self.addEventListener("install", (event) => {
  const fresh = FILES.map((name) => new Request(SCOPE + name, { cache: "no-cache" }));
  event.waitUntil(
    caches
      .open(CACHE)
      .then((cache) => cache.addAll(fresh))
      .then(() => self.skipWaiting()),
  );
});

self.addEventListener("activate", (event) => {
  const old = caches
    .keys()
    .then((names) => names.filter((name) => name.startsWith(OWN) && name !== CACHE))
    .then((names) => Promise.all(names.map((name) => caches.delete(name))));
  event.waitUntil(old.then(() => self.clients.claim()));
});

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (url.origin !== location.origin) return;
  if (url.pathname.startsWith(PAGES)) event.respondWith(fromPython(event.request, url));
  else if (url.pathname.startsWith(SCOPE)) event.respondWith(fromCache(event.request, url));
});

const fromCache = async (request, url) => {
  const cache = await caches.open(CACHE);
  return (await cache.match(url.pathname, { ignoreVary: true })) ?? fetch(request);
};

const shell = async () => {
  const windows = await self.clients.matchAll({ type: "window", includeUncontrolled: true });
  return windows.find((one) => one.frameType === "top-level" && new URL(one.url).pathname === SCOPE);
};

const fromPython = async (request, url) => {
  const under = url.pathname.slice(PAGES.length - 1) + url.search;
  const page = await shell();
  if (!page) {
    if (request.mode === "navigate") return Response.redirect(`${SCOPE}#${under}`, 302);
    return new Response("Noggin is closed.", { status: 503 });
  }
  const body = ["GET", "HEAD"].includes(request.method) ? new ArrayBuffer(0) : await request.arrayBuffer();
  const headers = [...request.headers].filter(([name]) => name !== "content-length");
  headers.push(["Referer", request.referrer]);
  const { port1, port2 } = new MessageChannel();
  const answered = new Promise((resolve) => (port1.onmessage = ({ data }) => resolve(data)));
  page.postMessage({ ask: { method: request.method, path: under, headers, body } }, [port2, body]);
  const { status, headers: sent, body: content } = await answered;
  const empty = [204, 205, 304].includes(status) || (status >= 300 && status < 400);
  return new Response(empty ? null : content, { status, headers: sent.filter(([name]) => !/^(set-cookie|content-length)$/i.test(name)) });
};
