// The pages of a day stay readable without the server: what was looked at, and every set-up of a day that is
// open, is kept as it was last, with the instant it is of. While the server answers, it alone is asked. Which pages are
// kept (KEPT) is written before this by the server (`shared/kept_pages.py`).
const PAGES = "noggin-pages-1";
const FILES = "noggin-files-2";
const FILES_MOST = 300;
const WAIT_MS = 5000;
const PICTURE = /^\/setups\/\d+\/proofs\//;

const isFile = (url) => (url.pathname.startsWith("/static/") && url.searchParams.has("v")) || PICTURE.test(url.pathname);

const trim = async () => {
  const files = await caches.open(FILES);
  const kept = await files.keys();
  for (const old of kept.slice(0, Math.max(0, kept.length - FILES_MOST))) await files.delete(old);
};
const file = async (request) => {
  const files = await caches.open(FILES);
  const kept = await files.match(request);
  if (kept) return kept;
  const answer = await fetch(request);
  // One that was sent on is another picture than the address names.
  if (answer.ok && !answer.redirected) {
    await files.put(request, answer.clone());
    trim();
  }
  return answer;
};

// A page as it is kept says of which instant it is.
const keep = async (url, answer) => {
  if (!answer.ok || answer.redirected || !answer.headers.get("Content-Type")?.startsWith("text/html")) return "";
  const text = await answer.text();
  const dated = text.replace("<head>", `<head><meta name="kept" content="${new Date().toISOString()}">`);
  const headers = { "Content-Type": "text/html; charset=utf-8" };
  const policy = answer.headers.get("Content-Security-Policy");
  if (policy) headers["Content-Security-Policy"] = policy;
  await (await caches.open(PAGES)).put(url.pathname, new Response(dated, { headers }));
  return text;
};
// Where a page is kept, the server has some seconds to begin its answer; where none is, as long as it takes.
const page = async (event, url) => {
  const kept = await (await caches.open(PAGES)).match(url.pathname);
  const patience = new AbortController();
  const end = kept && setTimeout(() => patience.abort(), WAIT_MS);
  try {
    const answer = await fetch(event.request, { signal: patience.signal });
    // The pass-phrase was changed, or somebody signed out: what is kept is not this browser's to read any more.
    if (answer.headers.has("Noggin-Forget")) for (const name of [PAGES, FILES]) await caches.delete(name);
    if (KEPT.test(url.pathname)) event.waitUntil(keep(url, answer.clone()));
    return answer;
  } catch (error) {
    if (kept) return kept;
    throw error;
  } finally {
    clearTimeout(end);
  }
};

addEventListener("install", () => skipWaiting());
addEventListener("activate", (event) =>
  event.waitUntil(
    (async () => {
      const own = (name) => !name.startsWith("noggin-pocket-"); // the pocket edition looks after its own
      const old = (name) => own(name) && ![PAGES, FILES].includes(name);
      for (const name of (await caches.keys()).filter(old)) await caches.delete(name);
      await clients.claim();
    })(),
  ),
);
addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== location.origin) return;
  if (isFile(url)) event.respondWith(file(event.request));
  else if (event.request.mode === "navigate" && !url.pathname.includes(".")) event.respondWith(page(event, url));
});

// A day that is open names its pages; each is fetched and kept with its pictures, one after another.
const fetched = async (path) => {
  const url = new URL(path, location.origin);
  const text = await keep(url, await fetch(url, { headers: { "Noggin-Ahead": "1" } }));
  for (const [, source] of text.matchAll(/(?:src|href)="(\/[^"]+)"/g)) {
    const found = new URL(source.replaceAll("&amp;", "&"), location.origin);
    // Of proofs the small ones: a large one takes the server half a second, and shows nothing more of the light.
    const small = found.pathname.includes("/proofs/board/") || found.searchParams.get("size") === "small";
    const large = PICTURE.test(found.pathname) && !small;
    if (isFile(found) && !large) await file(new Request(found));
  }
};
addEventListener("message", (event) => {
  event.waitUntil(
    (async () => {
      for (const path of event.data.keep ?? []) await fetched(path).catch(() => {});
      event.source?.postMessage({ kept: event.data.keep?.length ?? 0 });
    })(),
  );
});
