"""Open documents out and in: set-up, plan, ways as CSV, sketch as SVG."""

import csv
import io
import json

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.core.board import ROWS
from noggin.core.remedies import remedies
from noggin.documents.faults import BadDocument
from noggin.documents.plan import FORMAT as PLAN_FORMAT
from noggin.documents.plan import plan_document, read_plan
from noggin.documents.reading import read_object
from noggin.services import setups as services
from noggin.web import drawings
from noggin.web.bench import looked_at
from noggin.web.wiring import file, wiring

pages = Blueprint("open_formats", __name__)


@pages.get("/setups/<int:setup_id>/setup.json")
def setup_json(setup_id: int) -> Response:
    """The set-up document."""
    opened = services.open_setup(wiring().store, setup_id)
    text = json.dumps(opened.document, indent=2, ensure_ascii=False) + "\n"
    return file(opened.setup.name, "setup.json", text, "application/json")


@pages.get("/setups/<int:setup_id>/plan.json")
def plan_json(setup_id: int) -> Response:
    """The plan document."""
    opened = services.open_setup(wiring().store, setup_id)
    document = plan_document(opened.plan, remedies(opened.plan), opened.document.get("notes"))
    return file(
        opened.setup.name, "plan.json", document.model_dump_json(indent=2) + "\n", "application/json"
    )


@pages.get("/setups/<int:setup_id>/ways.csv")
def plan_csv(setup_id: int) -> Response:
    """The board as CSV: one row for each way."""
    opened = services.open_setup(wiring().store, setup_id)
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["set-up", "way", "feasible", *(row.label for row in ROWS), "lacks"])
    for way in opened.plan.ways:
        figures = [row.text(way) for row in ROWS]
        writer.writerow([opened.setup.name, way.label, way.feasible, *figures, "; ".join(way.lacks)])
    return file(opened.setup.name, "ways.csv", out.getvalue(), "text/csv")


@pages.get("/setups/<int:setup_id>/sketch.svg")
def sketch_svg(setup_id: int) -> Response:
    """The sketch of the picture for the way looked at."""
    opened = services.open_setup(wiring().store, setup_id)
    way = looked_at(opened)
    text = render_template(
        "drawings/sketch.svg", sketch=drawings.sketch(opened.setup, way), opened=opened, way=way
    )
    return file(opened.setup.name, "sketch.svg", text, "image/svg+xml")


@pages.post("/setups/import")
def bring_in() -> ResponseReturnValue:
    """A set-up document, by file or by paste, as a new set-up; a plan document as a page to read. What is
    wrong stands beside what was given."""
    pasted = request.form.get("document", "")
    given = request.files.get("file")
    raw = given.read() if given and given.filename else pasted.encode()
    try:
        found = read_object(raw)
        if found.get("format") == PLAN_FORMAT:
            return render_template("setups/plan.html", plan=read_plan(found))
        setup_id = services.import_setup(wiring().store, wiring().clock, found)
    except BadDocument as bad:
        kept = pasted or raw[:20_000].decode(errors="replace")
        page = render_template("setups/import.html", faults=[str(one) for one in bad.faults], pasted=kept)
        return page, 422
    return redirect(url_for("bench.page", setup_id=setup_id), 303)


@pages.get("/setups/import")
def bring_in_page() -> str:
    """Where a document is given."""
    return render_template("setups/import.html", faults=[], pasted="")
