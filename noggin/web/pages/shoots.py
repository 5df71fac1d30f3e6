"""Shoots: the day strip, the set-ups on it, readings, and what to do when the light changes."""

import json
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.day import placements, shoots
from noggin.services.day.shoot_document import shoot_calendar, shoot_document, shoot_table
from noggin.services.day.shoots import ShootDay
from noggin.services.day.slot_detail import LEAST_RESERVES, RUNGS, slot_detail
from noggin.services.errors import BadDocument, Mistyped, NogginError, Refused
from noggin.services.gear import bags
from noggin.services.keeping import kept
from noggin.services.keeping.kept import KeptItem
from noggin.services.setups import setups
from noggin.services.whole.files import import_shoot_file
from noggin.services.words import DAY_ZONES, SHOOT_ENTRIES, zones
from noggin.web.shared.acts import add_acts, as_offered
from noggin.web.shared.fields import FigureForm, fields_of
from noggin.web.shared.imports import Import, add_import
from noggin.web.shared.wiring import file, given_file, read_after_act, steps, wants_part, wiring

pages = Blueprint("shoots", __name__)


@pages.get("/shoots")
def listing() -> str:
    """A page of the list, the one worked on last first; of those whose name holds `find`."""
    if wants_part():
        rows, more, find = _rows()
        return render_template("shoots/_rows.html", rows=rows, more=more, find=find)
    return _listing({}, {})


def _rows() -> tuple[tuple[shoots.ListedShoot, ...], int | None, str]:
    find = request.args.get("find", "").strip()
    offset = max(request.args.get("from", 0, type=int), 0)
    return *shoots.listed_shoots(wiring().store, offset, find), find


def _listing(typed: dict[str, str], problems: dict[str, str]) -> str:
    read_after_act()
    store = wiring().store
    rows, more, find = _rows()
    if not typed:
        typed = {
            "date": SHOOT_ENTRIES["date"].show(f"{wiring().clock():%Y-%m-%d}"),
            **shoots.last_place(store),
        }
    return render_template(
        "shoots/page.html",
        picked=shoots.date_of(typed.get("date", "")),
        rows=rows,
        more=more,
        find=find,
        typed=typed,
        problems=problems,
        asked=[SHOOT_ENTRIES[key] for key in shoots.NEW],
        zones=zones(),
        archived=kept.archived(store, shoots.SHOOTS),
    )


@pages.post("/shoots")
def create() -> ResponseReturnValue:
    """A shoot from its name, date, place and zone."""
    typed = {key: request.form.get(key, "") for key in shoots.NEW}
    try:
        number = shoots.new_shoot(wiring().store, wiring().clock, typed)
    except Mistyped as mistyped:
        return _listing(typed, dict(mistyped.problems)), 422
    return redirect(url_for("shoots.shoot", shoot_id=number), 303)


@pages.get("/shoots/<int:shoot_id>")
def shoot(shoot_id: int) -> str:
    """One shoot: the day and what is looked at of it."""
    template = "shoots/_day.html" if wants_part() else "shoots/shoot.html"
    return _page(template, shoots.open_shoot(wiring().store, wiring().clock, shoot_id))


def _page(template: str, day: ShootDay, **more: Any) -> str:
    read_after_act()
    store = wiring().store
    look = slot_detail(
        day,
        request.values.get("look", type=int),
        request.values.get("least", ""),
        request.values.get("rungs", ""),
    )
    there = {placed.index for placed in day.placed if placed.slot}
    shown = {"typed": None, "problem": "", "place_problem": ""} | more
    return render_template(
        template,
        day=day,
        fields=fields_of(FigureForm("shoots", "shoot_id", day.id), day.item, more.get("taken")),
        look=look,
        leasts=LEAST_RESERVES,
        rungs=RUNGS,
        reading_zones=DAY_ZONES,
        others=setups.recent(store),
        bag_names=[bag.name for bag in bags.all_bags(store)],
        zones=zones() if template == "shoots/shoot.html" else (),
        gone=[placed for placed in day.placed if placed.index not in there],
        **shown,
    )


def _answer(day: ShootDay, key: str = "", text: str = "") -> ResponseReturnValue:
    if wants_part():
        return _page("shoots/_day.html", day, taken={key: text})
    if day.item.pending:
        return _page("shoots/shoot.html", day), 422
    look, least, rungs = (request.values.get(name) or None for name in ("look", "least", "rungs"))
    return redirect(url_for("shoots.shoot", shoot_id=day.id, look=look, least=least, rungs=rungs), 303)


@pages.post("/shoots/<int:shoot_id>/figures/<key>")
def figure(shoot_id: int, key: str) -> ResponseReturnValue:
    """Take one figure as typed (`text`), or moved by steps (`by`)."""
    store, clock = wiring().store, wiring().clock
    by = steps(request.form.get("by"))
    if by is not None:
        return _answer(shoots.nudge_shoot(store, clock, shoot_id, key, by), key)
    text = request.form.get("text", "")
    return _answer(shoots.enter_shoot(store, clock, shoot_id, key, text), key, text)


@pages.post("/shoots/<int:shoot_id>/setups")
def add(shoot_id: int) -> ResponseReturnValue:
    """A set-up on the day."""
    number = request.form.get("setup", 0, type=int)
    with as_offered(shoots.SHOOTS, shoot_id):
        day = shoots.add_slot(wiring().store, wiring().clock, shoot_id, number)
    return _answer(day)


@pages.post("/shoots/<int:shoot_id>/setups/<int:index>/remove")
def remove_setup(shoot_id: int, index: int) -> ResponseReturnValue:
    """A set-up off the day."""
    with as_offered(shoots.SHOOTS, shoot_id):
        day = shoots.remove_slot(wiring().store, wiring().clock, shoot_id, index)
    return _answer(day)


@pages.post("/shoots/<int:shoot_id>/setups/<int:index>/best")
def best(shoot_id: int, index: int) -> ResponseReturnValue:
    """A set-up to where its way holds with as much in reserve as is asked for."""
    store, clock = wiring().store, wiring().clock
    look = slot_detail(
        shoots.open_shoot(store, clock, shoot_id), index, request.values.get("least", ""), ""
    )
    if look is None or look.placed.index != index:
        raise Refused("setups", "that set-up is no longer on this day")
    least, _ = LEAST_RESERVES[look.least]
    return _answer(placements.move_to_best(store, clock, shoot_id, index, look.way.kind, least))


@pages.post("/shoots/<int:shoot_id>/cautions/<key>")
def caution(shoot_id: int, key: str) -> ResponseReturnValue:
    """A caution read for this day (`read` 1), or said again."""
    read = request.form.get("read") == "1"
    return _answer(shoots.read_caution(wiring().store, wiring().clock, shoot_id, key, read=read))


@pages.post("/shoots/<int:shoot_id>/readings")
def read(shoot_id: int) -> ResponseReturnValue:
    """A reading at a known time; what cannot be read stays in its field with the reason."""
    form = request.form
    typed = {name: form.get(name, "") for name in ("time", "zone", "reading")}
    store, clock = wiring().store, wiring().clock
    try:
        with as_offered(shoots.SHOOTS, shoot_id):
            day = shoots.add_reading(store, clock, shoot_id, typed["time"], typed["zone"], typed["reading"])
    except NogginError as error:
        if not isinstance(error, ValueError):
            raise
        day = shoots.open_shoot(store, wiring().clock, shoot_id)
        more = {"typed": typed, "problem": error.problem}
        if wants_part():
            return _page("shoots/_day.html", day, taken={}, **more)
        return _page("shoots/shoot.html", day, **more), 422
    return _answer(day)


@pages.post("/shoots/<int:shoot_id>/readings/<int:index>/remove")
def remove_reading(shoot_id: int, index: int) -> ResponseReturnValue:
    """One reading less."""
    with as_offered(shoots.SHOOTS, shoot_id):
        day = shoots.remove_reading(wiring().store, wiring().clock, shoot_id, index)
    return _answer(day)


@pages.post("/shoots/<int:shoot_id>/place")
def place(shoot_id: int) -> ResponseReturnValue:
    """The place of a GPX or GeoJSON file."""
    store, clock = wiring().store, wiring().clock
    try:
        return _answer(shoots.use_place(store, clock, shoot_id, given_file()))
    except BadDocument as bad:
        day = shoots.open_shoot(store, clock, shoot_id)
        return _page("shoots/shoot.html", day, place_problem=str(bad.problems[0])), 422


@pages.get("/shoots/<int:shoot_id>/shoot.json")
def document(shoot_id: int) -> Response:
    """The shoot document, with its set-ups."""
    store = wiring().store
    day = shoots.open_shoot(store, wiring().clock, shoot_id)
    text = json.dumps(shoot_document(store, day), indent=2, ensure_ascii=False) + "\n"
    return file(day.name, "shoot.json", text, "application/json")


@pages.get("/shoots/<int:shoot_id>/day.html")
def offline_day(shoot_id: int) -> Response:
    """The day as one file that any phone opens without Noggin."""
    store, now = wiring().store, wiring().clock()
    day = shoots.open_shoot(store, wiring().clock, shoot_id)
    text = render_template(
        "offline_day/day.html",
        name=day.name,
        day=day,
        looks=[slot_detail(day, placed.index, "", "") for placed in day.slots],
        packing=[_counted(item) for item in bags.of_the_day(store, day.shoot.bag)],
        made=now.astimezone(day.zone),
    )
    return file(day.name, "day.html", text, "text/html")


def _counted(item: KeptItem) -> str:
    many = item.document["count"]
    return f"{item.name} × {many}" if many > 1 else item.name


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


def _import(raw: bytes) -> ResponseReturnValue:
    """A shoot document as a new shoot with its set-ups, and what that brought."""
    number, brought = import_shoot_file(wiring().store, wiring().clock, raw)
    url = url_for("shoots.shoot", shoot_id=number)
    return render_template("forms/brought.html", brought=brought, what="the day", url=url)


add_import(
    pages,
    "/shoots",
    Import(
        "Open a shoot document",
        "A shoot document (noggin-shoot, JSON), as a file or pasted, becomes a new shoot. Set-ups"
        " that you already have, figure for figure, are used; the others are added.",
        ".json,application/json",
        "Open it",
        _import,
    ),
)
add_acts(
    pages,
    shoots.SHOOTS,
    "/shoots",
    "shoot_id",
    lambda shoot_id: _answer(shoots.open_shoot(wiring().store, wiring().clock, shoot_id)),
    one="shoots.shoot",
    listing="shoots.listing",
)
