"""Changes to a ground plan: mirrored, with somebody or something more, with a light aimed past the face."""

from dataclasses import replace
from math import cos, hypot, radians, sin

from noggin.core.layout.standing import SunOver, at_angle
from noggin.core.setup.layout import (
    Layout,
    LightSpot,
    PersonSpot,
    Point,
    ScrimSpot,
    SurfaceLine,
    signed_angle,
)
from noggin.core.tables import SCRIM
from noggin.core.units import Metres

CABLE_M: Metres = 2.5
"""How far a cable that is added leads away."""

SCRIM_OFF_M, SCRIM_RADIUS_M = 1.0, 0.6
"""A scrim that is added is held this far off the face, and is half so wide: about 1.2 m across. Common
practice, no source."""

BRIDE_M, GROOM_M = 1.55, 1.66
"""Heights of the eyes of people who are added, in turn."""


def aimed_past(layout: Layout, spot: LightSpot, past_deg: float) -> Point | None:
    """Where a light is aimed that looks past the face by so many degrees on the ground, toward the camera
    where that is positive; None for the face itself."""
    if not past_deg:
        return None
    turn = radians(past_deg * _camera_side(layout, spot))
    x, y = layout.face[0] - spot.x_m, layout.face[1] - spot.y_m
    return (
        round(spot.x_m + x * cos(turn) + y * sin(turn), 3),
        round(spot.y_m + y * cos(turn) - x * sin(turn), 3),
        layout.face[2],
    )


def past_deg(layout: Layout, spot: LightSpot) -> float:
    """How far a light looks past the face, as `aimed_past` takes it: degrees on the ground, toward the
    camera where that is positive."""
    if spot.aim is None:
        return 0.0
    return signed_angle(spot.at, spot.aim, layout.face) * _camera_side(layout, spot)


def _camera_side(layout: Layout, spot: LightSpot) -> float:
    """To which side a light turns that turns from the face toward the camera: 1 clockwise from above, −1
    the other way."""
    return 1.0 if signed_angle(spot.at, layout.camera.at, layout.face) >= 0 else -1.0


def mirrored(layout: Layout) -> Layout:
    """Everything on the other side of the camera's axis but what goes with sun and wind."""
    return replace(
        layout,
        people=tuple(
            replace(person, x_m=-person.x_m, turn_deg=-person.turn_deg) for person in layout.people
        ),
        lights={
            name: replace(
                spot,
                x_m=-spot.x_m,
                aim=None if spot.aim is None else (-spot.aim[0], spot.aim[1], spot.aim[2]),
                cable=None if spot.cable is None else (-spot.cable[0], spot.cable[1]),
            )
            for name, spot in layout.lights.items()
        },
        surfaces=tuple(
            replace(
                surface,
                start=(-surface.start[0], surface.start[1]),
                end=(-surface.end[0], surface.end[1]),
            )
            for surface in layout.surfaces
        ),
    )


def with_person(layout: Layout) -> Layout:
    """One more person, at the right of the others."""
    last = max(layout.people, key=lambda person: person.x_m)
    more = PersonSpot(
        round(last.x_m + 0.5, 3), last.y_m, BRIDE_M if len(layout.people) % 2 == 0 else GROOM_M, 0.0
    )
    return replace(layout, people=(*layout.people, more))


def with_wall(layout: Layout) -> Layout:
    """A wall along the right."""
    return replace(layout, surfaces=(*layout.surfaces, SurfaceLine((1.5, -1.0), (1.5, 2.0), 2.4, 0.4)))


def with_reflector(layout: Layout) -> Layout:
    """Held by a helper, on the side away from the key."""
    key = next(iter(layout.lights.values()), None)
    side = -1.0 if key is not None and key.x_m > 0 else 1.0
    held = SurfaceLine((round(side * 0.7, 3), -1.0), (round(side * 1.2, 3), -0.1), 1.7, 0.8)
    return replace(layout, surfaces=(*layout.surfaces, held))


def with_cable(layout: Layout, name: str) -> Layout:
    """A light's cable led away to its own side."""
    spot = layout.lights[name]
    out = CABLE_M if spot.x_m >= 0 else -CABLE_M
    led = replace(spot, cable=(round(spot.x_m + out, 3), round(spot.y_m, 3)))
    return replace(layout, lights={**layout.lights, name: led})


def with_scrim(layout: Layout, sun: SunOver | None) -> Layout:
    """A scrim held over the subject: a metre off the face on the way of the sun, or over them where no sun
    is known."""
    toward = sun.toward if sun else (0.0, 0.3, 0.954)
    x, y, height = (
        round(place + SCRIM_OFF_M * part, 3) for place, part in zip(layout.face, toward, strict=True)
    )
    return replace(layout, scrim=ScrimSpot(x, y, height, SCRIM_RADIUS_M, SCRIM))


def moved_layout(layout: Layout, x_m: Metres, y_m: Metres) -> Layout:
    """Everything but the camera's own axis so much farther right and back: people, lights, surfaces and
    scrim; the camera only back."""
    return replace(
        layout,
        camera=replace(layout.camera, y_m=layout.camera.y_m + y_m),
        people=tuple(
            replace(person, x_m=person.x_m + x_m, y_m=person.y_m + y_m) for person in layout.people
        ),
        lights={name: _moved_light(spot, x_m, y_m) for name, spot in layout.lights.items()},
        surfaces=tuple(surface.moved_by(x_m, y_m) for surface in layout.surfaces),
        scrim=layout.scrim
        and replace(layout.scrim, x_m=layout.scrim.x_m + x_m, y_m=layout.scrim.y_m + y_m),
    )


def _moved_light(spot: LightSpot, x_m: Metres, y_m: Metres) -> LightSpot:
    return replace(
        spot,
        x_m=spot.x_m + x_m,
        y_m=spot.y_m + y_m,
        aim=spot.aim and (spot.aim[0] + x_m, spot.aim[1] + y_m, spot.aim[2]),
        cable=spot.cable and (spot.cable[0] + x_m, spot.cable[1] + y_m),
    )


def turned_round(layout: Layout, spot: LightSpot, off_deg: float) -> LightSpot:
    """A light at another angle off the lens (positive to the camera's right), as far and as high."""
    far = hypot(hypot(spot.x_m, spot.y_m), spot.height_m - layout.face[2])
    return replace(at_angle(layout.face, off_deg, far, spot.height_m), aim=spot.aim)
