"""The place from a photograph: its light and what stands behind the people; and a set-up from a scout's
pictures."""

from collections.abc import Callable

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import NogginError, Refused
from noggin.services.frames.frame_import import patch_of
from noggin.services.setups import place_photograph as services
from noggin.services.setups.setups import open_setup
from noggin.web.shared.wiring import wiring

pages = Blueprint("photograph", __name__)

BOX = ("left", "top", "width", "height")
"""Fields of a box, in percent of the picture."""

ZONE_WORDS = {
    "background": ("Background", "Background"),
    "subject": ("Shade, where they stand", "Shade"),
    "sky": ("Sky", "Sky"),
    "rim": ("In the sun there", "Sun"),
}
"""What zones are called on a place where nobody stands yet, and shortly on the picture."""


@pages.get("/setups/<int:setup_id>/photograph")
def page(setup_id: int) -> str:
    """The photograph of a set-up's place, and what was read off it."""
    return _page(setup_id)


@pages.get("/setups/<int:setup_id>/photograph/<name>.jpg")
def picture(setup_id: int, name: str) -> Response:
    """The copy that is kept."""
    shown = services.shown(wiring().store, setup_id)
    if shown is None or shown.jpeg is None or shown.photograph["sha256"] != name:
        abort(404)
    answer = Response(shown.jpeg, content_type="image/jpeg")
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@pages.post("/setups/<int:setup_id>/photograph")
def bring(setup_id: int) -> ResponseReturnValue:
    """Bring a picture of the place."""
    return _done(
        setup_id, lambda: services.bring(wiring().store, wiring().clock, setup_id, *_file("picture"))
    )


@pages.post("/setups/<int:setup_id>/photograph/zone")
def zone(setup_id: int) -> ResponseReturnValue:
    """Read a zone off a part of it."""

    def act() -> None:
        patch = patch_of([request.form.get(name, "") for name in BOX])
        box = patch.x, patch.y, patch.width, patch.height
        zone, surface = request.form.get("zone", ""), request.form.get("surface", "")
        services.read_zone(wiring().store, wiring().clock, setup_id, zone, box, surface)

    return _done(setup_id, act)


@pages.post("/setups/<int:setup_id>/photograph/other")
def other(setup_id: int) -> ResponseReturnValue:
    """Read a zone off another picture."""

    def act() -> None:
        zone, surface = request.form.get("zone", ""), request.form.get("surface", "")
        services.read_elsewhere(wiring().store, wiring().clock, setup_id, zone, surface, *_file("picture"))

    return _done(setup_id, act)


@pages.post("/setups/<int:setup_id>/photograph/view")
def view(setup_id: int) -> ResponseReturnValue:
    """Say where its horizon lies and how wide it sees."""

    def act() -> None:
        horizon, field = _number("horizon", "%") / 100, _number("field", "°")
        services.look_so(wiring().store, wiring().clock, setup_id, horizon, field)

    return _done(setup_id, act)


@pages.post("/setups/<int:setup_id>/photograph/light")
def light(setup_id: int) -> ResponseReturnValue:
    """Take its light for the set-up."""
    return _done(setup_id, lambda: services.take_light(wiring().store, wiring().clock, setup_id))


@pages.post("/setups/<int:setup_id>/photograph/remove")
def remove(setup_id: int) -> ResponseReturnValue:
    """Take it away."""
    return _done(setup_id, lambda: services.without(wiring().store, wiring().clock, setup_id))


@pages.get("/scout")
def scout_page() -> str:
    """Where a set-up is made from pictures of the place."""
    return _scout_page("")


@pages.post("/scout")
def scout() -> ResponseReturnValue:
    """A new set-up from pictures of the place."""
    try:
        given = {zone: _file(zone) for zone in services.SCOUTED if request.files.get(zone)}
        surfaces = {zone: request.form.get(f"{zone}_off", "") for zone in given}
        number = services.scouted(wiring().store, wiring().clock, given, surfaces)
    except NogginError as refusal:
        return _scout_page(_words(refusal)), 422
    return redirect(url_for("photograph.page", setup_id=number), 303)


def _scout_page(problem: str) -> str:
    """With what was chosen of surfaces as it was; no browser gives files a second time."""
    return render_template(
        "photograph/scout.html", problem=problem, surfaces=services.READ_OFF, typed=request.form
    )


def _page(setup_id: int, problem: str = "") -> str:
    """With what was typed as it was, where something of it is a `problem`: said in the form it came
    from."""
    store = wiring().store
    return render_template(
        "photograph/page.html",
        opened=open_setup(store, setup_id),
        shown=services.shown(store, setup_id),
        surfaces=services.READ_OFF,
        zone_words=ZONE_WORDS,
        problem=problem,
        problem_at=(request.endpoint or "").removeprefix("photograph."),
        typed=request.form,
    )


def _done(setup_id: int, act: Callable[[], object]) -> ResponseReturnValue:
    """The page anew after an act; what cannot be is said on it."""
    try:
        act()
    except (Refused, services.Unreadable) as refusal:
        return _page(setup_id, _words(refusal)), 422
    return redirect(url_for("photograph.page", setup_id=setup_id), 303)


def _words(refusal: NogginError) -> str:
    if isinstance(refusal, services.Unreadable):
        return f"The picture {refusal}."
    return f"{getattr(refusal, 'problem', refusal)}."


def _file(name: str) -> tuple[bytes, str]:
    given = request.files.get(name)
    if given is None or not given.filename:
        raise Refused(name, "Choose a picture first")
    return given.read(), given.filename


def _number(name: str, unit: str) -> float:
    text = request.form.get(name, "")
    try:
        return float(text.replace(",", ".").rstrip(f"{unit} "))
    except ValueError:
        raise Refused(name, f"‘{text}’ is not a number. Try 50") from None
