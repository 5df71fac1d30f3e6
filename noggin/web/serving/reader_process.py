"""A process that answers requests beside the server's own, with an application of its own on the same
database. It can be stopped whatever it is at; a change that it had not finished is then not made."""

import signal
import sys
from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from io import BytesIO
from multiprocessing import get_context
from multiprocessing.connection import Connection
from typing import Any

from noggin.web.shared.memory import held_mb, keep_small

START_S = 60.0
"""How long a process may take until it can answer."""


HANG_UP_S = 5.0


class ReaderFailed(RuntimeError):
    """The process ended, or was too slow and was ended."""

    def __init__(self, *, slow: bool) -> None:
        super().__init__("too slow" if slow else "ended by itself")
        self.slow = slow


@dataclass(frozen=True)
class Answer:
    """What is answered to a request (WSGI, PEP 3333), and megabytes that the process then holds."""

    status: str
    headers: list[tuple[str, str]]
    body: bytes
    held_mb: float = 0.0


class ReaderProcess:
    """One process, seen from the server."""

    def __init__(self, config: Mapping[str, Any]) -> None:
        # A server with threads cannot be copied safely; a process that does nothing but wait can, and has
        # read in the program once for all that come.
        context = get_context("forkserver")
        context.set_forkserver_preload(["noggin.web"])
        self._line, far = context.Pipe()
        self._process = context.Process(target=work, args=(far, dict(config)), daemon=True)
        self._process.start()
        far.close()
        self.held_mb = 0.0

    def ready(self) -> None:
        """Wait until it can answer. Raises ReaderFailed."""
        self.held_mb = float(self._heard(START_S))

    def answer(self, environ: Mapping[str, Any], body: bytes, seconds: float) -> Answer:
        """Its answer to a request within some seconds. Raises ReaderFailed, and the process is no more."""
        try:
            self._line.send((_sendable(environ), body))
        except OSError:
            self.stop()
            raise ReaderFailed(slow=False) from None
        found: Answer = self._heard(seconds)
        self.held_mb = found.held_mb
        return found

    def _heard(self, seconds: float) -> Any:
        try:
            if self._line.poll(seconds):
                return self._line.recv()
        except (EOFError, OSError):
            self.stop()
            raise ReaderFailed(slow=False) from None
        self.stop()
        raise ReaderFailed(slow=True)

    def is_alive(self) -> bool:
        """Whether it has not ended."""
        return self._process.is_alive()

    def hang_up(self) -> None:
        """End it after what it is at, if that is soon."""
        self._line.close()
        self._process.join(HANG_UP_S)
        if self._process.is_alive():
            self._process.kill()
            self._process.join()

    def stop(self) -> None:
        """End it, whatever it is at."""
        self._process.kill()
        self._process.join()
        self._line.close()


def _sendable(environ: Mapping[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in environ.items() if isinstance(value, str | int | bool | tuple)}


def work(line: Connection, config: Mapping[str, Any]) -> None:
    """What the process does: answer one request after another until the server is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C is for the server, which then hangs up
    from noggin.web import create_app

    keep_small()

    app = create_app(config)
    try:
        with suppress(EOFError, OSError):
            line.send(held_mb())
            while True:
                environ, body = line.recv()
                line.send(_answered(app.wsgi_app, environ, body))
    finally:
        app.extensions["noggin"].store.close()


def _answered(app: Any, environ: dict[str, Any], body: bytes) -> Answer:
    said: list[Any] = []

    def start_response(status: str, headers: list[tuple[str, str]], _: Any = None) -> None:
        said[:] = [status, headers]

    found: Iterable[bytes] = app(
        {**environ, "wsgi.input": BytesIO(body), "wsgi.errors": sys.stderr}, start_response
    )
    try:
        content = b"".join(found)
    finally:
        getattr(found, "close", lambda: None)()
    return Answer(said[0], said[1], content, held_mb())
