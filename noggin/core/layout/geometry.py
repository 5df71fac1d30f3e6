"""What follows from where a light stands: angles, what the frame takes in, beam and fall-off, shadows.

Places are of a ground plan: x to the camera's right, y along its view, height; metres and degrees.
"""

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import asin, atan, cos, degrees, dist, hypot, log2, pi, radians, sin, sqrt

from noggin.core.layout.standing import at_angle
from noggin.core.physics.flash import DARK_COSINE
from noggin.core.setup.layout import (
    CameraSpot,
    Layout,
    LightSpot,
    PersonSpot,
    Point,
    bearing,
    signed_angle,
)
from noggin.core.units import Metres, Millimetres, Stops

OUTLINE_POINTS = 24
"""Points around a modifier's face at which it is asked whether it shows."""

FLARE_AIM_DEG, FLARE_FRAME_DEG = 60.0, 20.0
"""A light may flare that is aimed within the first of the lens and stands within half the field of view and
the second of its axis. Common practice, no source."""


def field_of_view(focal_mm: Millimetres, side_mm: Millimetres) -> float:
    """Degrees that a side of the sensor takes in: 2·atan(side/(2·f)), focus extension neglected.

    >>> round(field_of_view(50, 36), 1), round(field_of_view(85, 24), 1)
    (39.6, 16.1)
    """
    return 2 * degrees(atan(side_mm / (2 * focal_mm)))


EYES_AT, FEET_ROOM, WHOLE_FROM_M = 0.36, 0.05, 1.85
"""Height of the eyes in the frame from its top; the part of it left under the feet of a full length; and
from which height at the subject on a frame is meant to hold people whole. Common practice, no source."""


def framed_middle(eyes_m: Metres, frame_m: Metres) -> Metres:
    """At which height at the subject the middle of a frame lies that frames people well: eyes where eyes
    belong, and feet in the frame where they fit.

    >>> round(framed_middle(1.55, 1.0), 2), round(framed_middle(1.55, 2.4), 2)
    (1.41, 1.08)
    """
    middle = eyes_m - (0.5 - EYES_AT) * frame_m
    return min(middle, (0.5 - FEET_ROOM) * frame_m) if frame_m >= WHOLE_FROM_M else middle


@dataclass(frozen=True)
class FieldOfView:
    """What a camera takes in: where it is, half its field of view across and up in slopes, how far it is
    tilted up (slope of its axis), and how far away the background is."""

    camera: CameraSpot
    half_across: float
    half_up: float
    tilt: float
    background_m: Metres

    def holds(self, point: Point) -> bool:
        """Whether a place is inside the pyramid of view, before the background."""
        along = point[1] - self.camera.y_m
        if not 0.05 < along < self.background_m:
            return False
        across = (point[0] - self.camera.x_m) / along
        up = (point[2] - self.camera.height_m) / along
        # The frame is square to its own tilted axis.
        straight = 1 + self.tilt * up
        if straight <= 0:
            return False
        steep = sqrt(1 + self.tilt**2)
        return (
            abs(across) <= self.half_across * straight / steep
            and abs(up - self.tilt) <= self.half_up * straight
        )


@dataclass(frozen=True)
class LitFace:
    """A light's lit face: where its middle is, its radius, and a unit vector along its aim."""

    at: Point
    radius_m: Metres
    aim: Point

    def outline(self) -> Iterator[Point]:
        """Points around its edge, and its middle."""
        yield self.at
        if not self.radius_m:
            return
        across = _unit((self.aim[1], -self.aim[0], 0.0)) if hypot(*self.aim[:2]) > 1e-6 else (1.0, 0.0, 0.0)
        up = _cross(across, self.aim)
        for index in range(OUTLINE_POINTS):
            turn = 2 * pi * index / OUTLINE_POINTS
            a, b = self.radius_m * cos(turn), self.radius_m * sin(turn)
            yield tuple(  # type: ignore[misc]
                middle + a * one + b * other for middle, one, other in zip(self.at, across, up, strict=True)
            )


def _unit(vector: Point) -> Point:
    size = hypot(*vector)
    return vector[0] / size, vector[1] / size, vector[2] / size


def _cross(a: Point, b: Point) -> Point:
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


def aimed(start: Point, end: Point) -> Point:
    """A unit vector from one place to another; straight down where both are one."""
    if dist(start, end) < 1e-6:
        return 0.0, 0.0, -1.0
    return _unit((end[0] - start[0], end[1] - start[1], end[2] - start[2]))


@dataclass(frozen=True)
class Shows:
    """What of a light is in the frame: its modifier, its stand."""

    modifier: bool
    stand: bool

    def __bool__(self) -> bool:
        return self.modifier or self.stand


STAND_STEPS = 24


def shows(frame: FieldOfView, face: LitFace) -> Shows:
    """Whether a light's modifier or its stand, straight down to the ground, is in the frame."""
    modifier = any(frame.holds(point) for point in face.outline())
    x, y, height = face.at
    stand = any(frame.holds((x, y, height * step / STAND_STEPS)) for step in range(STAND_STEPS))
    return Shows(modifier, stand)


@dataclass(frozen=True)
class WayOut:
    """How a light that shows stays out: from which distance on along its bearing, raised to which
    height, or how many degrees farther from the lens; None where it does not that way."""

    distance_m: Metres | None
    height_m: Metres | None
    aside_deg: float | None


FARTHEST_M, HIGHEST_M = 12.0, 4.0


def way_out(frame: FieldOfView, layout: Layout, name: str, radius_m: Metres) -> WayOut:
    """How a light that shows is put where it does not. Searched in steps of 5 cm and 1°."""
    spot, face = layout.lights[name], layout.face
    target = spot.aim or face

    def out(moved: LightSpot) -> bool:
        return not shows(frame, LitFace(moved.at, radius_m, aimed(moved.at, target)))

    now = dist(spot.at, face)
    distances = (now + 0.05 * step for step in range(1, int((FARTHEST_M - now) / 0.05)))
    heights = (spot.height_m + 0.05 * step for step in range(1, int((HIGHEST_M - spot.height_m) / 0.05)))
    angle = signed_angle(face, layout.camera.at, spot.at)
    side = -1.0 if angle < 0 else 1.0
    asides = range(1, int(180 - abs(angle)))
    return WayOut(
        next((far for far in distances if out(along_bearing(spot, face, far))), None),
        next((high for high in heights if out(replace(spot, height_m=high))), None),
        next(
            (
                float(more)
                for more in asides
                if out(at_angle(face, angle + side * more, now, spot.height_m))
            ),
            None,
        ),
    )


def along_bearing(spot: LightSpot, face: Point, distance_m: Metres) -> LightSpot:
    """A light moved along its bearing to a distance from the face, in space, its height kept as far as the
    distance lets it.

    >>> along_bearing(LightSpot(3.0, 0.0, 1.5), (0.0, 0.0, 1.5), 2.0).x_m
    2.0
    """
    out = hypot(spot.x_m - face[0], spot.y_m - face[1])
    up = max(min(spot.height_m - face[2], 0.95 * distance_m), -0.95 * distance_m)
    level = sqrt(distance_m**2 - up**2)
    if out < 1e-9:
        return replace(spot, x_m=face[0], y_m=face[1] - level, height_m=face[2] + up)
    part = level / out
    return replace(
        spot,
        x_m=face[0] + (spot.x_m - face[0]) * part,
        y_m=face[1] + (spot.y_m - face[1]) * part,
        height_m=face[2] + up,
    )


def nearest_out(frame: FieldOfView, layout: Layout, name: str, radius_m: Metres) -> Metres | None:
    """The nearest distance along a light's bearing from which on it does not show; None where it shows
    everywhere up to FARTHEST_M. In steps of 5 cm."""
    spot, face = layout.lights[name], layout.face
    target = spot.aim or face

    def out(steps: int) -> bool:
        moved = along_bearing(spot, face, 0.05 * steps)
        return not shows(frame, LitFace(moved.at, radius_m, aimed(moved.at, target)))

    # First in longer steps from afar, then by short ones: a light that is out stays out farther away.
    least, found = int(max(radius_m, 0.3) / 0.05) + 1, None
    for steps in range(int(FARTHEST_M / 0.05), least - LONG_STEP, -LONG_STEP):
        if not out(max(steps, least)):
            break
        found = max(steps, least)
    if found is None:
        return None
    while found > least and out(found - 1):
        found -= 1
    return 0.05 * found


LONG_STEP = 8
"""Steps of 5 cm that are taken at once at first."""

PLACEMENTS_BY_ANGLE = (
    (15.0, "flat"),
    (35.0, "loop"),
    (55.0, "three-quarter"),
    (75.0, "near split"),
    (105.0, "side"),
    (180.0, "rim"),
)
"""Names of where a light stands, up to an angle off the lens. Common practice, no source."""

TRIANGLE_UP_DEG = (30.0, 45.0)
"""So high, a light three-quarters round leaves a triangle of light under the far eye. Common practice."""

TURNED_LEAST_DEG = 5.0
"""A face turned less than this has no short and no broad side."""


@dataclass(frozen=True)
class LightPosition:
    """Where a light stands to a face: degrees off the lens on the ground (positive to the camera's
    right) and up from the eyes, and what that is called."""

    off_deg: float
    up_deg: float
    name: str
    side: str


def placement(person: PersonSpot, camera: Point, light: Point) -> LightPosition:
    """Where a light stands to a face, and which side of it that is."""
    off = signed_angle(person.face, camera, light)
    away = dist(person.face, light)
    up = degrees(asin(max(-1.0, min(1.0, (light[2] - person.height_m) / away)))) if away else 90.0
    name = next(name for most, name in PLACEMENTS_BY_ANGLE if abs(off) <= most)
    if name == "three-quarter" and TRIANGLE_UP_DEG[0] <= up <= TRIANGLE_UP_DEG[1]:
        name = "triangle"
    side = ""
    if abs(person.turn_deg) >= TURNED_LEAST_DEG and name not in ("flat", "rim"):
        side = "short" if (off > 0) == (person.turn_deg > 0) else "broad"
    return LightPosition(off, up, name, side)


@dataclass(frozen=True)
class Beam:
    """A light as it falls off: its place, a unit vector along its aim, radius, exponent, and the place at
    which its level is the plan's."""

    at: Point
    aim: Point
    radius_m: Metres
    exponent: float
    level_at: Point

    def cosine(self, point: Point) -> float:
        """Of the angle off its aim at which a place lies."""
        toward = aimed(self.at, point)
        return max(sum(a * b for a, b in zip(toward, self.aim, strict=True)), DARK_COSINE)

    def level(self, point: Point) -> Stops:
        """Level on a card square to the light at a place, against that at `level_at`:
        log2((d0² + r²)/(d² + r²)) + n·log2(cos/cos0)."""
        square = self.radius_m**2
        near = dist(self.at, self.level_at) ** 2 + square
        far = dist(self.at, point) ** 2 + square
        return log2(near / far) + self.exponent * log2(self.cosine(point) / self.cosine(self.level_at))

    def off_deg(self, point: Point) -> float:
        """Degrees off its aim at which a place lies."""
        toward = aimed(self.at, point)
        return degrees(
            pi / 2 - asin(max(-1.0, min(1.0, sum(a * b for a, b in zip(toward, self.aim, strict=True)))))
        )


HALVINGS = 22
"""Of a stretch of at most 5 m: the line is known to a thousandth of a millimetre."""

LINE_STEPS = [0.02 * 1.12**step for step in range(68)]
"""Distances at which a line is looked for, metres."""


def equal_stops(
    beam: Beam, stops: Stops, height_m: Metres, every_deg: int = 5
) -> list[tuple[Metres, Metres]]:
    """The line on which a light has `stops` more (or less) than at its level's place, at one height: points
    (x, y) around it, where the line is within 40 m. The farthest on each bearing counts: beyond it the
    level only falls."""
    found = []
    for turn in range(0, 360, every_deg):
        east, north = sin(radians(turn)), cos(radians(turn))
        out = _line_along(beam, stops, height_m - beam.at[2], east, north)
        if out is not None:
            found.append((beam.at[0] + out * east, beam.at[1] + out * north))
    return found


def _line_along(beam: Beam, stops: Stops, up: Metres, east: float, north: float) -> Metres | None:
    """How far out a line is on a bearing; None where it is not within reach. `Beam.level` with all that is
    the same on a bearing worked out once."""
    disc, exponent = beam.radius_m**2, beam.exponent
    near = dist(beam.at, beam.level_at) ** 2 + disc
    along, across, height = east * beam.aim[0] + north * beam.aim[1], up * beam.aim[2], up * up
    least: float = 2.0**stops * beam.cosine(beam.level_at) ** exponent / near

    def reached(out: Metres) -> bool:
        square = out * out + height
        cosine = max((out * along + across) / sqrt(max(square, 1e-12)), DARK_COSINE)
        return bool(cosine**exponent >= least * (square + disc))

    # Square to its aim and farther out than this it has no place that bright.
    steps = bisect_right(LINE_STEPS, sqrt(max(1 / least - height - disc, 0.0)))
    last = next((step for step in range(steps - 1, -1, -1) if reached(LINE_STEPS[step])), None)
    if last is None or last + 1 == len(LINE_STEPS):
        return None
    inside, outside = LINE_STEPS[last], LINE_STEPS[last + 1]
    for _ in range(HALVINGS):
        middle = (inside + outside) / 2
        if reached(middle):
            inside = middle
        else:
            outside = middle
    return inside


def flares(frame: FieldOfView, face: LitFace) -> bool:
    """Whether a light may shine into the lens: aimed within 60° of it, and no farther off the camera's axis
    than half the field of view and 20°."""
    lens = frame.camera.at
    toward_lens = aimed(face.at, lens)
    aim = degrees(
        pi / 2 - asin(max(-1.0, min(1.0, sum(a * b for a, b in zip(toward_lens, face.aim, strict=True)))))
    )
    if aim > FLARE_AIM_DEG or face.at[1] <= lens[1]:
        return False
    off = abs(bearing(lens, face.at))
    return off <= degrees(atan(frame.half_across)) + FLARE_FRAME_DEG


def clock_of(person: PersonSpot, camera: Point, light: Point) -> int | None:
    """The hour, as on a clock, at which a light is mirrored in the eyes; None where it is not: behind the
    face, or over the brow."""
    off, away = signed_angle(person.face, camera, light), dist(person.face, light)
    up = degrees(asin(max(-1.0, min(1.0, (light[2] - person.height_m) / away)))) if away else 90.0
    if abs(off) > CATCHLIGHT_OFF_DEG or not -30 < up < CATCHLIGHT_UP_DEG:
        return None
    turn = degrees(pi / 2 - asin(max(-1.0, min(1.0, up / max(hypot(off, up), 1e-6)))))
    hour = round((turn if off >= 0 else -turn) / 30) % 12
    return hour or 12


CATCHLIGHT_OFF_DEG, CATCHLIGHT_UP_DEG = 80.0, 55.0
"""From farther round, or higher up, a light is not mirrored in eyes that look at the lens. Common
practice."""
