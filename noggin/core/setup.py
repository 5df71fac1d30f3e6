"""One picture to be lit: what is there, what is meant, and what stands in the bag.

Value objects are frozen and check themselves; a refusal names the figure as the document does.
"""

from dataclasses import dataclass, field
from datetime import datetime
from functools import cached_property
from itertools import pairwise

from noggin.core import dials, exposure, limits, optics
from noggin.core.camera import Camera, Lens
from noggin.core.daylight import Moment
from noggin.core.dials import Step
from noggin.core.errors import Refused
from noggin.core.filters import Filter
from noggin.core.light import Light
from noggin.core.tables import SKIES, TRUST
from noggin.core.units import EV100, FNumber, Metres, Stops
from noggin.core.wording import metres, number

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
    "glass": "clean glass first",
}
"""What decides the order of the ways when more than one works."""


ZONES = ("background", "subject", "sky", "rim")
"""Zones of a picture whose daylight is read or foreseen; sky and rim may be out of it."""


@dataclass(frozen=True)
class MovedFrom:
    """What zones were, when and under which sky of SKIES, before they were moved with the day's light to
    the scene's own moment; None where a zone was not moved. The ± are those they had."""

    time: datetime
    under: str
    background: EV100 | None = None
    subject: EV100 | None = None
    sky: EV100 | None = None
    rim: EV100 | None = None
    background_pm: Stops = TRUST["measured"].plus_minus
    subject_pm: Stops = TRUST["measured"].plus_minus

    def __post_init__(self) -> None:
        limits.check_choice("moved_from.sky", self.under, SKIES)
        limits.UNCERTAINTY.check("moved_from.uncertainty.background", self.background_pm)
        limits.UNCERTAINTY.check("moved_from.uncertainty.subject", self.subject_pm)


@dataclass(frozen=True)
class Scene:
    """What is there: distances from the lens, EV100 of each zone, the subject's speed in m/s.

    `faces_m` are the distances of several faces from the lens, `background_pm` and `subject_pm` the ±
    of the readings in stops, `gust_m_s` the wind, `moment` where and when, where that is known,
    and `moved_from` what the zones were before they were moved to
    that moment.
    """

    subject_distance_m: Metres
    background_distance_m: Metres
    background: EV100
    subject: EV100
    sky: EV100 | None = None
    rim: EV100 | None = None
    subject_speed_m_s: float = 0.0
    faces_m: tuple[Metres, ...] = ()
    background_pm: Stops = TRUST["measured"].plus_minus
    subject_pm: Stops = TRUST["measured"].plus_minus
    gust_m_s: float | None = None
    moment: Moment | None = None
    moved_from: MovedFrom | None = None

    def __post_init__(self) -> None:
        limits.SUBJECT_DISTANCE.check("subject_distance_m", self.subject_distance_m)
        limits.BACKGROUND_DISTANCE.check("background_distance_m", self.background_distance_m)
        limits.SUBJECT_SPEED.check("subject_speed_m_s", self.subject_speed_m_s)
        for at, distance in enumerate(self.faces_m):
            limits.SUBJECT_DISTANCE.check(f"face_distances_m[{at}]", distance)
        limits.UNCERTAINTY.check("uncertainty.background", self.background_pm)
        limits.UNCERTAINTY.check("uncertainty.subject", self.subject_pm)
        if self.gust_m_s is not None:
            limits.GUST.check("gust_m_s", self.gust_m_s)
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


@dataclass(frozen=True)
class Intent:
    """What is meant: levels in stops from mid-tone, the school of flash, aperture and preference.

    `share` counts only for the school of that name; elsewhere it is kept for later. `blur_least_pct`
    is the least blur wanted of the background, % of frame width, and `frames` how many frames are to be
    made from one charge; both may be left open.
    """

    background_level: Stops
    aperture: FNumber
    subject_level: Stops = 0.0
    school: str = "total"
    share: float | None = None
    prefer: str = "reach"
    blur_least_pct: float | None = None
    frames: int | None = None

    def __post_init__(self) -> None:
        limits.LEVEL.check("background_level", self.background_level)
        limits.LEVEL.check("subject_level", self.subject_level)
        limits.APERTURE.check("aperture", self.aperture)
        if self.blur_least_pct is not None:
            limits.BLUR.check("blur_least_pct", self.blur_least_pct)
        if self.frames is not None:
            limits.FRAMES.check("frames", self.frames)
        limits.check_choice("flash.school", self.school, SCHOOLS)
        limits.check_choice("prefer", self.prefer, PREFERENCES)
        if self.school == "share" and self.share is None:
            raise Refused("flash.share", "is needed for the school 'share'")
        if self.share is not None:
            limits.SHARE.check("flash.share", self.share)


@dataclass(frozen=True)
class SetUp:
    """Everything one plan is computed from."""

    name: str
    scene: Scene
    intent: Intent
    camera: Camera
    lens: Lens
    lights: tuple[Light, ...]
    filters: tuple[Filter, ...] = ()
    key: Light = field(init=False)

    def __post_init__(self) -> None:
        if len(self.lights) > limits.LIGHTS_MOST:
            raise Refused("lights", f"{len(self.lights)} are more than {limits.LIGHTS_MOST}")
        if len(self.filters) > limits.FILTERS_MOST:
            raise Refused("filters", f"{len(self.filters)} are more than {limits.FILTERS_MOST}")
        keys = [light for light in self.lights if light.role == "key"]
        if len(keys) != 1:
            raise Refused("lights", f"exactly one key light is needed, not {len(keys)}")
        object.__setattr__(self, "key", keys[0])
        self._check_filter_names()
        self._check_lens()

    def _check_filter_names(self) -> None:
        names = sorted(item.name for item in self.filters)
        for one, other in pairwise(names):
            if one == other:
                raise Refused("filters", f"two filters are named '{one}'")

    def _check_lens(self) -> None:
        lens, aperture = self.lens, self.intent.aperture
        if self.scene.subject_distance_m * 1000 <= lens.focal_mm:
            raise Refused(
                "scene.subject_distance_m",
                f"{metres(self.scene.subject_distance_m)} is not beyond the focal length",
            )
        if not self.apertures:
            raise Refused("lens.widest", "the lens reaches no step of this camera's aperture dial")
        if not lens.widest <= aperture <= lens.smallest:
            raise Refused(
                "intent.aperture",
                f"f/{number(aperture)} is outside what the lens reaches,"
                f" f/{number(lens.widest)} … f/{number(lens.smallest)}",
            )

    @cached_property
    def apertures(self) -> tuple[Step, ...]:
        """Every aperture of this lens on this camera's dial, widest first."""
        return self.lens.apertures(self.camera.dial_steps).steps

    @cached_property
    def wanted_aperture(self) -> Step:
        """The dial step nearest the aperture meant, inside what the lens reaches."""
        stops = dials.aperture_stops(self.intent.aperture)
        return self.lens.apertures(self.camera.dial_steps).nearest(stops)

    @cached_property
    def key_and_fill(self) -> Stops:
        """By how much key and fill together exceed the key alone."""
        levels = (light.relative for light in self.lights if light.lights_subject)
        return exposure.mix(*levels) or 0.0

    @cached_property
    def wall_ev(self) -> EV100:
        """EV100 at mid-tone with the wanted aperture, the lowest ISO and sync speed."""
        camera = self.camera
        return exposure.settings_ev(camera.sync.stops, self.wanted_aperture.stops, camera.iso_low.stops)

    def in_light(self, scene: Scene) -> "SetUp":
        """The same with a scene that differs in its light alone: whatever was checked or worked out without
        the light is taken along, for a day asks for the same picture in a thousand lights."""
        _ = self.apertures, self.wanted_aperture, self.key_and_fill, self.wall_ev
        other = object.__new__(SetUp)
        vars(other).update(vars(self), scene=scene)
        return other

    @property
    def dial_step(self) -> Stops:
        """One step of the camera's dials."""
        return 1 / self.camera.dial_steps

    def shows(self, light: Light) -> bool:
        """Whether a light on the subject would show at the edge of the frame where it stands."""
        scene = self.scene
        return light.lights_subject and optics.light_in_frame(
            light.distance_m,
            light.radius_m,
            light.angle_deg,
            scene.subject_distance_m,
            self.lens.focal_mm,
            self.camera.sensor_mm[0],
        )
