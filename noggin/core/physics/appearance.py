"""How a level looks: from stops to a grey on the screen, and the tones people wear."""

from dataclasses import dataclass
from math import log2

from noggin.core.physics.srgb import encoded
from noggin.core.units import Stops

CLIP: Stops = log2(78 / 10)
"""Stops over mid-tone at which the sensor is full at base ISO. Source: ISO 12232, saturation-based
speed (78 lx·s against a mid-tone at 10 lx·s)."""

BLACK: Stops = -5.5
"""At and under this level a picture reads as black. Common practice, no source."""

MID_TONE_REFLECTANCE = 0.119
"""Reflectance that a meter brings to mid-tone: K/C with 12.5 and 330, times π. ISO 2720."""

JPEG_LOSES: Stops = 0.5
"""Headroom that a JPEG loses against a raw file. Common practice, no source."""


@dataclass(frozen=True)
class Surface:
    """Something that light falls on: what it is called, and the part of the light it throws back."""

    label: str
    reflectance: float

    @property
    def offset(self) -> Stops:
        """How far over (or under) the light on it a surface comes out: log2(R/0.119).

        >>> round(Surface("white dress", 0.70).offset, 1), round(Surface("dark suit", 0.03).offset, 1)
        (2.6, -2.0)
        """
        return log2(self.reflectance / MID_TONE_REFLECTANCE)


SKINS = {
    "fair": Surface("fair skin", 0.35),
    "medium": Surface("medium skin", 0.22),
    "brown": Surface("brown skin", 0.15),
    "deep": Surface("deep skin", 0.09),
}
CLOTHES = {
    "white dress": Surface("white dress", 0.70),
    "dark suit": Surface("dark suit", 0.03),
    "mid-tone clothes": Surface("mid-tone clothes", 0.15),
}
"""Skin and clothes in words. Reflectances from memory, ±0.4 stop."""

READ_OFF = {
    "grey card": Surface("an 18% grey card", 0.18),
    "grass": Surface("grass", 0.10),
    "white paper": Surface("white paper", 0.90),
    **SKINS,
}
"""What the light on a place is read off, where nobody with a meter stands there."""

WHITE_DRESS: Stops = CLOTHES["white dress"].offset
DARK_SUIT: Stops = CLOTHES["dark suit"].offset
"""How far over and under the light on them they come out."""


def clipping_level(iso: Stops, base: Stops) -> Stops:
    """Stops over mid-tone at which the sensor is full; an extended low ISO lowers it stop for stop.

    `iso` and `base` in stops over ISO 100. Source: ISO 12232, saturation-based speed.

    >>> round(clipping_level(-1.0, 0.0), 2), clipping_level(3.0, 0.0) == CLIP
    (1.96, True)
    """
    return CLIP + min(0.0, iso - base)


def clips(level: Stops, full: Stops = CLIP) -> bool:
    """Whether a zone at this level has lost its detail to white, with the sensor full at `at`."""
    return level >= full


MID_GREY = 0.18
"""Linear light on the screen for mid-tone: 18 %, sRGB 118. Source: ISO 12232, standard output
sensitivity."""

_EXPOSURE = (MID_GREY - 2 ** (-2 * CLIP)) / (1 - MID_GREY)
"""Factor that brings the curve below through MID_GREY at a level of 0."""


def tone(level: Stops) -> float:
    """Screen value 0 to 1 of a level: straight in the shadows, rolled off to white where it clips.

    Sources: extended photographic operator, Reinhard, Stark, Shirley and Ferwerda 2002, equation 4,
    with its white at the clipping level; IEC 61966-2-1 for the sRGB transfer function.

    >>> round(255 * tone(0.0)), tone(2.9) > 0.98, tone(9.0)
    (118, True, 1.0)
    """
    if clips(level):
        return 1.0
    light, white = _EXPOSURE * 2**level, _EXPOSURE * 2**CLIP
    linear = light * (1 + light / white**2) / (1 + light)
    return encoded(linear)


MOODS = (
    (-0.25, "natural"),
    (-0.75, "airy, with detail"),
    (-1.25, "balanced"),
    (-2.5, "dramatic"),
    (-4.25, "dusk at noon"),
    (BLACK, "all but black"),
)
"""Names of background levels: each holds down to its level. Common practice, no source."""


NAMED_LEVELS = {
    "natural": 0.0,
    "airy": -0.5,
    "balanced": -1.0,
    "dramatic": -1.75,
    "dusk at noon": -3.0,
    "black": BLACK,
}
"""Levels to choose a background by. Common practice, no source."""


def mood(background: Stops) -> str:
    """What a background at this level is called.

    >>> mood(-1.0), mood(-6.0), mood(0.5)
    ('balanced', 'black', 'bright')
    """
    if background > 0.25:
        return "bright"
    return next((name for level, name in MOODS if background > level), "black")
