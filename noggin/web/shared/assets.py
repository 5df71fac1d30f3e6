"""How pages and files travel: compressed, and static files under an address that names their content, so
that a browser need never ask for one again."""

from functools import cache, lru_cache
from hashlib import sha256
from pathlib import Path
from typing import Any

import brotli
from flask import Flask, Response, request
from flask_compress import Compress

from noggin.web.shared import kept_pages

YEAR_S = 365 * 86_400
KEPT_FOR_A_YEAR = f"public, max-age={YEAR_S}, immutable"
COMPRESSED = (
    "text/html",
    "text/css",
    "text/csv",
    "text/javascript",
    "text/calendar",
    "application/json",
    "image/svg+xml",
)
"""Kinds that shrink. Fonts are compressed already."""

STATIC = Path(__file__).parent.parent / "static"


@cache
def fingerprint(filename: str) -> str:
    """Ten hexadecimal digits of a static file's SHA-256; empty where there is no such file."""
    path = STATIC / filename
    return sha256(path.read_bytes()).hexdigest()[:10] if path.is_file() else ""


@lru_cache(maxsize=64)
def squeezed(filename: str, _: str) -> bytes:
    """A static file of a fingerprint as Brotli (RFC 7932), compressed once, as small as it goes."""
    compressed: bytes = brotli.compress((STATIC / filename).read_bytes(), quality=11)
    return compressed


def travel_light(app: Flask) -> None:
    """Give every static file its fingerprint and, under it, a year in the browser; keep nothing else there.

    A page says what is kept now: Back and Forward ask for it anew.
    """

    app.config.update(COMPRESS_MIMETYPES=list(COMPRESSED), COMPRESS_ALGORITHM=["br", "gzip"])
    Compress(app)  # before what follows, which so comes first with every answer

    @app.get("/worker.js")
    def service_worker() -> Response:
        """The script that keeps pages in a browser; by an address at the top, so that it may keep them all,
        and asked for anew each time."""
        script = kept_pages.service_worker(app, STATIC / "service_worker.js")
        return Response(script, mimetype="text/javascript", headers={"Cache-Control": "no-cache"})

    @app.url_defaults
    def add_fingerprint(endpoint: str, values: dict[str, Any]) -> None:
        if endpoint == "static":
            values.setdefault("v", fingerprint(values["filename"]))

    @app.after_request
    def say_how_long(answer: Response) -> Response:
        if request.endpoint != "static":
            answer.headers.setdefault("Cache-Control", "no-store")
        elif request.args.get("v") == fingerprint((request.view_args or {})["filename"]):
            answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
        else:
            answer.headers["Cache-Control"] = "no-cache"
        if request.endpoint == "static" and answer.status_code == 200 and answer.mimetype in COMPRESSED:
            squeeze(answer, (request.view_args or {})["filename"])
        return answer

    def squeeze(answer: Response, filename: str) -> None:
        answer.vary.add("Accept-Encoding")
        if request.accept_encodings["br"]:
            answer.close()  # the file that would have been streamed
            answer.direct_passthrough = False
            answer.set_data(squeezed(filename, fingerprint(filename)))
            answer.headers["Content-Encoding"] = "br"
