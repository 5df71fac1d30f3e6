"""Errors to status and page, in one place."""

from urllib.parse import urlsplit

from flask import Flask, render_template, request
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException, InternalServerError, SecurityError

from noggin.services.errors import (
    NoSuchFigure,
    NoSuchRemedy,
    NoSuchSheet,
    NoSuchStep,
    NotKept,
    Refused,
    TooLate,
)
from noggin.web.wiring import wants_part


def register(app: Flask) -> None:
    """Answer every error with a page, or with a part of one where the page itself asked."""

    def answer(status: int, title: str, text: str, back: str = "") -> ResponseReturnValue:
        if not wants_part():
            return render_template("error/page.html", title=title, text=text, back=back), status
        # The page says where refusals go, but who pressed twice pressed something that is gone by now, and
        # then nothing on the page is asked.
        place = {"HX-Retarget": "#trouble", "HX-Reswap": "innerHTML"}
        return render_template("error/_part.html", title=title, text=text, back=back), status, place

    @app.errorhandler(NotKept)
    @app.errorhandler(NoSuchFigure)
    @app.errorhandler(NoSuchSheet)
    def missing(error: Exception) -> ResponseReturnValue:
        return answer(404, "Not found", str(error))

    @app.errorhandler(NoSuchStep)
    @app.errorhandler(NoSuchRemedy)
    @app.errorhandler(TooLate)
    def too_late(error: Exception) -> ResponseReturnValue:
        return answer(409, "Too late", str(error), _asked_from())

    @app.errorhandler(Refused)
    def not_so(error: Refused) -> ResponseReturnValue:
        return answer(422, "That does not work", error.problem)

    @app.errorhandler(CSRFError)
    def stale(_: CSRFError) -> ResponseReturnValue:
        text = "This page is older than the server. Reload it and enter that again."
        return answer(400, "Reload the page", text)

    @app.errorhandler(SecurityError)
    def stranger(_: SecurityError) -> ResponseReturnValue:
        # Without a trusted host no address can be built, so there is no page to wrap this in.
        return "Noggin only answers at its own address.", 400, {"Content-Type": "text/plain"}

    @app.errorhandler(HTTPException)
    def refused(error: HTTPException) -> ResponseReturnValue:
        return answer(error.code or 500, error.name, error.description or "")

    @app.errorhandler(InternalServerError)
    def failed(_: InternalServerError) -> ResponseReturnValue:
        text = "Noggin made a mistake. What was saved is safe; the terminal says more."
        return answer(500, "Something went wrong", text)


def _asked_from() -> str:
    """The address, without its host, of the page that an act was pressed on; empty where unknown."""
    said = urlsplit(request.headers.get("HX-Current-URL") or request.referrer or "")
    return said._replace(scheme="", netloc="", fragment="").geturl() if said.netloc == request.host else ""
