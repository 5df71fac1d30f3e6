"""A set-up's open documents out: set-up, plan, ways as CSV, sketch as SVG."""

import json

from flask import Blueprint, Response, abort, render_template

from noggin.services import setups as services
from noggin.services.alone import along
from noggin.services.ways_csv import ways_csv
from noggin.services.words import METHODS
from noggin.web import drawings
from noggin.web.assets import KEPT_FOR_A_YEAR
from noggin.web.bench import looked_at
from noggin.web.wiring import file, wiring

pages = Blueprint("open_formats", __name__)


@pages.get("/setups/<int:setup_id>/setup.json")
def setup_json(setup_id: int) -> Response:
    """The set-up document."""
    opened = services.open_setup(wiring().store, setup_id)
    text = json.dumps(opened.document, indent=2, ensure_ascii=False) + "\n"
    return file(opened.setup.name, "setup.json", text, "application/json")


@pages.get("/setups/<int:setup_id>/setup.html")
def setup_alone(setup_id: int) -> Response:
    """The set-up as one file that any phone opens without Noggin: as it is on the next day that it is part
    of."""
    store, clock = wiring().store, wiring().clock
    opened = services.open_setup(store, setup_id)
    found = along(store, clock, opened)
    made = clock().astimezone(found.day.zone if found.day else None)
    name = opened.setup.name
    text = render_template("alone/setup.html", name=name, opened=opened, along=found, made=made)
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


@pages.get("/setups/<int:setup_id>/pictures/<key>/<name>.svg")
def picture(setup_id: int, key: str, name: str) -> Response:
    """The small picture that a name is of; where it is not remembered, the way's as it is now."""
    sketch = wiring().pictures.get(name)
    if sketch is None:
        if key not in METHODS:
            abort(404)
        plan = services.open_setup(wiring().store, setup_id).plan
        sketch = drawings.sketch(plan.setup, plan.way(key))
    answer = Response(render_template("drawings/picture.svg", sketch=sketch), mimetype="image/svg+xml")
    if wiring().pictures.named(sketch) == name:
        answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
    return answer


@pages.get("/setups/<int:setup_id>/sketch.svg")
def sketch_svg(setup_id: int) -> Response:
    """The sketch of the picture for the way looked at."""
    opened = services.open_setup(wiring().store, setup_id)
    way = looked_at(opened)
    sketch = drawings.sketch(opened.setup, way)
    text = render_template("drawings/sketch.svg", sketch=sketch, opened=opened, way=way)
    return file(opened.setup.name, "sketch.svg", text, "image/svg+xml")
