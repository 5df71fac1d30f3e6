"""Where everything of a set-up stands: as its plan says, and where it says nothing, from its figures."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import atan, cos, log, radians, sin, sqrt

from noggin.core.daylight.day import off_axis
from noggin.core.daylight.sky import daylight, illuminance
from noggin.core.physics.optics import frame_side
from noggin.core.setup.layout import (
    EYES_M,
    CameraSpot,
    Layout,
    LightSpot,
    PersonSpot,
    Point,
    light_names,
)
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.tables import BOX_BEAM, GRID_BEAM, SKIES
from noggin.core.units import Metres

ALONE_UNDER_M: Metres = 0.85
"""Where people are not said, one person is drawn in a frame narrower than this at the subject."""

GROUP_FROM_M: Metres = 2.6
"""And from this width on a group of six."""

COUPLE = (
    PersonSpot(-0.17, 0.0, 1.55, 16.0, wears="white dress", role="bride"),
    PersonSpot(0.16, 0.12, 1.66, -14.0, wears="dark suit", role="groom"),
)
"""Two people close together, each turned a little to the other. Invented."""

APART_M: Metres = 0.52
"""Between people of a group, shoulder to shoulder. Common practice, no source."""

ROLE_SIDES = {"key": -1.0, "fill": 1.0, "rim": 1.0, "background": -1.0}
"""On which side of the camera a light of a role is put that no plan places: −1 left, 1 right."""

RIM_FROM_DEG = 100.0
"""A rim light whose angle says that it stands in front is put behind, at the mirrored angle."""

TUBE_BEAM, ZOOM_BEAM = 1.0, 8.0
"""Exponents n of a beam that falls off as cos^n of the angle off its aim: a bare tube or umbrella, and a
zoom reflector or narrow head. Class figures, from memory."""

ZOOM_HALF_MM = 18.0
"""A zoom head at a focal length lights the picture of it on a frame 36 mm wide, a stop less at its sides.
By the definition of the markings."""

BACKLIT_SUN = (30.0, 40.0)
"""Azimuth off the camera's view and height, in degrees, of a sun that is only known to make a rim."""


def beam_exponent(light: Light) -> float:
    """n of the light's beam, from what is known of it."""
    if light.grid:
        return GRID_BEAM
    if light.zoom_mm is not None and not light.radius_m:
        return float(log(0.5) / log(cos(atan(ZOOM_HALF_MM / light.zoom_mm))))
    if light.radius_m:
        return BOX_BEAM
    return ZOOM_BEAM if light.beam == "narrow" else TUBE_BEAM


def names_of(setup: SetUp) -> tuple[str, ...]:
    """The names under which the set-up's lights stand in its plan, in their order."""
    return light_names(tuple(light.says for light in setup.lights))


def key_name(setup: SetUp) -> str:
    """The key's name on the plan."""
    return names_of(setup)[setup.lights.index(setup.key)]


def layout_of(setup: SetUp) -> Layout:
    """The whole plan of a set-up: people, camera and every light have a place."""
    given = setup.scene.layout
    people = given.people if given else tuple(_people(setup))
    camera = given.camera if given else CameraSpot(0.0, -setup.scene.subject_distance_m)
    lights = {}
    for name, light in zip(names_of(setup), setup.lights, strict=True):
        spot = given.lights.get(name) if given else None
        lights[name] = spot or _placed(setup, light, (0.0, 0.0, people[0].height_m))
    facing = given.facing_deg if given and given.facing_deg is not None else _facing(setup)
    if given is None:
        return Layout(camera, people, lights, facing_deg=facing)
    return replace(given, lights=lights, facing_deg=facing)


def _facing(setup: SetUp) -> float | None:
    moment = setup.scene.moment
    return moment.place.facing_deg if moment else None


def _people(setup: SetUp) -> Iterator[PersonSpot]:
    """People as the scene says, else as many as the frame is wide for."""
    scene, said = setup.scene, setup.scene.people
    wide = frame_side(scene.subject_distance_m, setup.lens.focal_mm, setup.camera.sensor_mm[0])
    count = max(len(said), len(scene.faces_m))
    if not count:
        count = 1 if wide < ALONE_UNDER_M else 2 if wide < GROUP_FROM_M else 6
    for index, spot in enumerate(_spots(count)):
        person = said[index] if index < len(said) else None
        behind = scene.faces_m[index] - scene.subject_distance_m if index < len(scene.faces_m) else spot.y_m
        yield replace(
            spot,
            y_m=behind,
            skin=person.skin if person else "",
            wears=(person.wears if person else "") or spot.wears,
        )


def _spots(count: int) -> Iterator[PersonSpot]:
    if count == 1:
        yield PersonSpot(0.0, 0.0, EYES_M, -10.0, wears="white dress")
    elif count == 2:
        yield from COUPLE
    else:
        rows = 1 if count <= 4 else 2
        first = (count + rows - 1) // rows
        for index in range(count):
            row, column = divmod(index, first)
            in_row = min(first, count - row * first)
            aside = (column - (in_row - 1) / 2) * APART_M
            couple = COUPLE[(index + row) % 2]
            yield PersonSpot(
                round(aside, 3),
                0.6 * row,
                couple.height_m + 0.16 * row,
                round(-6 * aside, 1),
                wears=couple.wears if index < 2 else ("mid-tone clothes" if index % 3 else "dark suit"),
            )


def _placed(setup: SetUp, light: Light, face: Point) -> LightSpot:
    """A light where its figures put it."""
    side, angle = ROLE_SIDES[light.role], light.angle_deg
    if light.role == "background":
        far = max(setup.behind_m - light.distance_m * 0.8, setup.behind_m * 0.3)
        at = 0.6 * light.distance_m
        return LightSpot(
            round(face[0] + at, 3), round(face[1] + far, 3), 0.6, (face[0], face[1] + setup.behind_m, 1.2)
        )
    if light.role == "rim" and angle < RIM_FROM_DEG:
        angle = 180 - angle
    return at_angle(face, side * angle, light.distance_m, light.stand.height_m)


def at_angle(face: Point, angle_deg: float, distance_m: Metres, height_m: Metres) -> LightSpot:
    """A light at an angle off the line to the lens (positive to the camera's right), a distance from the
    face in space, and a height; as high as the distance lets it.

    >>> spot = at_angle((0, 0, 1.5), 90, 2.0, 1.5)
    >>> round(spot.x_m, 3), abs(round(spot.y_m, 3))
    (2.0, 0.0)
    """
    up = max(min(height_m - face[2], 0.9 * distance_m), -0.9 * distance_m)
    out = sqrt(distance_m**2 - up**2)
    turn = radians(angle_deg)
    return LightSpot(face[0] + out * sin(turn), face[1] - out * cos(turn), face[2] + up)


@dataclass(frozen=True)
class SunOver:
    """The sun over a plan: degrees off the camera's view (0 where it looks, positive to its right, 180
    behind it), its height, and the part of the light on a side that faces the camera that comes straight
    from it; `on_ground` is what level ground has of sun and sky against the sky alone. `assumed` says that
    only a sunlit rim is known, not where the sun is."""

    off_deg: float
    height_deg: float
    share: float = 0.0
    on_ground: float = 1.0
    assumed: bool = False

    @property
    def toward(self) -> Point:
        """A unit vector to it, in the plan's own x, y and height."""
        level = cos(radians(self.height_deg))
        turn = radians(self.off_deg)
        return level * sin(turn), level * cos(turn), sin(radians(self.height_deg))


def sun_over(setup: SetUp, layout: Layout) -> SunOver | None:
    """Where the sun is over a set-up's plan; None under cloud, at night, and where nothing tells."""
    moment = setup.scene.moment
    if moment is not None and layout.facing_deg is not None:
        light = daylight(replace(moment.place, facing_deg=layout.facing_deg), moment.time)
        sun = light.sun
        direct, diffuse = illuminance(sun.height_deg, SKIES[moment.place.sky])
        if direct <= 0 or sun.height_deg <= 0:
            return None
        return SunOver(
            off_axis(sun, layout.facing_deg),
            sun.height_deg,
            1 - 2 ** (light.shaded - light.sunlit),
            1 + direct * sin(radians(sun.height_deg)) / diffuse,
        )
    if setup.scene.rim is not None:
        return SunOver(*BACKLIT_SUN, assumed=True)
    return None
