"""What geometry says of what stands there besides lights: what surfaces throw on the face, what a scrim
shades, where wind tips a stand, and where a cable lies."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import cos, dist, hypot, log2, radians, sin

from noggin.core.layout.bounce import SurfacePatch, panel_of, patches_of
from noggin.core.layout.findings import Standing
from noggin.core.layout.geometry import Beam, LitFace, aimed, shows
from noggin.core.layout.obstacles import WAY_M, segments_apart
from noggin.core.layout.scrim import covers
from noggin.core.physics.flash import angular_size
from noggin.core.physics.wind import face_area, wind_force
from noggin.core.setup.layout import SurfaceLine
from noggin.core.units import Stops

THROWN_LEAST: Stops = -5.0
"""What a surface throws on a face this far under the light itself is not worth saying."""

FALLS_ASIDE_M = 0.6
"""A stand that falls hits who is this near to the line of its fall. Common practice, no source."""


@dataclass(frozen=True)
class Bounced:
    """What a surface throws on the face: of which light (a light's name, or "sun"), and its level on the
    side turned to the surface, against that light on the face itself."""

    light: str
    level: Stops


def bounced_by(standing: Standing, surface: SurfaceLine) -> Iterator[Bounced]:
    """What a surface throws on the face of each light and of the sun, where it is worth saying."""
    face, middle = standing.layout.face, (*surface.middle, standing.layout.face[2])
    if not dist(face, middle):
        return
    toward = aimed(face, middle)
    patches = patches_of(panel_of(surface))
    onto = [(patch, surface.reflectance * patch.onto(face, toward)) for patch in patches]
    thrown = [(patch, part) for patch, part in onto if part]
    for name in standing.names:
        if standing.light(name).lights_subject:
            beam = standing.beam(name)
            yield from _worth_saying(name, sum(_of_light(beam, patch) * part for patch, part in thrown))
    if standing.sun is not None and not standing.sun.assumed:
        yield from _worth_saying("sun", sum(_of_sun(standing, patch) * part for patch, part in thrown))


def _worth_saying(name: str, amount: float) -> Iterator[Bounced]:
    if amount >= 2**THROWN_LEAST:
        yield Bounced(name, log2(amount))


def _of_light(beam: Beam, patch: SurfacePatch) -> float:
    """What a patch has of a light, as a part of what a card square to it has at the face."""
    away = tuple(b - a for a, b in zip(patch.place, beam.at, strict=True))
    along = sum(a * b for a, b in zip(away, patch.normal, strict=True))
    return 2.0 ** beam.level(patch.place) * along / max(hypot(*away), 1e-6) if along > 0 else 0.0


def _of_sun(standing: Standing, patch: SurfacePatch) -> float:
    """The same of the sun, through a scrim where one is held over it."""
    sun, scrim = standing.sun, standing.layout.scrim
    if sun is None:
        return 0.0
    part = max(sum(a * b for a, b in zip(sun.toward, patch.normal, strict=True)), 0.0)
    return part * 2.0**-scrim.stops if scrim is not None and covers(scrim, sun, patch.place) else part


@dataclass(frozen=True)
class ScrimFinding:
    """What a scrim does: whose faces its shadow reaches, how wide the face sees it in degrees, whether it
    is in the frame, and the force of a gust on it in newtons (None: no wind is said)."""

    over_faces: tuple[int, ...]
    softness_deg: float
    in_frame: bool
    force_n: float | None


def of_scrim(standing: Standing) -> ScrimFinding | None:
    """What the plan's scrim does; None where there is none. Without a known sun it is taken to shade
    everybody whom it is held over."""
    scrim, sun, gust = standing.layout.scrim, standing.sun, standing.setup.scene.gust_m_s
    if scrim is None:
        return None
    toward = sun.toward if sun and not sun.assumed else (0.0, 0.0, 1.0)
    over = tuple(
        index
        for index, person in enumerate(standing.layout.people)
        if sun is None or sun.assumed or covers(scrim, sun, person.face)
    )
    x, y, height = toward
    seen = shows(standing.frame, LitFace(scrim.at, scrim.radius_m, (-x, -y, -height)))
    return ScrimFinding(
        over,
        angular_size(dist(scrim.at, standing.layout.face), scrim.radius_m),
        seen.modifier,
        None if gust is None else wind_force(face_area(scrim.radius_m), gust),
    )


def tips_toward(standing: Standing, name: str) -> tuple[int, ...]:
    """Who stands where the wind would throw a light: within its height, down the wind. Nobody where no wind
    is said."""
    layout, gust = standing.layout, standing.setup.scene.gust_m_s
    if layout.wind_deg is None or not gust:
        return ()
    spot, turn = layout.lights[name], radians(layout.wind_deg)
    down = -sin(turn), -cos(turn)
    found = []
    for index, person in enumerate(layout.people):
        x, y = person.x_m - spot.x_m, person.y_m - spot.y_m
        along = x * down[0] + y * down[1]
        aside = abs(x * down[1] - y * down[0])
        if 0 < along <= spot.height_m + FALLS_ASIDE_M / 2 and aside <= FALLS_ASIDE_M:
            found.append(index)
    return tuple(found)


def cable_crosses(standing: Standing, name: str) -> bool:
    """Whether a light's cable lies on the way between camera and subject."""
    layout = standing.layout
    spot = layout.lights[name]
    if spot.cable is None:
        return False
    camera = layout.camera.x_m, layout.camera.y_m
    # Up to a step before the subject: where they stand themselves nobody walks by.
    part = min(WAY_M / max(hypot(*camera), WAY_M), 1.0)
    end = camera[0] * part, camera[1] * part
    return segments_apart((spot.x_m, spot.y_m), spot.cable, camera, end) < WAY_M / 2
