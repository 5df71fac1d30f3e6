"""The log: every frame, what was meant and what was shot, and what it taught."""

from base64 import b64encode
from datetime import UTC, datetime
from typing import Any

from flask import Blueprint, Response, abort, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import Refused
from noggin.services.frames import frame_import
from noggin.services.frames import log as services
from noggin.services.frames.frame_import import ImportedFrame
from noggin.services.frames.full_size import FullSizePart, at_full_size
from noggin.services.frames.log_charts import charts
from noggin.services.setups.setups import recent
from noggin.services.whole.files import import_log_file
from noggin.web.shared.proof_answer import proof_answer
from noggin.web.shared.room import FILES
from noggin.web.shared.wiring import file, wants_part, wiring

pages = Blueprint("log", __name__)


@pages.get("/log")
def listing() -> str:
    """A page of the log, newest first, of what is asked for."""
    wanted = services.wanted_of(request.args)
    found = services.page(wiring().store, wanted, request.args.get("before", type=int))
    asked = {name: request.args[name] for name in (*services.FILTERS, "find") if request.args.get(name)}
    if wants_part():
        return render_template("log/_rows.html", found=found, asked=asked)
    return render_template(
        "log/page.html",
        found=found,
        asked=asked,
        filters=services.FILTERS,
        values=services.values(wiring().store),
        is_empty=services.is_empty(wiring().store),
        log_piece=services.A_PIECE,
    )


@pages.get("/log/<int:frame_id>")
def frame(frame_id: int) -> str:
    """One frame."""
    return _frame_page(frame_id)


@pages.post("/log/<int:frame_id>/full-size")
def full_size(frame_id: int) -> str:
    """One frame, with parts of its file at 1:1. The file is looked at and not kept."""
    return _frame_page(frame_id, at_full_size(wiring().store, frame_id, _given_file()))


def _frame_page(frame_id: int, parts: tuple[FullSizePart, ...] = ()) -> str:
    store = wiring().store
    found = services.one(store, frame_id)
    return render_template(
        "log/frame.html",
        frame=found,
        others=services.of_same_take(store, found),
        planned=services.planned_picture(store, frame_id) if found.has_picture else None,
        setups=() if found.take_id else recent(store),
        parts=[(part.zone, b64encode(part.jpeg).decode()) for part in parts],
    )


def _given_file() -> bytes:
    """The file that was sent along; empty where none was."""
    given = request.files.get("frame")
    return given.read() if given else b""


@pages.get("/log/<int:frame_id>/planned-<name>.webp")
def proof(frame_id: int, name: str) -> ResponseReturnValue:
    """What a frame's take planned, as a picture under an address of its content."""
    planned = services.planned_picture(wiring().store, frame_id)
    if planned is None:
        abort(404)
    return proof_answer(planned.recipe, name, lambda now: url_for("log.proof", frame_id=frame_id, name=now))


@pages.get("/log/<int:frame_id>/picture.jpg")
def picture(frame_id: int) -> Response:
    """The small picture of a frame."""
    answer = Response(wiring().store.frames.picture(frame_id), content_type="image/jpeg")
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@pages.post("/log/<int:frame_id>/note")
def note(frame_id: int) -> ResponseReturnValue:
    """Keep a note on a frame."""
    services.keep_note(wiring().store, frame_id, request.form.get("note", ""))
    return redirect(url_for("log.frame", frame_id=frame_id), 303)


@pages.post("/log/<int:frame_id>/patch")
def measure(frame_id: int) -> ResponseReturnValue:
    """Read a zone off another part of the frame's file, which is sent along again."""
    raw = _given_file()
    zone, box = request.form.get("zone", ""), [request.form.get(name, "") for name in BOX]
    frame_import.measure_anew(wiring().store, frame_id, raw, zone, frame_import.patch_of(box))
    return redirect(url_for("log.frame", frame_id=frame_id), 303)


BOX = ("left", "top", "width", "height")
"""Fields of a patch, in percent of the frame."""


@pages.post("/log/<int:frame_id>/setup")
def put_with(frame_id: int) -> ResponseReturnValue:
    """Put a frame with a set-up by hand."""
    services.put_with(wiring().store, frame_id, request.form.get("setup", type=int) or 0)
    return redirect(url_for("log.frame", frame_id=frame_id), 303)


@pages.post("/log/<int:frame_id>/remove")
def remove(frame_id: int) -> ResponseReturnValue:
    """Take a frame out of the log."""
    services.remove(wiring().store, frame_id)
    return redirect(url_for("log.listing"), 303)


@pages.post("/log/<int:frame_id>/like")
def like(frame_id: int) -> ResponseReturnValue:
    """A new set-up like that of a frame, with what was learned in it."""
    setup_id = services.like_that_day(wiring().store, wiring().clock, frame_id)
    return redirect(url_for("bench.page", setup_id=setup_id), 303)


@pages.get("/log/charts")
def learned() -> str:
    """What the log teaches, over time."""
    return render_template("log/charts.html", charts=charts(wiring().store))


@pages.get("/log/frames")
def bring_in_page() -> str:
    """Where files of frames are brought in."""
    return _bring_in_page(())


def _bring_in_page(taken: tuple[ImportedFrame, ...], **more: Any) -> str:
    zone = request.form.get("zone") or _usual_zone()
    given = {"zone": zone, "clock": request.form.get("clock", "0"), "problem": ""} | more
    return render_template("log/bring_in.html", taken=taken, upload_most=FILES, **given)


def _usual_zone() -> str:
    """The zone of the shoot that was worked on last, as the best guess at what a camera's clock shows."""
    return frame_import.usual_zone(wiring().store)


@pages.post("/log/frames")
def bring_in() -> ResponseReturnValue:
    """Take files in. One at a time answers its line alone, for the script that shows how far it is."""
    store = wiring().store
    try:
        batch = frame_import.batch_of(
            request.form.get("zone") or "UTC",
            _seconds(request.form.get("clock", "")),
            keep_place=request.form.get("place") == "1",
        )
    except Refused as error:
        return _bring_in_page((), problem=error.problem), 422
    matcher = frame_import.Matcher(store)
    files = [one for one in request.files.getlist("frames") if one.filename]
    taken = tuple(
        frame_import.import_frame(store, one.read(), one.filename or "", batch, matcher) for one in files
    )
    if wants_part():
        return render_template("log/_taken.html", taken=taken)
    return _bring_in_page(taken)


def _seconds(text: str) -> float:
    try:
        return float(text.replace(",", ".") or 0)
    except ValueError:
        raise Refused("clock", f"{text} is not a number of seconds. Try 0 or -40") from None


@pages.post("/log/import")
def bring_in_log() -> ResponseReturnValue:
    """Take a log document in."""
    given = request.files.get("file")
    raw = given.read() if given else b""
    new, known = import_log_file(wiring().store, raw)
    if wants_part():
        return jsonify(new=new, known=known)
    return redirect(url_for("log.listing", brought=f"{new} new, {known} known already"), 303)


@pages.get("/log.json")
def as_json() -> Response:
    """The log as an open document, streamed."""
    store, wanted = wiring().store, services.wanted_of(request.args)
    # What is streamed is read while it is sent, after this request's own moment is over.
    answer = Response(services.log_json(store, wanted), content_type="application/json; charset=utf-8")
    answer.headers["Content-Disposition"] = f'attachment; filename="{_stem()}.json"'
    return answer


@pages.get("/log.csv")
def as_csv() -> Response:
    """The log as a table."""
    content = services.log_csv(wiring().store, services.wanted_of(request.args))
    return file(_stem(), "log.csv", content, "text/csv")


@pages.get("/log.xmp.zip")
def as_xmp() -> Response:
    """XMP sidecars of the frames that have a file."""
    content = services.sidecars_zip(wiring().store, services.wanted_of(request.args))
    answer = Response(content, content_type="application/zip")
    answer.headers["Content-Disposition"] = f'attachment; filename="{_stem()}-xmp.zip"'
    return answer


def _stem() -> str:
    return f"noggin-log-{datetime.now(UTC):%Y%m%d}"
