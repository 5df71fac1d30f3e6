"""The Bench: one set-up, its figures beside the ways they lead to."""

from dataclasses import dataclass

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin import services
from noggin.core.plan import Way
from noggin.documents.entry import ENTRIES, Entry
from noggin.services import Opened
from noggin.web.wiring import wants_part, wiring

pages = Blueprint("bench", __name__)


@dataclass(frozen=True)
class Group:
    """One step of the order of work, with the figures that are entered in it."""

    title: str
    keys: tuple[str, ...]


GROUPS = (
    Group("Composition", ("subject_distance", "background_distance", "focal", "widest")),
    Group("Daylight", ("ev_background", "ev_subject", "ev_sky", "ev_rim")),
    Group("Meant", ("background_level", "subject_level", "aperture", "prefer")),
    Group("Camera and bag", ("sync", "fastest", "slowest", "iso_lowest", "filters")),
    Group("Key light", ("light_name", "gn", "light_distance", "loss", "power_min", "toll")),
)
"""The order of work: composition, daylight, intention, then camera and flash."""


@dataclass(frozen=True)
class Field:
    """One figure as it stands on the page."""

    entry: Entry
    text: str
    words: str
    problem: str

    @property
    def key(self) -> str:
        """The figure's key."""
        return self.entry.key


def fields(opened: Opened) -> dict[str, Field]:
    """Every figure of a set-up as the page shows it: what was typed wins over what is saved."""
    shown = {}
    for key, entry in ENTRIES.items():
        waiting = opened.pending.get(key)
        shown[key] = Field(
            entry,
            waiting.text if waiting else entry.text(opened.document),
            entry.words(opened.document, opened.setup),
            waiting.problem if waiting else "",
        )
    return shown


def looked_at(opened: Opened) -> Way:
    """The way that drawings and reasons are for: the one asked for, else the advised one."""
    plan = opened.plan
    asked = request.values.get("look", "")
    return next((way for way in plan.ways if way.way == asked), plan.chosen or plan.ways[0])


@pages.get("/setups/<int:setup_id>")
def page(setup_id: int) -> str:
    """The whole page, or only its plan when another way is looked at."""
    opened = services.open_setup(wiring().store, setup_id)
    template = "bench/_plan.html" if wants_part() else "bench/page.html"
    return _render(template, opened)


@pages.post("/setups/<int:setup_id>/figures/<key>")
def figure(setup_id: int, key: str) -> ResponseReturnValue:
    """Take one figure as typed (`text`), or moved by steps (`by`)."""
    wired = wiring()
    text = request.form.get("text", "")
    by = _steps(request.form.get("by"))
    if by is None:
        opened = services.enter(wired.store, wired.clock, setup_id, key, text)
    else:
        opened = services.step(wired.store, wired.clock, setup_id, key, by)
    if not wants_part():
        look = request.values.get("look") or None
        return redirect(url_for("bench.page", setup_id=setup_id, look=look), 303)
    # A figure that was stepped or left shows its usual notation; one that is being typed is let alone.
    settled = {"take": text} if by is not None or "settled" in request.args else {}
    return _render("bench/_answer.html", opened, key=key, **settled)


def _steps(text: str | None) -> int | None:
    """How many steps a stepper asks for; None where a figure was typed instead."""
    if text is None:
        return None
    if text not in ("-1", "1"):
        abort(400, "A stepper moves one step up or down.")
    return int(text)


def _render(template: str, opened: Opened, **more: object) -> str:
    return render_template(
        template,
        opened=opened,
        plan=opened.plan,
        way=looked_at(opened),
        look=request.values.get("look", ""),
        fields=fields(opened),
        groups=GROUPS,
        **more,
    )
