"""Practice: drills, how one stands, and inside the shutter of a set-up's camera, or of one typed."""

from collections.abc import Sequence
from json import dumps

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from noggin.services.errors import Refused
from noggin.services.practice import book, camera, practice
from noggin.services.practice import pictures as drill_pictures
from noggin.services.practice.camera import CAMERA_DRILLS, Played, TaskPicture
from noggin.services.practice.practice import BY_KEY
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
from noggin.web.shared.hints import WORDS, WORDS_NAME
from noggin.web.shared.proof_answer import proof_answer
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
        drills=practice.SHELVES,
    )


@pages.get("/practice/drill")
def next_drill() -> ResponseReturnValue:
    """The drill that comes next, at an address of its own."""
    drill, seed = practice.next_drill(wiring().store, wiring().clock, wiring().chance)
    return redirect(url_for("practice.drill", drill=drill, seed=seed), 303)


@pages.get("/practice/drill/<drill>")
def one_more(drill: str) -> ResponseReturnValue:
    """A new task of one drill."""
    try:
        seed = practice.new_seed(wiring().store, drill, wiring().chance)
    except Refused:
        abort(404)
    return redirect(url_for("practice.drill", drill=drill, seed=seed), 303)


@pages.get("/practice/drill/<drill>/<int:seed>")
def drill(drill: str, seed: int) -> str:
    """One task; with its answer and the reason where it was answered. Of one with a camera, `frames` are
    those that were fired."""
    return _with_camera(drill, seed) if drill in CAMERA_DRILLS else _drill(drill, seed)


@pages.post("/practice/drill/<drill>/<int:seed>")
def answer(drill: str, seed: int) -> ResponseReturnValue:
    """An answer to a task, by its place (`answer`); the first one counts. With a camera: one frame more, as
    it is dialled, or that somebody gives up (`give_up`)."""
    if drill in CAMERA_DRILLS:
        return _fire(drill, seed)
    given = request.form.get("answer", type=int)
    if given is None:
        return _drill(drill, seed, problem="Choose an answer first."), 422
    try:
        practice.answer(wiring().store, wiring().clock, drill, seed, given)
    except Refused:
        abort(404)
    return redirect(url_for("practice.drill", drill=drill, seed=seed), 303)


@pages.get("/practice/drill/<drill>/<int:seed>/<int:place>-<name>.webp")
def drill_picture(drill: str, seed: int, place: int, name: str) -> ResponseReturnValue:
    """A picture of a task, or the picture of a frame, under an address of its content."""
    try:
        if drill in CAMERA_DRILLS:
            found = [one.picture for one in _played(drill, seed).shown]
        else:
            found = list(practice.answered(wiring().store, drill, seed)[0].pictures)
        recipe = drill_pictures.recipe(found[place])
    except (Refused, IndexError):
        abort(404)
    return proof_answer(recipe, name, lambda now: _address(drill, seed, place, now))


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


@pages.get("/practice/book/pictures/<name>.webp")
def book_picture(name: str) -> Response:
    """A picture of the book."""
    try:
        content = book.picture(name)
    except book.NoChapter:
        abort(404)
    return Response(content, mimetype="image/webp")


@pages.get("/practice/book/words-<name>.json")
def book_words(name: str) -> Response:
    """Every term of the glossary and what it means, under an address of its content."""
    answer = Response(WORDS, mimetype="application/json")
    if name == WORDS_NAME:
        answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
    return answer


@pages.app_template_global("words_address")
def words_address() -> str:
    """Where the terms of the glossary are."""
    return url_for("practice.book_words", name=WORDS_NAME)


@pages.get("/practice/answers.json")
def answers() -> Response:
    """Every answer, as an open document."""
    text = dumps(practice.document(wiring().store), indent=2)
    return file("practice", "answers.json", text, "application/json")


def _drill(drill: str, seed: int, problem: str = "") -> str:
    try:
        asked, found = practice.answered(wiring().store, drill, seed)
    except Refused:
        abort(404)
    pictures = _addresses(drill, seed, asked.pictures)
    return render_template(
        "practice/drill.html", task=asked, pictures=pictures, found=found, problem=problem
    )


def _with_camera(drill: str, seed: int) -> str:
    try:
        played = _played(drill, seed)
    except Refused:
        abort(404)
    pictures = _addresses(drill, seed, [one.picture for one in played.shown])
    return render_template(
        "practice/camera.html",
        played=played,
        pictures=pictures,
        frames=_frames_text(played),
        belief=BY_KEY[played.told or played.assignment.beliefs[0]] if played.over else None,
    )


def _fire(drill: str, seed: int) -> ResponseReturnValue:
    try:
        played = _played(drill, seed)
        if not played.over:
            played = played.fires(
                tuple(request.form.get(dial.key, -1, type=int) for dial in played.assignment.dials)
            )
    except Refused:
        abort(404)
    camera.finished(wiring().store, wiring().clock, played)
    frames, given_up = _frames_text(played), "1" if played.given_up else None
    return redirect(url_for("practice.drill", drill=drill, seed=seed, frames=frames, give_up=given_up), 303)


def _played(drill: str, seed: int) -> Played:
    """What was fired so far: frames by the places of their dials, `12.3.0.0.7-12.3.0.0.9`. Raises
    Refused."""
    texts = [text for text in request.values.get("frames", "").split("-") if text]
    try:
        frames = [tuple(int(place) for place in text.split(".")) for text in texts]
    except ValueError:
        raise Refused("frames", "cannot be read") from None
    given_up = "give_up" in request.values
    return camera.play(camera.assignment_of(drill, seed), frames, given_up=given_up)


def _frames_text(played: Played) -> str:
    return "-".join(".".join(map(str, one.frame)) for one in played.shown)


def _addresses(drill: str, seed: int, pictures: Sequence[TaskPicture]) -> list[tuple[TaskPicture, str]]:
    """Pictures with where each is."""
    return [
        (one, _address(drill, seed, place, drill_pictures.recipe(one).name))
        for place, one in enumerate(pictures)
    ]


def _address(drill: str, seed: int, place: int, name: str) -> str:
    frames = request.values.get("frames") or None
    return url_for("practice.drill_picture", drill=drill, seed=seed, place=place, name=name, frames=frames)


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
