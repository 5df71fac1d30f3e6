"""The place as a photograph shows it: what of it a camera sees that stands there with another lens."""

from collections.abc import Callable
from math import atan2, cos, radians, sin, tan
from typing import TypeVar

import numpy as np

from noggin.core.physics.colour import LUMINANCE
from noggin.core.proof.mesh import Floats, floats
from noggin.core.proof.view import CameraView
from noggin.core.setup.photograph import Box, Photograph

Photographs = Callable[[str, float], Floats | None]
"""Gives a photograph by its name in linear light (h×w×3), about so many pixels wide where it has them; None
where it is not here."""

Height = TypeVar("Height", float, Floats)

DARKEST = 1e-4
"""The background of a photograph is never taken to be darker than this part of white."""


def focal_of(width: float, photograph: Photograph) -> float:
    """Pixels to a slope of 1 in a photograph so many pixels wide.

    >>> round(focal_of(2000, Photograph("", 90.0, 0.5, (0, 0, 1, 1))), 6)
    1000.0
    """
    return width / (2 * tan(radians(photograph.field_deg) / 2))


def width_for(view: CameraView, photograph: Photograph) -> float:
    """How many pixels wide a photograph is whose pixels are as large as a view's."""
    return 2 * view.focal_px * tan(radians(photograph.field_deg) / 2)


def place_seen(view: CameraView, photograph: Photograph, linear: Floats) -> Floats:
    """What each pixel of a view sees of a photograph (h×w×3), 1 being the background's mean luminance. Both
    cameras stand at the same place and look the same way across; the photograph's horizon is level with the
    lens. Beyond its edges it goes on as it is there. Source: pinhole projection."""
    height, width = linear.shape[:2]
    focal = focal_of(width, photograph)
    pitch = atan2((photograph.horizon - 0.5) * height, focal)
    rays = view.rays()
    ahead, up = _turned(pitch, rays[..., 1], rays[..., 2])
    ahead = np.maximum(ahead, 1e-3)
    columns = width / 2 + focal * rays[..., 0] / ahead - 0.5
    rows = height / 2 - focal * up / ahead - 0.5
    return _between(linear, rows, columns) / np.float32(background_of(linear, photograph.background))


def _turned(pitch: float, y: Height, z: Height) -> tuple[Height, Height]:
    """How far a direction leads along the axis of a photograph that looks up by `pitch`, and over it."""
    return y * sin(pitch) - z * cos(pitch), y * cos(pitch) + z * sin(pitch)


def part_of(linear: Floats, box: Box) -> Floats:
    """Luminance of a part of a photograph, at least one pixel of it."""
    height, width = linear.shape[:2]
    x, y, wide, high = box
    top, left = min(int(y * height), height - 1), min(int(x * width), width - 1)
    bottom, right = max(top + 1, round((y + high) * height)), max(left + 1, round((x + wide) * width))
    return floats(linear[top:bottom, left:right] @ LUMINANCE)


def background_of(linear: Floats, box: Box) -> float:
    """Mean luminance of a part of a photograph, by which all of it is measured."""
    return max(float(part_of(linear, box).mean()), DARKEST)


def frame_on(view: CameraView, photograph: Photograph, aspect: float) -> list[tuple[float, float]]:
    """Where the corners of a view lie on a photograph that is `aspect` times as wide as high: x and y as
    parts of its width and height, which may be outside it."""
    focal = focal_of(aspect, photograph)
    pitch = atan2(photograph.horizon - 0.5, focal)
    half_wide, half_high = view.width / 2 / view.focal_px, view.height / 2 / view.focal_px
    corners = []
    for across, up in (
        (-half_wide, half_high),
        (half_wide, half_high),
        (half_wide, -half_high),
        (-half_wide, -half_high),
    ):
        y, z = up * cos(view.tilt) + sin(view.tilt), up * sin(view.tilt) - cos(view.tilt)
        ahead, rise = _turned(pitch, y, z)
        corners.append((0.5 + focal * across / ahead / aspect, 0.5 - focal * rise / ahead))
    return corners


def _between(linear: Floats, rows: Floats, columns: Floats) -> Floats:
    """Values between the pixels of a picture; outside it as at its edge."""
    height, width = linear.shape[:2]
    rows, columns = np.clip(rows, 0, height - 1), np.clip(columns, 0, width - 1)
    top = np.minimum(rows.astype(np.int32), max(height - 2, 0))
    left = np.minimum(columns.astype(np.int32), max(width - 2, 0))
    down, right = floats(rows - top)[..., None], floats(columns - left)[..., None]
    below, beside = np.minimum(top + 1, height - 1), np.minimum(left + 1, width - 1)
    upper = linear[top, left] * (1 - right) + linear[top, beside] * right
    lower = linear[below, left] * (1 - right) + linear[below, beside] * right
    found: Floats = upper * (1 - down) + lower * down
    return found
