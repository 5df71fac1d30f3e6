"""A set-up from above, and from the side, to scale: everything in centimetres of the scene, the camera
at the foot looking up the drawing."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, pi, radians, sin, tan

from noggin.core.layout.findings import LightFinding, Standing
from noggin.core.layout.geometry import equal_stops
from noggin.core.layout.standing import key_name
from noggin.core.setup.layout import PersonSpot
from noggin.core.units import Metres, Stops
from noggin.core.wording import metres, number, said_distance, signed
from noggin.core.wording import stops as stops_said

CM = 100.0
ROOM_M: Metres = 0.75
"""Left around whatever stands outermost."""

FARTHEST_M: Metres = 12.0
"""A background, a light or a wall farther off than this is not drawn to scale."""

STOP_LINES: tuple[Stops, ...] = (1.0, 1 / 3, -1 / 3, -1.0, -2.0)
"""Lines of equal light that are drawn for the key."""

SHOULDERS_M: Metres = 0.21

Pair = tuple[float, float]


@dataclass(frozen=True)
class Drawn:
    """One thing that can be moved: the name that it goes by, what it is called, where it is (drawing
    units), its shape's turn in degrees, and its place in metres."""

    item: str
    label: str
    at: Pair
    turn: float
    x_m: float
    y_m: float
    height_m: float
    size: float = 0.0
    low: float = 0.0
    state: str = ""
    words: str = ""


@dataclass(frozen=True)
class StopLine:
    """A line of equal light: its path, its words, and where they stand."""

    path: str
    words: str
    at: Pair


@dataclass(frozen=True)
class Aim:
    """A light's beam: from where, to where, and the edges of its half-power cone."""

    start: Pair
    end: Pair
    cone: str


@dataclass(frozen=True)
class DrawnWall:
    """A surface from above."""

    item: str
    label: str
    start: Pair
    end: Pair
    middle: Drawn
    reflector: bool


@dataclass(frozen=True)
class DrawnScrim:
    """A scrim from above: what can be moved, its two half axes, and where its shadow is at the height of
    the face (None where no sun is known), and how far that reaches along the sun's way."""

    middle: Drawn
    wide: float
    deep: float
    shadow: Pair | None
    shadow_long: float


@dataclass(frozen=True)
class DrawnCable:
    """A light's cable: from where, and its end, which can be moved."""

    start: Pair
    end: Drawn


@dataclass(frozen=True)
class FromAbove:
    """The whole drawing from above: its box, a line for each metre, the field of view, and what stands
    there. `sun` is where it comes from and where its ray ends, `wind` an arrow from end to end, `shadows` a
    line for each person, `wall_shadows` a path for each surface."""

    left: float
    top: float
    width: float
    height: float
    across: tuple[float, ...]
    along: tuple[float, ...]
    view: str
    background_y: float | None
    background: str
    camera: Drawn
    people: tuple[Drawn, ...]
    lights: tuple[Drawn, ...]
    aims: tuple[Aim, ...]
    walls: tuple[DrawnWall, ...]
    lines: tuple[StopLine, ...]
    sun: tuple[Pair, Pair] | None
    shadows: tuple[tuple[Pair, Pair], ...]
    wall_shadows: tuple[str, ...]
    scrim: DrawnScrim | None
    cables: tuple[DrawnCable, ...]
    wind: tuple[Pair, Pair] | None


def _to(x_m: Metres, y_m: Metres) -> Pair:
    return x_m * CM, -y_m * CM


def from_above(standing: Standing) -> FromAbove:
    """The drawing from above."""
    layout = standing.layout
    spots = [(layout.camera.x_m, layout.camera.y_m), (0.0, 0.0)]
    spots += [(person.x_m, person.y_m) for person in layout.people]
    spots += [(spot.x_m, spot.y_m) for spot in layout.lights.values()]
    spots += [end for surface in layout.surfaces for end in (surface.start, surface.end)]
    spots += [spot.cable for spot in layout.lights.values() if spot.cable]
    spots += [(layout.scrim.x_m, layout.scrim.y_m)] if layout.scrim else []
    near = [(x, y) for x, y in spots if hypot(x, y) <= FARTHEST_M]
    behind = standing.setup.behind_m
    if behind <= 5:
        near.append((0.0, behind))
    left, right = min(x for x, _ in near) - ROOM_M, max(x for x, _ in near) + ROOM_M
    foot, head = min(y for _, y in near) - ROOM_M, max(y for _, y in near) + ROOM_M
    head = max(head, 1.2)
    short = max((head - foot) * 1.15 - (right - left), 0) / 2
    left, right = left - short, right + short
    top = -head * CM
    return FromAbove(
        left * CM,
        top,
        (right - left) * CM,
        (head - foot) * CM,
        tuple(x * CM for x in range(int(left) - 1, int(right) + 2) if left < x < right),
        tuple(-y * CM for y in range(int(foot) - 1, int(head) + 2) if foot < y < head),
        _view(standing, head),
        -behind * CM if behind < head else None,
        f"background, {metres(standing.setup.scene.background_distance_m)} from the camera",
        Drawn(
            "camera",
            "camera",
            _to(layout.camera.x_m, layout.camera.y_m),
            0.0,
            layout.camera.x_m,
            layout.camera.y_m,
            layout.camera.height_m,
            words=f"Camera, {metres(layout.subject_distance_m())} from the subject",
        ),
        tuple(_person(index, person) for index, person in enumerate(layout.people)),
        tuple(_light(standing, found) for found in standing.lights),
        tuple(_aim(standing, found) for found in standing.lights),
        tuple(_walls(standing)),
        tuple(_stop_lines(standing, (left, foot, right, head))),
        _sun(standing, (left, foot, right, head)),
        tuple(_shadows(standing)),
        tuple(_wall_shadows(standing)),
        _scrim(standing),
        tuple(_cables(standing)),
        _wind(standing, (left, foot, right, head)),
    )


def _view(standing: Standing, head: Metres) -> str:
    camera, half = standing.layout.camera, standing.frame.half_across
    far = head - camera.y_m
    x, y = _to(camera.x_m, camera.y_m)
    left, up = _to(camera.x_m - half * far, head)
    right, _ = _to(camera.x_m + half * far, head)
    return f"M{x:.1f} {y:.1f}L{left:.1f} {up:.1f}H{right:.1f}Z"


def _person(index: int, person: PersonSpot) -> Drawn:
    called = person.role or f"person {index + 1}"
    side = "left" if person.turn_deg < 0 else "right"
    return Drawn(
        f"person:{index}",
        called,
        _to(person.x_m, person.y_m),
        180 - person.turn_deg,
        person.x_m,
        person.y_m,
        person.height_m,
        SHOULDERS_M * CM,
        words=f"{called}, looks {number(abs(person.turn_deg), 0)}° {side}",
    )


def _light(standing: Standing, found: LightFinding) -> Drawn:
    spot, aim = standing.layout.lights[found.name], standing.face(found.name).aim
    state = "shows" if found.shows else "flares" if found.flares else ""
    return Drawn(
        f"light:{found.name}",
        found.light.role,
        _to(spot.x_m, spot.y_m),
        degrees(atan2(aim[0], aim[1])),
        spot.x_m,
        spot.y_m,
        spot.height_m,
        max(found.light.radius_m, 0.07) * CM,
        found.light.stand.footprint_m * CM,
        state,
        f"{found.light.role}, {found.name}: {metres(found.distance_m)}, at {metres(spot.height_m)}",
    )


HALF_POWER = 0.5


def _aim(standing: Standing, found: LightFinding) -> Aim:
    """From a light along its aim, with the edges at which its beam is half."""
    beam = standing.beam(found.name)
    half = degrees(_acos(HALF_POWER ** (1 / beam.exponent)))
    turn = degrees(atan2(beam.aim[0], beam.aim[1]))
    far = min(hypot(beam.level_at[0] - beam.at[0], beam.level_at[1] - beam.at[1]), 6.0)
    x, y = beam.at[:2]

    def at(off: float, out: float) -> Pair:
        return _to(x + out * sin(radians(turn + off)), y + out * cos(radians(turn + off)))

    edges = [at(half * part, far * 0.9) for part in (-1, -0.5, 0, 0.5, 1)]
    start = at(0, 0)
    path = f"M{start[0]:.1f} {start[1]:.1f}" + "".join(f"L{px:.1f} {py:.1f}" for px, py in edges) + "Z"
    return Aim(start, at(0, far), path)


def _acos(value: float) -> float:
    return atan2((1 - value * value) ** 0.5, value)


def _walls(standing: Standing) -> list[DrawnWall]:
    found = []
    for index, surface in enumerate(standing.layout.surfaces):
        middle, long = surface.middle, surface.length_m
        reflector, called = surface.is_reflector, standing.layout.surface_names[index]
        found.append(
            DrawnWall(
                f"surface:{index}",
                called,
                _to(*surface.start),
                _to(*surface.end),
                Drawn(
                    f"surface:{index}",
                    called,
                    _to(*middle),
                    0.0,
                    middle[0],
                    middle[1],
                    surface.height_m,
                    words=f"{called}, {metres(long)} long, {metres(surface.height_m)} high,"
                    f" {number(100 * surface.reflectance, 0)}% thrown back",
                ),
                reflector,
            )
        )
    return found


def _stop_lines(standing: Standing, box: tuple[float, float, float, float]) -> list[StopLine]:
    """Lines on which the key has so much more or less than on the face, at the face's height."""
    beam, height = standing.beam(key_name(standing.setup)), standing.layout.face[2]
    found = []
    for stops in STOP_LINES:
        points = equal_stops(beam, stops, height)
        if len(points) < 8:
            continue
        drawn = [_to(x, y) for x, y in points]
        path = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in drawn) + "Z"
        inside = [
            (x, y) for x, y in points if box[0] + 0.3 < x < box[2] - 0.3 and box[1] + 0.3 < y < box[3] - 0.3
        ]
        if not inside:
            continue
        # Where the line leaves the subject to the side that is away from the camera there is most room.
        label = max(inside, key=lambda point: point[0] * (-1 if beam.at[0] > 0 else 1) + 0.6 * point[1])
        words = f"{signed(stops, 0)}" if stops == int(stops) else f"{'+' if stops > 0 else '−'}⅓"
        found.append(StopLine(path, words, _to(*label)))
    return found


def _sun(standing: Standing, box: tuple[float, float, float, float]) -> tuple[Pair, Pair] | None:
    """Where the sun stands at the edge of the drawing, and where its ray ends at the subject."""
    sun = standing.sun
    return None if sun is None else _from_edge(sun.off_deg, box)


def _wind(standing: Standing, box: tuple[float, float, float, float]) -> tuple[Pair, Pair] | None:
    """An arrow with the wind, in the lower left corner of the drawing, where nothing stands."""
    side = standing.layout.wind_deg
    if side is None:
        return None
    x, y = box[0] + WIND_LONG, box[1] + WIND_LONG * 0.75
    half, turn = WIND_LONG / 2, radians(side)
    tail = _to(x + half * sin(turn), y + half * cos(turn))
    return tail, _to(x - half * sin(turn), y - half * cos(turn))


WIND_LONG: Metres = 0.7
"""Length of the wind's arrow."""


def _from_edge(off_deg: float, box: tuple[float, float, float, float]) -> tuple[Pair, Pair]:
    """From the edge of the drawing toward the subject, to half a metre from it."""
    turn = radians(off_deg)
    out = 20.0
    x, y = sin(turn), cos(turn)
    for edge, part in ((box[0], x), (box[2], x)):
        if part * edge > 0:
            out = min(out, edge / part)
    for edge, part in ((box[1], y), (box[3], y)):
        if part * edge > 0:
            out = min(out, edge / part)
    out = max(out - 0.28, 0.5)
    return _to(x * out, y * out), _to(x * 0.5, y * 0.5)


def _scrim(standing: Standing) -> DrawnScrim | None:
    scrim, sun = standing.layout.scrim, standing.sun
    if scrim is None:
        return None
    known = sun is not None and not sun.assumed
    up = radians(sun.height_deg) if sun and known else pi / 2
    turn = sun.off_deg if sun and known else 0.0
    wide = metres(2 * scrim.radius_m)
    middle = Drawn(
        "scrim",
        "scrim",
        _to(scrim.x_m, scrim.y_m),
        turn,
        scrim.x_m,
        scrim.y_m,
        scrim.height_m,
        words=f"scrim, {wide} wide, its middle at {metres(scrim.height_m)}, {stops_said(scrim.stops)} off",
    )
    shadow = None
    if sun and known:
        back = (scrim.height_m - standing.layout.face[2]) / tan(up)
        shadow = _to(scrim.x_m - back * sin(radians(turn)), scrim.y_m - back * cos(radians(turn)))
    # Upright it would be a line: it keeps a stroke's width.
    deep, long = max(scrim.radius_m * sin(up) * CM, 3.0), scrim.radius_m / sin(up) * CM
    return DrawnScrim(middle, scrim.radius_m * CM, deep, shadow, long)


def _cables(standing: Standing) -> Iterator[DrawnCable]:
    for name, spot in standing.layout.lights.items():
        if spot.cable is not None:
            x, y = spot.cable
            end = Drawn(
                f"cable:{name}", "cable", _to(x, y), 0.0, x, y, 0.0, words=f"end of the cable of {name}"
            )
            yield DrawnCable(_to(spot.x_m, spot.y_m), end)


def _shadows(standing: Standing) -> list[tuple[Pair, Pair]]:
    under = standing.under_sun
    if under is None or under.shadow_m is None or under.sun.assumed:
        return []
    turn, long = radians(under.sun.off_deg), min(under.shadow_m, 8.0)
    return [
        (
            _to(person.x_m, person.y_m),
            _to(person.x_m - long * sin(turn), person.y_m - long * cos(turn)),
        )
        for person in standing.layout.people
    ]


def _wall_shadows(standing: Standing) -> Iterator[str]:
    """What walls and reflectors shade on the ground."""
    under = standing.under_sun
    if under is None or under.sun.assumed:
        return
    turn = radians(under.sun.off_deg)
    for surface in standing.layout.surfaces:
        long = min(surface.height_m / tan(radians(under.sun.height_deg)), FARTHEST_M)
        x, y = -long * sin(turn), -long * cos(turn)
        corners = (surface.start, surface.end, surface.moved_by(x, y).end, surface.moved_by(x, y).start)
        yield "M" + "L".join(f"{px:.1f} {py:.1f}" for px, py in (_to(*corner) for corner in corners)) + "Z"


@dataclass(frozen=True)
class FromSide:
    """The drawing from the side: its box, the ground, the field of view, and heights; far left is the
    camera."""

    left: float
    width: float
    height: float
    view: str
    camera: Pair
    people: tuple[Pair, ...]
    lights: tuple[tuple[str, Pair, Pair, float], ...]
    scrim: tuple[Pair, Pair] | None
    heights: tuple[tuple[float, str], ...]


HIGH_M: Metres = 3.0


def from_side(standing: Standing) -> FromSide:
    """The drawing from the side, looking across the camera's view from its right."""
    layout, frame = standing.layout, standing.frame
    ys = [layout.camera.y_m, *(person.y_m for person in layout.people)]
    ys += [spot.y_m for spot in layout.lights.values() if abs(spot.y_m) <= FARTHEST_M]
    left, right = min(ys) - ROOM_M, max(ys) + ROOM_M
    tall = max([HIGH_M, *(spot.height_m + 0.4 for spot in layout.lights.values())])
    if layout.scrim is not None:
        tall = max(tall, layout.scrim.height_m + layout.scrim.radius_m)
    lens = (layout.camera.y_m * CM, -layout.camera.height_m * CM)
    far = right - layout.camera.y_m
    steep = (1 + frame.tilt**2) ** 0.5
    up = layout.camera.height_m + far * (frame.tilt + frame.half_up * steep)
    down = layout.camera.height_m + far * (frame.tilt - frame.half_up * steep)
    return FromSide(
        left * CM,
        (right - left) * CM,
        tall * CM,
        f"M{lens[0]:.1f} {lens[1]:.1f}L{right * CM:.1f} {-up * CM:.1f}V{-down * CM:.1f}Z",
        lens,
        tuple((person.y_m * CM, -person.height_m * CM) for person in layout.people),
        tuple(_beside(standing, found) for found in standing.lights),
        _scrim_beside(standing),
        tuple((-height * CM, said_distance(height)) for height in range(1, int(tall) + 1)),
    )


def _scrim_beside(standing: Standing) -> tuple[Pair, Pair] | None:
    """A scrim from the side: its upper and lower edge."""
    scrim, sun = standing.layout.scrim, standing.sun
    if scrim is None:
        return None
    _, along, up = sun.toward if sun and not sun.assumed else (0.0, 0.0, 1.0)
    steep = hypot(along, up)
    y, height = scrim.radius_m * up / steep, -scrim.radius_m * along / steep
    ends = [((scrim.y_m + side * y) * CM, -(scrim.height_m + side * height) * CM) for side in (-1.0, 1.0)]
    return ends[0], ends[1]


def _beside(standing: Standing, found: LightFinding) -> tuple[str, Pair, Pair, float]:
    """A light from the side: its role, place, where its aim leads, and half its face."""
    beam = standing.beam(found.name)
    at = beam.at[1] * CM, -beam.at[2] * CM
    end = beam.level_at[1] * CM, -beam.level_at[2] * CM
    return found.light.role, at, end, max(found.light.radius_m, 0.07) * CM
