"""Where and when a picture is taken."""

from dataclasses import dataclass
from datetime import datetime

from noggin.core import limits
from noggin.core.tables import GROUNDS, SKIES

USUAL_GROUND = "grass"
"""What people stand on where nobody said it, a key of GROUNDS."""


@dataclass(frozen=True)
class Place:
    """A spot on the earth (degrees, north and east positive), its sky and ground, and the azimuth the
    camera looks toward (None: the sunlit surface is the one that faces the sun)."""

    lat: float
    lon: float
    sky: str = "clear"
    ground: str = USUAL_GROUND
    facing_deg: float | None = None

    def __post_init__(self) -> None:
        limits.LATITUDE.check("lat", self.lat)
        limits.LONGITUDE.check("lon", self.lon)
        limits.check_choice("sky", self.sky, SKIES)
        limits.check_choice("ground", self.ground, GROUNDS)
        if self.facing_deg is not None:
            limits.AZIMUTH.check("facing_deg", self.facing_deg)


@dataclass(frozen=True)
class Moment:
    """A place at an instant; the time carries the zone that its clocks keep."""

    place: Place
    time: datetime
