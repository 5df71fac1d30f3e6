"""Whether the light covers what is framed: the beam's angle, or a zoom head's, against a full length and a
whole group."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import acos, atan, degrees, radians, tan

from noggin.core.layout.standing import beam_exponent
from noggin.core.physics import optics
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import Metres
from noggin.core.wording import metres

ZOOM_FRAME_MM = (36.0, 24.0)
"""A zoom head is marked by the focal length whose picture on a frame of this size it covers, head lying. By
the definition of the markings."""

ZOOMS_MM = (24.0, 35.0, 50.0, 70.0, 85.0, 105.0, 135.0, 200.0)
"""Usual positions of a zoom head."""

PERSON_M: tuple[Metres, Metres] = (0.6, 1.8)
"""What one person takes of a picture, across and from head to feet. Common practice, no source."""

ENOUGH = 0.95
"""So much of what is framed counts as all of it."""


@dataclass(frozen=True)
class Cover:
    """What a light covers within a stop at the subject, and what is to be covered: across and up, m."""

    light: Light
    across: Metres
    up: Metres
    wanted_across: Metres
    wanted_up: Metres

    @property
    def is_enough(self) -> bool:
        """Whether all that is framed is covered."""
        return self.across >= ENOUGH * self.wanted_across and self.up >= ENOUGH * self.wanted_up


def half_angles(light: Light) -> tuple[float, float]:
    """Degrees off its aim within which a light falls by no more than a stop, across and up: of a zoom
    head by its position, of any other by its beam, cos^n.

    >>> half_angles(Light(40, 2, zoom_mm=50))[0] > half_angles(Light(40, 2, zoom_mm=50, upright=True))[0]
    True
    """
    if light.zoom_mm is not None:
        wide, high = (degrees(atan(side / 2 / light.zoom_mm)) for side in ZOOM_FRAME_MM)
        return (high, wide) if light.upright else (wide, high)
    half = degrees(acos(0.5 ** (1 / beam_exponent(light))))
    return half, half


def cover(setup: SetUp, light: Light) -> Cover:
    """What a light on the subject covers, aimed at the middle of what is framed of the people."""
    scene, sensor = setup.scene, setup.camera.sensor_mm
    far, focal = scene.subject_distance_m, setup.lens.focal_mm
    framed = [optics.frame_side(far, focal, side) for side in sensor]
    count = max(len(scene.people), len(scene.faces_m), 1)
    across, up = half_angles(light)
    return Cover(
        light,
        2 * light.distance_m * tan(radians(across)),
        2 * light.distance_m * tan(radians(up)),
        min(framed[0], count * PERSON_M[0]),
        min(framed[1], PERSON_M[1]),
    )


def too_narrow(setup: SetUp) -> list[Cover]:
    """Lights on the subject that do not cover what is framed."""
    found = (cover(setup, light) for light in setup.lights if light.lights_subject)
    return [one for one in found if not one.is_enough]


def cover_words(found: Cover) -> str:
    """What a light covers, and what would make it enough."""
    size = f"{metres(found.across)} × {metres(found.up)}"
    wanted = f"{metres(found.wanted_across)} × {metres(found.wanted_up)}"
    helps = next(_helps(found))
    return (
        f"{found.light.says} covers {size} within a stop at {metres(found.light.distance_m)}; the picture"
        f" has {wanted}: {helps}."
    )


def _helps(found: Cover) -> Iterator[str]:
    light = found.light
    if light.zoom_mm is not None:
        turned = Cover(light, found.up, found.across, found.wanted_across, found.wanted_up)
        if turned.is_enough:
            yield "turn the head lying" if light.upright else "turn the head upright"
        wider = [zoom for zoom in ZOOMS_MM if zoom < light.zoom_mm and _at_zoom(found, zoom).is_enough]
        if wider:
            yield f"zoom out to {wider[-1]:.0f} mm"
    if light.grid:
        yield "take the grid off, or move it back"
    farther = light.distance_m * max(found.wanted_across / found.across, found.wanted_up / found.up)
    yield f"move it back to {metres(farther)}, or aim it lower and crop"


def _at_zoom(found: Cover, zoom_mm: float) -> Cover:
    assert found.light.zoom_mm is not None  # noqa: S101 - asked before
    by = found.light.zoom_mm / zoom_mm
    return Cover(found.light, found.across * by, found.up * by, found.wanted_across, found.wanted_up)
