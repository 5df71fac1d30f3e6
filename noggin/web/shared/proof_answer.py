"""A proof as an answer, under an address of its content."""

from collections.abc import Callable

from flask import Response, redirect
from flask.typing import ResponseReturnValue

from noggin.services.setups.proofs import ProofRecipe, ProofShown
from noggin.web.shared.assets import KEPT_FOR_A_YEAR
from noggin.web.shared.wiring import wiring


def proof_answer(
    recipe: ProofRecipe, name: str, address: Callable[[str], str], shown: ProofShown | None = None
) -> ResponseReturnValue:
    """The picture of a recipe, kept by the browser; where it was asked for by another name than that of its
    content, the way to the `address` of that."""
    if recipe.name != name:
        return redirect(address(recipe.name), 307)
    content = wiring().pictures.file(recipe, shown or ProofShown())
    answer = Response(content, mimetype="image/webp")
    answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
    return answer
