"""Reach: the farthest distances of every light through every modifier, for a chosen picture."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.gear import bags
from noggin.services.setups import reach as use
from noggin.services.setups import setups
from noggin.web.shared.wiring import wants_part, wiring

pages = Blueprint("reach", __name__)


@pages.get("/reach")
def page() -> str:
    """The table for a set-up's picture; that of the set-up worked on last unless one is named."""
    store = wiring().store
    latest = setups.latest_setup(store)
    setup_id = request.args.get("setup", latest, type=int)
    if setup_id is None:
        return render_template("reach/empty.html")
    found = use.reach(store, setup_id, request.args.get("bag"), _typed())
    template = "reach/_table.html" if wants_part() else "reach/page.html"
    return render_template(
        template,
        reach=found,
        setups=setups.recent(store, setup_id),
        bags=[bag.name for bag in bags.all_bags(store)],
        asked=use.ASKED,
        bag=request.args.get("bag", found.opened.document.get("bag", "")),
    )


@pages.post("/reach/<int:setup_id>")
def put_on_bench(setup_id: int) -> ResponseReturnValue:
    """One cell of the table, on the Bench."""
    given = request.form
    use.open_from_reach(
        wiring().store,
        wiring().clock,
        setup_id,
        given.get("bag"),
        _typed(),
        given.get("light", ""),
        given.get("modifier", ""),
    )
    return redirect(url_for("bench.page", setup_id=setup_id), 303)


def _typed() -> dict[str, str]:
    return {key: request.values[key] for key in use.ASKED if key in request.values}
