// Runs Python, and what of Noggin answers pages, beside the page. Requests come one after another; what one of
// them changed is in the browser's own file system before its answer goes out.
import { loadPyodide } from "./vendor/pyodide.mjs";

const KEPT = ["noggin-0", "noggin-1"];
const COMPILED = "byte_code.zip";
const asked = [];
let phone = null;
let python = null;

const fetched = async (name) => {
  const answer = await fetch(name);
  if (!answer.ok) throw new Error(`${name} is not there (${answer.status})`);
  return answer.arrayBuffer();
};

// What another site of this address keeps is its own.
const SCOPE = new URL("./", import.meta.url).pathname;

const opened = async () => {
  const root = await navigator.storage.getDirectory();
  const folder = await root.getDirectoryHandle(`noggin${SCOPE.replaceAll("/", "-")}`, { create: true });
  const files = await Promise.all(KEPT.map((name) => folder.getFileHandle(name, { create: true })));
  return Promise.all(files.map((file) => file.createSyncAccessHandle()));
};

const whole = (slot) => {
  const content = new Uint8Array(slot.getSize());
  slot.read(content, { at: 0 });
  return content;
};

// Written to its end and seen safe, or an error: half a slot is none.
const writer = (slots) => (place, content) => {
  const bytes = content.toJs();
  const slot = slots[place];
  slot.truncate(0);
  const count = slot.write(bytes, { at: 0 });
  if (count !== bytes.length) throw new Error("no room");
  slot.flush();
};

const start = async ({ origin, root }) => {
  const step = (words) => postMessage({ step: words });
  const files = Promise.all(["vendor/packages.tar.xz", "noggin.zip", "given.zip"].map(fetched));
  step("Starting Python.");
  python = await loadPyodide({
    indexURL: new URL("./vendor/", import.meta.url).href,
    lockFileContents: { info: { arch: "wasm32", abi_version: "2026_0", platform: "emscripten_5_0_3", python: "3.14.2", version: "314.0.7" }, packages: {} },
  });
  step("Unpacking Noggin.");
  const [packages, own, given] = await files;
  python.unpackArchive(packages, "xztar", { extractDir: "/lib/packages" });
  python.unpackArchive(own, "zip", { extractDir: "/lib/packages" });
  const compiled = await (await caches.match(COMPILED))?.arrayBuffer();
  if (compiled) python.unpackArchive(compiled, "zip", { extractDir: "/lib/packages" });
  step("Opening what is kept on this phone.");
  const slots = await opened();
  step("Laying the pages out.");
  python.globals.set("given", {
    origin,
    root,
    keep: writer(slots),
    first: whole(slots[0]),
    second: whole(slots[1]),
    documents: new Uint8Array(given),
  });
  phone = await python.runPythonAsync(`
import os, sys
from pathlib import Path
sys.path.insert(0, "/lib/packages")
sys.dont_write_bytecode = False
for source in Path("/lib/packages/noggin").rglob("*.py"):
    os.utime(source, (0, 0))
from noggin.pocket.absent import stand_in
stand_in()
from noggin.pocket.in_browser import start
start(given)
`);
  postMessage({ ready: true });
  if (!compiled) await keepCompiled();
};

// With the files of this version, so that it goes with them.
const keepCompiled = async () => {
  const names = (await caches.keys()).filter((name) => name.startsWith(`noggin-pocket-${SCOPE}-`));
  if (names.length !== 1) return;
  const packed = python.runPython("from noggin.pocket.in_browser import byte_code\nbyte_code()");
  const cache = await caches.open(names[0]);
  await cache.put(COMPILED, new Response(packed.toJs()));
  packed.destroy();
};

// What goes wrong outside of Noggin's own pages is answered too: nobody waits for ever.
const answer = (asked, port) => {
  try {
    answerFromPages(asked, port);
  } catch (error) {
    const words = `Noggin stopped on this phone (${String(error).trim().split("\n").at(-1)}). Reload it: what was kept is safe.`;
    const body = new TextEncoder().encode(words).buffer;
    port.postMessage({ status: 500, headers: [["Content-Type", "text/plain; charset=utf-8"]], body }, [body]);
  }
};

const answerFromPages = ({ method, path, headers, body }, port) => {
  const given = phone(method, path, python.toPy(headers), python.toPy(new Uint8Array(body)));
  const [status, sent, content] = given.toJs({ create_pyproxies: false });
  given.destroy();
  const bytes = content.slice().buffer;
  port.postMessage({ status, headers: sent, body: bytes }, [bytes]);
};

onmessage = ({ data, ports }) => {
  if (data.ask) {
    if (phone) answer(data.ask, ports[0]);
    else asked.push([data.ask, ports[0]]);
    return;
  }
  start(data).then(
    () => asked.splice(0).forEach((one) => answer(...one)),
    (error) => postMessage({ failed: String(error.message ?? error).trim().split("\n").at(-1), whole: String(error) }),
  );
};
