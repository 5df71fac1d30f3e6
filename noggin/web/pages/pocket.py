"""The pocket edition: a site of its own, for a phone that works everything out itself."""

from functools import cache
from mimetypes import guess_type

from flask import Blueprint, abort, request
from werkzeug.wrappers import Response

from noggin.services.whole.pocket_site import Site, for_a_phone, pocket_site, pocket_zip
from noggin.web.shared.wiring import wiring

pages = Blueprint("pocket", __name__)

POLICY = (
    "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; worker-src 'self'; connect-src 'self';"
    " style-src 'self'; img-src 'self'; frame-src 'self'; manifest-src 'self'; base-uri 'none';"
    " form-action 'none'; frame-ancestors 'none'"
)
"""WebAssembly is compiled, and nothing else is evaluated."""

KINDS = {
    ".mjs": "text/javascript",
    ".wasm": "application/wasm",
    ".webmanifest": "application/manifest+json",
}


@cache
def _site() -> Site:
    return pocket_site()


@pages.get("/pocket/")
@pages.get("/pocket/<path:name>")
def file(name: str = "index.html") -> Response:
    """A file of the site; its first page without one."""
    content = _site().get(name)
    if content is None:
        abort(404)
    suffix = name[name.rindex(".") :] if "." in name else ""
    kind = KINDS.get(suffix) or guess_type(name)[0] or "application/octet-stream"
    answer = Response(content, mimetype=kind, headers={"Cache-Control": "no-cache"})
    answer.add_etag()
    return answer.make_conditional(request)


@pages.get("/pocket.zip")
def packed() -> Response:
    """The site in one file, to be put where a host with TLS serves it; `with=everything` brings along what
    is kept here."""
    given = for_a_phone(wiring().store, wiring().clock) if request.args.get("with") == "everything" else ()
    answer = Response(pocket_zip(given), mimetype="application/zip")
    answer.headers["Content-Disposition"] = "attachment; filename=noggin-pocket.zip"
    return answer
