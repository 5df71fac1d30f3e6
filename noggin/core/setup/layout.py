"""Where everything stands: a ground plan in metres, seen from above.

The subject, on whom the lens is focused, is at the origin, with everybody around it, and the camera looks
along +y; x grows to the camera's right. Heights are over the ground. Value objects are frozen and check
themselves; a refusal names the figure as the document does.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from math import atan2, degrees, dist, hypot

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics.appearance import CLOTHES, SKINS
from noggin.core.units import Metres, Stops

EYES_M: Metres = 1.55
"""Height of a standing person's eyes, the middle of 1.5 to 1.6 m. Common practice, no source."""

LENS_M: Metres = 1.4
"""Height of a lens that is not said otherwise. Common practice, no source."""

Point = tuple[Metres, Metres, Metres]
"""x, y and height."""


REFLECTOR_FROM, REFLECTOR_MOST_M = 0.7, 2.0
"""A surface that throws back this much or more, and is no longer, is taken for a reflector."""


def _check_spot(x_m: Metres, y_m: Metres, height_m: Metres) -> None:
    limits.ON_PLAN.check("x_m", x_m)
    limits.ON_PLAN.check("y_m", y_m)
    limits.PLAN_HEIGHT.check("height_m", height_m)


@dataclass(frozen=True)
class CameraSpot:
    """Where the lens is."""

    x_m: Metres
    y_m: Metres
    height_m: Metres = LENS_M

    def __post_init__(self) -> None:
        _check_spot(self.x_m, self.y_m, self.height_m)

    @property
    def at(self) -> Point:
        """Its place."""
        return self.x_m, self.y_m, self.height_m


@dataclass(frozen=True)
class PersonSpot:
    """Someone: where their face is (`height_m` of the eyes), where they look (`turn_deg`: 0 along the view
    back to the camera's side, 90 to its right), skin and clothes ("" where not said), and who they are."""

    x_m: Metres
    y_m: Metres
    height_m: Metres = EYES_M
    turn_deg: float = 0.0
    skin: str = ""
    wears: str = ""
    role: str = ""

    def __post_init__(self) -> None:
        _check_spot(self.x_m, self.y_m, self.height_m)
        limits.TURN.check("turn_deg", self.turn_deg)
        if self.skin:
            limits.check_choice("skin", self.skin, SKINS)
        if self.wears:
            limits.check_choice("wears", self.wears, CLOTHES)

    @property
    def face(self) -> Point:
        """Where the face is."""
        return self.x_m, self.y_m, self.height_m


@dataclass(frozen=True)
class SurfaceLine:
    """An upright surface, from one point of the plan to another: its height and the part of the light that
    it throws back."""

    start: tuple[Metres, Metres]
    end: tuple[Metres, Metres]
    height_m: Metres
    reflectance: float

    def __post_init__(self) -> None:
        for name, point in (("from", self.start), ("to", self.end)):
            for index, value in enumerate(point):
                limits.ON_PLAN.check(f"{name}[{index}]", value)
        limits.PLAN_HEIGHT.check("height_m", self.height_m)
        limits.REFLECTANCE.check("reflectance", self.reflectance)
        if self.start == self.end:
            raise Refused("to", "is the same point as from")

    @property
    def is_reflector(self) -> bool:
        """Whether it is one that a helper holds: short and bright."""
        return self.reflectance >= REFLECTOR_FROM and self.length_m <= REFLECTOR_MOST_M

    @property
    def middle(self) -> tuple[Metres, Metres]:
        """Halfway along it."""
        return self.at(0.5)

    @property
    def length_m(self) -> Metres:
        """From end to end."""
        return dist(self.start, self.end)

    def at(self, part: float) -> tuple[Metres, Metres]:
        """The place at a part of its length, 0 to 1."""
        (x, y), (end_x, end_y) = self.start, self.end
        return x + (end_x - x) * part, y + (end_y - y) * part

    def moved_by(self, x_m: Metres, y_m: Metres) -> "SurfaceLine":
        """The same so much farther right and back."""
        start, end = ((x + x_m, y + y_m) for x, y in (self.start, self.end))
        return replace(self, start=start, end=end)


@dataclass(frozen=True)
class ScrimSpot:
    """A scrim that a helper holds between sun and subject, always turned square to the sun: where its
    middle is, its half width, and what it takes off the light that comes through, stops."""

    x_m: Metres
    y_m: Metres
    height_m: Metres
    radius_m: Metres
    stops: Stops

    def __post_init__(self) -> None:
        _check_spot(self.x_m, self.y_m, self.height_m)
        limits.SCRIM_RADIUS.check("radius_m", self.radius_m)
        limits.SCRIM_LOSS.check("stops", self.stops)

    @property
    def at(self) -> Point:
        """Its place."""
        return self.x_m, self.y_m, self.height_m


@dataclass(frozen=True)
class LightSpot:
    """Where a light's reference point is, what it is aimed at (None: the face it lights), and where on the
    ground its cable leads to (None: it has none)."""

    x_m: Metres
    y_m: Metres
    height_m: Metres
    aim: Point | None = None
    cable: tuple[Metres, Metres] | None = None

    def __post_init__(self) -> None:
        _check_spot(self.x_m, self.y_m, self.height_m)
        for index, value in enumerate(self.cable or ()):
            limits.ON_PLAN.check(f"cable[{index}]", value)
        if self.aim is not None:
            for index, value in enumerate(self.aim):
                (limits.AIM_HEIGHT if index == 2 else limits.ON_PLAN).check(f"aim[{index}]", value)

    @property
    def at(self) -> Point:
        """Its place."""
        return self.x_m, self.y_m, self.height_m


@dataclass(frozen=True)
class Layout:
    """Camera, people, surfaces and lights (by their names) where they stand. `facing_deg` is the azimuth
    that the camera looks toward, None where the plan does not say; `wind_deg` is from where the wind comes,
    degrees off the camera's view (0 from where it looks, 90 from its right), None where it is not said."""

    camera: CameraSpot
    people: tuple[PersonSpot, ...]
    lights: Mapping[str, LightSpot] = field(default_factory=dict)
    surfaces: tuple[SurfaceLine, ...] = ()
    facing_deg: float | None = None
    scrim: ScrimSpot | None = None
    wind_deg: float | None = None

    def __post_init__(self) -> None:
        if self.facing_deg is not None:
            limits.AZIMUTH.check("facing_deg", self.facing_deg)
        if self.wind_deg is not None:
            limits.TURN.check("wind_deg", self.wind_deg)
        if not self.people:
            raise Refused("people", "someone must stand there")
        for name, found, most in (
            ("people", self.people, limits.FACES_MOST),
            ("surfaces", self.surfaces, limits.SURFACES_MOST),
        ):
            if len(found) > most:
                raise Refused(name, f"a plan holds {most} {name}, not more")

    def __hash__(self) -> int:
        lights = frozenset(self.lights.items())
        return hash((self.camera, self.people, lights, self.surfaces, self.facing_deg, self.scrim))

    @property
    def face(self) -> Point:
        """The face that distances and angles count from: at the origin, as high as the first person's."""
        return 0.0, 0.0, self.people[0].height_m

    @property
    def surface_names(self) -> tuple[str, ...]:
        """What each surface is called: a wall or a reflector, numbered where there are several."""
        return light_names(tuple("reflector" if one.is_reflector else "wall" for one in self.surfaces))

    def subject_distance_m(self) -> Metres:
        """From the lens to the subject, on the ground."""
        return hypot(self.face[0] - self.camera.x_m, self.face[1] - self.camera.y_m)

    def angle_deg(self, name: str) -> float:
        """How far a light is off the line from the subject to the lens, on the ground, 0 to 180."""
        return abs(signed_angle(self.face, self.camera.at, self.lights[name].at))


def bearing(start: Point, end: Point) -> float:
    """Degrees from one place toward another, on the ground: 0 along +y, 90 along +x.

    >>> bearing((0, 0, 0), (1, 0, 2)), bearing((0, 0, 0), (0, -1, 0))
    (90.0, 180.0)
    """
    return degrees(atan2(end[0] - start[0], end[1] - start[1]))


def signed_angle(middle: Point, first: Point, other: Point) -> float:
    """From the direction of the first place to that of the other, seen from the middle, on the ground;
    −180 to 180 degrees, positive to the camera's right where the first is the camera.

    >>> signed_angle((0, 0, 0), (0, -3, 0), (1, -1, 0)), signed_angle((0, 0, 0), (0, -3, 0), (-1, -1, 0))
    (45.0, -45.0)
    """
    turn = bearing(middle, first) - bearing(middle, other)
    return (turn + 180) % 360 - 180


def light_names(names: tuple[str, ...]) -> tuple[str, ...]:
    """Names under which things stand in a plan: their own, numbered where several have the same.

    >>> light_names(("Key", "Strobe", "Strobe"))
    ('Key', 'Strobe', 'Strobe 2')
    """
    found: list[str] = []
    for name in names:
        own, number = name, 2
        while own in found:
            own, number = f"{name} {number}", number + 1
        found.append(own)
    return tuple(found)
