"""What the camera sees: from places in the scene to pixels, and back."""

from dataclasses import dataclass
from functools import cached_property
from math import atan2, cos, sin

import numpy as np

from noggin.core.layout.geometry import framed_middle
from noggin.core.proof.mesh import Floats, floats
from noggin.core.units import Metres, Millimetres


@dataclass(frozen=True)
class CameraView:
    """A camera at `at` (x, height, z; metres) that looks along −z but for its tilt, with `focal_px`
    pixels of a frame `width`×`height` to a slope of 1. Source: thin lens, focus extension neglected."""

    at: tuple[Metres, Metres, Metres]
    tilt: float
    focal_px: float
    width: int
    height: int

    @cached_property
    def axes(self) -> Floats:
        """Unit vectors to the right, up, and backward out of the view."""
        c, s = cos(self.tilt), sin(self.tilt)
        return np.array([[1, 0, 0], [0, c, s], [0, -s, c]], np.float32)

    def project(self, places: Floats) -> tuple[Floats, Floats, Floats]:
        """Pixel columns and rows of places (n×3), and how far each is along the view; metres.

        What is behind the camera has a depth of 0 or less, and no meaning in columns and rows.
        """
        turned = (places - floats(self.at)) @ self.axes.T
        depth = -turned[:, 2]
        safe = np.where(depth > 1e-3, depth, np.float32(1e-3))
        across = self.width / 2 + self.focal_px * turned[:, 0] / safe
        down = self.height / 2 - self.focal_px * turned[:, 1] / safe
        return floats(across), floats(down), floats(depth)

    def rays(self) -> Floats:
        """Directions through the middle of every pixel, row by row; h×w×3, one metre along the view."""
        x = (np.arange(self.width, dtype=np.float32) + 0.5 - self.width / 2) / np.float32(self.focal_px)
        y = (self.height / 2 - np.arange(self.height, dtype=np.float32) - 0.5) / np.float32(self.focal_px)
        across, up = np.meshgrid(x, y)
        found: Floats = np.stack([across, up, np.full_like(across, -1)], -1) @ self.axes
        return found


def view_of(
    camera: tuple[Metres, Metres, Metres],
    eyes_m: Metres,
    subject_m: Metres,
    focal_mm: Millimetres,
    sensor_mm: tuple[Millimetres, Millimetres],
    size: tuple[int, int],
) -> CameraView:
    """The view of a camera that frames people whose eyes are at `eyes_m`, `subject_m` before it: eyes where
    eyes belong, and feet in the frame where they fit."""
    focal_px = size[0] * focal_mm / sensor_mm[0]
    frame_m = subject_m * size[1] / focal_px
    tilt = atan2(framed_middle(eyes_m, frame_m) - camera[1], subject_m)
    return CameraView(camera, tilt, focal_px, *size)
