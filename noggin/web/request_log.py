"""A log of requests for who watches a server: when, which kind of page, how it was answered and how fast.
No names, no numbers of documents and nothing typed: the rule of a route, never the address itself."""

import logging
import os
import time
from io import TextIOWrapper
from logging.handlers import RotatingFileHandler
from pathlib import Path

from flask import Flask, Response, g, request

SIZE_MOST = 1024 * 1024
FILES_KEPT = 5


class OwnersFile(RotatingFileHandler):
    """A log that its owner alone may read, each new file of it too."""

    def _open(self) -> TextIOWrapper:
        file = super()._open()
        os.fchmod(file.fileno(), 0o600)
        return file


def log_requests(app: Flask, path: Path | None) -> None:
    """Write a line for every request but those for static files; five files of a MiB are kept."""
    if path is None:
        return
    handler = OwnersFile(path, maxBytes=SIZE_MOST, backupCount=FILES_KEPT)
    handler.setFormatter(logging.Formatter("%(asctime)s %(message)s"))
    log = logging.getLogger(f"noggin.requests.{path}")
    log.setLevel(logging.INFO)
    log.propagate = False
    log.addHandler(handler)

    @app.before_request
    def begin() -> None:
        g.began = time.monotonic()

    @app.after_request
    def end(answer: Response) -> Response:
        if request.endpoint != "static":
            taken = 1000 * (time.monotonic() - g.get("began", time.monotonic()))
            rule = request.url_rule.rule if request.url_rule else "(no page)"
            log.info("%s %s %d %.0f ms", request.method, rule, answer.status_code, taken)
        return answer
