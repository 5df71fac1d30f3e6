"""What the photographer means: levels, how much flash, aperture, and what comes first."""

from dataclasses import dataclass

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.units import FNumber, Stops

SCHOOLS = {
    "total": "right in total",
    "match": "match the aperture",
    "share": "by share",
    "auto": "automatic with compensation",
}
"""How much flash: the schools of the trade."""

PREFERENCES = {
    "reach": "reach first",
    "speed": "speed first",
    "glass": "fewest filters",
}
"""What decides the order of the ways when more than one works."""


@dataclass(frozen=True)
class Intent:
    """What is meant: levels in stops from mid-tone, the school of flash, aperture and preference.

    `aperture_free` says that any aperture will do that keeps the place readable. `share` counts only for
    the school of that name; elsewhere it is kept for later. `blur_least_pct` is the least blur wanted of
    the background, % of frame width, and `frames` how many frames are to be made from one charge; both may
    be left open. `white_balance_k` is what the camera is set to, in kelvin (None: for the key), and `flare`
    says that the sun is to flare.
    """

    background_level: Stops
    aperture: FNumber
    subject_level: Stops = 0.0
    school: str = "total"
    share: float | None = None
    prefer: str = "reach"
    blur_least_pct: float | None = None
    frames: int | None = None
    aperture_free: bool = False
    white_balance_k: float | None = None
    flare: bool = False

    @property
    def daylight_counts(self) -> bool:
        """Whether daylight is part of the level meant, so that flash only fills what is missing."""
        return self.school in ("total", "auto")

    def __post_init__(self) -> None:
        limits.LEVEL.check("background_level", self.background_level)
        limits.LEVEL.check("subject_level", self.subject_level)
        limits.APERTURE.check("aperture", self.aperture)
        if self.blur_least_pct is not None:
            limits.BLUR.check("blur_least_pct", self.blur_least_pct)
        if self.frames is not None:
            limits.FRAMES.check("frames", self.frames)
        if self.white_balance_k is not None:
            limits.KELVIN.check("white_balance_k", self.white_balance_k)
        limits.check_choice("flash.school", self.school, SCHOOLS)
        limits.check_choice("prefer", self.prefer, PREFERENCES)
        if self.school == "share" and self.share is None:
            raise Refused("flash.share", "is needed for the school 'share'")
        if self.share is not None:
            limits.SHARE.check("flash.share", self.share)
