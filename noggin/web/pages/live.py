"""The day live, for a phone in one hand: what is on, what to dial now, what comes next."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.day import shoots
from noggin.services.day.live import Live, keep_reading, live
from noggin.web.shared.wiring import read_after_act, wants_part, wiring

pages = Blueprint("live", __name__)


def _found(shoot_id: int) -> Live | None:
    day = shoots.open_shoot(wiring().store, wiring().clock, shoot_id)
    return live(day, wiring().clock, request.values)


@pages.get("/shoots/<int:shoot_id>/live")
def page(shoot_id: int) -> str:
    """The day now, or as `at`, `on` and `thirds` ask."""
    return _page(shoot_id, _found(shoot_id))


def _page(shoot_id: int, found: Live | None) -> str:
    template = "live/_live.html" if wants_part() else "live/page.html"
    day = found.day if found else shoots.open_shoot(wiring().store, wiring().clock, shoot_id)
    return render_template(template, live=found, day=day)


@pages.post("/shoots/<int:shoot_id>/live/reading")
def read(shoot_id: int) -> ResponseReturnValue:
    """Keep the light as it is found as a reading of the day; the ladder starts from there."""
    found = _found(shoot_id)
    if found:
        keep_reading(wiring().store, wiring().clock, found)
    if not wants_part():
        return redirect(url_for("live.page", shoot_id=shoot_id, on=request.form.get("on") or None), 303)
    read_after_act()
    day = shoots.open_shoot(wiring().store, wiring().clock, shoot_id)
    return _page(shoot_id, live(day, wiring().clock, {**request.values, "thirds": ""}))
