"""Proofs: the picture that each way of a set-up gives, as files, and what can be read off them."""

from base64 import b64encode
from collections.abc import Callable

from flask import Blueprint, Response, abort, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.errors import Refused
from noggin.services.frames.looks import looks_of
from noggin.services.setups import setups as services
from noggin.services.setups.proof_file import png_of
from noggin.services.setups.proofs import (
    READ_COLUMNS,
    READ_ROWS,
    ProofRecipe,
    ProofShown,
    board_name,
    parts_shown,
    proof_in_words,
    recipe_of,
    recipes_of,
)
from noggin.services.setups.setups import Plan, SetUp, Way
from noggin.services.setups.two_pictures import chosen_two, pictures_of
from noggin.services.words import WAYS
from noggin.web import drawings
from noggin.web.pages.bench import looked_at
from noggin.web.shared.assets import KEPT_FOR_A_YEAR
from noggin.web.shared.proof_answer import proof_answer
from noggin.web.shared.wiring import file, wiring

pages = Blueprint("proofs", __name__)


def _now(setup_id: int) -> tuple[dict[str, str], Callable[[], dict[str, ProofRecipe]]]:
    """The names of a set-up's proofs as it is, by the keys of the ways, and what they are rendered from."""
    store = wiring().store

    def draw() -> dict[str, ProofRecipe]:
        plan = services.open_setup(store, setup_id).plan
        return recipes_of(plan.setup, plan.ways)

    return wiring().pictures.now(setup_id, services.revision_of(store, setup_id), draw), draw


def _answered(
    setup_id: int, key: str, name: str, make: Callable[[ProofRecipe], Response]
) -> ResponseReturnValue:
    """A file of a proof under the address of its content, kept by the browser. A picture of a set-up as it
    was before its last change is asked for by a page that is about to show another one: it is sent on to
    the way's picture as it is now, which will be wanted next."""
    if key not in WAYS:
        abort(404)
    pictures, (now, draw) = wiring().pictures, _now(setup_id)
    if name not in now.values():
        here = {**(request.view_args or {}), **request.args, "name": now[key]}
        return redirect(url_for(request.endpoint or "", **here), 307)
    try:
        answer = make(pictures.get(name) or draw()[next(way for way in now if now[way] == name)])
    except Refused:
        abort(404)
    answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
    return answer


def _only() -> str | None:
    return request.args.get("only") or None


@pages.get("/setups/<int:setup_id>/proofs/<key>/<name>.webp")
def picture(setup_id: int, key: str, name: str) -> ResponseReturnValue:
    """A proof by its name, small or large (`size`), of one part of the light alone where `only` says so."""
    shown = ProofShown(request.args.get("size") == "small", _only())
    return _answered(
        setup_id,
        key,
        name,
        lambda recipe: Response(wiring().pictures.file(recipe, shown), mimetype="image/webp"),
    )


@pages.get("/setups/<int:setup_id>/proofs/board/<name>.avif")
def board(setup_id: int, name: str) -> ResponseReturnValue:
    """The small proofs of all ways as one file, one below another, in the order of WAYS."""
    pictures, (now, draw) = wiring().pictures, _now(setup_id)
    names = {key: now[key] for key in WAYS if key in now}
    if name != board_name(names.values()):
        return redirect(url_for("proofs.board", setup_id=setup_id, name=board_name(names.values())), 307)
    recipes = {key: pictures.get(one) for key, one in names.items()}
    if None in recipes.values():
        recipes |= draw()
    content = pictures.board(name, [recipe for key in names if (recipe := recipes[key])])
    answer = Response(content, mimetype="image/avif")
    answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
    return answer


@pages.get("/setups/<int:setup_id>/proofs/<key>/<name>.json")
def reading(setup_id: int, key: str, name: str) -> ResponseReturnValue:
    """Tones of a proof in stops from mid-tone, row by row over the picture."""
    only = _only()
    return _answered(
        setup_id,
        key,
        name,
        lambda recipe: jsonify(
            columns=READ_COLUMNS, rows=READ_ROWS, levels=wiring().pictures.reading(recipe, only)
        ),
    )


@pages.get("/setups/<int:setup_id>/proofs/<key>/<name>-tones.svg")
def tones(setup_id: int, key: str, name: str) -> ResponseReturnValue:
    """How a proof's tones are spread, on the scale of stops."""
    only = _only()

    def drawn(recipe: ProofRecipe) -> Response:
        spread = drawings.histogram(wiring().pictures.histogram(recipe, only))
        text = render_template("drawings/tones.svg", spread=spread)
        return Response(text, mimetype="image/svg+xml")

    return _answered(setup_id, key, name, drawn)


@pages.get("/setups/<int:setup_id>/pictures")
def two(setup_id: int) -> str:
    """Two pictures with a slider between them: methods, looks, or the version that is pinned (`first`,
    `second`)."""
    opened = services.open_setup(wiring().store, setup_id)
    choices = pictures_of(opened, looks_of(wiring().store, setup_id))
    first, second = chosen_two(
        choices, opened, request.args.get("first", ""), request.args.get("second", "")
    )
    return render_template("bench/two.html", opened=opened, choices=choices, first=first, second=second)


@pages.get("/setups/<int:setup_id>/pictures/<key>/<name>.webp")
def two_picture(setup_id: int, key: str, name: str) -> ResponseReturnValue:
    """One of them, under an address of its content."""
    store = wiring().store
    choice = pictures_of(services.open_setup(store, setup_id), looks_of(store, setup_id)).get(key)
    if choice is None:
        abort(404)
    return proof_answer(
        choice.recipe,
        name,
        lambda now: url_for("proofs.two_picture", setup_id=setup_id, key=key, name=now),
    )


@pages.get("/setups/<int:setup_id>/proof")
def part(setup_id: int) -> ResponseReturnValue:
    """The large proof of the way looked at, with the part of the light that `show` names, on its own."""
    opened = services.open_setup(wiring().store, setup_id)
    way = looked_at(opened)
    if show() and show() not in dict(parts_shown(opened.setup, way)):
        abort(404)
    template = "bench/_proof.html" if request.headers.get("HX-Request") == "true" else "bench/proof.html"
    return render_template(template, opened=opened, plan=opened.plan, way=way)


def show() -> str:
    """The part of the light that is asked for; empty for all of it."""
    return request.args.get("show", "")


@pages.get("/setups/<int:setup_id>/proof.png")
def png(setup_id: int) -> Response:
    """The proof of the way looked at, to be saved."""
    opened = services.open_setup(wiring().store, setup_id)
    content = png_of(opened.setup, looked_at(opened))
    answer = file(opened.setup.name, "proof.png", content, "image/png")
    answer.content_type = "image/png"
    return answer


@pages.get("/setups/<int:setup_id>/proof.svg")
def svg(setup_id: int) -> Response:
    """The proof of the way looked at with its settings under it, as one SVG file."""
    opened = services.open_setup(wiring().store, setup_id)
    way = looked_at(opened)
    content = wiring().pictures.file(recipe_of(opened.setup, way), ProofShown(kind="png"))
    text = render_template(
        "drawings/proof.svg",
        opened=opened,
        way=way,
        data=b64encode(content).decode(),
        words=proof_in_words(opened.setup, way),
    )
    return file(opened.setup.name, "proof.svg", text, "image/svg+xml")


def proof_name(setup: SetUp, way: Way) -> str:
    """The name of the proof of a way, remembered by it."""
    return wiring().pictures.named(recipe_of(setup, way))


def board_of(plan: Plan) -> tuple[str, dict[str, int]]:
    """The name of the file with the proofs of all ways of a plan, and the place of each in it."""
    made = recipes_of(plan.setup, plan.ways)
    names = {key: wiring().pictures.named(made[key]) for key in WAYS if key in made}
    return board_name(names.values()), {key: place for place, key in enumerate(names)}


def proof_data(setup: SetUp, way: Way) -> str:
    """The small proof of a way inside a page that stands alone."""
    content = wiring().pictures.file(recipe_of(setup, way), ProofShown(small=True))
    return f"data:image/webp;base64,{b64encode(content).decode()}"
