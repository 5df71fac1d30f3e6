"""Practice: drills, how one stands, and inside the shutter of a set-up's camera, or of one typed."""

from json import dumps
from secrets import SystemRandom

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from noggin.services.errors import Refused
from noggin.services.practice import book, practice
from noggin.services.setups import setups
from noggin.services.setups.inside_shutter import (
    FIGURES,
    QUESTIONS,
    ShutterPage,
    inside_shutter,
    pictures_of,
    usual_travel_ms,
)
from noggin.web.shared.assets import KEPT_FOR_A_YEAR
from noggin.web.shared.wiring import file, wants_part, wiring

pages = Blueprint("practice", __name__)


@pages.get("/practice")
def page() -> str:
    """What there is to practise with, and how one stands."""
    example = setups.example()
    shown = [(question, inside_shutter(example, "", question.given).inside) for question in QUESTIONS]
    return render_template(
        "practice/page.html",
        shown=shown,
        practised=practice.practised(wiring().store, wiring().clock),
        chapters=book.chapters(),
    )


@pages.get("/practice/drill")
def next_drill() -> ResponseReturnValue:
    """The drill that comes next, at an address of its own."""
    found = practice.next_task(wiring().store, wiring().clock, SystemRandom())
    return redirect(url_for("practice.drill", belief=found.belief, seed=found.seed), 303)


@pages.get("/practice/drill/<belief>/<int:seed>")
def drill(belief: str, seed: int) -> str:
    """One task; with its answer and the reason where it was answered."""
    return _drill(belief, seed)


@pages.post("/practice/drill/<belief>/<int:seed>")
def answer(belief: str, seed: int) -> ResponseReturnValue:
    """An answer to a task, by its place (`answer`); the first one counts."""
    given = request.form.get("answer", type=int)
    if given is None:
        return _drill(belief, seed, problem="Choose an answer first."), 422
    try:
        practice.answer(wiring().store, wiring().clock, belief, seed, given)
    except Refused:
        abort(404)
    return redirect(url_for("practice.drill", belief=belief, seed=seed), 303)


@pages.get("/practice/book")
def contents() -> str:
    """The chapters of the book, and passages that have the words of `find`."""
    words = request.args.get("find", "").strip()[:120]
    template = "practice/_passages.html" if wants_part() else "practice/book.html"
    return render_template(template, words=words, chapters=book.chapters(), passages=book.search(words))


@pages.get("/practice/book/<name>")
def chapter(name: str) -> str:
    """One chapter."""
    try:
        found = book.chapter(name)
    except book.NoChapter:
        abort(404)
    text = Markup(book.as_html(found))  # noqa: S704 - rendered from our own text, HTML in it is escaped
    place = book.chapters().index(found)
    following = book.chapters()[place + 1 : place + 2]
    return render_template("practice/chapter.html", chapter=found, text=text, following=following)


@pages.get("/practice/answers.json")
def answers() -> Response:
    """Every answer, as an open document."""
    text = dumps(practice.document(wiring().store), indent=2)
    return file("practice", "answers.json", text, "application/json")


def _drill(belief: str, seed: int, problem: str = "") -> str:
    try:
        asked, found = practice.answered(wiring().store, belief, seed)
    except Refused:
        abort(404)
    return render_template("practice/drill.html", task=asked, found=found, problem=problem)


@pages.get("/practice/shutter")
def shutter() -> str:
    """Inside the shutter for the figures asked for; for those of a set-up (`setup`, its number; the example
    where there is none) and one of its ways (`way`) where they are left out."""
    shown = _shown()
    return render_template(
        "practice/_shutter.html" if wants_part() else "practice/shutter.html",
        shown=shown,
        questions=QUESTIONS,
        given=_given(),
        usual_travel=usual_travel_ms(shown.inside),
        at=min(max(request.args.get("at", len(shown.states) - 1, type=int), 0), len(shown.states) - 1),
        setups=setups.recent(wiring().store, shown.opened.id or None),
    )


@pages.get("/practice/shutter/<name>.avif")
def pictures(name: str) -> ResponseReturnValue:
    """The picture at every moment, one below another, under an address of its content."""
    shown = _shown()
    if name != shown.name:
        return redirect(url_for("practice.pictures", name=shown.name, **_given()), 307)  # type: ignore[arg-type]
    answer = Response(pictures_of(shown), mimetype="image/avif")
    answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
    return answer


def _shown() -> ShutterPage:
    number = request.args.get("setup", type=int)
    if "setup" in request.args and number is None:
        abort(404)
    opened = setups.open_setup(wiring().store, number) if number else setups.example()
    return inside_shutter(opened, request.args.get("way", ""), request.args)


def _given() -> dict[str, str]:
    """What was asked for, to be carried along by links."""
    known = {"setup", "way", *(figure.key for figure in FIGURES)}
    return {key: text for key, text in request.args.items() if key in known and text}
