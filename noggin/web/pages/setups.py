"""The list of set-ups, and where a visit begins."""

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.day.placements import by_day
from noggin.services.keeping import kept
from noggin.services.keeping.results import listed
from noggin.services.setups import setups as services
from noggin.services.whole.demo import load_demo_once
from noggin.services.whole.files import import_setup_file
from noggin.services.words import UNITS
from noggin.web.pages.gate import inner
from noggin.web.shared.imports import Import, add_import
from noggin.web.shared.wiring import UNIT_COOKIE, wants_part, wiring

pages = Blueprint("setups", __name__)


@pages.get("/setups")
def listing() -> str:
    """A page of the list, the one worked on last first; of those whose name holds `find`."""
    store, find = wiring().store, request.args.get("find", "").strip()
    rows, more = listed(store, max(request.args.get("from", 0, type=int), 0), find)
    groups = by_day(store, rows)
    if wants_part():
        return render_template("setups/_groups.html", groups=groups, more=more, find=find)
    empty = not rows and not find
    return render_template(
        "setups/page.html",
        groups=groups,
        more=more,
        find=find,
        example=services.example().plan if empty else None,
        archived=kept.archived(store, services.SETUPS),
    )


@pages.post("/setups")
def create() -> ResponseReturnValue:
    """A fresh set-up, opened on the Bench."""
    wired = wiring()
    setup_id = services.new_setup(wired.store, wired.clock)
    return redirect(url_for("bench.page", setup_id=setup_id), 303)


@pages.post("/setups/<int:setup_id>/copy")
def copy(setup_id: int) -> ResponseReturnValue:
    """A copy, opened on the Bench."""
    copied = services.copy_setup(wiring().store, wiring().clock, setup_id)
    return redirect(url_for("bench.page", setup_id=copied), 303)


@pages.post("/demo")
def demo() -> ResponseReturnValue:
    """The demo's set-ups, loaded for someone who has none."""
    wired = wiring()
    load_demo_once(wired.store, wired.clock)
    return redirect(url_for("today.page"), 303)


@pages.post("/unit")
def unit() -> ResponseReturnValue:
    """Metres or feet, kept in this browser; back to where it was asked."""
    wanted = request.form.get("unit", "")
    if wanted not in UNITS:
        abort(400, "Distances are read in metres or feet.")
    answer = redirect(inner(request.form.get("back", "")), 303)
    answer.set_cookie(UNIT_COOKIE, wanted, max_age=10 * 365 * 86_400, samesite="Strict")
    return answer


@pages.get("/favicon.ico")
def favicon() -> ResponseReturnValue:
    """Browsers ask here without being told."""
    return redirect(url_for("static", filename="favicon.svg"))


def _import(raw: bytes) -> ResponseReturnValue:
    """A set-up document as a new set-up; a plan document as a page to read."""
    taken = import_setup_file(wiring().store, wiring().clock, raw)
    if isinstance(taken, int):
        return redirect(url_for("bench.page", setup_id=taken), 303)
    return render_template("setups/plan.html", plan=taken)


add_import(
    pages,
    "/setups",
    Import(
        "Open a document",
        "A set-up document (noggin-setup, JSON), as a file or pasted, becomes a new set-up. A plan document"
        " (noggin-plan) is shown to read.",
        ".json,application/json",
        "Open it",
        _import,
    ),
)
