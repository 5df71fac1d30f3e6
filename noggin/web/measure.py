"""Measuring a light: readings written down, what they say, and taking it as the light's figures."""

from random import SystemRandom

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.core.calibrate import own_guide_number
from noggin.core.errors import Unreadable
from noggin.core.quantities import read_distance
from noggin.services import setups as services
from noggin.services.setups import Opened, Sheet
from noggin.web.wiring import wiring

pages = Blueprint("measure", __name__)

EXAMPLE = "2 m, 1/1, f/28\n4 m, 1/1, f/14\n2 m, 1/1, 1/1000, f/8"
"""Readings as they are written down."""


@pages.get("/setups/<int:setup_id>/lights/<int:at>/measure")
def page(setup_id: int, at: int) -> str:
    """The sheet of one light, with the readings that are kept beside it."""
    opened = _opened(setup_id, at)
    kept = opened.document["lights"][at].get("readings", "")
    radius = opened.setup.lights[at].radius_m
    sheet = services.worked_out(opened, kept, radius, False) if kept else Sheet("", radius, False)
    return _render(opened, at, sheet)


@pages.post("/setups/<int:setup_id>/lights/<int:at>/measure")
def work_out(setup_id: int, at: int) -> ResponseReturnValue:
    """What the readings say; taken as the light's figures where that was pressed (`act` accept)."""
    opened = _opened(setup_id, at)
    act = request.form.get("act", "")
    readings = request.form.get("readings", "")
    if act == "simulate":
        readings = services.simulated_readings(opened, at, SystemRandom())
    sheet = _sheet(opened, readings)
    if act == "accept" and sheet.said:
        services.accept_measured(wiring().store, wiring().clock, setup_id, at, sheet)
        return redirect(url_for("bench.page", setup_id=setup_id), 303)
    return _render(opened, at, sheet), 422 if sheet.problem else 200


def _sheet(opened: Opened, readings: str) -> Sheet:
    """The sheet as it was filled in; across the face, so half of it is the radius."""
    across, with_droop = request.form.get("across", ""), request.form.get("droop") == "1"
    try:
        radius = read_distance(across) / 2 if across.strip() else None
    except Unreadable as error:
        return Sheet(readings, None, with_droop, problem=f"face across: {error}")
    return services.worked_out(opened, readings, radius, with_droop)


def _opened(setup_id: int, at: int) -> Opened:
    opened = services.open_setup(wiring().store, setup_id)
    if at >= len(opened.setup.lights):
        abort(404)
    return opened


def _render(opened: Opened, at: int, sheet: Sheet) -> str:
    across = request.form.get("across") if request.method == "POST" else None
    light = opened.setup.lights[at]
    return render_template(
        "measure/page.html",
        own=own_guide_number(sheet.said, light) if sheet.said else None,
        opened=opened,
        at=at,
        light=light,
        sheet=sheet,
        across=across,
        example=EXAMPLE,
    )
