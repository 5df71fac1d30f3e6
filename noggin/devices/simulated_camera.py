"""A simulated camera: a frame of a couple before a wall and a sky, as a JPEG or a raw file with EXIF,
from the levels that every zone has. It stands in for photographs wherever none are at hand."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from fractions import Fraction
from functools import cache
from io import BytesIO
from math import log2

import numpy as np
import tifffile
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFilter
from PIL.ExifTags import IFD, Base
from PIL.TiffImagePlugin import IFDRational

from noggin.core.physics.appearance import CLIP, MID_GREY, SKINS
from noggin.core.physics.srgb import srgb
from noggin.core.units import Stops

BODY = "Simulated camera"
"""What its files say took them."""

SIZE = (480, 320)
"""Width and height of its frames."""

BLACK_COUNT, WHITE_COUNT = 512, 16383
"""Counts of its sensor (14 bits) in the dark, and where it is full."""

FACE = (0.40, 0.22, 0.2, 0.375)
"""Where the face is, as parts of the frame: left, top, width, height."""

SKY_TO = 0.2
"""Down to this part of the frame there is sky, where the picture has some."""

CARD = (0.66, 0.6, 0.12, 0.2)
"""Where a grey card is held, where one is."""

Light = NDArray[np.float32]
Encode = Callable[[Light], Light]


@dataclass(frozen=True)
class View:
    """What is before the camera: the level of the light on each zone of the picture, in stops from
    mid-tone, whose skin it is (a key of SKINS), whether a grey card is held into it, and the part of the
    frame, from the bottom, that the flash did not reach, where the face has the level `unlit`. A rendered
    `proof` (3×h×w linear, mid-tone at 0.18) takes the place of all that."""

    levels: Mapping[str, Stops]
    skin: str = "medium"
    card: bool = False
    band: float = 0.0
    unlit: Stops = -4.0
    proof: Light | None = None


@dataclass(frozen=True)
class Exposure:
    """How a frame was taken: shutter in seconds, f-number, ISO, focal length in millimetres, whether the
    flash fired, and when, with its zone."""

    shutter_s: float
    aperture: float
    iso: float
    focal_mm: float
    flash: bool
    at: datetime


@dataclass(frozen=True)
class FileCamera:
    """A camera with noise of its own and a JPEG curve (`encode`, from linear light to 0 to 1)."""

    seed: int = 1
    noise: float = 0.02
    encode: Encode = field(default=srgb)
    full: Stops = CLIP

    def jpeg(self, view: View, taken: Exposure) -> bytes:
        """The frame as a JPEG."""
        encoded = self.encode(self._light(view))
        channels = encoded if encoded.ndim == 2 else np.moveaxis(encoded, 0, -1)
        image = Image.fromarray((255 * np.clip(channels, 0, 1) + 0.5).astype(np.uint8))
        out = BytesIO()
        image.convert("RGB").save(out, "JPEG", quality=82, exif=_exif(taken))
        return out.getvalue()

    def dng(self, view: View, taken: Exposure) -> bytes:
        """The frame as a raw file: a Bayer mosaic of 14 bits (DNG 1.4, its EXIF in the first directory as
        in TIFF/EP, ISO 12234-2)."""
        part = _mosaic(self._light(view)) / (MID_GREY * 2**self.full)
        counts = BLACK_COUNT + np.clip(part, 0, 1) * (WHITE_COUNT - BLACK_COUNT)
        out = BytesIO()
        tifffile.imwrite(
            out,
            (counts + 0.5).astype(np.uint16),
            photometric=tifffile.PHOTOMETRIC.CFA,
            extratags=_dng_tags(taken),
            software=False,
            metadata=None,
        )
        return out.getvalue()

    def _light(self, view: View) -> Light:
        """Linear light of every pixel, mid-tone at 0.18, with noise."""
        light = _scene(view) if view.proof is None else view.proof
        random = np.random.default_rng(self.seed)
        grain = random.standard_normal(light.shape).astype(np.float32) * self.noise
        found: Light = (light * (1 + grain)).astype(np.float32)
        return found


def _mosaic(light: Light) -> Light:
    """What a sensor behind red, green and blue filters in fours has of a picture; one without colour as it
    is."""
    if light.ndim == 2:
        return light
    height, width = (side // 2 * 2 for side in light.shape[1:])
    found = np.ascontiguousarray(light[1, :height, :width])
    found[0::2, 0::2] = light[0, 0:height:2, 0:width:2]
    found[1::2, 1::2] = light[2, 1:height:2, 1:width:2]
    return found


def _scene(view: View) -> Light:
    width, height = SIZE
    levels, skin = view.levels, SKINS[view.skin].offset
    light = np.full((height, width), 2 ** levels["background"], np.float32)
    if "sky" in levels:
        light[: int(SKY_TO * height)] = 2 ** levels["sky"]
    face = 2 ** (levels["subject"] + skin)
    shade = _drawn()
    body, features = shade
    cloth = 2 ** (levels["subject"] + log2(0.05 / 0.119))
    light = light * (1 - body) + cloth * body
    oval, dark = features
    light = light * (1 - oval) + face * oval * (1 - 0.75 * dark)
    if view.band:
        rows = int(view.band * height)
        reached = 2 ** (view.unlit - levels["subject"])
        people = np.maximum(oval, body)[-rows:]
        light[-rows:] *= 1 - people * (1 - reached)
    if view.card:
        left, top, wide, high = CARD
        across = slice(int(left * width), int((left + wide) * width))
        light[int(top * height) : int((top + high) * height), across] = 2 ** levels["subject"]
    found: Light = (MID_GREY * light).astype(np.float32)
    return found


@cache
def _drawn() -> tuple[Light, tuple[Light, Light]]:
    """Masks, the same for every frame, of the body, the face's oval, and what is darker in it."""
    scale = 3
    width, height = SIZE[0] * scale, SIZE[1] * scale
    left, top, wide, high = (
        part * size for part, size in zip(FACE, (width, height, width, height), strict=True)
    )
    right, foot, middle = left + wide, top + high, left + wide / 2

    def mask(draw: Callable[[ImageDraw.ImageDraw], None], soft: float) -> Light:
        image = Image.new("L", (width, height))
        draw(ImageDraw.Draw(image))
        image = image.filter(ImageFilter.GaussianBlur(soft)).resize(SIZE)
        return np.asarray(image, np.float32) / np.float32(255)

    def body(pen: ImageDraw.ImageDraw) -> None:
        pen.ellipse(
            (middle - 1.6 * wide, foot - 0.02 * high, middle + 1.6 * wide, foot + 2.2 * high), fill=255
        )
        pen.ellipse(
            (left - 0.05 * wide, top - 0.14 * high, right + 0.05 * wide, foot - 0.28 * high), fill=255
        )

    def oval(pen: ImageDraw.ImageDraw) -> None:
        pen.ellipse((left, top, right, foot), fill=255)
        pen.rectangle(
            (middle - 0.2 * wide, foot - 0.15 * high, middle + 0.2 * wide, foot + 0.12 * high), fill=255
        )

    def dark(pen: ImageDraw.ImageDraw) -> None:
        for side in (-1, 1):
            eye = middle + side * 0.21 * wide
            pen.ellipse(
                (eye - 0.11 * wide, top + 0.4 * high, eye + 0.11 * wide, top + 0.48 * high), fill=230
            )
            pen.rectangle(
                (eye - 0.14 * wide, top + 0.32 * high, eye + 0.14 * wide, top + 0.36 * high), fill=200
            )
        pen.polygon(
            (
                (middle - 0.1 * wide, top + 0.66 * high),
                (middle + 0.1 * wide, top + 0.66 * high),
                (middle, top + 0.61 * high),
            ),
            fill=110,
        )
        pen.ellipse(
            (middle - 0.18 * wide, top + 0.75 * high, middle + 0.18 * wide, top + 0.81 * high), fill=170
        )

    return mask(body, 3.0 * scale), (mask(oval, 1.5 * scale), mask(dark, 1.2 * scale))


def _exif(taken: Exposure) -> Image.Exif:
    found = Image.Exif()
    found[Base.Model] = BODY
    found[Base.DateTime] = f"{taken.at:%Y:%m:%d %H:%M:%S}"
    found.get_ifd(IFD.Exif).update(
        {
            Base.ExposureTime: _rational(taken.shutter_s),
            Base.FNumber: _rational(taken.aperture),
            Base.ISOSpeedRatings: round(taken.iso),
            Base.DateTimeOriginal: f"{taken.at:%Y:%m:%d %H:%M:%S}",
            Base.OffsetTimeOriginal: _offset(taken.at),
            Base.Flash: int(taken.flash),
            Base.FocalLength: _rational(taken.focal_mm),
        }
    )
    return found


def _rational(value: float) -> IFDRational:
    found = Fraction(value).limit_denominator(100_000)
    return IFDRational(found.numerator, found.denominator)


def _offset(at: datetime) -> str:
    text = f"{at:%z}"
    return f"{text[:3]}:{text[3:5]}" if text else "+00:00"


def _dng_tags(taken: Exposure) -> list[tuple[int, str, int, object, bool]]:
    def rational(value: float) -> tuple[int, int]:
        found = Fraction(value).limit_denominator(100_000)
        return found.numerator, found.denominator

    identity = (1, 1, 0, 1, 0, 1, 0, 1, 1, 1, 0, 1, 0, 1, 0, 1, 1, 1)
    return [
        (271, "s", 0, "Noggin", True),  # Make
        (272, "s", 0, BODY, True),  # Model
        (33421, "H", 2, (2, 2), True),  # CFARepeatPatternDim
        (33422, "B", 4, (0, 1, 1, 2), True),  # CFAPattern
        (33434, "2I", 1, rational(taken.shutter_s), True),  # ExposureTime
        (33437, "2I", 1, rational(taken.aperture), True),  # FNumber
        (34855, "H", 1, round(taken.iso), True),  # ISOSpeedRatings
        (36867, "s", 0, f"{taken.at:%Y:%m:%d %H:%M:%S}", True),  # DateTimeOriginal
        (36881, "s", 0, _offset(taken.at), True),  # OffsetTimeOriginal
        (37385, "H", 1, int(taken.flash), True),  # Flash
        (37386, "2I", 1, rational(taken.focal_mm), True),  # FocalLength
        (50706, "B", 4, (1, 4, 0, 0), True),  # DNGVersion
        (50707, "B", 4, (1, 1, 0, 0), True),  # DNGBackwardVersion
        (50708, "s", 0, BODY, True),  # UniqueCameraModel
        (50714, "H", 1, BLACK_COUNT, True),  # BlackLevel
        (50717, "H", 1, WHITE_COUNT, True),  # WhiteLevel
        (50721, "2i", 9, identity, True),  # ColorMatrix1
        (50728, "2I", 3, (1, 1, 1, 1, 1, 1), True),  # AsShotNeutral
        (50778, "H", 1, 21, True),  # CalibrationIlluminant1: D65
    ]
