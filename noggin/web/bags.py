"""Bags: what goes along for a day, ticked from the kit, and the packing list that prints."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.documents.gear import KINDS
from noggin.documents.gear_words import summary
from noggin.services import bags, fits, kit
from noggin.services.pieces import Piece
from noggin.web.wiring import wants_part, wiring

pages = Blueprint("bags", __name__)


@pages.get("/bags")
def listing() -> str:
    """Every bag."""
    store = wiring().store
    found = [(bag, bags.packed(store, bag)) for bag in bags.all_bags(store)]
    removed = [(kept.id, kept.document["name"]) for kept in store.bags.removed()]
    return render_template(
        "bags/page.html", bags=found, kinds=KINDS, removed=removed, gear=kit.all_gear(store)
    )


@pages.post("/bags")
def create() -> ResponseReturnValue:
    """A bag with the whole kit in it."""
    number = bags.new_bag(wiring().store, wiring().clock, request.form.get("name", ""))
    return redirect(url_for("bags.bag", bag_id=number), 303)


@pages.get("/bags/<int:bag_id>")
def bag(bag_id: int) -> str:
    """One bag: what goes along and what stays."""
    return _bag("bags/bag.html", bags.open_bag(wiring().store, bag_id))


def _bag(template: str, bag: Piece, **more: object) -> str:
    store = wiring().store
    packed = bags.packed(store, bag)
    return render_template(
        template,
        bag=bag,
        gear=kit.all_gear(store),
        inside={piece.id for piece in packed},
        fits=fits.fits(packed),
        lacks=fits.lacking(packed),
        kinds=KINDS,
        summary=summary,
        **more,
    )


def _answer(bag: Piece, key: str = "", text: str = "") -> ResponseReturnValue:
    if wants_part():
        return _bag("bags/_bag.html", bag, taken={key: text})
    return redirect(url_for("bags.bag", bag_id=bag.id), 303)


@pages.post("/bags/<int:bag_id>/figures/<key>")
def figure(bag_id: int, key: str) -> ResponseReturnValue:
    """Take one figure as typed."""
    text = request.form.get("text", "")
    bag = bags.enter_bag(wiring().store, wiring().clock, bag_id, key, text)
    if not wants_part() and bag.pending:
        return _bag("bags/bag.html", bag), 422
    return _answer(bag, key, text)


@pages.post("/bags/<int:bag_id>/pack")
def pack(bag_id: int) -> ResponseReturnValue:
    """Put gear in (`into` 1) or take it out; `gear` may be given many times."""
    numbers = request.form.getlist("gear", type=int)
    into = request.form.get("into") == "1"
    return _answer(bags.pack(wiring().store, wiring().clock, bag_id, numbers, into=into))


@pages.post("/bags/<int:bag_id>/undo")
def undo(bag_id: int) -> ResponseReturnValue:
    """Take the last step back."""
    return _answer(bags.move(wiring().store, wiring().clock, bag_id, -1))


@pages.post("/bags/<int:bag_id>/redo")
def redo(bag_id: int) -> ResponseReturnValue:
    """Do again what was taken back."""
    return _answer(bags.move(wiring().store, wiring().clock, bag_id, 1))


@pages.post("/bags/<int:bag_id>/remove")
def remove(bag_id: int) -> ResponseReturnValue:
    """Lay a bag aside; the list offers it back."""
    wiring().store.bags.remove(bag_id, wiring().clock())
    return redirect(url_for("bags.listing"), 303)


@pages.post("/bags/<int:bag_id>/bring-back")
def bring_back(bag_id: int) -> ResponseReturnValue:
    """Bring back a bag that was laid aside."""
    wiring().store.bags.bring_back(bag_id, wiring().clock())
    return redirect(url_for("bags.bag", bag_id=bag_id), 303)
