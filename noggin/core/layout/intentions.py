"""Placements by intention: where lights go for a picture that somebody means, scaled to framing and
gear."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from math import asin, cos, degrees, radians, sin

from noggin.core.daylight.day import off_axis, sun_day
from noggin.core.daylight.sun import sun_at
from noggin.core.errors import Refused
from noggin.core.layout.findings import SHOWS_FROM, Standing
from noggin.core.layout.geometry import Beam, aimed, nearest_out
from noggin.core.layout.standing import beam_exponent, key_name
from noggin.core.setup.layout import Layout, LightSpot, Point
from noggin.core.units import Metres

MARGIN = 1.1
"""A light is put this much farther than where it just stays out of the frame. Common practice, no
source."""

NEAREST_RADII = 2.5
"""Nor nearer than so many radii of its own face: closer the light falls off too fast. Common practice."""

NEAREST_M: Metres = 1.0
LOWEST_M: Metres = 0.3
HIGHEST_M: Metres = 3.5
"""How low and high a stand puts a light."""

GROUP_FARTHEST_M: Metres = 9.0


@dataclass(frozen=True)
class Aimed:
    """Where a light goes: degrees off the lens (by the side that the intention chooses), and degrees up
    from the eyes."""

    off_deg: float
    up_deg: float


Sided = Callable[[Standing], float]
"""On which side of the lens the key goes: −1 left, 1 right. Raises Refused where that cannot be said."""


@dataclass(frozen=True)
class Intention:
    """A picture that is meant: its key, what it is called, a line that explains it, on which side the key
    goes, and where each role's light stands; `needs` is a role that it cannot do without, `even` says that
    all faces are to have the same light, `turns_view` that the camera turns to the sun."""

    key: str
    label: str
    line: str
    side: Sided
    lights: Mapping[str, Aimed]
    needs: str = ""
    even: bool = False
    turns_view: bool = False


def _as_it_is(standing: Standing) -> float:
    """The side on which the key stands already."""
    return -1.0 if standing.position(key_name(standing.setup)).off_deg <= 0 else 1.0


def _far_side(standing: Standing) -> float:
    """The side of the face that is turned away from the lens: where the face looks."""
    turn = standing.layout.people[0].turn_deg
    return _as_it_is(standing) if abs(turn) < 1 else (1.0 if turn > 0 else -1.0)


def _sun_side(standing: Standing) -> float:
    sun = standing.sun
    if sun is None or sun.assumed:
        raise Refused("scene.place", "the sun does not shine then, or place, time and view are not said")
    return 1.0 if sun.off_deg > 0 else -1.0


def _other_side(standing: Standing) -> float:
    return -_sun_side(standing)


def _sunset(standing: Standing) -> float:
    """Degrees off the camera's view at which the sun sets on that day. Raises Refused."""
    moment, facing = standing.setup.scene.moment, standing.layout.facing_deg
    if moment is None or facing is None:
        raise Refused("scene.place", "say place, time and where the camera looks: the sunset is not known")
    place, zone = moment.place, moment.time.tzinfo
    if zone is None:
        raise Refused("scene.place", "the time has no zone")
    sets = sun_day(place.lat, place.lon, moment.time.date(), zone).set
    if sets is None:
        raise Refused("scene.place", "the sun does not set on that day")
    return off_axis(sun_at(place.lat, place.lon, sets), facing)


def _from_sunset(standing: Standing) -> float:
    return 1.0 if _sunset(standing) >= 0 else -1.0


INTENTIONS = (
    Intention(
        "soft_even",
        "Soft and even",
        "Near the lens and a little up: small shadows, kind to skin.",
        _as_it_is,
        {"key": Aimed(25, 25), "fill": Aimed(-30, 10), "rim": Aimed(-140, 25)},
    ),
    Intention(
        "short_sculpted",
        "Short and sculpted",
        "On the far side of the face: the side toward the lens falls into shadow, faces look slimmer.",
        _far_side,
        {"key": Aimed(50, 35), "fill": Aimed(-35, 5), "rim": Aimed(-145, 25)},
    ),
    Intention(
        "sun_side",
        "Key on the sun's side",
        "Flash from where the sun is: it looks like more of the same light.",
        _sun_side,
        {"key": Aimed(45, 30), "fill": Aimed(-35, 5), "rim": Aimed(-145, 25)},
    ),
    Intention(
        "against_sun",
        "Key against the sun",
        "Flash from the other side: the sun is the rim, the flash the key. Both cheeks have light.",
        _other_side,
        {"key": Aimed(40, 30), "fill": Aimed(-20, 5), "rim": Aimed(145, 25)},
    ),
    Intention(
        "sun_as_rim",
        "Sun as rim",
        "Turns the view until the sun is behind the subject; read the light again then.",
        _other_side,
        {"key": Aimed(35, 30), "fill": Aimed(-25, 5), "rim": Aimed(150, 25)},
        turns_view=True,
    ),
    Intention(
        "clamshell",
        "Clamshell",
        "Key over the lens, fill under it: two catchlights, hardly a shadow.",
        _as_it_is,
        {"key": Aimed(4, 38), "fill": Aimed(4, -25), "rim": Aimed(-150, 25)},
        needs="fill",
    ),
    Intention(
        "across",
        "Two lights across",
        "Key from the front, rim from behind on the other side, one line through the subject.",
        _as_it_is,
        {"key": Aimed(45, 30), "rim": Aimed(-135, 25), "fill": Aimed(-30, 5)},
        needs="rim",
    ),
    Intention(
        "group_rows",
        "Group in rows",
        "High, near the lens and far enough that the last row has within ⅓ stop of the first.",
        _as_it_is,
        {"key": Aimed(20, 25), "fill": Aimed(-20, 20), "rim": Aimed(-150, 25)},
        even=True,
    ),
    Intention(
        "low_dramatic",
        "Low and dramatic",
        "From the side and under the eyes, as from a fire or a stage.",
        _as_it_is,
        {"key": Aimed(60, -12), "fill": Aimed(-40, 0), "rim": Aimed(-140, 25)},
    ),
    Intention(
        "sunset",
        "From where the sun will set",
        "Flash from the side on which the sun goes down, low: warm it with a CTO gel.",
        _from_sunset,
        {"key": Aimed(60, 12), "fill": Aimed(-40, 5), "rim": Aimed(-140, 20)},
    ),
)
"""Every one of them. Common practice, no source."""

BY_KEY = {intention.key: intention for intention in INTENTIONS}

SUN_BEHIND_DEG = 30.0
"""A sun that is to be the rim stands this far off the camera's view."""


def lacks(intention: Intention, standing: Standing) -> str:
    """What an intention cannot do without here, in words; empty where it can be had."""
    roles = {light.role for light in standing.setup.lights}
    if intention.needs and intention.needs not in roles:
        return f"needs a {intention.needs} light: add one on the Bench"
    try:
        intention.side(standing)
    except Refused as refusal:
        return refusal.problem
    return ""


def arranged(intention: Intention, standing: Standing) -> Layout:
    """The plan with its lights where an intention wants them. Raises Refused where something is lacking."""
    problem = lacks(intention, standing)
    if problem:
        raise Refused("intention", problem)
    side, layout = intention.side(standing), standing.layout
    if intention.turns_view:
        layout = _sun_behind(standing, layout)
    lights = dict(layout.lights)
    for name in standing.names:
        wanted = intention.lights.get(standing.light(name).role)
        if wanted is not None:
            lights[name] = _placed(standing, layout, name, wanted, side, intention.even)
    return replace(layout, lights=lights)


def _sun_behind(standing: Standing, layout: Layout) -> Layout:
    """The view turned so that the sun is behind the subject."""
    sun, facing = standing.sun, layout.facing_deg
    if sun is None or facing is None:
        raise Refused("scene.place", "the sun is not known")
    side = 1.0 if sun.off_deg > 0 else -1.0
    return replace(layout, facing_deg=round((facing + sun.off_deg - side * SUN_BEHIND_DEG) % 360, 1))


def _placed(
    standing: Standing, layout: Layout, name: str, wanted: Aimed, side: float, even: bool
) -> LightSpot:
    """One light at its angles, as near as it may be."""
    light, face = standing.light(name), layout.face
    least = max(NEAREST_M, NEAREST_RADII * light.radius_m)

    def at(distance_m: Metres) -> LightSpot:
        return _at(face, side * wanted.off_deg, wanted.up_deg, distance_m)

    trial = replace(layout, lights={**layout.lights, name: at(3.0)})
    out = nearest_out(standing.frame, trial, name, light.radius_m)
    far = max(least, (out or standing.light(name).distance_m) * MARGIN)
    if light.role == "rim":
        far = max(far, 2.0)
    if even and light.lights_subject:
        while (
            far < GROUP_FARTHEST_M
            and _spread(layout, at(far), light.radius_m, beam_exponent(light)) > SHOWS_FROM
        ):
            far += 0.1
    return at(round(far, 2))


def _spread(layout: Layout, spot: LightSpot, radius_m: Metres, exponent: float) -> float:
    beam = Beam(spot.at, aimed(spot.at, layout.face), radius_m, exponent, layout.face)
    levels = [beam.level(person.face) for person in layout.people]
    return max(levels) - min(levels)


def _at(face: Point, off_deg: float, up_deg: float, distance_m: Metres) -> LightSpot:
    """A light at angles and a distance, as high as a stand goes and no lower than it may."""
    height = min(max(face[2] + distance_m * sin(radians(up_deg)), LOWEST_M), HIGHEST_M)
    up = degrees(asin(max(-1.0, min(1.0, (height - face[2]) / distance_m))))
    out, turn = distance_m * cos(radians(up)), radians(off_deg)
    return LightSpot(face[0] + out * sin(turn), face[1] - out * cos(turn), height)
