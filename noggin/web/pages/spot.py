"""At the spot, for a phone in one hand: what to dial now, what came out, what to change next."""

from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import Mistyped, TooLate
from noggin.services.frames import daylight_readings, rehearsal, spot
from noggin.services.frames.pop_form import SAID, enter_file, enter_pop
from noggin.services.frames.take import OpenTake, open_take
from noggin.web.shared.wiring import read_after_act, wants_part, wiring

pages = Blueprint("spot", __name__)

UPLOAD_MOST = 64 * 1024 * 1024
"""Bytes of a frame's file."""


@pages.get("/setups/<int:setup_id>/shoot")
def page(setup_id: int) -> str:
    """What to dial now, and what the frames say; another `way` where there are none yet."""
    found = open_take(wiring().store, wiring().clock, setup_id, request.args.get("way", ""))
    return _render(found)


def _render(found: OpenTake, **more: Any) -> str:
    template = "spot/_spot.html" if wants_part() else "spot/page.html"
    given = {"typed": {}, "problems": {}, "looked": ()} | more
    given["readings"] = daylight_readings.day_readings(wiring().store, wiring().clock, found)
    return render_template(template, take=found, said=SAID, seen_by=rehearsal.SEEN_BY, **given)


def _answer(found: OpenTake) -> ResponseReturnValue:
    if not wants_part():
        return redirect(url_for("spot.page", setup_id=found.id), 303)
    read_after_act()
    return _render(found)


def _as_offered(setup_id: int) -> None:
    """Refuse what is offered once and was pressed twice. Raises TooLate."""
    offered = request.form.get("frames", type=int)
    found = open_take(wiring().store, wiring().clock, setup_id)
    if offered is not None and offered != len(found.shots):
        raise TooLate("That frame is kept already, or one was taken out. Look at the page again.")


@pages.post("/setups/<int:setup_id>/shoot/frames")
def pop(setup_id: int) -> ResponseReturnValue:
    """A frame, as it was dialled and as it came out."""
    store, clock = wiring().store, wiring().clock
    with store.write_transaction():
        _as_offered(setup_id)
        try:
            found = enter_pop(store, clock, setup_id, request.form)
        except Mistyped as error:
            found = open_take(store, clock, setup_id)
            typed = {"typed": request.form, "problems": error.problems}
            return _render(found, **typed), 200 if wants_part() else 422
    return _answer(found)


@pages.post("/setups/<int:setup_id>/shoot/file")
def pop_file(setup_id: int) -> ResponseReturnValue:
    """A frame, by its file."""
    request.max_content_length = UPLOAD_MOST
    store, clock, given = wiring().store, wiring().clock, request.files.get("frame")
    with store.write_transaction():
        _as_offered(setup_id)
        try:
            if given is None or not given.filename:
                raise Mistyped({"file": "Choose the file of a frame first."})
            found = enter_file(store, clock, setup_id, given.filename, given.read(), request.form)
        except Mistyped as error:
            found = open_take(store, clock, setup_id)
            return _render(found, problems=error.problems), 200 if wants_part() else 422
    return _answer(found)


@pages.post("/setups/<int:setup_id>/shoot/fire")
def fire(setup_id: int) -> ResponseReturnValue:
    """A simulated frame, with a `fault` where one is asked for."""
    store, clock = wiring().store, wiring().clock
    with store.write_transaction():
        _as_offered(setup_id)
        by, fault = request.form.get("by", "words"), request.form.get("fault", "")
        found = rehearsal.fire(store, clock, setup_id, by, fault)
    return _answer(found)


@pages.post("/setups/<int:setup_id>/shoot/look")
def look(setup_id: int) -> str:
    """What is seen of lights, trigger and camera after a simulated frame."""
    store, clock = wiring().store, wiring().clock
    looked = rehearsal.look(store, clock, setup_id)
    return _render(open_take(store, clock, setup_id), looked=looked)


@pages.post("/setups/<int:setup_id>/shoot/begin")
def begin(setup_id: int) -> ResponseReturnValue:
    """A fresh take, or a rehearsal of one."""
    rehearses = request.form.get("rehearsal") == "1"
    return _answer(spot.begin_again(wiring().store, wiring().clock, setup_id, rehearsal=rehearses))


@pages.post("/setups/<int:setup_id>/shoot/way")
def way(setup_id: int) -> ResponseReturnValue:
    """Take the picture another way."""
    key = request.form.get("way", "")
    return _answer(spot.choose_way(wiring().store, wiring().clock, setup_id, key))


@pages.post("/setups/<int:setup_id>/shoot/tick")
def tick(setup_id: int) -> ResponseReturnValue:
    """Something was gone through, or was not."""
    key, on = request.form.get("check", ""), request.form.get("on") == "1"
    return _answer(spot.tick(wiring().store, wiring().clock, setup_id, key, on=on))


@pages.post("/setups/<int:setup_id>/shoot/leave")
def leave(setup_id: int) -> ResponseReturnValue:
    """A control stays as it is."""
    control, light = request.form.get("control", ""), request.form.get("light", type=int)
    return _answer(spot.leave_alone(wiring().store, wiring().clock, setup_id, control, light))


@pages.post("/setups/<int:setup_id>/shoot/lesson")
def lesson(setup_id: int) -> ResponseReturnValue:
    """What this take taught."""
    text = request.form.get("lesson", "")
    return _answer(spot.keep_lesson(wiring().store, wiring().clock, setup_id, text))


@pages.post("/setups/<int:setup_id>/shoot/frames/<int:frame_id>/remove")
def remove(setup_id: int, frame_id: int) -> ResponseReturnValue:
    """A frame out for good."""
    return _answer(spot.remove_frame(wiring().store, wiring().clock, setup_id, frame_id))


@pages.post("/setups/<int:setup_id>/shoot/frames/<int:frame_id>/fault")
def fault(setup_id: int, frame_id: int) -> ResponseReturnValue:
    """Something was found to have gone wrong with a frame, or not (`true` 0)."""
    store, clock, key = wiring().store, wiring().clock, request.form.get("fault", "")
    is_true = request.form.get("true") == "1"
    return _answer(spot.settle_fault(store, clock, setup_id, frame_id, key, true=is_true))


@pages.post("/setups/<int:setup_id>/shoot/reading")
def keep_reading(setup_id: int) -> ResponseReturnValue:
    """The daylight that frames found, as a reading of the day that the set-up is part of."""
    number = request.form.get("shoot", type=int) or 0
    return _answer(daylight_readings.keep_as_reading(wiring().store, wiring().clock, setup_id, number))
