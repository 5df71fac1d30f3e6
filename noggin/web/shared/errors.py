"""Errors to status and page, in one place."""

import csv
from collections.abc import Callable
from typing import NamedTuple
from urllib.parse import urlsplit

from flask import Flask, current_app, g, redirect, render_template, request
from flask.typing import ResponseReturnValue
from flask_limiter import RateLimitExceeded
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException, InternalServerError, SecurityError

from noggin.services.errors import (
    BadDocument,
    NogginError,
    NoSuchFigure,
    NoSuchRemedy,
    NoSuchSheet,
    NoSuchThing,
    NothingToUndo,
    NotKept,
    Refused,
    StoreUnusable,
    TooLate,
)
from noggin.services.whole.readable import set_aside_unreadable
from noggin.web.shared.wiring import wants_part, wiring


class TookTooLong(NogginError, RuntimeError):
    """A request was given up."""


class Refusal(NamedTuple):
    """What errors of some kinds are answered with: status, title, and text; whether it leads back to the
    page that was pressed on, and whether the terminal is told as well."""

    errors: tuple[type[Exception], ...]
    status: int
    title: str
    text: Callable[[Exception], str] = str
    leads_back: bool = False
    logged: bool = False


REFUSALS = (
    Refusal((NotKept, NoSuchFigure, NoSuchSheet, NoSuchThing), 404, "Not found"),
    Refusal((NothingToUndo, NoSuchRemedy, TooLate), 409, "Too late", leads_back=True),
    Refusal((Refused,), 422, "That does not work", lambda error: getattr(error, "problem", "")),
    Refusal((BadDocument,), 422, "That document cannot be read"),
    Refusal((StoreUnusable,), 503, "The database cannot be used", logged=True),
    Refusal((TookTooLong,), 503, "That took too long", logged=True),
    Refusal((NogginError,), 422, "That does not work"),
    Refusal(
        (OverflowError, csv.Error),
        422,
        "That does not work",
        lambda _: "A number or a field in it is larger than Noggin can work with.",
        logged=True,
    ),
    Refusal(
        (OSError,),
        503,
        "A file cannot be used",
        lambda error: f"{getattr(error, 'strerror', None) or error}. Nothing of this was kept.",
        logged=True,
    ),
    Refusal(
        (CSRFError,),
        400,
        "Reload the page",
        lambda _: "This page is older than the server. Reload it and enter that again.",
    ),
    Refusal(
        (RateLimitExceeded,),
        429,
        "Too many tries",
        lambda _: "Those were too many tries from your address. Wait a while, then try again.",
    ),
    Refusal(
        (InternalServerError,),
        500,
        "Something went wrong",
        lambda _: "Noggin made a mistake. What was saved is safe; the terminal says more.",
    ),
)
"""Every error that has an answer of its own; a kind of error that stands under another one wins."""


TOO_SLOW = "noggin.too_slow"
"""Set in the environment of a request that was given up."""

PIECE_BY_PIECE = frozenset({"log.bring_in", "log.bring_in_log"})
"""Routes that keep each part of what they bring as soon as it is read, by their endpoint."""


def told_beforehand(app: Flask) -> None:
    """Answer a request that was given up elsewhere with the page that says so."""

    @app.before_request
    def tell() -> None:
        if request.environ.get(TOO_SLOW):
            kept = "Nothing of it was kept."
            if request.endpoint in PIECE_BY_PIECE:
                kept = "What had come in by then is kept. Bring all of it again: none comes in twice."
            raise TookTooLong(f"Reading that took too long and was stopped. {kept}")


def register(app: Flask) -> None:
    """Answer every error with a page, or with a part of one where the page itself asked."""
    for refusal in REFUSALS:
        for kind in refusal.errors:
            app.register_error_handler(kind, _handler(refusal))

    @app.errorhandler(Exception)
    def unexpected(error: Exception) -> ResponseReturnValue:
        spoilt = _without_what_is_spoilt()
        if spoilt is None:
            raise error
        return spoilt

    @app.errorhandler(SecurityError)
    def stranger(_: SecurityError) -> ResponseReturnValue:
        # Without a trusted host no address can be built, so there is no page to wrap this in.
        return "Noggin only answers at its own address.", 400, {"Content-Type": "text/plain"}

    @app.errorhandler(HTTPException)
    def refused(error: HTTPException) -> ResponseReturnValue:
        return _answer(error.code or 500, error.name, error.description or "")


def _handler(refusal: Refusal) -> Callable[[Exception], ResponseReturnValue]:
    def handler(error: Exception) -> ResponseReturnValue:
        spoilt = _without_what_is_spoilt() if isinstance(error, BadDocument) else None
        if spoilt is not None:
            return spoilt
        if refusal.logged:
            current_app.logger.error("%s: %s", type(error).__name__, error)
        back = _asked_from() if refusal.leads_back else ""
        return _answer(refusal.status, refusal.title, refusal.text(error), back)

    return handler


def _without_what_is_spoilt() -> ResponseReturnValue | None:
    """The page anew, or the word to do it again, where documents were spoilt by another hand since the
    database was opened and are set aside now; None where that is not what went wrong."""
    moment = g.pop("moment", None)
    if moment:
        moment.close()
    if not set_aside_unreadable(wiring().store):
        return None
    if request.method in ("GET", "HEAD"):
        return redirect(request.full_path)
    return _answer(503, "A document cannot be read", SPOILT, _asked_from())


SPOILT = "It is set aside now, and Keep it safe names it. Do that again: nothing of it was kept."


def _answer(status: int, title: str, text: str, back: str = "") -> ResponseReturnValue:
    if not wants_part():
        return render_template("error/page.html", title=title, text=text, back=back), status
    # The page says where refusals go, but who pressed twice pressed something that is gone by now, and then
    # nothing on the page is asked.
    place = {"HX-Retarget": "#trouble", "HX-Reswap": "innerHTML"}
    return render_template("error/_part.html", title=title, text=text, back=back), status, place


def _asked_from() -> str:
    """The address, without its host, of the page that an act was pressed on; empty where unknown."""
    said = urlsplit(request.headers.get("HX-Current-URL") or request.referrer or "")
    return said._replace(scheme="", netloc="", fragment="").geturl() if said.netloc == request.host else ""
