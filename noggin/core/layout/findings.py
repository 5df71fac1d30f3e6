"""What geometry says of a set-up: facts with their figures, by the light or person they are of."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from math import cos, dist, log2, radians, sin, tan

from noggin.core.layout.geometry import (
    Beam,
    FieldOfView,
    LightPosition,
    LitFace,
    Shows,
    WayOut,
    aimed,
    along_bearing,
    clock_of,
    flares,
    framed_middle,
    nearest_out,
    placement,
    shows,
    way_out,
)
from noggin.core.layout.obstacles import (
    HEAD_OVER_EYES_M,
    blocks,
    on_the_way,
    shades,
    shadow_length,
)
from noggin.core.layout.standing import SunOver, beam_exponent, layout_of, names_of, sun_over
from noggin.core.physics.flash import angular_size
from noggin.core.physics.wind import Stand, ballast
from noggin.core.setup.agreement import lit_at
from noggin.core.setup.layout import Layout, PersonSpot, Point
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GROUNDS
from noggin.core.units import Metres, Stops

SHOWS_FROM: Stops = 1 / 3
"""A difference over this shows."""

GREY = 0.18
"""What a surface's own tone counts from."""


SUN_FAR_M: Metres = 1000.0
"""So far off, the sun is as good as infinitely far for people who stand together."""


@dataclass(frozen=True)
class OnSurface:
    """What a light leaves on a wall or the floor: its level there against that on the subject, the
    surface's own tone counted in."""

    surface: str
    distance_m: Metres
    level: Stops


@dataclass(frozen=True)
class LightFinding:
    """What geometry says of one light: `softness_deg` is how wide the face sees it, `hour` where it is
    mirrored in the eyes, `feathered_deg` and `feathered` how far past the face it is aimed and what that
    takes, `across` and `to_feet` the spread over faces and from head to foot in stops, `shaded` whose faces
    others shade, `blocked_by` the walls between it and the face, `surfaces` what it leaves on walls and
    floor, `ballast_kg` what keeps its stand up, `on_the_way` whether its feet stand between camera and
    subject."""

    name: str
    light: Light
    distance_m: Metres
    placement: LightPosition
    softness_deg: float
    hour: int | None
    shows: Shows
    way_out: WayOut | None
    nearest_m: Metres | None
    flares: bool
    feathered_deg: float
    feathered: Stops
    across: Stops
    to_feet: Stops
    shaded: tuple[int, ...]
    blocked_by: tuple[str, ...]
    surfaces: tuple[OnSurface, ...]
    ballast_kg: float | None
    on_the_way: bool


@dataclass(frozen=True)
class SunFinding:
    """What the sun does: where it is, how long a person's shadow is, whose faces it reaches, and whether it
    stands in the frame."""

    sun: SunOver
    shadow_m: Metres | None
    on_faces: tuple[int, ...]
    in_frame: bool


class Standing:
    """A set-up as it stands, with all that geometry says of it."""

    def __init__(self, setup: SetUp) -> None:
        self.setup = setup
        self.layout: Layout = layout_of(setup)
        self.names = names_of(setup)

    @cached_property
    def frame(self) -> FieldOfView:
        """What the camera takes in, tilted so that people are framed."""
        setup, layout = self.setup, self.layout
        wide, high = setup.camera.sensor_mm
        focal = setup.lens.focal_mm
        subject = layout.subject_distance_m()
        tall = max(person.height_m for person in layout.people)
        middle = framed_middle(tall, subject * high / focal)
        return FieldOfView(
            layout.camera,
            wide / (2 * focal),
            high / (2 * focal),
            (middle - layout.camera.height_m) / subject,
            setup.scene.background_distance_m,
        )

    @cached_property
    def sun(self) -> SunOver | None:
        """The sun over the plan."""
        return sun_over(self.setup, self.layout)

    def light(self, name: str) -> Light:
        """A light by its name on the plan."""
        return self.setup.lights[self.names.index(name)]

    def beam(self, name: str) -> Beam:
        """How a light falls off."""
        light, spot = self.light(name), self.layout.lights[name]
        lit = lit_at(self.layout, name, light.role, self.setup.behind_m)
        return Beam(spot.at, aimed(spot.at, spot.aim or lit), light.radius_m, beam_exponent(light), lit)

    def face(self, name: str) -> LitFace:
        """A light's lit face."""
        beam = self.beam(name)
        return LitFace(beam.at, beam.radius_m, beam.aim)

    @cached_property
    def lights(self) -> tuple[LightFinding, ...]:
        """What is said of each light."""
        return tuple(self._finding(name) for name in self.names)

    def position(self, name: str) -> LightPosition:
        """Where a light stands to the subject."""
        person = replace(self.layout.people[0], x_m=self.layout.face[0], y_m=self.layout.face[1])
        return placement(person, self.layout.camera.at, self.layout.lights[name].at)

    def softness_deg(self, name: str) -> float:
        """How wide a light's face is seen from what it lights, degrees."""
        light = self.light(name)
        lit = lit_at(self.layout, name, light.role, self.setup.behind_m)
        return angular_size(max(dist(self.layout.lights[name].at, lit), 0.05), light.radius_m)

    def _finding(self, name: str) -> LightFinding:
        layout, light, beam, face = self.layout, self.light(name), self.beam(name), self.face(name)
        spot, person = layout.lights[name], layout.people[0]
        on_subject = light.role != "background"
        seen = shows(self.frame, face)
        levels = [beam.level(one.face) for one in layout.people] if on_subject else []
        feet = (person.x_m, person.y_m, 0.1)
        return LightFinding(
            name,
            light,
            dist(spot.at, beam.level_at),
            self.position(name),
            self.softness_deg(name),
            clock_of(person, layout.camera.at, spot.at) if on_subject else None,
            seen,
            way_out(self.frame, layout, name, light.radius_m) if seen and on_subject else None,
            nearest_out(self.frame, layout, name, light.radius_m) if on_subject else None,
            flares(self.frame, face),
            beam.off_deg(layout.face) if on_subject else 0.0,
            -beam.exponent * log2(beam.cosine(layout.face)) if on_subject else 0.0,
            max(levels) - min(levels) if len(levels) > 1 else 0.0,
            beam.level(person.face) - beam.level(feet) if on_subject else 0.0,
            tuple(self._shaded(spot.at)) if light.lights_subject else (),
            tuple(self._blocking(spot.at, layout.face)) if on_subject else (),
            tuple(self._on_surfaces(beam)),
            self._ballast(light, spot.height_m),
            on_the_way(spot.at, light.stand.footprint_m, layout.camera.at, layout.face),
        )

    def _shaded(self, at: Point) -> Iterator[int]:
        """The people whose faces others keep a light at a place from."""
        for index, person in enumerate(self.layout.people):
            if any(shades(at, person, other) for other in self.layout.people if other is not person):
                yield index

    def _blocking(self, start: Point, end: Point) -> Iterator[str]:
        """The walls that stand between two places."""
        for name, surface in zip(self.layout.surface_names, self.layout.surfaces, strict=True):
            if blocks(surface, start, end):
                yield name

    def _on_surfaces(self, beam: Beam) -> Iterator[OnSurface]:
        """`level − 2·log2(d_wall/d_subject) + log2(ρ/0.18)` with the beam's own loss: the most on each
        wall, and on the floor at the subject's feet."""
        for name, surface in zip(self.layout.surface_names, self.layout.surfaces, strict=True):
            spots = [
                (*surface.at(along / 16), surface.height_m * up / 4)
                for along in range(17)
                for up in range(5)
            ]
            best = max(spots, key=beam.level)
            yield OnSurface(
                name,
                dist(beam.at, best),
                beam.level(best) + log2(surface.reflectance / GREY),
            )
        feet = (self.layout.face[0], self.layout.face[1], 0.0)
        ground = GROUNDS[self.setup.scene.ground]
        yield OnSurface("floor", dist(beam.at, feet), beam.level(feet) + log2(ground.reflectance / GREY))

    def _ballast(self, light: Light, height_m: Metres) -> float | None:
        gust = self.setup.scene.gust_m_s
        if gust is None:
            return None
        return ballast(Stand(height_m, light.stand.footprint_m), light.sail_m2, gust)

    @cached_property
    def under_sun(self) -> SunFinding | None:
        """What the sun does; None where there is none."""
        sun = self.sun
        if sun is None:
            return None
        person = self.layout.people[0]
        shaded = set(self._shaded(_far(person.face, sun)))
        lit = tuple(
            index
            for index, one in enumerate(self.layout.people)
            if self._sun_on(one, sun)
            and index not in shaded
            and not any(self._blocking(one.face, _far(one.face, sun)))
        )
        off, up = radians(sun.off_deg), radians(sun.height_deg)
        in_frame = (
            cos(off) > 0
            and abs(tan(off)) < self.frame.half_across
            and (abs(tan(up) / max(cos(off), 1e-6) - self.frame.tilt) < self.frame.half_up)
        )
        return SunFinding(
            sun, shadow_length(person.height_m + HEAD_OVER_EYES_M, sun.height_deg), lit, in_frame
        )

    def _sun_on(self, person: PersonSpot, sun: SunOver) -> bool:
        """Whether the sun reaches the front of a face, as it is turned."""
        turn = radians(person.turn_deg)
        front = (sin(turn), -cos(turn), 0.0)
        return sum(a * b for a, b in zip(front, sun.toward, strict=True)) > SUN_ON_FACE


def _far(face: Point, sun: SunOver) -> Point:
    x, y, height = (place + SUN_FAR_M * part for place, part in zip(face, sun.toward, strict=True))
    return x, y, height


SUN_ON_FACE = 0.1
"""Cosine from the front of a face from which on sun on it is a patch, and not a rim."""


def light_shows(setup: SetUp, light: Light) -> bool:
    """Whether a light of a set-up, as it stands or moved along its bearing to another distance, is in the
    frame: by the plan where there is one, else by its distance and angle alone."""
    layout = setup.scene.layout
    if layout is None:
        return setup.shows(light)
    standing = Standing(setup)
    index = next((at for at, one in enumerate(setup.lights) if one.says == light.says), None)
    if index is None or not light.lights_subject:
        return False
    spot = standing.layout.lights[standing.names[index]]
    moved = along_bearing(spot, standing.layout.face, light.distance_m)
    target = spot.aim or standing.layout.face
    return bool(shows(standing.frame, LitFace(moved.at, light.radius_m, aimed(moved.at, target))))


def stays_out_from(setup: SetUp, light: Light) -> Metres | None:
    """The nearest distance along its bearing from which on a light does not show; None without a plan."""
    if setup.scene.layout is None:
        return None
    standing = Standing(setup)
    found = next((one for one in standing.lights if one.light.says == light.says), None)
    return found.nearest_m if found else None
