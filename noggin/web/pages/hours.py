"""The day of a set-up as pictures: on its own plan, and of a shoot's placement."""

from flask import Blueprint, abort, render_template, url_for
from flask.typing import ResponseReturnValue

from noggin.services.day import shoots
from noggin.services.setups import setups
from noggin.services.setups.hours import DayOfSetUp, HourShown, day_of
from noggin.services.setups.proofs import ProofShown
from noggin.web.shared.proof_answer import proof_answer
from noggin.web.shared.wiring import wants_part, wiring

pages = Blueprint("hours", __name__)

SMALL = ProofShown(small=True)


@pages.get("/setups/<int:setup_id>/hours")
def of_setup(setup_id: int) -> str:
    """A set-up's own day, picture by picture."""
    return _strip(_of_setup(setup_id), {"setup_id": setup_id})


@pages.get("/shoots/<int:shoot_id>/hours/<int:index>")
def of_slot(shoot_id: int, index: int) -> str:
    """The day of one set-up of a shoot, picture by picture."""
    return _strip(_of_slot(shoot_id, index), {"shoot_id": shoot_id, "index": index})


@pages.get("/setups/<int:setup_id>/hours/<hour>-<name>.webp")
def setup_picture(setup_id: int, hour: str, name: str) -> ResponseReturnValue:
    """A set-up at one half hour of its day, under an address of its content."""
    return _picture(_of_setup(setup_id), hour, name, {"setup_id": setup_id})


@pages.get("/shoots/<int:shoot_id>/hours/<int:index>/<hour>-<name>.webp")
def slot_picture(shoot_id: int, index: int, hour: str, name: str) -> ResponseReturnValue:
    """One set-up of a shoot at a half hour of its day, under an address of its content."""
    return _picture(_of_slot(shoot_id, index), hour, name, {"shoot_id": shoot_id, "index": index})


def _of_setup(setup_id: int) -> DayOfSetUp:
    return day_of(setups.open_setup(wiring().store, setup_id).setup) or abort(404)


def _of_slot(shoot_id: int, index: int) -> DayOfSetUp:
    day = shoots.open_shoot(wiring().store, wiring().clock, shoot_id)
    slot = next((placed.slot for placed in day.slots if placed.index == index), None)
    if slot is None:
        abort(404)
    return DayOfSetUp(slot.placement, slot.start)


@pages.app_template_global("hour_picture")
def hour_picture(setup_id: int, shown: HourShown) -> str:
    """Where the picture of a set-up at an hour of its day is."""
    return _address(shown, {"setup_id": setup_id})


def _strip(day: DayOfSetUp, whose: dict[str, int]) -> str:
    shown = [(one, _address(one, whose)) for one in day.hours]
    template = "hours/_strip.html" if wants_part() else "hours/page.html"
    return render_template(template, day=day, shown=shown, whose=whose)


def _picture(day: DayOfSetUp, hour: str, name: str, whose: dict[str, int]) -> ResponseReturnValue:
    shown = day.at(hour)
    if shown is None:
        abort(404)
    return proof_answer(shown.recipe, name, lambda now: _address(shown, whose, now), SMALL)


def _address(shown: HourShown, whose: dict[str, int], name: str = "") -> str:
    hour, name = shown.hour, name or shown.recipe.name
    if "index" in whose:
        shoot_id, index = whose["shoot_id"], whose["index"]
        return url_for("hours.slot_picture", shoot_id=shoot_id, index=index, hour=hour, name=name)
    return url_for("hours.setup_picture", setup_id=whose["setup_id"], hour=hour, name=name)
