"""Eight clients on one Noggin as it is served, for ten minutes: they look at pages and pictures, move
lights, step figures, fire simulated frames and keep readings. The memory of every process stays under its
bound, nothing is answered with a status of 500, and requests grow no slower.

Run: python -m tools.soak [MINUTES] [CLIENTS]
"""

import json
import random
import re
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from dataclasses import dataclass, field
from http.cookiejar import CookieJar
from pathlib import Path
from statistics import median, quantiles

from noggin.services.clock import system_clock
from noggin.services.whole.demo import load_demo_once
from noggin.store.store import Store
from noggin.web.shared.memory import READER_MOST_MB, SERVER_MOST_MB

PAGES = ("/", "/setups", "/setups/{n}", "/setups/{n}/plan", "/setups/{n}/shoot", "/kit", "/log", "/shoots")
PROOF = re.compile(r'/setups/\d+/proofs/[^"\' ]+?\.webp[^"\' ]*')
TOKEN = re.compile(r'name="csrf_token" value="([^"]+)"')

P95_MOST = 4.0
"""So many times the median the 95th percentile may be."""


@dataclass
class Watched:
    """What clients and the watch saw: seconds of each kind of request, in order, and what went wrong."""

    seconds: dict[str, list[float]] = field(default_factory=dict)
    troubles: list[str] = field(default_factory=list)
    server_mb: list[float] = field(default_factory=list)
    reader_mb: list[float] = field(default_factory=list)

    def ask(
        self, browser: urllib.request.OpenerDirector, kind: str, url: str, form: dict[str, str] | None
    ) -> str:
        """Send one request and note how it went; what it answered."""
        data = urllib.parse.urlencode(form).encode() if form is not None else None
        began = time.monotonic()
        try:
            with browser.open(url, data, timeout=120) as answer:
                text: str = answer.read().decode(errors="replace")
        except urllib.error.HTTPError as error:
            text = ""
            if error.code >= 500:
                self.troubles.append(f"{error.code} {url}")
        self.seconds.setdefault(kind, []).append(time.monotonic() - began)
        return text


def act(home: str, watched: Watched, until: float, seed: int) -> None:
    """What one client does, again and again."""
    chance = random.Random(seed)  # noqa: S311 - repeatable, not secret
    browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
    while time.monotonic() < until:
        number = chance.randint(1, 8)
        page = chance.choice(PAGES).format(n=number)
        text = watched.ask(browser, "page", home + page, None)
        for address in sorted(set(PROOF.findall(text)))[:2]:
            watched.ask(browser, "picture", home + address.replace("&amp;", "&"), None)
        token = TOKEN.search(text)
        if not token:
            continue
        form = {"csrf_token": token[1]}
        key, figure = chance.choice(
            (
                ("subject_distance", f"{chance.uniform(1.5, 9):.1f}"),
                ("light_distance-0", f"{chance.uniform(1, 6):.1f}"),
                ("background_level", f"{chance.uniform(-3, 0):.1f}"),
                ("aperture", chance.choice(("2", "2.8", "4"))),
            )
        )
        watched.ask(browser, "figure", f"{home}/setups/{number}/figures/{key}", {**form, "text": figure})
        spot = f"{home}/setups/{number}/shoot"
        if chance.random() < 0.1:
            watched.ask(browser, "begin", f"{spot}/begin", {**form, "rehearsal": "1"})
        if chance.random() < 0.3:
            watched.ask(browser, "pop", f"{spot}/fire", {**form, "by": "raw"})


def watch(home: str, pid: int, watched: Watched, until: float) -> None:
    """Ask the server once a second what it holds."""
    while time.monotonic() < until:
        with urllib.request.urlopen(f"{home}/health", timeout=120) as answer:  # noqa: S310 - our own
            found = json.load(answer)
        pages = int(Path(f"/proc/{pid}/statm").read_text().split()[1])
        watched.server_mb.append(pages * 4096 / 1e6)
        watched.reader_mb += found["readers_mb"]
        time.sleep(1)


def soak(minutes: float, clients: int) -> Watched:
    """Serve the demo, and let clients at it for so long."""
    watched = Watched()
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "noggin.sqlite3"
        store = Store.on_file(database)
        load_demo_once(store, system_clock)
        store.close()
        noggin = Path(sys.executable).with_name("noggin")
        command = [str(noggin), "serve", "--database", str(database), "--port", "8765"]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:  # noqa: S603 - ours
            next(iter(server.stdout or ()))
            home, until = "http://127.0.0.1:8765", time.monotonic() + 60 * minutes
            work = [
                threading.Thread(target=act, args=(home, watched, until, seed)) for seed in range(clients)
            ]
            work.append(threading.Thread(target=watch, args=(home, server.pid, watched, until)))
            for one in work:
                one.start()
            for one in work:
                one.join()
            server.terminate()
    return watched


def main(arguments: list[str]) -> int:
    """Print what was seen; 1 where a bound was passed."""
    minutes = float(arguments[0]) if arguments else 10.0
    watched = soak(minutes, int(arguments[1]) if len(arguments) > 1 else 8)
    faults = [*watched.troubles, *([] if watched.seconds and watched.server_mb else ["nothing was seen"])]
    for kind, seconds in sorted(watched.seconds.items()):
        middle, late = median(seconds), quantiles(seconds, n=20)[-1] if len(seconds) > 1 else seconds[0]
        early, after = (
            median(seconds[: len(seconds) // 4] or seconds),
            median(seconds[-len(seconds) // 4 :]),
        )
        print(
            f"{kind:8} {len(seconds):6} requests, median {1000 * middle:6.0f} ms, 95th percentile"
            f" {late / middle:4.1f} times that; last quarter {after / early:4.2f} times the first"
        )
    every = [one for seconds in watched.seconds.values() for one in seconds]
    ratio = quantiles(every, n=20)[-1] / median(every) if len(every) > 1 else 0.0
    print(f"all      {len(every):6} requests, 95th percentile {ratio:4.1f} times the median")
    if ratio > P95_MOST:
        faults.append(f"the 95th percentile is {ratio:.1f} times the median")
    server, reader = max(watched.server_mb, default=0), max(watched.reader_mb, default=0)
    held = f"server held at most {server:.0f} MB (bound {SERVER_MOST_MB}), a reader {reader:.0f} MB"
    print(f"{held} (bound {READER_MOST_MB})")
    if server > SERVER_MOST_MB or reader > READER_MOST_MB:
        faults.append("memory passed its bound")
    for fault in faults[:20]:
        print(fault)
    print(f"{len(faults)} faults")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
