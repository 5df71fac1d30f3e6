"""The stage of a proof: what of a set-up decides its geometry, and nothing of how bright anything is."""

from collections.abc import Callable
from dataclasses import dataclass
from math import dist

import numpy as np

from noggin.core.layout.bounce import Panel
from noggin.core.layout.standing import (
    SunOver,
    beam_exponent,
    names_of,
)
from noggin.core.physics.appearance import CLOTHES, SKINS
from noggin.core.proof.bounced import Patches, patches_of_all
from noggin.core.proof.mesh import Mesh
from noggin.core.proof.paint import Looks
from noggin.core.proof.view import CameraView, view_of
from noggin.core.setup.layout import Layout, PersonSpot, Point
from noggin.core.setup.light import Light
from noggin.core.setup.photograph import Photograph
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GROUNDS
from noggin.core.units import Metres, Stops

Figures = Callable[[str, str], Mesh]
"""Gives a figure ("gown", "suit" or "child") in a version ("fine" or "coarse")."""

FINE_UNTIL_M: Metres = 1.7
"""Frames up to this width at the subject need the fine figures."""

FINE_FACES_MOST = 3
"""More people than this are drawn coarsely: none of them is large."""

ASSUMED_SKINS = ("fair", "fair", "medium", "brown")
"""Skin of people of whom it is not said, in turn."""

CHILD_UNDER_M: Metres = 1.15
"""Whose eyes are lower is a child; grown-ups who sit have theirs at 1.2."""

CHILD_WEARS = "mid-tone clothes"
"""What a child is taken to wear of whom it is not said."""

SAMPLES_FINE, SAMPLES_COARSE, SAMPLES_SMALL = 14, 9, 5
"""At how many points of its face a soft light is sampled at most, by how large people and picture are."""


@dataclass(frozen=True)
class StageLight:
    """A light on the stage: the centre of its face, what it is aimed at, the face's radius in metres, the
    exponent of its beam, and `square_at`, the point at which a card square to it has the light's level;
    `thrown_on` says that walls and reflectors throw it on people: what counts toward the subject."""

    at: Point
    aim: Point
    radius_m: Metres
    beam: float
    square_at: Point
    thrown_on: bool = True


@dataclass(frozen=True)
class Posed:
    """One person: where their face is, their turn, and how they look."""

    eyes: Point
    turn_deg: float
    looks: Looks


@dataclass(frozen=True)
class StageWall:
    """An upright surface: its two ends on the ground (x, z), its height, and what it throws back."""

    start: tuple[Metres, Metres]
    end: tuple[Metres, Metres]
    height_m: Metres
    reflectance: float

    @property
    def panel(self) -> Panel:
        """The same as what throws light on."""
        (x, z), (end_x, end_z) = self.start, self.end
        return Panel((x, 0.0, z), (end_x - x, 0.0, end_z - z), (0.0, self.height_m, 0.0), self.reflectance)


@dataclass(frozen=True)
class StageScrim:
    """A scrim, square to the sun: its middle, half its width in metres, and what it takes off, stops."""

    at: Point
    radius_m: Metres
    stops: Stops


@dataclass(frozen=True)
class ProofStage:
    """Everything that stays where it is while dials are turned; x to the right, y up, z toward the camera.
    `fine` and `samples_most` say how finely people are cut, and how often a soft light is sampled;
    `photograph` shows the place, which is invented where there is none."""

    view: CameraView
    people: tuple[Posed, ...]
    walls: tuple[StageWall, ...]
    scrim: StageScrim | None
    ground: str
    ground_reflectance: float
    subject_m: Metres
    background_m: Metres
    has_sky: bool
    has_lamps: bool
    fine: bool
    samples_most: int
    photograph: Photograph | None = None

    @property
    def patches(self) -> tuple[Patches, ...]:
        """Walls and reflectors as what throws light on."""
        return patches_of_all([wall.panel for wall in self.walls])

    @property
    def face(self) -> Point:
        """The face that levels count on."""
        return 0.0, self.people[0].eyes[1], 0.0


def turned(point: Point) -> Point:
    """A place of a ground plan (x, y along the view, height) in the stage's own axes.

    >>> turned((1.0, 2.0, 1.5))
    (1.0, 1.5, -2.0)
    """
    return point[0], point[2], -point[1]


def _looks(index: int, person: PersonSpot) -> Looks:
    skin = person.skin or ASSUMED_SKINS[index % len(ASSUMED_SKINS)]
    usual = ("white dress", "dark suit")[index % 2] if person.height_m >= CHILD_UNDER_M else CHILD_WEARS
    wears = person.wears or usual
    gown = wears == "white dress" or (wears == "mid-tone clothes" and index % 2 == 0)
    grown_up = "gown" if gown else "suit"
    figure = grown_up if person.height_m >= CHILD_UNDER_M else "child"
    return Looks(skin, SKINS[skin].reflectance, wears, CLOTHES[wears].reflectance, figure)


def stage_of(setup: SetUp, layout: Layout, size: tuple[int, int]) -> ProofStage:
    """The stage of a set-up whose things stand as in `layout`, seen in a frame of `size` pixels."""
    scene = setup.scene
    subject_m = dist(layout.camera.at[:2], layout.face[:2])
    eyes = max(person.height_m for person in layout.people)
    wide = subject_m * setup.camera.sensor_mm[0] / setup.lens.focal_mm
    fine = wide <= FINE_UNTIL_M and len(layout.people) <= FINE_FACES_MOST
    return ProofStage(
        view=view_of(
            turned(layout.camera.at),
            eyes,
            subject_m,
            setup.lens.focal_mm,
            setup.camera.sensor_mm,
            size,
        ),
        people=tuple(
            Posed(turned(person.face), person.turn_deg, _looks(index, person))
            for index, person in enumerate(layout.people)
        ),
        walls=tuple(
            StageWall(
                (surface.start[0], -surface.start[1]),
                (surface.end[0], -surface.end[1]),
                surface.height_m,
                surface.reflectance,
            )
            for surface in layout.surfaces
        ),
        scrim=_scrim(layout),
        ground=scene.ground,
        ground_reflectance=GROUNDS[scene.ground].reflectance,
        subject_m=subject_m,
        background_m=scene.background_distance_m,
        has_sky=scene.sky is not None,
        has_lamps=scene.lamps_background is not None,
        fine=fine,
        samples_most=SAMPLES_FINE if fine else SAMPLES_COARSE,
        photograph=scene.photograph,
    )


def _scrim(layout: Layout) -> StageScrim | None:
    if layout.scrim is None:
        return None
    return StageScrim(turned(layout.scrim.at), layout.scrim.radius_m, layout.scrim.stops)


def sources_of(setup: SetUp, layout: Layout) -> dict[str, StageLight]:
    """The lights of a set-up where they stand, by their names on the plan."""
    found = {}
    for name, light in zip(names_of(setup), setup.lights, strict=True):
        found[name] = source_of(light, layout, name, setup.behind_m)
    return found


def source_of(light: Light, layout: Layout, name: str, behind_m: Metres) -> StageLight:
    """One light on the stage."""
    spot = layout.lights[name]
    lit = layout.face
    if light.role == "background":
        lit = (layout.face[0], layout.face[1] + behind_m, spot.height_m)
    aim = spot.aim or lit
    return StageLight(
        turned(spot.at),
        turned(aim),
        light.radius_m,
        beam_exponent(light),
        turned(lit),
        light.lights_subject,
    )


def sun_direction(sun: SunOver) -> np.ndarray[tuple[int], np.dtype[np.float32]]:
    """A unit vector toward the sun, in the stage's axes."""
    return np.array(turned(sun.toward), np.float32)
