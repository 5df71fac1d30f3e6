"""What geometry says of what stands there besides lights: what surfaces throw on the face, what a scrim
shades, where wind tips a stand, and where a cable lies."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import cos, dist, hypot, log2, radians, sin

import numpy as np

from noggin.core.layout.bounce import Patches, Values, panel_of, patches_of
from noggin.core.layout.findings import Standing
from noggin.core.layout.geometry import LitFace, shows
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
    patches = patches_of(panel_of(surface))
    face = np.array(standing.layout.face)
    normal = np.array((*surface.middle, face[2])) - face
    away = float(np.linalg.norm(normal))
    if not away:
        return
    onto = patches.onto(face[None], normal[None] / away)[:, 0]
    for name in standing.names:
        if standing.light(name).lights_subject:
            yield from _worth_saying(name, float(_of_light(standing, name, patches) @ onto))
    if standing.sun is not None and not standing.sun.assumed:
        yield from _worth_saying("sun", float(_of_sun(standing, patches) @ onto))


def _worth_saying(name: str, amount: float) -> Iterator[Bounced]:
    if amount >= 2**THROWN_LEAST:
        yield Bounced(name, log2(amount))


def _of_light(standing: Standing, name: str, patches: Patches) -> Values:
    """What patches have of a light, as parts of what a card square to it has at the face."""
    beam = standing.beam(name)
    found = []
    for place, normal in zip(patches.places, patches.normals, strict=True):
        toward = np.array(beam.at) - place
        cosine = float(toward @ normal) / max(float(np.linalg.norm(toward)), 1e-6)
        found.append(2 ** beam.level(tuple(place)) * cosine if cosine > 0 else 0.0)
    return np.array(found)


def _of_sun(standing: Standing, patches: Patches) -> Values:
    sun, scrim = standing.sun, standing.layout.scrim
    if sun is None:
        return np.zeros(len(patches.places))
    found: Values = np.maximum(patches.normals @ np.array(sun.toward), 0)
    if scrim is not None:
        shaded = [covers(scrim, sun, tuple(place)) for place in patches.places]
        found = np.where(shaded, found * 2**-scrim.stops, found)
    return found


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
