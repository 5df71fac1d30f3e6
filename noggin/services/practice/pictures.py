"""The pictures of drills."""

from dataclasses import replace

from noggin.core.practice.task import TaskPicture
from noggin.core.proof.mixture import as_it_came_out
from noggin.services.setups.proofs import LARGE, ProofRecipe, recipe_of


def recipe(picture: TaskPicture) -> ProofRecipe:
    """What a drill's picture is computed from."""
    found = recipe_of(picture.setup, picture.way, LARGE)
    came_out = picture.came_out
    if came_out is None:
        return found
    flash = any(part.flash for part in found.mixture.parts)
    mixture = as_it_came_out(
        found.mixture,
        came_out["background"],
        came_out["subject"],
        picture.daylight,
        came_out.get("sky"),
        flash,
    )
    return replace(found, mixture=mixture)
