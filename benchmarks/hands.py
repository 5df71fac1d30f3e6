"""How many requests a second Noggin answers to one, eight and 32 people at once: each reads the Bench, the
day, the day live, Today and the kit, and changes a set-up of their own. With a commit given, the Noggin of
that commit is asked in the same run, in turns, so that a busy machine slows both alike.

Run: python -m benchmarks.hands [COMMIT]
"""

import http.client
import re
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, closing, contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from threading import Barrier
from urllib.parse import urlencode

BY_THE_SERVER = Path(__file__).parent.parent
USERS = (1, 8, 32)
ROUNDS = 3
SECONDS = 5.0
"""How long each number of people is at it in a round."""

WANTED = 3.0
"""What eight people should get, as a ratio to the commit before hands were counted."""


@dataclass
class Hand:
    """One person: a connection that stays, a set-up and a token."""

    port: int
    setup: str = ""
    day: str = ""
    cookie: str = ""
    token: str = ""
    took: list[float] = field(default_factory=list)

    def work(self, ready: Barrier, seconds: float) -> None:
        """Do one thing after another for so long."""
        with closing(http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)) as line:
            if not self.setup:
                self._begin(line)
            ready.wait()
            end = time.perf_counter() + seconds
            for number in range(1_000_000):
                for ask in self._round(number):
                    began = time.perf_counter()
                    if began > end:
                        return
                    self._ask(line, *ask)
                    self.took.append(time.perf_counter() - began)

    def _round(self, number: int) -> Iterator[tuple[str, dict[str, str] | None]]:
        """Two changes, each with what confirms the board; pages; and whether anything is new, as every
        page asks."""
        bench, day = self.setup, self.day
        step = {"by": "1" if number % 2 else "-1", "csrf_token": self.token}
        yield bench, None
        for figure in ("aperture", "ev_background"):
            yield f"{bench}/figures/{figure}", step
            yield f"{bench}/rest?steps=1", {}
        yield day, None
        yield f"{day}/live", None
        yield "/", None
        yield "/kit", None
        yield "/alive", None

    def _begin(self, line: http.client.HTTPConnection) -> None:
        """Make a set-up of one's own, and look for the day."""
        _, page = self._ask(line, "/setups/1", None)
        self.token = _found(r'name="csrf_token"\s+value="([^"]+)"', page)
        self.setup, _ = self._ask(line, "/setups/1/copy", {"csrf_token": self.token})
        self.day = _found(r'href="(/shoots/\d+)"', self._ask(line, "/shoots", None)[1])

    def _ask(
        self, line: http.client.HTTPConnection, path: str, form: dict[str, str] | None
    ) -> tuple[str, str]:
        """Where the answer leads and what it says; once everything is known as a browser asks for it, which
        is compressed."""
        headers = {"Cookie": self.cookie} if self.cookie else {}
        if self.day:
            headers |= {"Accept-Encoding": "br, gzip"}
            headers |= {"HX-Request": "true"} if form is not None else {}
        if form:
            headers |= {"Content-Type": "application/x-www-form-urlencoded"}
        line.request("POST" if form else "GET", path, urlencode(form or {}) or None, headers)
        answer = line.getresponse()
        text = answer.read().decode(errors="replace")
        if answer.status >= 400:
            raise RuntimeError(f"{path} was answered with {answer.status}")
        if answer.getheader("Set-Cookie"):
            self.cookie = str(answer.getheader("Set-Cookie")).partition(";")[0]
        return answer.getheader("Location", ""), text


def _found(pattern: str, page: str) -> str:
    found = re.search(pattern, page)
    if found is None:
        raise RuntimeError(f"no {pattern} on the page")
    return found[1]


@contextmanager
def served(code: Path, folder: Path) -> Iterator[list[Hand]]:
    """The Noggin of a checkout on a database with the demo; gives all hands."""
    database = folder / "noggin.sqlite3"
    command = [sys.executable, "-m", "noggin.cli"]
    subprocess.run([*command, "demo", "--database", database], cwd=code, check=True, capture_output=True)  # noqa: S603
    port = _free_port()
    server = subprocess.Popen(  # noqa: S603 - our own command
        [*command, "serve", "--database", database, "--port", str(port)],
        cwd=code,
        stdout=subprocess.DEVNULL,
    )
    try:
        _wait_for(port)
        yield [Hand(port) for _ in range(max(USERS))]
    finally:
        server.terminate()
        server.wait()


def rate(hands: list[Hand], seconds: float = SECONDS) -> float:
    """Requests that were answered in a second to so many people."""
    ready = Barrier(len(hands))
    for hand in hands:
        hand.took.clear()
    with ThreadPoolExecutor(len(hands)) as pool:
        list(pool.map(lambda hand: hand.work(ready, seconds), hands))
    return sum(len(hand.took) for hand in hands) / seconds


def main(commit: str = "") -> None:
    """Print requests a second and how long one takes; with a commit, beside those of that commit."""
    with tempfile.TemporaryDirectory() as name, ExitStack() as stack:
        folder = Path(name)
        codes = {"now": BY_THE_SERVER}
        if commit:
            codes["before"] = stack.enter_context(checkout(commit, folder / "code"))
        hands = {}
        for when, code in codes.items():
            (folder / when).mkdir()
            hands[when] = stack.enter_context(served(code, folder / when))
        for users in USERS:
            rates: dict[str, list[float]] = {when: [] for when in codes}
            for _ in range(ROUNDS):
                for when in codes:
                    rates[when].append(rate(hands[when][:users]))
            _say(users, rates, [time for hand in hands["now"][:users] for time in hand.took])


def _say(users: int, rates: dict[str, list[float]], took: list[float]) -> None:
    times = sorted(took)
    words = f"{users} at once: {median(rates['now']):.0f} requests a second"
    half, most = 1000 * median(times), 1000 * times[len(times) * 95 // 100]
    words += f", half within {half:.0f} ms, 95% within {most:.0f}"
    if "before" in rates:
        ratio = median(now / then for now, then in zip(rates["now"], rates["before"], strict=True))
        words += f"; before {median(rates['before']):.0f}, ratio {ratio:.2f}"
        words += f" (wanted {WANTED})" if users == 8 else ""
    print(words)


@contextmanager
def checkout(commit: str, folder: Path) -> Iterator[Path]:
    """The files of a commit."""
    git = ["git", "-C", str(BY_THE_SERVER), "worktree"]
    subprocess.run([*git, "add", "--detach", folder, commit], check=True, capture_output=True)  # noqa: S603
    try:
        yield folder
    finally:
        subprocess.run([*git, "remove", "--force", folder], check=True, capture_output=True)  # noqa: S603


def _free_port() -> int:
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", 0))
        return int(listener.getsockname()[1])


def _wait_for(port: int) -> None:
    for _ in range(300):
        with socket.socket() as line:
            if line.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.1)
    raise RuntimeError("the server did not begin to answer")


if __name__ == "__main__":
    main(*sys.argv[1:])
