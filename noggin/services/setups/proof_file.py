"""A proof of a set-up document: the picture of one of its ways, as a file, and what it says in figures."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import dist
from typing import Any

import numpy as np

from noggin.core.errors import Refused
from noggin.core.layout.standing import names_of
from noggin.core.physics.appearance import MID_GREY, MID_TONE_REFLECTANCE
from noggin.core.physics.colour import LUMINANCE
from noggin.core.planning.way import Plan, Way
from noggin.core.proof.develop import Card, Picture, Plates, develop
from noggin.core.proof.mesh import floats
from noggin.core.proof.mixture import Mixture, level_of, total_on_card
from noggin.core.setup.setup import SetUp
from noggin.documents.xmp import picture_xmp
from noggin.photos.encode import FORMATS, PictureLabel, encoded, labelled_png
from noggin.services.setups.proofs import (
    SHARED,
    ProofRecipe,
    Proofs,
    alone,
    card_in,
    proof_in_words,
    recipe_of,
)

__all__ = ["FORMATS", "ProofFile", "png_of", "proof_of"]

SIZE_LEAST, SIZE_MOST = 60, 2400

PIXELS_MOST, BYTES_A_PIXEL = 2400 * 1600, 316
"""Pixels of the largest proof, and the memory that each takes while it is made (measured: 1.2 GB in
all)."""
"""Width and height of a proof in pixels, at least and at most."""


@dataclass(frozen=True)
class ProofFile:
    """The proof of one way: its key, the picture, and what is said of it."""

    setup: SetUp
    way: Way
    picture: Picture
    points: Mapping[str, Mapping[str, Any]]

    def encoded(self, kind: str) -> bytes:
        """The picture as the bytes of a file (a key of FORMATS); a PNG carries its settings."""
        image = self.picture.image()
        return (
            labelled_png(image, label_of(self.setup, self.way)) if kind == "png" else encoded(image, kind)
        )

    @property
    def document(self) -> dict[str, Any]:
        """Its way, size, points and histogram, as JSON has them."""
        _, height, width = self.picture.linear.shape
        return {
            "way": self.way.key,
            "size": [width, height],
            "points": dict(self.points),
            "histogram": self.picture.histogram().tolist(),
        }


def label_of(setup: SetUp, way: Way) -> PictureLabel:
    """What the proof of a way says of itself: its settings, what it shows, and that it is computed."""
    settings, title = way.settings, f"{setup.name}, {way.label}"
    words = proof_in_words(setup, way)
    return PictureLabel(
        f"Computed, not photographed. {title}: {words}",
        settings.shutter.value,
        settings.aperture.value,
        settings.iso.value,
        setup.lens.focal_mm,
        way.lighting.key.down is not None,
        picture_xmp(title, words),
    )


def png_of(setup: SetUp, way: Way) -> bytes:
    """The proof of a way as PNG with its settings, to be sent on."""
    return labelled_png(SHARED.picture(recipe_of(setup, way)).image(), label_of(setup, way))


def proof_of(
    plan: Plan,
    key: str | None,
    size: tuple[int, int],
    card: bool,
    only: str | None,
) -> ProofFile:
    """The proof of a way by its key (None: the recommended one, else the closest).

    Raises Refused for a way or light that is none, a size that is too small or large, and a card for which
    there is no room.
    """
    if key is not None and key not in plan.by_key:
        raise Refused("way", f"'{key}' is not one of {', '.join(plan.by_key)}")
    for name, side in zip(("width", "height"), size, strict=True):
        if not SIZE_LEAST <= side <= SIZE_MOST:
            raise Refused("size", f"a {name} of {side} is outside {SIZE_LEAST} … {SIZE_MOST} pixels")
    if size[0] * size[1] > PIXELS_MOST:
        takes, most = (BYTES_A_PIXEL * pixels / 1e9 for pixels in (size[0] * size[1], PIXELS_MOST))
        raise Refused(
            "size",
            f"{size[0]} × {size[1]} takes {takes:.1f} GB to make: {most:.1f} GB is the most. Try 2400x1600",
        )
    way = plan.way(key) if key else plan.shown
    recipe = recipe_of(plan.setup, way, size)
    mixture = alone(recipe.mixture, names_of(plan.setup), only)
    plates = Proofs().plates(recipe)
    held = card_in(recipe.stage, plates, recipe) if card else None
    picture = develop(plates, mixture, held)
    return ProofFile(plan.setup, way, picture, _points(recipe, plates, mixture, held))


def _points(
    recipe: ProofRecipe, plates: Plates, mixture: Mixture, card: Card | None
) -> dict[str, dict[str, Any]]:
    """Where card, face, background and sky are read, and the level of the light on each."""
    found: dict[str, dict[str, Any]] = {}
    if card is not None:
        parts = mixture.parts
        flash = total_on_card(tuple(part for part in parts if part.flash))
        daylight = total_on_card(tuple(part for part in parts if not part.flash))
        found["card"] = {
            "pixel": [card.at[1], card.at[0]],
            "reflectance": MID_TONE_REFLECTANCE,
            **_levels(flash, daylight),
        }
    face = _face(recipe, plates)
    if face is not None:
        row, column = face
        reflectance = float(LUMINANCE @ plates.albedo[:, row, column])
        lights = {
            flash: float(LUMINANCE @ develop(plates, mixture.only(None, flash)).linear[:, row, column])
            / MID_GREY
            * MID_TONE_REFLECTANCE
            / reflectance
            for flash in (True, False)
        }
        found["face"] = {
            "pixel": [column, row],
            "reflectance": round(reflectance, 4),
            **_levels(lights[True], lights[False]),
        }
    behind = plates.behind(mixture.blur)
    at = plates.read_at(behind.sky)
    if at is not None and card_free(card, at):
        flash = sum(part.amount for part in mixture.behind if part.flash)
        daylight = sum(part.amount for part in mixture.behind if not part.flash)
        found["background"] = {
            "pixel": [at[1], at[0]],
            "reflectance": MID_TONE_REFLECTANCE,
            **_levels(flash, daylight),
        }
    above = plates.read_at(behind.sky, of_sky=True) if mixture.sky else None
    if above is not None and mixture.sky:
        found["sky"] = {
            "pixel": [above[1], above[0]],
            "reflectance": MID_TONE_REFLECTANCE,
            **_levels(0.0, mixture.sky[0]),
        }
    return found


def card_free(card: Card | None, at: tuple[int, int]) -> bool:
    """Whether a card leaves a pixel free."""
    return card is None or max(abs(card.at[0] - at[0]), abs(card.at[1] - at[1])) > card.half


def _levels(flash: float, daylight: float) -> dict[str, Any]:
    """Linear light of both kinds as levels; null where there is none."""
    return {
        "level": _level(flash + daylight),
        "flash": _level(flash),
        "daylight": _level(daylight),
    }


def _level(linear: float) -> float | None:
    return None if linear <= 0 else level_of(linear)


def _face(recipe: ProofRecipe, plates: Plates) -> tuple[int, int] | None:
    """Row and column of the nearest face's forehead, where it is in the frame."""
    view = recipe.stage.view
    person = min(recipe.stage.people, key=lambda one: dist(one.eyes, view.at))
    turn = np.radians(person.turn_deg)
    forehead = floats(person.eyes) + floats((0.075 * np.sin(turn), 0.045, 0.075 * np.cos(turn)))
    x, y, _ = view.project(forehead[None])
    row, column = int(float(y[0])), int(float(x[0]))
    height, width = plates.shape
    if not (0 <= row < height and 0 <= column < width) or plates.cover[row, column] < 1:
        return None
    return row, column
