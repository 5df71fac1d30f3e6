"""Who answers which request. Python works on one thing at a time in a process, and passing the work back
and forth between threads costs more than a third of it: so a process answers one request after another,
however many come at once, and further processes take pages that only read, and imports."""

from collections.abc import Callable, Iterable
from io import BytesIO
from threading import Condition, Thread
from typing import Any

from flask import Flask
from werkzeug.exceptions import HTTPException

from noggin.web.serving.reader_process import ReaderFailed, ReaderProcess
from noggin.web.shared.errors import TOO_SLOW
from noggin.web.shared.memory import READER_MOST_MB, SERVER_MOST_MB, give_back, held_mb

IMPORTS = (
    "setups.bring_in",
    "kit.bring_in",
    "shoots.bring_in",
    "safekeeping.bring_in",
    "shoots.place",
    "safekeeping.restore",
    "log.bring_in",
    "log.bring_in_log",
    "spot.pop_file",
    "log.measure",
    "log.full_size",
    "photograph.bring",
    "photograph.other",
    "photograph.scout",
    "kit.fit_curve",
)
"""What reads files from elsewhere: never in the process that everybody waits for, and not for long."""

BY_THE_SERVER = (
    "static", "alive", "service_worker", "setups.favicon", "gate.pair_page", "safekeeping.health"
)  # fmt: skip
"""What is read in no time, or goes by what only the server's own process remembers."""

PICTURES = (
    "hours.setup_picture",
    "hours.slot_picture",
    "practice.drill_picture",
    "practice.pictures",
    "proofs.board",
    "proofs.picture",
    "proofs.reading",
    "proofs.tones",
    "proofs.two_picture",
    "log.proof",
    "proofs.png",
    "proofs.svg",
)
"""What may take seconds to render, with many lights: a step taken meanwhile does not wait for it."""

READ_S, IMPORT_S = 30.0, 20.0
"""How long a page and an import may take in another process."""


GROWN_MB = 20
"""How much more than what it needs this process may hold before it looks again for what it can let go."""


class InTurn:
    """An application (WSGI, PEP 3333) that answers requests in turn, with some processes beside it."""

    def __init__(self, app: Flask, readers: int = 0, relieve: Callable[[], None] = give_back) -> None:
        """`relieve` lets go of what can be made again, when this process holds too much."""
        self._app, self._relieve = app, relieve
        self._change = Condition()
        self._own_is_free, self._free, self._known = True, list[ReaderProcess](), set[ReaderProcess]()
        self._needed_mb, self._on_their_way = 0.0, 0
        self._stopped = False
        for _ in range(readers):
            self._add()

    def __call__(self, environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        endpoint, reads = self._asked(environ)
        is_import = endpoint in IMPORTS and not reads
        reader = self._free_one(
            own=not (is_import or endpoint in PICTURES),
            beside=is_import or (reads and endpoint not in BY_THE_SERVER),
        )
        if reader is None:
            return self._here(environ, start_response)
        body = environ["wsgi.input"].read()
        try:
            found = reader.answer(environ, body, IMPORT_S if is_import else READ_S)
        except ReaderFailed as failed:
            self._replace(reader)
            # A page is made anew; an import is not, since it may be what ended the process.
            told = {TOO_SLOW: True} if failed.slow or is_import else {}
            self._free_one(own=True, beside=False)
            return self._here({**environ, **told, "wsgi.input": BytesIO(body)}, start_response)
        if found.held_mb > READER_MOST_MB:
            # What it unpacked leaves pieces behind; another one is there in less time than a page takes.
            self._replace(reader)
            Thread(target=reader.hang_up, daemon=True).start()  # the answer does not wait for that
        else:
            self._give_back(reader)
        start_response(found.status, found.headers)
        return [found.body]

    def stop(self) -> None:
        """End the processes."""
        with self._change:
            self._stopped = True
            ended, self._free, self._known = self._known, [], set()
        for reader in ended:
            reader.hang_up()

    def processes(self) -> int:
        """How many can answer, its own among them."""
        with self._change:
            return 1 + len(self._known)

    def memory(self) -> dict[str, Any]:
        """Megabytes that each process holds, with the bounds that are kept."""
        with self._change:
            beside = sorted(round(reader.held_mb) for reader in self._known)
        return {
            "server_mb": round(held_mb()),
            "server_most_mb": SERVER_MOST_MB,
            "readers_mb": beside,
            "reader_most_mb": READER_MOST_MB,
        }

    def _here(self, environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        try:
            # A page is made by then; files are handed over by the server, which needs no turn for that.
            return self._app(environ, start_response)
        finally:
            self._keep_within_bound()
            self._give_back(None)

    def _keep_within_bound(self) -> None:
        # What it then still holds it needs: it is not looked through again before that has grown.
        if held_mb() > max(SERVER_MOST_MB, self._needed_mb + GROWN_MB):
            self._relieve()
            self._needed_mb = held_mb()

    def _asked(self, environ: dict[str, Any]) -> tuple[str, bool]:
        """What is asked for ("" where nothing is there), and whether it only reads."""
        method = environ["REQUEST_METHOD"]
        try:
            endpoint, _ = self._app.url_map.bind("localhost").match(environ["PATH_INFO"], method)
        except HTTPException:
            return "", False
        return str(endpoint), method in ("GET", "HEAD")

    def _free_one(self, *, own: bool, beside: bool) -> ReaderProcess | None:
        """Wait for somebody who may answer: a process, or None for this one."""
        with self._change:
            while True:
                # Where there are no others, and none is on its way, this one does everything.
                if self._own_is_free and (own or not (self._known or self._on_their_way)):
                    self._own_is_free = False
                    return None
                if beside and self._free:
                    reader = self._free.pop()
                    if reader.is_alive():
                        return reader
                    self._known.discard(reader)  # it ended while it had nothing to do
                    self._add()
                    continue
                self._change.wait()

    def _give_back(self, reader: ReaderProcess | None) -> None:
        with self._change:
            if reader is None:
                self._own_is_free = True
            elif reader in self._known:
                self._free.append(reader)
            self._change.notify_all()

    def _add(self) -> None:
        """Start a process; to be called by whoever holds the lock, or where nobody else does anything."""
        self._on_their_way += 1
        Thread(target=self._start, daemon=True).start()

    def _start(self) -> None:
        config = {name: self._app.config[name] for name in self._app.config["GIVEN"]}
        reader = ReaderProcess({**config, "REQUEST_LOG": None})
        try:
            reader.ready()
        except ReaderFailed:
            with self._change:
                self._on_their_way -= 1  # what it would have answered is answered here
                self._change.notify_all()
            return
        with self._change:
            self._on_their_way -= 1
            if not self._stopped:
                self._known.add(reader)
                self._free.append(reader)
                self._change.notify_all()
                return
        reader.hang_up()

    def _replace(self, reader: ReaderProcess) -> None:
        with self._change:
            self._known.discard(reader)
            if not self._stopped:
                self._add()
            self._change.notify_all()
