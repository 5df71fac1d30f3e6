"""A log of requests for who watches a server: when, which kind of page, how it was answered and how fast.
No names, no numbers of documents and nothing typed: the rule of a route, never the address itself."""

import logging
import os
import time
from collections.abc import Iterable
from io import TextIOWrapper
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import Any

from flask import Flask
from werkzeug.exceptions import HTTPException

SIZE_MOST = 1024 * 1024
FILES_KEPT = 5


class OwnersFile(RotatingFileHandler):
    """A log that its owner alone may read, each new file of it too."""

    def _open(self) -> TextIOWrapper:
        file = super()._open()
        os.fchmod(file.fileno(), 0o600)
        return file


class Logged:
    """What answers for an application (WSGI, PEP 3333), with a line in a log for every request but those
    for static files; five files of a MiB are kept."""

    def __init__(self, app: Flask, answer: Any, path: Path) -> None:
        self._app, self._answer = app, answer
        handler = OwnersFile(path, maxBytes=SIZE_MOST, backupCount=FILES_KEPT)
        handler.setFormatter(logging.Formatter("%(asctime)s %(message)s"))
        self._log = logging.getLogger(f"noggin.requests.{path}")
        self._log.setLevel(logging.INFO)
        self._log.propagate = False
        self._log.addHandler(handler)

    def __call__(self, environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        began, status = time.monotonic(), "500"

        def begin(said: str, headers: Any, *more: Any) -> Any:
            nonlocal status
            status = said.partition(" ")[0]
            return start_response(said, headers, *more)

        found: Iterable[bytes] = self._answer(environ, begin)
        rule = self._rule(environ)
        if not rule.startswith("/static/"):
            taken = 1000 * (time.monotonic() - began)
            self._log.info("%s %s %s %.0f ms", environ["REQUEST_METHOD"], rule, status, taken)
        return found

    def _rule(self, environ: dict[str, Any]) -> str:
        routes = self._app.url_map.bind("localhost")
        try:
            rule, _ = routes.match(environ["PATH_INFO"], environ["REQUEST_METHOD"], return_rule=True)
        except HTTPException:
            return "(no page)"
        return str(rule.rule)
