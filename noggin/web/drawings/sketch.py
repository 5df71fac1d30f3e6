"""The sketch of the picture one way gives: tones from the levels, blur from the optics.

Nothing in it is decoration: each grey is the core's tone of a level, the people are drawn to the size
that lens and distance give, and the place behind them is blurred by the disc that the optics compute.
"""

from dataclasses import dataclass

from noggin.core.advice.caution_tests import without_hss, worst_droop
from noggin.core.advice.details import black_part, clipping_level
from noggin.core.physics.optics import frame_side
from noggin.core.physics.tones import DARK_SUIT, WHITE_DRESS, clips, tone
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import percent, signed
from noggin.web.drawings.colour import FLASHLIGHT, LEAVES, NEUTRAL, SKYLIGHT, Tint, colour

WIDTH = 480.0
HEIGHT = 320.0

EYES_AT = 0.36
"""Height of the eyes in the frame, from the top. Common practice, no source."""

GROUP_FROM = 2.6
"""Width in metres of a frame in which a group stands."""

GROUP_APART = 150
"""Centimetres between couples of a group."""

WORN = {"skin": 0.0, "dress": WHITE_DRESS, "suit": DARK_SUIT, "hair": -2.0}
"""Tones of what is lit with the faces, in stops from the face. Skin is taken as mid-tone."""

STANDS = {"land": -0.4, "wall": 0.2, "dome": 0.8, "slit": -2.0, "trees": -1.3, "ground": -0.2}
"""Tones of the place, in stops from the background's level. Invented with the place."""


@dataclass(frozen=True)
class Shade:
    """A surface lit by flash from one side: its tone there, and where only daylight reaches."""

    name: str
    lit: str
    unlit: str


@dataclass(frozen=True)
class Sketch:
    """Everything drawn. `scale` is drawing units to a centimetre at the subject, `couples` where couples
    stand, centimetres from the middle, `band_y` from where down the flash is missing, `droop` how much
    darker (0 to 1) the bottom is than the top.
    """

    sky: str | None
    sky_clips: bool
    place: dict[str, str]
    shades: tuple[Shade, ...]
    rim: str | None
    blur: float
    scale: float
    eyes_y: float
    dress_clips: bool
    couples: tuple[int, ...]
    band_y: float | None
    droop: float
    words: str


def sketch(setup: SetUp, way: Way) -> Sketch:
    """The sketch for one way."""
    levels = way.lighting.levels
    share = way.lighting.flash_share
    tint = _between(SKYLIGHT, FLASHLIGHT, share)
    frame_width_m = frame_side(
        setup.scene.subject_distance_m, setup.lens.focal_mm, setup.camera.sensor_mm[0]
    )
    full = clipping_level(setup, way)
    return Sketch(
        sky=None if levels.sky is None else colour(levels.sky, SKYLIGHT),
        sky_clips=levels.sky is not None and clips(levels.sky, full),
        place={
            part: colour(levels.background + offset, LEAVES if part == "trees" else NEUTRAL)
            for part, offset in STANDS.items()
        },
        shades=tuple(
            Shade(
                name,
                colour(levels.subject + offset, tint),
                colour(levels.subject_ambient + offset, SKYLIGHT),
            )
            for name, offset in WORN.items()
        ),
        rim=None if levels.rim is None else colour(levels.rim),
        # A uniform disc of diameter d has a standard deviation of d/4 along any axis.
        blur=WIDTH * way.focus.background_blur_pct / 100 / 4,
        scale=WIDTH / (frame_width_m * 100),
        eyes_y=HEIGHT * EYES_AT,
        dress_clips=clips(levels.subject + WHITE_DRESS, full),
        couples=(0,) if frame_width_m < GROUP_FROM else (-GROUP_APART, GROUP_APART, 0),
        band_y=_band(setup, way),
        droop=_droop(way),
        words=_words(way, levels.subject, levels.background),
    )


def _band(setup: SetUp, way: Way) -> float | None:
    """From where down one pop past sync leaves the frame without flash, where a light has no high-speed
    sync; the curtains of a landscape frame leave the bottom dark."""
    black = black_part(setup, way)
    return HEIGHT * (1 - black) if black and without_hss(way) else None


def _droop(way: Way) -> float:
    """By how much the tone of the faces falls over the frame where high-speed sync droops, 0 to 1."""
    level, droop = way.lighting.levels.subject, worst_droop(way)
    return 1 - tone(level - droop) / tone(level) if droop else 0.0


def _between(first: Tint, other: Tint, share: float) -> Tint:
    red, green, blue = (a + (b - a) * share for a, b in zip(first, other, strict=True))
    return red, green, blue


def _words(way: Way, subject: Stops, background: Stops) -> str:
    levels = way.lighting.levels
    sky = "" if levels.sky is None else f", sky {signed(levels.sky)}"
    return (
        f"Sketch of the picture, {way.label}: faces at {signed(subject)} with"
        f" {percent(way.lighting.flash_share)} flash, background at {signed(background)}{sky},"
        f" blurred {way.focus.background_blur_pct:.1f}% of the frame's width."
    )
