"""The kit: every piece of gear, one piece with its figures, what fits what, and the kit as a document."""

import json
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import NoSuchClass, Refused
from noggin.services.frames import kit_offers
from noggin.services.gear import camera_curves, kit, kit_document, measuring, readings_csv, simulation
from noggin.services.gear.carry import TABLED, carried
from noggin.services.gear.compatibility import compatibility_table
from noggin.services.gear.measuring import Filled
from noggin.services.keeping import kept
from noggin.services.keeping.kept import KeptItem
from noggin.services.whole.files import import_kit_file
from noggin.services.words import GEAR_CLASSES, GEAR_KINDS, summary
from noggin.web.shared.acts import add_acts, as_offered
from noggin.web.shared.fields import FigureForm, fields_of
from noggin.web.shared.imports import Import, add_import
from noggin.web.shared.wiring import file, read_after_act, wants_part, wiring

pages = Blueprint("kit", __name__)


@pages.get("/kit")
def page() -> str:
    """Everything in the kit."""
    return _listing()


def _listing(problem: str = "") -> str:
    read_after_act()
    store = wiring().store
    items = kit.all_gear(store)
    return render_template(
        "kit/page.html",
        by_kind=kit.by_kind(items),
        kinds=GEAR_KINDS,
        classes=GEAR_CLASSES,
        summary=summary,
        fits=compatibility_table(items),
        archived=kept.archived(store, kit.GEAR),
        problem=problem,
        typed=request.form,
    )


@pages.post("/kit")
def create() -> ResponseReturnValue:
    """One more piece, by class; opened to look at its figures."""
    kind, _, key = request.form.get("class", "").partition(":")
    try:
        number = kit.new_gear(wiring().store, wiring().clock, kind, key, request.form.get("name", ""))
    except (Refused, NoSuchClass) as error:
        return _listing(error.problem), 422
    return redirect(url_for("kit.piece", gear_id=number), 303)


@pages.get("/kit/called")
def called() -> ResponseReturnValue:
    """The piece of a name, wherever it is in the kit."""
    number = kit.gear_named(wiring().store, request.args.get("name", ""))
    return redirect(url_for("kit.piece", gear_id=number))


@pages.get("/kit/<int:gear_id>")
def piece(gear_id: int) -> str:
    """One piece of gear."""
    return _piece("kit/piece.html", kit.open_gear(wiring().store, gear_id))


def _piece(template: str, piece: KeptItem, **more: Any) -> str:
    store = wiring().store
    read_after_act()
    lights = [item.name for item in kit.all_gear(store) if kit.kind_of(item) == "light"]
    return render_template(
        template,
        fields=fields_of(FigureForm("kit", "gear_id", piece.id), piece, more.get("taken")),
        piece=piece,
        kinds=GEAR_KINDS,
        sheets=measuring.sheets_of(piece),
        kept=measuring.kept_sheets(store, piece),
        replaced=measuring.replaced(piece),
        carried=carried(store, piece.name) if kit.kind_of(piece) == "light" else (),
        distances=TABLED,
        offer=kit_offers.offer(store, piece),
        lights=[name for name in lights if name not in measuring.lights_measured(piece)],
        **more,
    )


def _answer(piece: KeptItem, key: str = "", text: str = "") -> ResponseReturnValue:
    """The piece again, or its page where there is no script."""
    if wants_part():
        return _piece("kit/_piece.html", piece, taken={key: text})
    return redirect(url_for("kit.piece", gear_id=piece.id), 303)


@pages.post("/kit/<int:gear_id>/figures/<key>")
def figure(gear_id: int, key: str) -> ResponseReturnValue:
    """Take one figure as typed."""
    text = request.form.get("text", "")
    piece = kit.enter_gear(wiring().store, wiring().clock, gear_id, key, text)
    if not wants_part() and piece.pending:
        return _piece("kit/piece.html", piece), 422
    return _answer(piece, key, text)


@pages.post("/kit/<int:gear_id>/curve")
def fit_curve(gear_id: int) -> ResponseReturnValue:
    """Fit a body's own JPEG curve from frames of a card."""
    files = [(one.filename or "", one.read()) for one in request.files.getlist("frames") if one.filename]
    piece = camera_curves.fit(wiring().store, wiring().clock, gear_id, files)
    return _answer(piece)


@pages.post("/kit/<int:gear_id>/takes")
def accept_takes(gear_id: int) -> ResponseReturnValue:
    """Take what takes show of a light as its guide number."""
    with as_offered(kit.GEAR, gear_id):
        piece = kit_offers.accept(wiring().store, wiring().clock, gear_id)
    return _answer(piece)


@pages.post("/kit/<int:gear_id>/reflectors")
def add_reflector(gear_id: int) -> ResponseReturnValue:
    """One more reflector or zoom position."""
    with as_offered(kit.GEAR, gear_id):
        piece = kit.add_reflector(wiring().store, wiring().clock, gear_id)
    return _answer(piece)


@pages.post("/kit/<int:gear_id>/losses")
def add_loss(gear_id: int) -> ResponseReturnValue:
    """What a modifier takes from one very light."""
    light = request.form.get("light", "")
    with as_offered(kit.GEAR, gear_id):
        piece = kit.add_loss(wiring().store, wiring().clock, gear_id, light)
    return _answer(piece)


@pages.post("/kit/<int:gear_id>/<any(reflectors, losses):rows>/<int:index>/remove")
def remove_row(gear_id: int, rows: str, index: int) -> ResponseReturnValue:
    """One reflector or one light's loss less."""
    with as_offered(kit.GEAR, gear_id):
        piece = kit.remove_row(wiring().store, wiring().clock, gear_id, rows, index)
    return _answer(piece)


@pages.post("/kit/<int:gear_id>/take-back")
def restore_figure(gear_id: int) -> ResponseReturnValue:
    """The figure that a measured one replaced, in its place again."""
    path = request.form.get("figure", "")
    with as_offered(kit.GEAR, gear_id):
        piece = kit.restore_figure(wiring().store, wiring().clock, gear_id, path)
    return _answer(piece)


# ---- measuring ----


@pages.get("/kit/<int:gear_id>/measure/<key>")
def sheet(gear_id: int, key: str) -> str:
    """A measuring sheet, empty."""
    piece = kit.open_gear(wiring().store, gear_id)
    return _sheet(piece, measuring.fresh(piece, key))


@pages.post("/kit/<int:gear_id>/measure/<key>")
def work_out(gear_id: int, key: str) -> ResponseReturnValue:
    """What the readings say; kept for good, and taken as the gear's figures where that was pressed."""
    wired = wiring()
    piece = kit.open_gear(wired.store, gear_id)
    filled = _filled(piece, key)
    act = request.form.get("act", "")
    if act == "simulate":
        filled = measuring.filled(piece, simulation.simulated(piece, filled, wired.chance))
        return _sheet(piece, filled)
    if act == "accept" and filled.outcome:
        measuring.accept(wired.store, wired.clock, gear_id, filled)
        return redirect(url_for("kit.piece", gear_id=gear_id), 303)
    if filled.problem:
        return _sheet(piece, filled), 422
    measuring.keep(wired.store, wired.clock, piece, filled)
    return _sheet(piece, filled)


def _filled(piece: KeptItem, key: str) -> Filled:
    """The sheet as it was filled in; what it does not ask stays as it is known."""
    blank = measuring.fresh(piece, key)
    given = request.form
    return measuring.filled(
        piece,
        Filled(
            key,
            given.get("readings", ""),
            given.get("about", blank.about),
            given.get("across", blank.across),
            given.get("sync", blank.sync),
            given.get("droop") == "1",
            given.get("taken_with", blank.taken_with),
        ),
    )


def _sheet(piece: KeptItem, filled: Filled) -> str:
    read_after_act()
    lights = [item.name for item in kit.all_gear(wiring().store) if kit.kind_of(item) == "light"]
    return render_template(
        "kit/sheet.html",
        piece=piece,
        filled=filled,
        sheet=filled.sheet,
        compared=measuring.compared(piece, filled),
        lights=lights,
        taken_with=measuring.TAKEN_WITH,
        simulated=simulation.SIMULATED,
    )


# ---- documents ----


@pages.get("/kit/kit.json")
def document() -> Response:
    """The kit document."""
    text = json.dumps(kit_document.kit_document(wiring().store), indent=2, ensure_ascii=False) + "\n"
    return file("noggin", "kit.json", text, "application/json")


@pages.get("/kit/readings.csv")
def readings() -> Response:
    """Every reading that was kept, one a row."""
    return file("noggin", "readings.csv", readings_csv.readings_csv(wiring().store), "text/csv")


def _import(raw: bytes) -> ResponseReturnValue:
    """A kit document or readings, and what they brought."""
    taken = import_kit_file(wiring().store, wiring().clock, raw)
    if isinstance(taken, int):
        return render_template("kit/read.html", new=taken)
    return render_template("forms/brought.html", brought=taken, what="the kit", url=url_for("kit.page"))


add_import(
    pages,
    "/kit",
    Import(
        "Import a kit or readings",
        "A kit document (noggin-kit, JSON) adds gear and bags, and changes those of the same name;"
        " each change can be undone. A CSV of readings, with columns gear, sheet and reading at"
        " least, adds measurements to gear in the kit. They are kept, and become figures only when"
        " you say so.",
        ".json,.csv,application/json,text/csv",
        "Import it",
        _import,
    ),
)
add_acts(
    pages,
    kit.GEAR,
    "/kit",
    "gear_id",
    lambda gear_id: _answer(kit.open_gear(wiring().store, gear_id)),
    one="kit.piece",
    listing="kit.page",
)
