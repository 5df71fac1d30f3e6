"""The list of set-ups, and where a visit begins."""

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.core.wording import UNITS
from noggin.services import setups as services
from noggin.services.demo import load_demo_once
from noggin.web.wiring import UNIT_COOKIE, wiring

pages = Blueprint("setups", __name__)


@pages.get("/")
def start() -> ResponseReturnValue:
    """The Bench with the set-up worked on last; the list when there is none."""
    latest = services.latest_setup(wiring().store)
    if latest is None:
        return redirect(url_for("setups.listing"))
    return redirect(url_for("bench.page", setup_id=latest))


@pages.get("/setups")
def listing() -> str:
    """Every set-up with what is advised for it."""
    opened = services.all_setups(wiring().store)
    example = None if opened else services.example()
    removed = services.removed_setups(wiring().store)
    return render_template("setups/page.html", opened=opened, example=example, removed=removed)


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


@pages.post("/setups/<int:setup_id>/remove")
def remove(setup_id: int) -> ResponseReturnValue:
    """Lay a set-up aside; the list offers it back."""
    services.remove_setup(wiring().store, wiring().clock, setup_id)
    return redirect(url_for("setups.listing"), 303)


@pages.post("/setups/<int:setup_id>/bring-back")
def bring_back(setup_id: int) -> ResponseReturnValue:
    """Bring back what was laid aside, opened on the Bench."""
    services.bring_back(wiring().store, wiring().clock, setup_id)
    return redirect(url_for("bench.page", setup_id=setup_id), 303)


@pages.post("/demo")
def demo() -> ResponseReturnValue:
    """The demo's set-ups, loaded for someone who has none."""
    wired = wiring()
    load_demo_once(wired.store, wired.clock)
    return redirect(url_for("setups.start"), 303)


@pages.post("/unit")
def unit() -> ResponseReturnValue:
    """Metres or feet, kept in this browser; back to where it was asked."""
    wanted = request.form.get("unit", "")
    if wanted not in UNITS:
        abort(400, "Distances are read in metres or feet.")
    back = request.form.get("back", "")
    answer = redirect(back if back.startswith("/") and not back.startswith("//") else "/", 303)
    answer.set_cookie(UNIT_COOKIE, wanted, max_age=10 * 365 * 86_400, samesite="Strict")
    return answer


@pages.get("/favicon.ico")
def favicon() -> ResponseReturnValue:
    """Browsers ask here without being told."""
    return redirect(url_for("static", filename="favicon.svg"))
