"""Shoots: the day strip, the set-ups on it, readings, and what to do when the light changes."""

import json

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.core.errors import NogginError, Refused
from noggin.core.spot import ZONES
from noggin.documents.faults import BadDocument
from noggin.documents.fields import zones
from noggin.documents.reading import read_object
from noggin.documents.shoot_entries import SHOOT_ENTRIES
from noggin.documents.waypoints import read_waypoint
from noggin.services import bags, on_days, shoots
from noggin.services.looking import LEASTS, RUNGS, look_at
from noggin.services.shoot_document import import_shoot, shoot_calendar, shoot_document, shoot_table
from noggin.services.shoots import Day
from noggin.web.wiring import file, steps, wants_part, wiring

pages = Blueprint("shoots", __name__)


@pages.get("/shoots")
def listing() -> str:
    """Every shoot by its date."""
    return _listing({}, {})


def _listing(typed: dict[str, str], problems: dict[str, str]) -> str:
    store = wiring().store
    found = shoots.all_shoots(store, wiring().clock)
    if not typed:
        last = found[-1] if found else None
        typed = {
            "date": wiring().clock().date().isoformat(),
            "place": SHOOT_ENTRIES["place"].text(last.piece.document) if last else "",
            "tz": last.shoot.place.tz if last else "",
        }
    removed = [(kept.id, kept.document["name"]) for kept in store.shoots.removed()]
    return render_template(
        "shoots/page.html",
        days=found,
        typed=typed,
        problems=problems,
        asked=[SHOOT_ENTRIES[key] for key in shoots.NEW],
        zones=zones(),
        removed=removed,
    )


@pages.post("/shoots")
def create() -> ResponseReturnValue:
    """A shoot from its name, date, place and zone."""
    typed = {key: request.form.get(key, "") for key in shoots.NEW}
    try:
        number = shoots.new_shoot(wiring().store, wiring().clock, typed)
    except shoots.Mistyped as mistyped:
        return _listing(typed, dict(mistyped.problems)), 422
    return redirect(url_for("shoots.shoot", shoot_id=number), 303)


@pages.get("/shoots/<int:shoot_id>")
def shoot(shoot_id: int) -> str:
    """One shoot: the day and what is looked at of it."""
    template = "shoots/_day.html" if wants_part() else "shoots/shoot.html"
    return _page(template, shoots.open_shoot(wiring().store, wiring().clock, shoot_id))


def _page(template: str, day: Day, **more: object) -> str:
    store = wiring().store
    look = look_at(
        day,
        request.values.get("look", type=int),
        request.values.get("least", ""),
        request.values.get("rungs", ""),
    )
    taken = {one.at for one in day.placed if one.slot}
    return render_template(
        template,
        day=day,
        look=look,
        leasts=LEASTS,
        rungs=RUNGS,
        reading_zones=ZONES,
        others=[(kept.id, kept.document["name"]) for kept in store.setups.all()],
        bag_names=[bag.name for bag in bags.all_bags(store)],
        zones=zones() if template == "shoots/shoot.html" else (),
        gone=[one for one in day.placed if one.at not in taken],
        **more,
    )


def _answer(day: Day, key: str = "", text: str = "") -> ResponseReturnValue:
    if wants_part():
        return _page("shoots/_day.html", day, taken={key: text})
    if day.piece.pending:
        return _page("shoots/shoot.html", day), 422
    look, least, rungs = (request.values.get(name) or None for name in ("look", "least", "rungs"))
    return redirect(url_for("shoots.shoot", shoot_id=day.id, look=look, least=least, rungs=rungs), 303)


@pages.post("/shoots/<int:shoot_id>/figures/<key>")
def figure(shoot_id: int, key: str) -> ResponseReturnValue:
    """Take one figure as typed (`text`), or moved by steps (`by`)."""
    store, clock = wiring().store, wiring().clock
    by = steps(request.form.get("by"))
    if by is not None:
        return _answer(shoots.step_shoot(store, clock, shoot_id, key, by), key)
    text = request.form.get("text", "")
    return _answer(shoots.enter_shoot(store, clock, shoot_id, key, text), key, text)


@pages.post("/shoots/<int:shoot_id>/undo")
def undo(shoot_id: int) -> ResponseReturnValue:
    """Take the last step back."""
    return _answer(shoots.move(wiring().store, wiring().clock, shoot_id, -1))


@pages.post("/shoots/<int:shoot_id>/redo")
def redo(shoot_id: int) -> ResponseReturnValue:
    """Do again what was taken back."""
    return _answer(shoots.move(wiring().store, wiring().clock, shoot_id, 1))


@pages.post("/shoots/<int:shoot_id>/setups")
def add(shoot_id: int) -> ResponseReturnValue:
    """A set-up on the day."""
    number = request.form.get("setup", 0, type=int)
    return _answer(shoots.add_slot(wiring().store, wiring().clock, shoot_id, number))


@pages.post("/shoots/<int:shoot_id>/setups/<int:at>/remove")
def take_off(shoot_id: int, at: int) -> ResponseReturnValue:
    """A set-up off the day."""
    return _answer(shoots.remove_slot(wiring().store, wiring().clock, shoot_id, at))


@pages.post("/shoots/<int:shoot_id>/setups/<int:at>/best")
def best(shoot_id: int, at: int) -> ResponseReturnValue:
    """A set-up to where its way holds with as much in reserve as is asked for."""
    store, clock = wiring().store, wiring().clock
    look = look_at(
        shoots.open_shoot(store, wiring().clock, shoot_id), at, request.values.get("least", ""), ""
    )
    if look is None or look.placed.at != at:
        raise Refused("setups", "that set-up does not stand on this day any more")
    least = LEASTS[look.least][0]
    return _answer(on_days.move_to_best(store, clock, shoot_id, at, look.way.way, least))


@pages.post("/shoots/<int:shoot_id>/readings")
def read(shoot_id: int) -> ResponseReturnValue:
    """A reading at a known time; what cannot be read stands in its field with the reason."""
    form = request.form
    typed = {name: form.get(name, "") for name in ("time", "zone", "reading")}
    store, clock = wiring().store, wiring().clock
    try:
        day = shoots.add_reading(store, clock, shoot_id, typed["time"], typed["zone"], typed["reading"])
    except NogginError as error:
        if not isinstance(error, ValueError):
            raise
        problem = error.problem if isinstance(error, Refused) else str(error)
        day, more = shoots.open_shoot(store, wiring().clock, shoot_id), {"typed": typed, "problem": problem}
        if wants_part():
            return _page("shoots/_day.html", day, taken={}, **more)
        return _page("shoots/shoot.html", day, **more), 422
    return _answer(day)


@pages.post("/shoots/<int:shoot_id>/readings/<int:at>/remove")
def take_out(shoot_id: int, at: int) -> ResponseReturnValue:
    """One reading less."""
    return _answer(shoots.remove_reading(wiring().store, wiring().clock, shoot_id, at))


@pages.post("/shoots/<int:shoot_id>/place")
def place(shoot_id: int) -> ResponseReturnValue:
    """The place of a GPX or GeoJSON file."""
    given = request.files.get("file")
    store = wiring().store
    try:
        found = read_waypoint(given.read() if given else b"")
    except BadDocument as bad:
        day = shoots.open_shoot(store, wiring().clock, shoot_id)
        return _page("shoots/shoot.html", day, place_problem=str(bad.faults[0])), 422
    return _answer(shoots.take_place(store, wiring().clock, shoot_id, found))


@pages.post("/shoots/<int:shoot_id>/remove")
def remove(shoot_id: int) -> ResponseReturnValue:
    """Lay a shoot aside; the list offers it back."""
    wiring().store.shoots.remove(shoot_id, wiring().clock())
    return redirect(url_for("shoots.listing"), 303)


@pages.post("/shoots/<int:shoot_id>/bring-back")
def bring_back(shoot_id: int) -> ResponseReturnValue:
    """Bring back a shoot that was laid aside."""
    wiring().store.shoots.bring_back(shoot_id, wiring().clock())
    return redirect(url_for("shoots.shoot", shoot_id=shoot_id), 303)


@pages.get("/shoots/<int:shoot_id>/shoot.json")
def document(shoot_id: int) -> Response:
    """The shoot document, with its set-ups."""
    store = wiring().store
    day = shoots.open_shoot(store, wiring().clock, shoot_id)
    text = json.dumps(shoot_document(store, day), indent=2, ensure_ascii=False) + "\n"
    return file(day.name, "shoot.json", text, "application/json")


@pages.get("/shoots/<int:shoot_id>/calendar.ics")
def in_calendar(shoot_id: int) -> Response:
    """The set-ups as a calendar."""
    day = shoots.open_shoot(wiring().store, wiring().clock, shoot_id)
    found = shoot_calendar(day, wiring().clock)
    return file(day.name, "calendar.ics", found, "text/calendar")


@pages.get("/shoots/<int:shoot_id>/light.csv")
def table(shoot_id: int) -> Response:
    """The day's light as CSV."""
    day = shoots.open_shoot(wiring().store, wiring().clock, shoot_id)
    return file(day.name, "light.csv", shoot_table(day), "text/csv")


@pages.get("/shoots/import")
def bring_in_page() -> str:
    """Where a shoot document is given."""
    return render_template("shoots/import.html", faults=[], pasted="")


@pages.post("/shoots/import")
def bring_in() -> ResponseReturnValue:
    """A shoot document, by file or by paste, as a new shoot with its set-ups."""
    pasted = request.form.get("document", "")
    given = request.files.get("file")
    raw = given.read() if given and given.filename else pasted.encode()
    try:
        number = import_shoot(wiring().store, wiring().clock, read_object(raw))
    except BadDocument as bad:
        kept = pasted or raw[:20_000].decode(errors="replace")
        page = render_template("shoots/import.html", faults=[str(one) for one in bad.faults], pasted=kept)
        return page, 422
    return redirect(url_for("shoots.shoot", shoot_id=number), 303)
