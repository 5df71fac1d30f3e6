"""Taking documents in: one page for every kind of them, by file or by paste, with what is wrong beside
it."""

from collections.abc import Callable
from dataclasses import dataclass
from secrets import token_hex

from flask import Blueprint, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import BadDocument
from noggin.services.keeping.kept import once
from noggin.web.shared.wiring import given_bytes, wiring


@dataclass(frozen=True)
class Import:
    """A kind of document that can be taken in: what its page says, which files it takes, and what is done
    with one."""

    title: str
    lede: str
    accepts: str
    button: str
    take: Callable[[bytes], ResponseReturnValue]


def add_import(pages: Blueprint, address: str, taken: Import) -> None:
    """Add the page and the taking in to the pages of an area."""

    def page(problems: tuple[str, ...] = (), pasted: str = "") -> str:
        here = url_for(f"{pages.name}.bring_in")
        return render_template(
            "forms/import.html", taken=taken, url=here, problems=problems, pasted=pasted, once=token_hex(8)
        )

    def bring_in_page() -> str:
        """Where a document is given."""
        return page()

    def bring_in() -> ResponseReturnValue:
        """A document, by file or by paste; what is wrong is shown beside it."""
        raw, again = given_bytes()
        try:
            with once(wiring().store, f"import {request.form['once']}" if "once" in request.form else ""):
                return taken.take(raw)
        except BadDocument as bad:
            return page(tuple(map(str, bad.problems)), again), 422

    pages.add_url_rule(f"{address}/import", "bring_in_page", bring_in_page)
    pages.add_url_rule(f"{address}/import", "bring_in", bring_in, methods=["POST"])
