"""Questions about where a light stands that a picture shows: its side, how soft, how far, short or
broad."""

from dataclasses import replace
from random import Random

from noggin.core.layout.geometry import placement
from noggin.core.layout.standing import at_angle
from noggin.core.physics import dials, flash
from noggin.core.planning.lighting import Settings, full_level
from noggin.core.planning.plan import way_at
from noggin.core.practice.scenes import FILTERS, placed
from noggin.core.practice.task import Drill, DrillQuestion, TaskPicture
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.layout import EYES_M, LightSpot, PersonSpot
from noggin.core.setup.light import Light
from noggin.core.setup.scene import Scene
from noggin.core.setup.setup import SetUp
from noggin.core.units import Metres, Stops
from noggin.core.wording import metres, said_distance, signed, stops

UNDER: Stops = 4.0
"""Stops by which daylight lies under the flash: the picture shows the light alone."""

LENS = Lens(85, 1.8, 16)
FROM_LENS: Metres = 2.1
"""Head and shoulders on a full frame."""

ON_AN_EDGE: Stops = 2.0
"""A light from behind lights an edge alone: it is so much brighter, to be seen."""


def _alone(
    person: PersonSpot, spot: LightSpot, radius_m: Metres, behind_m: Metres = 12.0, level: Stops = 0.0
) -> TaskPicture:
    """A head in the evening that one light lights to a level, a wall or the dark behind it."""
    key = Light(60, 2.0, name="light", radius_m=radius_m, power_min=1 / 1024, power_step=0.1)
    ev = 4.0
    setup = SetUp(
        "In the evening",
        Scene(FROM_LENS, FROM_LENS + behind_m, ev, ev),
        Intent(-UNDER, 4.0),
        Camera(1 / 200),
        LENS,
        (key,),
        FILTERS,
    )
    setup = placed(setup, person, spot)
    settings = Settings(
        dials.shutter_dial(3).nearest(ev + UNDER - 4.0 + 3.0),
        setup.wanted_aperture,
        dials.iso_dial().nearest(3.0),
    )
    full = full_level(setup, setup.key, settings) or 0.0
    return TaskPicture("", "", setup, way_at(setup, settings, {0: full - level}))


WEARS = ("white dress", "dark suit")

SIDES = {"left": -1, "right": 1}
BEARINGS = {"in front": 35.0, "the side": 90.0, "behind": 140.0}


def _said_from(side: str, where: str) -> str:
    if where == "the side":
        return f"from the {side}"
    return f"from the {side}, {where}"


def _from_where(chance: Random) -> DrillQuestion:
    side, where = chance.choice([*SIDES]), chance.choice([*BEARINGS])
    off = SIDES[side] * (BEARINGS[where] + chance.uniform(-6, 6))
    person = PersonSpot(
        0.0, 0.0, EYES_M, 0.0, skin=chance.choice(["fair", "medium"]), wears=chance.choice(WEARS)
    )
    distance = chance.uniform(1.3, 2.2)
    spot = at_angle(person.face, off, distance, EYES_M + chance.uniform(0.2, 0.7))
    level = ON_AN_EDGE if where == "behind" else 0.0
    shown = _alone(person, spot, chance.choice([0.1, 0.25]), level=level)
    other = "right" if side == "left" else "left"
    wrong = [(_said_from(other, where), None)]
    wrong += [(_said_from(side, one), None) for one in BEARINGS if one != where]
    return DrillQuestion(
        "Where does the light come from, as you look at the picture?",
        _said_from(side, where),
        tuple(wrong),
        f"It stands {abs(off):.0f}° off the line to the lens, to the {side}. Look where the nose throws"
        " its shadow, and which cheek is dark.",
        hides=True,
        pictures=(replace(shown, caption="One light", words=_shadow_words(side, where)),),
    )


def _shadow_words(side: str, where: str) -> str:
    other = "right" if side == "left" else "left"
    if where == "behind":
        return f"The face is dark, with a bright edge on the {side}"
    dark = "half" if where == "the side" else "cheek"
    return f"The {other} {dark} of the face is in shadow, the shadow of the nose falls to the {other}"


def _how_soft(chance: Random) -> DrillQuestion:
    large, small = chance.choice([(0.6, 0.3), (0.75, 0.25)])
    near = chance.choice([0.8, 0.9])
    far = chance.choice([4.5, 5.5])
    is_soft = chance.random() < 0.5
    radius, distance = (small, near) if is_soft else (large, far)
    side = chance.choice([-1, 1])
    person = PersonSpot(
        0.0, 0.0, EYES_M, 0.0, skin=chance.choice(["fair", "medium"]), wears=chance.choice(WEARS)
    )
    spot = at_angle(person.face, side * 50, distance, EYES_M + distance * 0.3)
    angles = [flash.angular_size(away, across) for away, across in ((near, small), (far, large))]

    def box(across: Metres, away: Metres) -> str:
        return f"a {said_distance(2 * across)} box {said_distance(away)} away"

    soft, hard = box(small, near), box(large, far)
    right, believed = (soft, hard) if is_soft else (hard, soft)
    words = "Wide, soft edges of shadow" if is_soft else "Narrow, crisp edges of shadow"
    return DrillQuestion(
        "Look at the edge of the shadows. Which light made this?",
        right,
        ((believed, "large_is_soft"), ("either: both look the same", None)),
        f"From the face the near one is {angles[0]:.0f}° across, the far one {angles[1]:.0f}°. That"
        " angle is softness, not the size of the box.",
        hides=True,
        pictures=(replace(_alone(person, spot, radius), caption="One light", words=words),),
    )


FAR = (0.7, 1.6, 4.0)
"""Distances that are told apart by what they leave on a wall."""


def _how_far(chance: Random) -> DrillQuestion:
    distance = chance.choice(FAR)
    behind = chance.choice([1.5, 2.0])
    person = PersonSpot(0.0, 0.0, EYES_M, 0.0, skin="medium", wears=chance.choice(WEARS))
    spot = at_angle(person.face, chance.choice([-1, 1]) * 40, distance, EYES_M + 0.15)
    shown = _alone(person, spot, 0.2, behind)
    levels = {away: flash.by_distance(away + behind) - flash.by_distance(away) for away in FAR}

    def belief(away: Metres) -> str | None:
        """Who takes a near light for one that brightens the wall has the ends the wrong way round."""
        swapped = {FAR[0]: FAR[-1], FAR[-1]: FAR[0]}
        return "closer_brightens" if swapped.get(distance) == away else None

    said = ", ".join(f"{metres(away)}: {signed(levels[away])}" for away in FAR)
    return DrillQuestion(
        f"The wall is {metres(behind)} behind the face, which is at mid-tone. How far from the face is"
        " the light?",
        metres(distance),
        tuple((metres(away), belief(away)) for away in FAR if away != distance),
        "The nearer the light, the faster it falls off behind the face. The wall against the face, from"
        f" {said} stops.",
        hides=True,
        in_order=True,
        pictures=(
            replace(
                shown,
                caption="One light",
                words=f"The wall is {stops(abs(levels[distance]))} darker than the face",
            ),
        ),
    )


def _short_or_broad(chance: Random) -> DrillQuestion:
    turn = chance.choice([-1, 1]) * chance.uniform(28, 36)
    side = chance.choice([*SIDES])
    person = PersonSpot(
        0.0, 0.0, EYES_M, turn, skin=chance.choice(["fair", "medium"]), wears=chance.choice(WEARS)
    )
    spot = at_angle(person.face, SIDES[side] * 55, chance.uniform(1.3, 2.0), EYES_M + 0.4)
    shown = _alone(person, spot, 0.25)
    camera: tuple[Metres, Metres, Metres] = (0.0, -FROM_LENS, 1.4)
    name = placement(person, camera, spot.at).side
    other, far = "broad" if name == "short" else "short", "right" if side == "left" else "left"
    words = (
        f"The face is turned to the {'right' if turn > 0 else 'left'}, the {far} side of it is in shadow"
    )
    return DrillQuestion(
        "Short or broad, and from which side, as you look at the picture?",
        f"{name}, from the {side}",
        (
            (f"{other}, from the {side}", None),
            (f"{name}, from the {far}", None),
            (f"{other}, from the {far}", None),
        ),
        "Short light falls on the side of the face that is turned away from the camera and leaves the"
        " wide side in shadow; broad light falls on the side that is turned to it.",
        hides=True,
        pictures=(replace(shown, caption="One light", words=words),),
    )


LIGHT_SEEN = (
    Drill("from_where", "From where", ("large_is_soft",), _from_where),
    Drill("how_soft", "How soft", ("large_is_soft",), _how_soft),
    Drill("how_far", "How far", ("closer_brightens",), _how_far),
    Drill("short_or_broad", "Short or broad", ("large_is_soft",), _short_or_broad),
)
"""Every question about a light that is seen."""
