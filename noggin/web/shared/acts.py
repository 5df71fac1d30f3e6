"""Undo, redo, archive and bring back: the same for documents of every kind, under the address of each."""

from collections.abc import Callable
from contextlib import AbstractContextManager
from typing import Any

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.keeping import kept
from noggin.services.keeping.kept import Kind
from noggin.web.shared.wiring import wiring


def as_offered(kind: Kind, number: int) -> AbstractContextManager[None]:
    """Within it, an act on a document as the page offered it (`offered`, a revision): never done twice."""
    return kept.as_offered(wiring().store, kind, number, request.form.get("offered", type=int))


ONCE_LENGTH = 64
"""Characters of the word by which a page offers something once."""


def offered_once(act: str) -> str:
    """The word by which the page offers an act once, for `kept.once`; empty where it says none."""
    word = request.form.get("once", "")[:ONCE_LENGTH]
    return f"{act} {word}".strip() if word else ""


def add_acts(
    pages: Blueprint,
    kind: Kind,
    address: str,
    number_name: str,
    answer: Callable[[int], ResponseReturnValue],
    *,
    one: str,
    listing: str,
) -> None:
    """Add the four acts on documents of a kind to its pages. `address` is that of the list, `number_name`
    what its routes call a document's number, `answer` answers with the document again, `one` and `listing`
    are the endpoints of a document's page and of the list."""
    of_one = f"{address}/<int:{number_name}>"
    add_history(pages, kind, of_one, number_name, answer)

    def archive(**numbers: Any) -> ResponseReturnValue:
        """Take it out of the list, which offers it back."""
        kept.archive(wiring().store, wiring().clock, kind, numbers[number_name])
        return redirect(url_for(listing), 303)

    def bring_back(**numbers: Any) -> ResponseReturnValue:
        """Bring back what was archived, and open it."""
        kept.bring_back(wiring().store, wiring().clock, kind, numbers[number_name])
        return redirect(url_for(one, **numbers), 303)

    for name, act in (("archive", archive), ("bring-back", bring_back)):
        pages.add_url_rule(f"{of_one}/{name}", name.replace("-", "_"), act, methods=["POST"])


def add_history(
    pages: Blueprint,
    kind: Kind,
    of_one: str,
    number_name: str,
    answer: Callable[[int], ResponseReturnValue],
) -> None:
    """Add undo and redo of a document to a page of it under `of_one`; `answer` gives the page again."""

    def undo(**numbers: Any) -> ResponseReturnValue:
        """Take the last step back."""
        number = numbers[number_name]
        kept.move(wiring().store, wiring().clock, kind, number, -1)
        return answer(number)

    def redo(**numbers: Any) -> ResponseReturnValue:
        """Do again what was taken back."""
        number = numbers[number_name]
        kept.move(wiring().store, wiring().clock, kind, number, 1)
        return answer(number)

    for name, act in (("undo", undo), ("redo", redo)):
        pages.add_url_rule(f"{of_one}/{name}", name, act, methods=["POST"])
