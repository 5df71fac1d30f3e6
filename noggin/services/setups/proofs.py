"""Proofs: the picture of each way, computed before anyone stands there. What was worked out is kept
while it is of use, by what it was worked out from, and never more of it than a bound allows."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from hashlib import sha256
from math import dist
from threading import RLock

import numpy as np
from numpy.typing import NDArray

from noggin.core.errors import Refused
from noggin.core.layout.findings import Standing
from noggin.core.layout.standing import SunOver, layout_of, names_of, sun_over
from noggin.core.physics.appearance import CLIP, MID_GREY
from noggin.core.planning.way import Way
from noggin.core.proof.develop import Card, Picture, Plates, develop
from noggin.core.proof.mesh import Floats, floats
from noggin.core.proof.mixture import SKY, SUN, SUN_BACK, Mixture, mixture, thrown_back
from noggin.core.proof.photographed import Photographs
from noggin.core.proof.stage import (
    SAMPLES_SMALL,
    ProofStage,
    StageLight,
    sources_of,
    stage_of,
    sun_direction,
)
from noggin.core.proof.unit_pictures import UnitPicture, UnitPictures
from noggin.core.proof.words import proof_words
from noggin.core.setup.setup import SetUp
from noggin.figures import figure
from noggin.photos.encode import encoded, one_below_another
from noggin.photos.patches import BINS, DARKEST_SHOWN
from noggin.photos.place_copy import linear_copy
from noggin.services.setups.shelf import Shelf, array_bytes

LARGE = (600, 400)
"""Width and height of a large proof in pixels; a small one is half as wide and high."""

BOARD, BOARD_PLACES = (204, 136), 10
"""Width and height of a proof on the board, and how many have a place in its file."""

BY_ROWS = (270, 180)
"""Width and height of a picture as it comes about inside the shutter."""

STAGES_MOST_BYTES = 80_000_000
"""Bytes of everything that is kept of stages, large and small, with their unit pictures: a large one takes
some 30 MB."""

FILES_MOST_BYTES = 10_000_000
"""Rendered files that are kept."""

CARD_SIDE_M, CARD_ASIDE_M = 0.11, 0.24
"""A grey card's side, and how far beside the face it is held."""

RowGains = tuple[Sequence[float], Sequence[float]]
"""What rows get of the daylight and of the flash, from the top of the picture down, linear."""

PARTS = ("flash", "daylight")
"""What can be seen alone, besides each light by its name."""

READ_COLUMNS, READ_ROWS = 60, 40
"""Places at which the tones of a proof can be read."""


@dataclass(frozen=True)
class ProofRecipe:
    """Everything one proof is computed from: the stage, its lights, the sun, what the ground throws
    back, and how much of everything there is."""

    stage: ProofStage
    sources: tuple[tuple[str, StageLight], ...]
    sun: SunOver | None
    thrown_back: float
    mixture: Mixture

    def alone(self, only: str | None) -> "ProofRecipe":
        """The same with one part of the light alone: "flash", "daylight", or a light by its name (None: all
        of it). Raises Refused."""
        return replace(self, mixture=alone(self.mixture, tuple(dict(self.sources)), only))

    @property
    def name(self) -> str:
        """A name of its content: the same picture has the same, and another another."""
        return sha256(repr(self).encode()).hexdigest()[:20]


def alone(mixture: Mixture, names: tuple[str, ...], only: str | None) -> Mixture:
    """A mixture with one part of the light alone: "flash", "daylight", or a light by its name (`names` are
    all there are). Raises Refused."""
    if only is None:
        return mixture
    if only in PARTS:
        return mixture.only(None, flash=only == "flash")
    if only not in names:
        raise Refused("only", f"no light is called '{only}': there are {', '.join((*PARTS, *names))}")
    return mixture.only(frozenset((only,)), flash=None)


@dataclass(frozen=True)
class ProofShown:
    """How a proof is shown: small or large, which part of the light (None: all), and as which kind of
    file."""

    small: bool = False
    only: str | None = None
    kind: str = "webp"


def recipe_of(setup: SetUp, way: Way, size: tuple[int, int] = LARGE) -> ProofRecipe:
    """What the proof of a way is computed from."""
    return recipes_of(setup, (way,), size)[way.key]


def recipes_of(setup: SetUp, ways: Iterable[Way], size: tuple[int, int] = LARGE) -> dict[str, ProofRecipe]:
    """What the proofs of several ways are computed from, by the keys of the ways; they share a stage."""
    layout = layout_of(setup)
    stage, sources, sun = stage_of(setup, layout, size), sources_of(setup, layout), sun_over(setup, layout)
    named, back = tuple(sources.items()), thrown_back(setup, sun)
    return {
        way.key: ProofRecipe(stage, named, sun, back, mixture(setup, way, sources, sun, stage))
        for way in ways
    }


def board_name(names: Iterable[str]) -> str:
    """A name of what several proofs show together, by their names."""
    return sha256(" ".join(names).encode()).hexdigest()[:20]


def parts_shown(setup: SetUp, way: Way) -> list[tuple[str, str]]:
    """What of the light of a way can be looked at alone: a key, and what it is called."""
    found = [("daylight", "Flash off"), ("flash", "Daylight off")]
    firing = [
        (name, light.level) for name, light in zip(names_of(setup), way.lighting.firings, strict=True)
    ]
    if sum(level is not None for _, level in firing) > 1:
        found += [(name, f"{name} alone") for name, level in firing if level is not None]
    return found


def proof_in_words(setup: SetUp, way: Way) -> str:
    """What the proof of a way shows, for those who do not see it."""
    return proof_words(setup, way, Standing(setup))


@dataclass(eq=False)
class Staged:
    """One stage: what makes its unit pictures, what its pictures are made of, and unit pictures by what
    each was worked out from, the one used last at the end."""

    pictures: UnitPictures
    plates: Plates
    units: OrderedDict[Hashable, UnitPicture] = field(default_factory=OrderedDict)

    def lit_by(self, recipe: ProofRecipe, units_most: float) -> Plates:
        """What a picture of a recipe is made of; no more unit pictures are kept than its own and so many
        bytes of others."""
        own = {part.name: _unit_key(recipe, part.name) for part in recipe.mixture.parts}
        for name, key in own.items():
            if key not in self.units:
                self.units[key] = _unit(self.pictures, recipe, name)
            self.units.move_to_end(key)
        while len(self.units) > len(own) and sum(unit.size for unit in self.units.values()) > units_most:
            self.units.popitem(last=False)
        self.plates.units = {name: self.units[key] for name, key in own.items()}
        return self.plates


def _none_kept(_: str) -> bytes | None:
    return None


class Proofs:
    """Makes proofs, one at a time: two would only wait for the same processor."""

    def __init__(self, most: float = STAGES_MOST_BYTES) -> None:
        self._lock = RLock()
        self._kept_copies: Callable[[str], bytes | None] = _none_kept
        self._most = most
        self._stages = Shelf[Staged](most, array_bytes)
        self._files = Shelf[bytes](FILES_MOST_BYTES, lambda files: float(sum(map(len, files))))

    @property
    def bytes_kept(self) -> float:
        """Bytes that stages take, unit pictures among them."""
        return self._stages.bytes_kept

    def take_photographs_from(self, copies: Callable[[str], bytes | None]) -> None:
        """Where copies of photographs are, by their names: until then, places are invented."""
        self._kept_copies = copies

    def _photograph(self, name: str, width: float) -> Floats | None:
        jpeg = self._kept_copies(name)
        return None if jpeg is None else linear_copy(jpeg, width)

    def clear(self) -> None:
        """Keep nothing of what was made so far."""
        with self._lock:
            self._stages.clear()
            self._files.clear()

    def picture(self, recipe: ProofRecipe, small: bool = False, card: bool = False) -> Picture:
        """The picture of an recipe."""
        with self._lock:
            plates = self._plates_of(recipe, small)
            held = card_in(recipe.stage, plates, recipe) if card else None
            return develop(plates, recipe.mixture, held)

    def file(self, recipe: ProofRecipe, shown: "ProofShown") -> bytes:
        """A proof as the bytes of a file. Raises Refused for a part of the light that is none."""
        held = recipe.alone(shown.only)
        with self._lock:
            made = self._files.get(
                (held.name, shown), lambda: encoded(self.picture(held, shown.small).image(), shown.kind)
            )
            self._files.trim()
        return made

    def board(self, name: str, recipes: Sequence[ProofRecipe]) -> bytes:
        """Small proofs one below another as one file of a name, so that they are asked for at once; at most
        BOARD_PLACES."""
        with self._lock:
            made = self._files.get(
                name,
                lambda: one_below_another(
                    [self.picture(recipe, small=True).image() for recipe in recipes], BOARD, BOARD_PLACES
                ),
            )
            self._files.trim()
        return made

    def by_rows(self, name: str, recipe: ProofRecipe, gains: Sequence[RowGains]) -> bytes:
        """Small pictures of one recipe one below another as one file of a name, each with what its rows get
        of the daylight and of the flash."""
        with self._lock:
            made = self._files.get(
                name, lambda: one_below_another(self._by_rows(recipe, gains), BY_ROWS, len(gains))
            )
            self._files.trim()
        return made

    def _by_rows(self, recipe: ProofRecipe, gains: Sequence[RowGains]) -> list[NDArray[np.uint8]]:
        daylight, flash = (
            self.picture(
                replace(recipe, mixture=_all_rows(recipe.mixture.only(None, flash=is_flash))), True
            )
            for is_flash in (False, True)
        )
        pictures = []
        for of_daylight, of_flash in gains:
            linear = daylight.linear * _down(of_daylight, daylight) + flash.linear * _down(of_flash, flash)
            pictures.append(Picture(linear, daylight.full).image(stripes=False))
        return pictures

    def reading(self, recipe: ProofRecipe, only: str | None) -> list[list[float]]:
        """Tones of a proof in stops from mid-tone at a grid of READ_COLUMNS × READ_ROWS places, row by row.
        Raises Refused."""
        linear = self.picture(recipe.alone(only)).luminance
        height, width = linear.shape
        rows = (np.arange(READ_ROWS) + 0.5) * height / READ_ROWS
        columns = (np.arange(READ_COLUMNS) + 0.5) * width / READ_COLUMNS
        found = linear[np.ix_(rows.astype(int), columns.astype(int))]
        levels = np.log2(np.maximum(found, MID_GREY * 2**DARKEST_SHOWN) / MID_GREY)
        return [[round(float(level), 1) for level in row] for row in levels]

    def histogram(self, recipe: ProofRecipe, only: str | None) -> list[float]:
        """How a proof's tones are spread: parts of the frame from DARKEST_SHOWN to full. Raises Refused."""
        picture = self.picture(recipe.alone(only), small=True)
        held = np.clip(picture.levels + (CLIP - picture.full), DARKEST_SHOWN, CLIP)
        counts, _ = np.histogram(held, BINS, (DARKEST_SHOWN, CLIP))
        return [float(count) / held.size for count in counts]

    def plates(self, recipe: ProofRecipe) -> Plates:
        """What a large picture is made of."""
        with self._lock:
            return self._plates_of(recipe, small=False)

    def _plates_of(self, recipe: ProofRecipe, small: bool) -> Plates:
        stage = halved(recipe.stage) if small else recipe.stage
        plates = self._stages.get(stage, lambda: _staged(stage, self._photograph)).lit_by(
            recipe, self._most / 2
        )
        self._stages.trim()
        return plates


def _all_rows(mixture: Mixture) -> Mixture:
    """A mixture whose lights reach all rows of the frame."""
    return replace(mixture, parts=tuple(replace(part, rows=None) for part in mixture.parts))


def _down(gains: Sequence[float], picture: Picture) -> Floats:
    """What rows get, given from the top down, for every row of a picture."""
    height = picture.linear.shape[1]
    found: Floats = floats(gains)[(np.arange(height) * len(gains)) // height][None, :, None]
    return found


SHARED = Proofs()
"""What all applications of a process use: what is kept goes by content alone."""


def _unit_key(recipe: ProofRecipe, name: str) -> Hashable:
    """What a unit picture is worked out from, besides its stage."""
    if name == SKY:
        return recipe.thrown_back
    if name in (SUN, SUN_BACK):
        return name, recipe.sun
    return dict(recipe.sources)[name]


def _unit(found: UnitPictures, recipe: ProofRecipe, name: str) -> UnitPicture:
    if name == SKY:
        return found.of_sky(recipe.thrown_back)
    if recipe.sun is not None and name in (SUN, SUN_BACK):
        toward = sun_direction(recipe.sun)
        return found.of_sun(toward) if name == SUN else found.of_sun_thrown_on(toward)
    return found.of_source(dict(recipe.sources)[name])


def _staged(stage: ProofStage, photographs: Photographs) -> Staged:
    found = UnitPictures(stage, figure, photographs)
    plates = Plates(
        {}, found.cover, found.place_cover, found.mean_albedo, found.backdrop, lambda: found.shares
    )
    return Staged(found, plates)


def halved(stage: ProofStage) -> ProofStage:
    """The same stage for a picture half as wide and high, whose pixels need no fine figures."""
    view = stage.view
    half = replace(view, focal_px=view.focal_px / 2, width=view.width // 2, height=view.height // 2)
    return replace(stage, view=half, fine=False, samples_most=SAMPLES_SMALL)


def card_in(stage: ProofStage, plates: Plates, recipe: ProofRecipe) -> Card:
    """Where a card is held: beside the nearest face, on the side from which the key comes where there is
    room; in a frame that is too narrow for that as near its edge as the card goes in. Raises Refused where
    the frame is smaller than the card."""
    person = min(stage.people, key=lambda one: dist(one.eyes, stage.view.at))
    height, width = plates.shape
    scale = width / stage.view.width
    key = recipe.sources[0][1].at
    side = -1.0 if key[0] < person.eyes[0] else 1.0
    found, beside = [], []
    for aside in (side, -side):
        place = floats([[person.eyes[0] + aside * CARD_ASIDE_M, person.eyes[1] - 0.02, person.eyes[2]]])
        x, y, depth = stage.view.project(place)
        half = max(int(stage.view.focal_px * scale * CARD_SIDE_M / float(depth[0]) / 2), 2)
        row, column = int(float(y[0]) * scale), int(float(x[0]) * scale)
        if 2 * half + 2 >= min(height, width):
            raise Refused("card", "there is no room for a card in this frame")
        if half < row < height - half and half < column < width - half:
            found.append(Card((row, column), half))
        held = min(max(row, half + 1), height - half - 1), min(max(column, half + 1), width - half - 1)
        beside.append(Card(held, half))
    return min(found or beside, key=lambda card: _on_people(plates, card) > 0.3)


def _on_people(plates: Plates, card: Card) -> float:
    """The part of a card that would be before somebody."""
    (row, column), half = card.at, card.half
    stood = plates.cover[row - half : row + half + 1, column - half : column + half + 1]
    return float(stood.mean())
