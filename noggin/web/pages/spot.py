"""At the spot, for a phone in one hand: what to dial now, what came out, what to change next."""

from collections.abc import Callable
from functools import partial
from secrets import token_hex
from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.clock import Clock
from noggin.services.errors import Mistyped, TooLate, Unreadable
from noggin.services.frames import daylight_readings, rehearsal, spot
from noggin.services.frames.log import FrameEntry
from noggin.services.frames.measured import measured_file
from noggin.services.frames.pop_form import SAID, frame_of_file, frame_of_form
from noggin.services.frames.take import OpenTake, open_take
from noggin.services.whole.opening import Store
from noggin.web.shared.acts import offered_once
from noggin.web.shared.wiring import read_after_act, wants_part, wiring

pages = Blueprint("spot", __name__)


@pages.get("/setups/<int:setup_id>/shoot")
def page(setup_id: int) -> str:
    """What to dial now, and what the frames say; another `way` where there are none yet."""
    return _render(_open(setup_id))


def _render(take: OpenTake, **more: Any) -> str:
    template = "spot/_spot.html" if wants_part() else "spot/page.html"
    given = {"typed": {}, "problems": {}, "looked": ()} | more
    given["readings"] = daylight_readings.day_readings(wiring().store, wiring().clock, take)
    once = token_hex(8)
    return render_template(template, take=take, said=SAID, seen_by=rehearsal.SEEN_BY, once=once, **given)


def _answer(take: OpenTake) -> ResponseReturnValue:
    if not wants_part():
        return redirect(url_for("spot.page", setup_id=take.id), 303)
    read_after_act()
    return _render(take)


def _open(setup_id: int) -> OpenTake:
    """The take; in the way that the page was asked for, where nothing is kept of one yet."""
    return open_take(wiring().store, wiring().clock, setup_id, request.args.get("way", ""))


def _act(setup_id: int, change: Callable[[Store, Clock, OpenTake], OpenTake]) -> ResponseReturnValue:
    """Change a take and answer with it."""
    store, clock = wiring().store, wiring().clock
    with store.write_transaction():
        take = change(store, clock, _open(setup_id))
    return _answer(take)


def _one_more(
    setup_id: int,
    said: Callable[[Store, Clock, OpenTake], FrameEntry],
    keep: Callable[[Store, Clock, OpenTake, FrameEntry], OpenTake],
) -> ResponseReturnValue:
    """One frame more. What it says is worked out before anything is locked, so that nobody waits for that;
    one that came already, by a double tap or after it had waited, is there once. Raises TooLate."""
    take, once = _open(setup_id), offered_once("")
    if once in take.once:
        return _answer(take)
    take = _as_offered(take)
    try:
        entry = said(wiring().store, wiring().clock, take)
    except Mistyped as error:
        wrong = _render(take, typed=request.form, problems=error.problems)
        return wrong, 200 if wants_part() else 422
    spot.foresee(spot.with_entry(take, entry))

    def keep_once(store: Store, clock: Clock, take: OpenTake) -> OpenTake:
        if once in take.once:
            return take
        kept = keep(store, clock, _as_offered(take), entry)
        return spot.remember_once(store, clock, kept, once) if once else kept

    return _act(setup_id, keep_once)


def _as_offered(take: OpenTake) -> OpenTake:
    offered = request.form.get("frames", type=int)
    if offered is not None and offered != len(take.shots):
        raise TooLate("That frame is kept already, or one was taken out. Look at the page again.")
    return take


@pages.post("/setups/<int:setup_id>/shoot/frames")
def pop(setup_id: int) -> ResponseReturnValue:
    """A frame, as it was dialled and as it came out."""
    return _one_more(
        setup_id, lambda _, clock, take: frame_of_form(clock, take, request.form), spot.add_frame
    )


@pages.post("/setups/<int:setup_id>/shoot/file")
def pop_file(setup_id: int) -> ResponseReturnValue:
    """A frame, by its file."""
    given = request.files.get("frame")
    name, raw = (given.filename or "", given.read()) if given else ("", b"")
    measured, problem = None, "Choose the file of a frame first."
    if name:
        try:
            measured = measured_file(wiring().store, raw, name)
        except Unreadable as error:
            problem = f"{name}: {error.problem}"

    def said(store: Store, clock: Clock, take: OpenTake) -> FrameEntry:
        if measured is None:
            raise Mistyped({"file": problem})
        return frame_of_file(store, clock, take, measured, request.form)

    jpeg = measured.photo.jpeg if measured else None
    return _one_more(setup_id, said, partial(spot.add_frame, jpeg=jpeg))


@pages.post("/setups/<int:setup_id>/shoot/fire")
def fire(setup_id: int) -> ResponseReturnValue:
    """A simulated frame, with a `fault` where one is asked for."""
    by, fault = request.form.get("by", "words"), request.form.get("fault", "")
    return _one_more(
        setup_id,
        lambda _, clock, take: rehearsal.fired(clock, take, by, fault),
        partial(rehearsal.keep_fired, by=by, fault=fault),
    )


@pages.post("/setups/<int:setup_id>/shoot/look")
def look(setup_id: int) -> str:
    """What is seen of lights, trigger and camera after a simulated frame."""
    take = _open(setup_id)
    return _render(take, looked=rehearsal.look(take))


@pages.post("/setups/<int:setup_id>/shoot/begin")
def begin(setup_id: int) -> ResponseReturnValue:
    """A fresh take, or a rehearsal of one."""
    chance = wiring().chance if request.form.get("rehearsal") == "1" else None
    return _act(setup_id, lambda store, clock, take: spot.begin_again(store, clock, take, rehearsal=chance))


@pages.post("/setups/<int:setup_id>/shoot/way")
def way(setup_id: int) -> ResponseReturnValue:
    """Take the picture another way."""
    key = request.form.get("way", "")
    return _act(setup_id, lambda store, clock, take: spot.choose_way(store, clock, take, key))


@pages.post("/setups/<int:setup_id>/shoot/look-on")
def look_on(setup_id: int) -> ResponseReturnValue:
    """Another look of the same people, or on with one that was begun."""
    name = request.form.get("look", "")
    return _act(setup_id, lambda store, clock, take: spot.begin_look(store, clock, take, name))


@pages.post("/setups/<int:setup_id>/shoot/end")
def end(setup_id: int) -> ResponseReturnValue:
    """The look that is taken is done, or is not."""
    ended = request.form.get("on") == "1"
    return _act(setup_id, lambda store, clock, take: spot.end_look(store, clock, take, ended=ended))


@pages.post("/setups/<int:setup_id>/shoot/on")
def go_on(setup_id: int) -> ResponseReturnValue:
    """On from a frame that is close enough."""
    return _act(setup_id, spot.go_on)


@pages.post("/setups/<int:setup_id>/shoot/frames/<int:frame_id>/wanted")
def wanted(setup_id: int, frame_id: int) -> ResponseReturnValue:
    """A zone is right as it came out."""
    zone, on = request.form.get("zone", ""), request.form.get("on") == "1"
    return _act(setup_id, lambda store, clock, take: spot.want(store, clock, take, frame_id, zone, on=on))


@pages.post("/setups/<int:setup_id>/shoot/tick")
def tick(setup_id: int) -> ResponseReturnValue:
    """Something was gone through, or was not."""
    key, on = request.form.get("check", ""), request.form.get("on") == "1"
    return _act(setup_id, lambda store, clock, take: spot.tick(store, clock, take, key, on=on))


@pages.post("/setups/<int:setup_id>/shoot/leave")
def leave(setup_id: int) -> ResponseReturnValue:
    """A control stays as it is."""
    control, light = request.form.get("control", ""), request.form.get("light", type=int)
    return _act(setup_id, lambda store, clock, take: spot.leave_alone(store, clock, take, control, light))


@pages.post("/setups/<int:setup_id>/shoot/lesson")
def lesson(setup_id: int) -> ResponseReturnValue:
    """What this take taught."""
    text = request.form.get("lesson", "")
    return _act(setup_id, lambda store, clock, take: spot.keep_lesson(store, clock, take, text))


@pages.post("/setups/<int:setup_id>/shoot/frames/<int:frame_id>/remove")
def remove(setup_id: int, frame_id: int) -> ResponseReturnValue:
    """A frame out for good."""
    spot.foresee(spot.without_frame(_open(setup_id), frame_id))
    return _act(setup_id, lambda store, clock, take: spot.remove_frame(store, clock, take, frame_id))


@pages.post("/setups/<int:setup_id>/shoot/frames/<int:frame_id>/fault")
def fault(setup_id: int, frame_id: int) -> ResponseReturnValue:
    """Something was found to have gone wrong with a frame, or not (`true` 0)."""
    key, is_true = request.form.get("fault", ""), request.form.get("true") == "1"
    spot.foresee(spot.with_settled_fault(_open(setup_id), frame_id, key, true=is_true))
    return _act(
        setup_id,
        lambda store, clock, take: spot.settle_fault(store, clock, take, frame_id, key, true=is_true),
    )


@pages.post("/setups/<int:setup_id>/shoot/reading")
def keep_reading(setup_id: int) -> ResponseReturnValue:
    """The daylight that frames found, as a reading of the day that the set-up is part of."""
    number = request.form.get("shoot", type=int) or 0
    return _act(
        setup_id,
        lambda store, clock, take: daylight_readings.keep_as_reading(store, clock, take, number),
    )
