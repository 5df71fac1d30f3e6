"""Changes to a ground plan: mirrored, with somebody or something more, with a light aimed past the face."""

from dataclasses import replace
from math import cos, hypot, radians, sin

from noggin.core.plan_view.standing import SunOver, at_angle
from noggin.core.setup.ground_plan import (
    GroundPlan,
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


def aimed_past(plan: GroundPlan, spot: LightSpot, past_deg: float) -> Point | None:
    """Where a light is aimed that looks past the face by so many degrees on the ground, toward the camera
    where that is positive; None for the face itself."""
    if not past_deg:
        return None
    turn = radians(past_deg * _camera_side(plan, spot))
    x, y = plan.face[0] - spot.x_m, plan.face[1] - spot.y_m
    return (
        round(spot.x_m + x * cos(turn) + y * sin(turn), 3),
        round(spot.y_m + y * cos(turn) - x * sin(turn), 3),
        plan.face[2],
    )


def past_deg(plan: GroundPlan, spot: LightSpot) -> float:
    """How far a light looks past the face, as `aimed_past` takes it: degrees on the ground, toward the
    camera where that is positive."""
    if spot.aim is None:
        return 0.0
    return signed_angle(spot.at, spot.aim, plan.face) * _camera_side(plan, spot)


def _camera_side(plan: GroundPlan, spot: LightSpot) -> float:
    """To which side a light turns that turns from the face toward the camera: 1 clockwise from above, −1
    the other way."""
    return 1.0 if signed_angle(spot.at, plan.camera.at, plan.face) >= 0 else -1.0


def mirrored(plan: GroundPlan) -> GroundPlan:
    """Everything on the other side of the camera's axis but what goes with sun and wind."""
    return replace(
        plan,
        people=tuple(replace(person, x_m=-person.x_m, turn_deg=-person.turn_deg) for person in plan.people),
        lights={
            name: replace(
                spot,
                x_m=-spot.x_m,
                aim=None if spot.aim is None else (-spot.aim[0], spot.aim[1], spot.aim[2]),
                cable=None if spot.cable is None else (-spot.cable[0], spot.cable[1]),
            )
            for name, spot in plan.lights.items()
        },
        surfaces=tuple(
            replace(
                surface,
                start=(-surface.start[0], surface.start[1]),
                end=(-surface.end[0], surface.end[1]),
            )
            for surface in plan.surfaces
        ),
    )


def with_person(plan: GroundPlan) -> GroundPlan:
    """One more person, at the right of the others."""
    last = max(plan.people, key=lambda person: person.x_m)
    more = PersonSpot(
        round(last.x_m + 0.5, 3), last.y_m, BRIDE_M if len(plan.people) % 2 == 0 else GROOM_M, 0.0
    )
    return replace(plan, people=(*plan.people, more))


def with_wall(plan: GroundPlan) -> GroundPlan:
    """A wall along the right."""
    return replace(plan, surfaces=(*plan.surfaces, SurfaceLine((1.5, -1.0), (1.5, 2.0), 2.4, 0.4)))


def with_reflector(plan: GroundPlan) -> GroundPlan:
    """Held by a helper, on the side away from the key."""
    key = next(iter(plan.lights.values()), None)
    side = -1.0 if key is not None and key.x_m > 0 else 1.0
    held = SurfaceLine((round(side * 0.7, 3), -1.0), (round(side * 1.2, 3), -0.1), 1.7, 0.8)
    return replace(plan, surfaces=(*plan.surfaces, held))


def with_cable(plan: GroundPlan, name: str) -> GroundPlan:
    """A light's cable led away to its own side."""
    spot = plan.lights[name]
    out = CABLE_M if spot.x_m >= 0 else -CABLE_M
    led = replace(spot, cable=(round(spot.x_m + out, 3), round(spot.y_m, 3)))
    return replace(plan, lights={**plan.lights, name: led})


def with_scrim(plan: GroundPlan, sun: SunOver | None) -> GroundPlan:
    """A scrim held over the subject: a metre off the face on the way of the sun, or over them where no sun
    is known."""
    toward = sun.toward if sun else (0.0, 0.3, 0.954)
    x, y, height = (
        round(place + SCRIM_OFF_M * part, 3) for place, part in zip(plan.face, toward, strict=True)
    )
    return replace(plan, scrim=ScrimSpot(x, y, height, SCRIM_RADIUS_M, SCRIM))


def moved_plan(plan: GroundPlan, x_m: Metres, y_m: Metres) -> GroundPlan:
    """Everything but the camera's own axis so much farther right and back: people, lights, surfaces and
    scrim; the camera only back."""
    return replace(
        plan,
        camera=replace(plan.camera, y_m=plan.camera.y_m + y_m),
        people=tuple(replace(person, x_m=person.x_m + x_m, y_m=person.y_m + y_m) for person in plan.people),
        lights={name: _moved_light(spot, x_m, y_m) for name, spot in plan.lights.items()},
        surfaces=tuple(surface.moved_by(x_m, y_m) for surface in plan.surfaces),
        scrim=plan.scrim and replace(plan.scrim, x_m=plan.scrim.x_m + x_m, y_m=plan.scrim.y_m + y_m),
    )


def _moved_light(spot: LightSpot, x_m: Metres, y_m: Metres) -> LightSpot:
    return replace(
        spot,
        x_m=spot.x_m + x_m,
        y_m=spot.y_m + y_m,
        aim=spot.aim and (spot.aim[0] + x_m, spot.aim[1] + y_m, spot.aim[2]),
        cable=spot.cable and (spot.cable[0] + x_m, spot.cable[1] + y_m),
    )


def turned_round(plan: GroundPlan, spot: LightSpot, off_deg: float) -> LightSpot:
    """A light at another angle off the lens (positive to the camera's right), as far and as high."""
    far = hypot(hypot(spot.x_m, spot.y_m), spot.height_m - plan.face[2])
    return replace(at_angle(plan.face, off_deg, far, spot.height_m), aim=spot.aim)
