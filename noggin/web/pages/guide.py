"""The guide over a set-up's Bench and spot."""

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import Refused
from noggin.services.practice import guide
from noggin.web.shared.wiring import wants_part, wiring

pages = Blueprint("guide", __name__)


@pages.app_template_global("guide_over")
def guide_over(setup_id: int) -> guide.Guide | None:
    """The guide over a set-up, where it is open; `guide` of the address is a step to be read again. Over
    the sample page, whose set-up is nobody's, there is none, and nothing is read for it."""
    if not setup_id:
        return None
    return guide.guide_over(wiring().store, wiring().clock, setup_id, request.args.get("guide", ""))


@pages.post("/guide")
def new() -> ResponseReturnValue:
    """A new set-up, led through."""
    setup_id = guide.begin_with_a_new_one(wiring().store, wiring().clock)
    return redirect(url_for("bench.page", setup_id=setup_id), 303)


@pages.get("/setups/<int:setup_id>/guide")
def part(setup_id: int) -> str:
    """The guide as it stands now, on a page (`at`, "bench" or "spot")."""
    return _part(setup_id)


@pages.post("/setups/<int:setup_id>/guide")
def turn(setup_id: int) -> ResponseReturnValue:
    """Open the guide over a set-up (`on` 1), or close it (0)."""
    if request.form.get("on") == "1":
        guide.begin(wiring().store, setup_id)
    else:
        guide.close(wiring().store, setup_id)
    return _answer(setup_id)


@pages.post("/setups/<int:setup_id>/guide/done")
def done(setup_id: int) -> ResponseReturnValue:
    """Go on from a step (`step`)."""
    try:
        guide.say_done(wiring().store, setup_id, request.form.get("step", ""))
    except Refused:
        abort(404)
    return _answer(setup_id)


def _answer(setup_id: int) -> ResponseReturnValue:
    if wants_part():
        return _part(setup_id)
    at = "spot.page" if request.form.get("at") == "spot" else "bench.page"
    return redirect(url_for(at, setup_id=setup_id), 303)


def _part(setup_id: int) -> str:
    at = request.values.get("at", "bench")
    return render_template("guide/_guide.html", guide=guide_over(setup_id), setup_id=setup_id, guide_at=at)
