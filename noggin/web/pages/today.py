"""Where a visit begins: the next shoot, what it still needs, and where one was."""

from collections.abc import Mapping

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.day.shoots import Mistyped
from noggin.services.day.today import QUESTIONS, asked, first_setup, today
from noggin.services.setups.setups import example
from noggin.web.shared.wiring import read_after_act, wiring

pages = Blueprint("today", __name__)


@pages.get("/")
def page() -> str:
    """The start."""
    return _page({}, {})


@pages.post("/first")
def first() -> ResponseReturnValue:
    """A set-up from the answers to three questions, opened on the Bench."""
    answers = {key: request.form.get(key, "") for question in QUESTIONS for key in question.keys}
    try:
        number = first_setup(wiring().store, wiring().clock, answers)
    except Mistyped as mistyped:
        return _page(answers, mistyped.problems), 422
    return redirect(url_for("bench.page", setup_id=number), 303)


def _page(answers: Mapping[str, str], problems: Mapping[str, str]) -> str:
    read_after_act()
    store = wiring().store
    found = today(store, wiring().clock)
    questions = asked(store, answers, problems) if answers or not found.recent else ()
    return render_template(
        "today/page.html",
        today=found,
        questions=questions,
        example=example().plan if questions else None,
        unreadable=len(store.set_aside()),
    )
