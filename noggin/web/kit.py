"""The kit: every piece of gear, one piece with its figures, what fits what, and the kit as a document."""

import json
from random import SystemRandom

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.core.errors import Refused
from noggin.core.sheets import sheets_for
from noggin.documents.faults import BadDocument
from noggin.documents.gear import KINDS
from noggin.documents.gear_classes import GEAR_CLASSES
from noggin.documents.gear_words import summary
from noggin.documents.reading import read_object
from noggin.services import fits, kit, kit_document, measuring, readings_csv, simulation
from noggin.services.measuring import Filled
from noggin.services.pieces import Piece
from noggin.web.wiring import file, wants_part, wiring

pages = Blueprint("kit", __name__)


@pages.get("/kit")
def page() -> str:
    """Everything in the kit."""
    return _listing()


def _listing(problem: str = "") -> str:
    store = wiring().store
    pieces = kit.all_gear(store)
    return render_template(
        "kit/page.html",
        pieces=pieces,
        kinds=KINDS,
        classes=GEAR_CLASSES,
        summary=summary,
        fits=fits.fits(pieces),
        removed=kit.laid_aside(store),
        problem=problem,
        typed=request.form,
    )


@pages.post("/kit")
def create() -> ResponseReturnValue:
    """One more piece, by class; opened to look at its figures."""
    kind, _, key = request.form.get("class", "").partition(":")
    try:
        number = kit.new_piece(wiring().store, wiring().clock, kind, key, request.form.get("name", ""))
    except (Refused, kit.NoSuchClass) as error:
        return _listing(getattr(error, "problem", str(error))), 422
    return redirect(url_for("kit.piece", gear_id=number), 303)


@pages.get("/kit/called")
def called() -> ResponseReturnValue:
    """The piece of a name, wherever it stands in the kit."""
    name = request.args.get("name", "")
    found = next((one.id for one in kit.all_gear(wiring().store) if one.name == name), None)
    if found is None:
        abort(404, f"Nothing in the kit is called ‘{name}’.")
    return redirect(url_for("kit.piece", gear_id=found))


@pages.get("/kit/<int:gear_id>")
def piece(gear_id: int) -> str:
    """One piece of gear."""
    return _piece("kit/piece.html", kit.open_piece(wiring().store, gear_id))


def _piece(template: str, piece: Piece, **more: object) -> str:
    store = wiring().store
    lights = [one.name for one in kit.all_gear(store) if one.kind == "light"]
    return render_template(
        template,
        piece=piece,
        kinds=KINDS,
        sheets=sheets_for(piece.kind),
        kept=measuring.kept_sheets(store, piece),
        replaced=measuring.replaced(piece),
        lights=[name for name in lights if name not in measuring.lights_measured(piece)],
        **more,
    )


def _answer(piece: Piece, key: str = "", text: str = "") -> ResponseReturnValue:
    """The piece anew, or its page where there is no script."""
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


@pages.post("/kit/<int:gear_id>/undo")
def undo(gear_id: int) -> ResponseReturnValue:
    """Take the last step back."""
    return _answer(kit.move(wiring().store, wiring().clock, gear_id, -1))


@pages.post("/kit/<int:gear_id>/redo")
def redo(gear_id: int) -> ResponseReturnValue:
    """Do again what was taken back."""
    return _answer(kit.move(wiring().store, wiring().clock, gear_id, 1))


@pages.post("/kit/<int:gear_id>/reflectors")
def add_reflector(gear_id: int) -> ResponseReturnValue:
    """One more reflector or zoom position."""
    return _answer(kit.add_reflector(wiring().store, wiring().clock, gear_id))


@pages.post("/kit/<int:gear_id>/losses")
def add_loss(gear_id: int) -> ResponseReturnValue:
    """What a modifier takes from one very light."""
    light = request.form.get("light", "")
    return _answer(kit.add_loss(wiring().store, wiring().clock, gear_id, light))


@pages.post("/kit/<int:gear_id>/<any(reflectors, losses):rows>/<int:at>/remove")
def remove_row(gear_id: int, rows: str, at: int) -> ResponseReturnValue:
    """One reflector or one light's loss less."""
    return _answer(kit.remove_row(wiring().store, wiring().clock, gear_id, rows, at))


@pages.post("/kit/<int:gear_id>/take-back")
def take_back(gear_id: int) -> ResponseReturnValue:
    """The figure that a measured one replaced, in its place again."""
    path = request.form.get("figure", "")
    return _answer(kit.take_back(wiring().store, wiring().clock, gear_id, path))


@pages.post("/kit/<int:gear_id>/remove")
def remove(gear_id: int) -> ResponseReturnValue:
    """Lay a piece aside; the list offers it back."""
    wiring().store.gear.remove(gear_id, wiring().clock())
    return redirect(url_for("kit.page"), 303)


@pages.post("/kit/<int:gear_id>/bring-back")
def bring_back(gear_id: int) -> ResponseReturnValue:
    """Bring back what was laid aside."""
    wiring().store.gear.bring_back(gear_id, wiring().clock())
    return redirect(url_for("kit.piece", gear_id=gear_id), 303)


# ---- measuring ----


@pages.get("/kit/<int:gear_id>/measure/<key>")
def sheet(gear_id: int, key: str) -> str:
    """A measuring sheet, empty."""
    piece = kit.open_piece(wiring().store, gear_id)
    return _sheet(piece, measuring.fresh(piece, key))


@pages.post("/kit/<int:gear_id>/measure/<key>")
def work_out(gear_id: int, key: str) -> ResponseReturnValue:
    """What the readings say; kept for good, and taken as the gear's figures where that was pressed."""
    wired = wiring()
    piece = kit.open_piece(wired.store, gear_id)
    filled = _filled(piece, key)
    act = request.form.get("act", "")
    if act == "simulate":
        filled = measuring.filled(piece, simulation.simulated(piece, filled, SystemRandom()))
        return _sheet(piece, filled)
    if act == "accept" and filled.outcome:
        measuring.accept(wired.store, wired.clock, gear_id, filled)
        return redirect(url_for("kit.piece", gear_id=gear_id), 303)
    if filled.problem:
        return _sheet(piece, filled), 422
    measuring.keep(wired.store, wired.clock, piece, filled)
    return _sheet(piece, filled)


def _filled(piece: Piece, key: str) -> Filled:
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


def _sheet(piece: Piece, filled: Filled) -> str:
    lights = [one.name for one in kit.all_gear(wiring().store) if one.kind == "light"]
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


@pages.get("/kit/import")
def bring_in_page() -> str:
    """Where a kit document or a CSV of readings is given."""
    return render_template("kit/import.html", faults=[], pasted="")


@pages.post("/kit/import")
def bring_in() -> ResponseReturnValue:
    """A kit document (JSON) or readings (CSV), by file or by paste; what is wrong stands beside it."""
    wired = wiring()
    pasted = request.form.get("document", "")
    given = request.files.get("file")
    raw = given.read() if given and given.filename else pasted.encode()
    brought, new = None, 0
    try:
        if raw.lstrip().startswith(b"{") or not raw.strip():
            brought = kit_document.import_kit(wired.store, wired.clock, read_object(raw))
        else:
            new = readings_csv.read_readings_csv(wired.store, raw.decode(errors="replace"))
    except BadDocument as bad:
        kept = pasted or raw[:20_000].decode(errors="replace")
        return render_template("kit/import.html", faults=[str(one) for one in bad.faults], pasted=kept), 422
    return render_template("kit/brought.html", brought=brought, new=new)
