"""How pages and files travel: compressed, and static files under an address that names their content, so
that a browser need never ask for one again."""

from functools import cache, lru_cache
from hashlib import sha256
from mimetypes import guess_type
from pathlib import Path
from typing import Any

import brotli
from flask import Flask, Response, current_app, request
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

TOGETHER = {
    "together.css": (
        "vendor/bootstrap/bootstrap.cut.css",
        *("noggin.css", "bench.css", "places.css", "kit.css", "day.css", "live.css", "spot.css", "log.css"),
        *(
            "practice.css",
            "hours.css",
            "two.css",
            "guide.css",
            "safe.css",
            "photograph.css",
            "drawings.css",
            "proof.css",
        ),
        *("layout.css", "hands.css", "paper.css"),
    ),
    "together.js": (
        "vendor/htmx/htmx.min.js",
        *("keeping.js", "noggin.js", "keys.js", "places.js", "told.js", "terms.js", "proof.js"),
        *("layout.js", "offline.js"),
    ),
}
"""What every page wants, each kind as one file, in this order: thirty requests cost a browser more than
what is in them. A sheet or a script of a single page stands in that page's own head."""


def content(filename: str) -> bytes | None:
    """What a static file holds; nothing where there is no such file."""
    if filename in TOGETHER:
        return b"\n".join((STATIC / part).read_bytes() for part in TOGETHER[filename])
    path = STATIC / filename
    return path.read_bytes() if path.is_file() else None


@cache
def fingerprint(filename: str) -> str:
    """Ten hexadecimal digits of a static file's SHA-256; empty where there is no such file."""
    found = content(filename)
    return "" if found is None else sha256(found).hexdigest()[:10]


@lru_cache(maxsize=64)
def squeezed(filename: str, _: str) -> bytes:
    """A static file of a fingerprint as Brotli (RFC 7932), compressed once, as small as it goes."""
    compressed: bytes = brotli.compress(content(filename) or b"", quality=11)
    return compressed


def sent(filename: str) -> Response:
    """A static file, or several as one."""
    if filename not in TOGETHER:
        return current_app.send_static_file(filename)
    return Response(content(filename), mimetype=guess_type(filename)[0])


def squeeze(answer: Response, filename: str) -> None:
    """Send a static file compressed, to who can read it."""
    answer.vary.add("Accept-Encoding")
    if request.accept_encodings["br"]:
        answer.close()  # the file that would have been streamed
        answer.direct_passthrough = False
        answer.set_data(squeezed(filename, fingerprint(filename)))
        answer.headers["Content-Encoding"] = "br"


def travel_light(app: Flask) -> None:
    """Give every static file its fingerprint and, under it, a year in the browser; keep nothing else there.

    A page says what is kept now: Back and Forward ask for it anew.
    """

    app.config.update(COMPRESS_MIMETYPES=list(COMPRESSED), COMPRESS_ALGORITHM=["br", "gzip"])
    Compress(app)  # before what follows, which so comes first with every answer

    app.view_functions["static"] = sent

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
