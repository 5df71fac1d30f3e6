"""The plan of one set-up: where everything stands, from above and from the side."""

from typing import Any

from flask import Blueprint, make_response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import Refused, Unreadable
from noggin.services.setups import layout as services
from noggin.services.setups.layout_figures import NAMES
from noggin.services.setups.setups import SETUPS
from noggin.web.shared.acts import add_history, as_offered
from noggin.web.shared.wiring import read_after_act, wants_part, wiring

pages = Blueprint("layout", __name__)


def _figures() -> dict[str, str]:
    return {key: request.values[key] for key in NAMES if key in request.values}


@pages.get("/setups/<int:setup_id>/plan")
def page(setup_id: int) -> str:
    """The plan; at another hour of its day where a `step` of the slider says so."""
    view, step = services.open_layout(wiring().store, setup_id), request.args.get("step", type=int)
    if step is not None:
        view = services.at_hour(view, step)
    return _rendered("layout/_layout.html" if wants_part() else "layout/page.html", view)


@pages.get("/setups/<int:setup_id>/plan/preview")
def preview(setup_id: int) -> ResponseReturnValue:
    """What geometry would say with something moved; nothing is kept."""
    try:
        view = services.preview(wiring().store, setup_id, request.values.get("item", ""), _figures())
    except (Refused, Unreadable) as error:
        return render_template("layout/_refused.html", problem=error.problem), 422
    return _rendered("layout/_moving.html", view)


@pages.post("/setups/<int:setup_id>/plan/move")
def move(setup_id: int) -> ResponseReturnValue:
    """Something moved to where figures say."""
    item, store, clock = request.form.get("item", ""), wiring().store, wiring().clock
    try:
        view = services.move(store, clock, setup_id, item, _figures())
    except (Refused, Unreadable) as error:
        shown = services.open_layout(store, setup_id)
        return make_response(_answer(shown, item, problem=error.problem, typed=_figures()), 422)
    return _answer(view, item)


@pages.post("/setups/<int:setup_id>/plan/arrange/<key>")
def arrange(setup_id: int, key: str) -> ResponseReturnValue:
    """Lights where an intention wants them."""
    with as_offered(SETUPS, setup_id):
        return _answer(services.arrange(wiring().store, wiring().clock, setup_id, key))


@pages.post("/setups/<int:setup_id>/plan/mirror")
def mirror(setup_id: int) -> ResponseReturnValue:
    """Everything on the other side."""
    with as_offered(SETUPS, setup_id):
        return _answer(services.mirror(wiring().store, wiring().clock, setup_id))


@pages.post("/setups/<int:setup_id>/plan/add/<kind>")
def add(setup_id: int, kind: str) -> ResponseReturnValue:
    """One more person, wall, reflector or scrim."""
    with as_offered(SETUPS, setup_id):
        return _answer(services.add(wiring().store, wiring().clock, setup_id, kind))


@pages.post("/setups/<int:setup_id>/plan/copy")
def copy(setup_id: int) -> ResponseReturnValue:
    """One more light like one of them."""
    item = request.form.get("item", "")
    with as_offered(SETUPS, setup_id):
        return _answer(services.copy_light(wiring().store, wiring().clock, setup_id, item))


@pages.post("/setups/<int:setup_id>/plan/cable")
def cable(setup_id: int) -> ResponseReturnValue:
    """A light's cable, led away."""
    item = request.form.get("item", "")
    with as_offered(SETUPS, setup_id):
        return _answer(services.lead_cable(wiring().store, wiring().clock, setup_id, item))


@pages.post("/setups/<int:setup_id>/plan/remove")
def remove(setup_id: int) -> ResponseReturnValue:
    """One person, surface, scrim, cable or wind less."""
    with as_offered(SETUPS, setup_id):
        return _answer(
            services.remove(wiring().store, wiring().clock, setup_id, request.form.get("item", ""))
        )


@pages.post("/setups/<int:setup_id>/plan/forget")
def forget(setup_id: int) -> ResponseReturnValue:
    """Everything where the figures put it."""
    with as_offered(SETUPS, setup_id):
        return _answer(services.forget(wiring().store, wiring().clock, setup_id))


def _answer(view: services.OpenLayout, moved: str = "", **more: Any) -> ResponseReturnValue:
    """The plan again where the page asked for it, else the page by its address."""
    if wants_part():
        return _rendered("layout/_layout.html", view, moved=moved, **more)
    if more:
        return _rendered("layout/page.html", view, moved=moved, **more)
    return redirect(url_for("layout.page", setup_id=view.opened.id), 303)


def _rendered(template: str, view: services.OpenLayout, **more: Any) -> str:
    read_after_act()
    found = {"moved": "", "problem": "", "typed": {}, **more}
    return render_template(
        template,
        view=view,
        opened=view.opened,
        plan=view.opened.plan,
        way=view.opened.plan.shown,
        **found,
    )


add_history(
    pages,
    SETUPS,
    "/setups/<int:setup_id>/plan",
    "setup_id",
    lambda setup_id: _answer(services.open_layout(wiring().store, setup_id)),
)
