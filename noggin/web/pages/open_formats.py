"""A set-up's open documents out: set-up, plan, ways as CSV."""

import json

from flask import Blueprint, Response, render_template

from noggin.services.day.offline_day import along
from noggin.services.setups import setups as services
from noggin.services.setups.ways_csv import ways_csv
from noggin.web.shared.wiring import file, wiring

pages = Blueprint("open_formats", __name__)


@pages.get("/setups/<int:setup_id>/setup.json")
def setup_json(setup_id: int) -> Response:
    """The set-up document."""
    opened = services.open_setup(wiring().store, setup_id)
    text = json.dumps(opened.document, indent=2, ensure_ascii=False) + "\n"
    return file(opened.setup.name, "setup.json", text, "application/json")


@pages.get("/setups/<int:setup_id>/setup.html")
def offline_setup(setup_id: int) -> Response:
    """The set-up as one file that any phone opens without Noggin: as it is on the next day that it is part
    of."""
    store, clock = wiring().store, wiring().clock
    opened = services.open_setup(store, setup_id)
    found = along(store, clock, opened)
    made = clock().astimezone(found.day.zone if found.day else None)
    name = opened.setup.name
    text = render_template("offline_day/setup.html", name=name, opened=opened, along=found, made=made)
    return file(name, "setup.html", text, "text/html")


@pages.get("/setups/<int:setup_id>/plan.json")
def plan_json(setup_id: int) -> Response:
    """The plan document."""
    opened = services.open_setup(wiring().store, setup_id)
    text = opened.plan_document().model_dump_json(indent=2) + "\n"
    return file(opened.setup.name, "plan.json", text, "application/json")


@pages.get("/setups/<int:setup_id>/ways.csv")
def plan_csv(setup_id: int) -> Response:
    """The table of ways as CSV: one row for each way."""
    opened = services.open_setup(wiring().store, setup_id)
    return file(opened.setup.name, "ways.csv", ways_csv(opened), "text/csv")
