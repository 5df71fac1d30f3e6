"""Bags: what is packed for a day, ticked from the kit, and the packing list that prints."""

from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.gear import bags, kit
from noggin.services.gear.bag_load import bag_load
from noggin.services.gear.compatibility import compatibility_table, lacking
from noggin.services.keeping import kept
from noggin.services.keeping.kept import KeptItem
from noggin.services.words import GEAR_KINDS, summary
from noggin.web.shared.acts import add_acts
from noggin.web.shared.fields import FigureForm, fields_of
from noggin.web.shared.wiring import read_after_act, wants_part, wiring

pages = Blueprint("bags", __name__)


@pages.get("/bags")
def listing() -> str:
    """Every bag."""
    store = wiring().store
    found = [(bag, bags.packed(store, bag)) for bag in bags.all_bags(store)]
    return render_template(
        "bags/page.html",
        bags=found,
        kinds=GEAR_KINDS,
        archived=kept.archived(store, bags.BAGS),
        gear=kit.all_gear(store),
    )


@pages.post("/bags")
def create() -> ResponseReturnValue:
    """A bag with the whole kit in it."""
    number = bags.new_bag(wiring().store, wiring().clock, request.form.get("name", ""))
    return redirect(url_for("bags.bag", bag_id=number), 303)


@pages.get("/bags/<int:bag_id>")
def bag(bag_id: int) -> str:
    """One bag: what is packed and what stays."""
    return _bag("bags/bag.html", bags.open_bag(wiring().store, bag_id))


def _bag(template: str, bag: KeptItem, **more: Any) -> str:
    read_after_act()
    store = wiring().store
    packed, owned = bags.packed(store, bag), kit.all_gear(store)
    return render_template(
        template,
        bag=bag,
        fields=fields_of(FigureForm("bags", "bag_id", bag.id), bag, more.get("taken")),
        by_kind=kit.by_kind(owned),
        owned=len(owned),
        inside={item.id for item in packed},
        fits=compatibility_table(packed),
        lacks=lacking(packed),
        load=bag_load(store, bag),
        kinds=GEAR_KINDS,
        summary=summary,
        **more,
    )


def _answer(bag: KeptItem, key: str = "", text: str = "") -> ResponseReturnValue:
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


add_acts(
    pages,
    bags.BAGS,
    "/bags",
    "bag_id",
    lambda bag_id: _answer(bags.open_bag(wiring().store, bag_id)),
    one="bags.bag",
    listing="bags.listing",
)
