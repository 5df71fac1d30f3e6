"""What is there: distances, how bright each zone is, movement and wind."""

from dataclasses import dataclass
from datetime import datetime

from noggin.core import limits
from noggin.core.daylight.place import USUAL_GROUND, Moment
from noggin.core.errors import Refused
from noggin.core.physics.appearance import CLOTHES, SKINS, Surface
from noggin.core.setup.layout import Layout
from noggin.core.setup.photograph import Photograph
from noggin.core.tables import SKIES, SOURCES
from noggin.core.units import EV100, Metres, Stops
from noggin.core.wording import metres

ZONES = ("background", "subject", "sky", "rim")
"""Zones of a picture whose daylight is read or foreseen; sky and rim may be out of it."""


LIT_ZONES = ("background", "subject")
"""Zones that lamps can light; what such a zone is holds its lamps, and only its daylight moves with the
sun."""


@dataclass(frozen=True)
class Person:
    """Someone in the picture: skin (a key of SKINS) and clothes (a key of CLOTHES), "" where not said."""

    skin: str = ""
    wears: str = ""

    def __post_init__(self) -> None:
        if self.skin:
            limits.check_choice("skin", self.skin, SKINS)
        if self.wears:
            limits.check_choice("wears", self.wears, CLOTHES)

    @property
    def surfaces(self) -> tuple[Surface, ...]:
        """What of them light falls on, as far as it is said."""
        skin = (SKINS[self.skin],) if self.skin else ()
        return (*skin, CLOTHES[self.wears]) if self.wears else skin


@dataclass(frozen=True)
class Baseline:
    """What zones were, when and under which sky of SKIES, before they were moved with the day's light to
    the scene's own moment; None where a zone was not moved. The ± are those they had."""

    time: datetime
    sky_then: str
    background: EV100 | None = None
    subject: EV100 | None = None
    sky: EV100 | None = None
    rim: EV100 | None = None
    background_uncertainty: Stops = SOURCES["measured"].uncertainty
    subject_uncertainty: Stops = SOURCES["measured"].uncertainty

    def __post_init__(self) -> None:
        limits.check_choice("moved_from.sky", self.sky_then, SKIES)
        limits.UNCERTAINTY.check("moved_from.uncertainty.background", self.background_uncertainty)
        limits.UNCERTAINTY.check("moved_from.uncertainty.subject", self.subject_uncertainty)


@dataclass(frozen=True)
class Scene:
    """What is there: distances from the lens, EV100 of each zone, the subject's speed in m/s.

    `faces_m` are the distances of several faces from the lens, `background_uncertainty` and
    `subject_uncertainty` the ± of the readings in stops, `gust_m_s` the wind, `moment` where and when,
    where that is known, `people` who is in it, `lamps_…` what lamps alone give a zone, `baseline` what
    the zones were before they were moved to that moment, `layout` where everything stands,
    `daylight_k` the colour temperature of daylight where it was read, `is_wet` that it rains or all is
    wet, and `photograph` the place as a picture shows it.
    """

    subject_distance_m: Metres
    background_distance_m: Metres
    background: EV100
    subject: EV100
    sky: EV100 | None = None
    rim: EV100 | None = None
    subject_speed_m_s: float = 0.0
    faces_m: tuple[Metres, ...] = ()
    background_uncertainty: Stops = SOURCES["measured"].uncertainty
    subject_uncertainty: Stops = SOURCES["measured"].uncertainty
    gust_m_s: float | None = None
    moment: Moment | None = None
    baseline: Baseline | None = None
    people: tuple[Person, ...] = ()
    lamps_background: EV100 | None = None
    lamps_subject: EV100 | None = None
    layout: Layout | None = None
    daylight_k: float | None = None
    is_wet: bool = False
    photograph: Photograph | None = None

    def __post_init__(self) -> None:
        limits.SUBJECT_DISTANCE.check("subject_distance_m", self.subject_distance_m)
        limits.BACKGROUND_DISTANCE.check("background_distance_m", self.background_distance_m)
        limits.SUBJECT_SPEED.check("subject_speed_m_s", self.subject_speed_m_s)
        for index, distance in enumerate(self.faces_m):
            limits.SUBJECT_DISTANCE.check(f"face_distances_m[{index}]", distance)
        limits.UNCERTAINTY.check("uncertainty.background", self.background_uncertainty)
        limits.UNCERTAINTY.check("uncertainty.subject", self.subject_uncertainty)
        if self.gust_m_s is not None:
            limits.GUST.check("gust_m_s", self.gust_m_s)
        if self.daylight_k is not None:
            limits.KELVIN.check("daylight_k", self.daylight_k)
        for zone in LIT_ZONES:
            lamps = self.lamps(zone)
            if lamps is not None:
                limits.EV.check(f"lamps.{zone}", lamps)
        for zone in ZONES:
            value = getattr(self, zone)
            if value is not None:
                limits.EV.check(f"ev100.{zone}", value)
        if self.background_distance_m < self.subject_distance_m:
            raise Refused(
                "background_distance_m",
                f"{metres(self.background_distance_m)} is nearer than the subject at"
                f" {metres(self.subject_distance_m)}",
            )

    @property
    def ground(self) -> str:
        """What people stand on, a key of GROUNDS; grass where nobody said it."""
        return self.moment.place.ground if self.moment else USUAL_GROUND

    def lamps(self, zone: str) -> EV100 | None:
        """EV100 that lamps alone give a zone; None where there are none."""
        return {"background": self.lamps_background, "subject": self.lamps_subject}.get(zone)
