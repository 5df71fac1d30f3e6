"""Patches of a frame: where a face, the background, the sky lie, and what they come out at."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from noggin.core.errors import Refused
from noggin.core.physics.appearance import CLIP
from noggin.core.physics.colour import Values
from noggin.core.pops.tone_curve import ToneCurve, level_of_luminance
from noggin.core.units import Stops
from noggin.photos.faces import find_faces
from noggin.photos.photo import Photo

FULL_WITHIN: Stops = 0.05
"""What comes so near to full is full."""

BLINKS = 0.2
"""A patch of which so much is full blinks. From memory."""

BINS = 96
"""Bars of a histogram, from the darkest shown to full."""

DARKEST_SHOWN: Stops = -8.0

LOOKED_AT = 320
"""Pixels of the longer side, or some more, that faces are looked for at."""


@dataclass(frozen=True)
class Patch:
    """A part of a frame as parts of its width and height, from its upper left corner."""

    x: float
    y: float
    width: float
    height: float

    def __post_init__(self) -> None:
        for name in ("x", "y", "width", "height"):
            if not 0 <= getattr(self, name) <= 1:
                raise Refused(name, f"{getattr(self, name):g} is not a part of the frame, 0 to 1")
        if self.width <= 0 or self.height <= 0:
            raise Refused("width", "a patch has some width and height")

    @property
    def corners(self) -> list[float]:
        """As it is kept."""
        return [round(one, 4) for one in (self.x, self.y, self.width, self.height)]


@dataclass(frozen=True)
class PatchTone:
    """What a patch comes out at: its level in stops from mid-tone, and the part of it that is full."""

    level: Stops
    full: float

    @property
    def blinks(self) -> bool:
        """Whether too much of it is full to say more than that."""
        return self.full >= BLINKS


def measure(photo: Photo, patch: Patch, curve: ToneCurve | None = None) -> PatchTone:
    """The level of a patch: the mean in linear light of a rendered picture, by its camera's own `curve`
    where that is known; the median of a raw file."""
    part = _part(photo.light, patch)
    full = float((part >= 0.18 * 2 ** (photo.full - FULL_WITHIN)).mean())
    level = level_of_luminance(float(np.median(part) if photo.kind == "raw" else part.mean()))
    return PatchTone(curve.level(level) if curve and photo.kind != "raw" else level, full)


def _part(light: Values, patch: Patch) -> Values:
    rows, columns = light.shape
    top, left = int(patch.y * rows), int(patch.x * columns)
    bottom = max(top + 1, round((patch.y + patch.height) * rows))
    right = max(left + 1, round((patch.x + patch.width) * columns))
    return light[min(top, rows - 1) : bottom, min(left, columns - 1) : right]


def find_patches(photo: Photo, zones: Mapping[str, object]) -> dict[str, Patch]:
    """Where zones of a picture lie, as far as can be told: faces by a detector, sky across the top, the
    background at the sides. Only those of `zones`."""
    found = {}
    face = largest_face(photo)
    if face is not None and "subject" in zones:
        found["subject"] = face
    if "sky" in zones:
        found["sky"] = Patch(0.05, 0.02, 0.9, 0.14)
    if "background" in zones:
        found["background"] = beside(face)
    return found


def beside(face: Patch | None) -> Patch:
    """A piece of the background at the side that is farther from a face, half-way up."""
    left = face is None or face.x + face.width / 2 > 0.5
    return Patch(0.03 if left else 0.77, 0.3, 0.2, 0.3)


def largest_face(photo: Photo) -> Patch | None:
    """The largest face that is found: its middle, cheeks and forehead without hair; None where none is."""
    step = max(1, max(photo.light.shape) // LOOKED_AT)
    shown = np.clip(photo.light[::step, ::step] / 0.18, 0, None)
    grey = (255 * np.clip(shown / (1 + shown), 0, 1) ** (1 / 2.2)).astype(np.uint8)
    faces = find_faces(grey, max(24, min(grey.shape) // 12))
    if not faces:
        return None
    rows, columns = grey.shape
    left, top, width, height = max(faces, key=lambda face: face[2] * face[3])
    return Patch(
        float((left + 0.3 * width) / columns),
        float((top + 0.25 * height) / rows),
        float(0.4 * width / columns),
        float(0.45 * height / rows),
    )


def histogram(photo: Photo) -> tuple[float, ...]:
    """Parts of the frame from -8 stops to where a sensor is full (ISO 12232), in equal steps of stops; what
    is darker is in the first one, and what is full of any file in the last."""
    levels = np.log2(np.maximum(photo.light, np.float32(1e-9)) * np.float32(1 / 0.18))
    held = np.where(levels >= photo.full - FULL_WITHIN, CLIP, np.clip(levels, DARKEST_SHOWN, CLIP))
    counts, _ = np.histogram(held, BINS, (DARKEST_SHOWN, CLIP))
    return tuple(float(one) for one in counts / photo.light.size)
