"""One picture to be lit: what is there, what is meant, and what stands in the bag.

Value objects are frozen and check themselves; a refusal names the figure as the document does.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import Any

from noggin.core import dials, exposure, flash, limits
from noggin.core.dials import Dial, Step
from noggin.core.errors import Refused
from noggin.core.filters import Filter
from noggin.core.power import SCALES
from noggin.core.units import EV100, FNumber, Metres, Millimetres, Seconds, Stops
from noggin.core.wording import metres, number


@dataclass(frozen=True)
class Role:
    """What a light is for; `lights_subject` says whether it counts toward the subject's level."""

    label: str
    relative_level: Stops
    lights_subject: bool


ROLES = {
    "key": Role("Key", 0.0, True),
    "fill": Role("Fill", -1.5, True),
    "rim": Role("Rim", 0.5, False),
    "background": Role("Background", 0.0, False),
}

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


def _choice(name: str, value: object, choices: Mapping[Any, object]) -> None:
    if value not in choices:
        raise Refused(name, f"{value!r} is none of {', '.join(map(str, choices))}")


@dataclass(frozen=True)
class Scene:
    """What is there: distances from the lens, EV100 of each zone, the subject's speed in m/s."""

    subject_distance_m: Metres
    background_distance_m: Metres
    background: EV100
    subject: EV100
    sky: EV100 | None = None
    rim: EV100 | None = None
    subject_speed_m_s: float = 0.0

    def __post_init__(self) -> None:
        limits.SUBJECT_DISTANCE.check("subject_distance_m", self.subject_distance_m)
        limits.BACKGROUND_DISTANCE.check("background_distance_m", self.background_distance_m)
        limits.SUBJECT_SPEED.check("subject_speed_m_s", self.subject_speed_m_s)
        for zone in ("background", "subject", "sky", "rim"):
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

    `share` counts only for the school of that name; elsewhere it is kept for later.
    """

    background_level: Stops
    aperture: FNumber
    subject_level: Stops = 0.0
    school: str = "total"
    share: float | None = None
    prefer: str = "reach"

    def __post_init__(self) -> None:
        limits.LEVEL.check("background_level", self.background_level)
        limits.LEVEL.check("subject_level", self.subject_level)
        limits.APERTURE.check("aperture", self.aperture)
        _choice("flash.school", self.school, SCHOOLS)
        _choice("prefer", self.prefer, PREFERENCES)
        if self.school == "share" and self.share is None:
            raise Refused("flash.share", "is needed for the school 'share'")
        if self.share is not None:
            limits.SHARE.check("flash.share", self.share)


@dataclass(frozen=True)
class Camera:
    """A body with its trigger. A limit with no label on the dial snaps to the safe side."""

    sync_s: Seconds
    fastest_s: Seconds = 1 / 8000
    slowest_s: Seconds = 1 / 60
    iso_lowest: float = 100
    iso_highest: float = 6400
    dial_steps: int = 3
    sensor_mm: tuple[Millimetres, Millimetres] = (36, 24)
    hss: bool = True
    name: str = ""

    def __post_init__(self) -> None:
        _choice("dial_steps", self.dial_steps, dials.DIAL_STEPS)
        for name in ("sync_s", "fastest_s", "slowest_s"):
            limits.SHUTTER.check(name, getattr(self, name))
        for name in ("iso_lowest", "iso_highest"):
            limits.ISO.check(name, getattr(self, name))
        for side, length in enumerate(self.sensor_mm):
            limits.SENSOR_SIDE.check(f"sensor_mm[{side}]", length)
        self._check_order("sync_s", self.sync, "faster", "the fastest time", self.fastest)
        self._check_order("slowest_s", self.slowest, "faster", "the sync speed", self.sync)
        if self.iso_high.stops < self.iso_low.stops:
            problem = f"{self.iso_high.label} is under the lowest ISO, {self.iso_low.label}"
            raise Refused("iso_highest", problem)

    def _check_order(self, name: str, at: Step, than: str, limit_name: str, limit: Step) -> None:
        if at.stops > limit.stops:
            raise Refused(name, f"{at.label} is {than} than {limit_name}, {limit.label}")

    @property
    def shutters(self) -> Dial:
        """The shutter dial of this body."""
        return dials.shutter_dial(self.dial_steps)

    @cached_property
    def sync(self) -> Step:
        """Fastest time at which the whole frame is open at once; never faster than stated."""
        return self.shutters.at_most(dials.shutter_stops(self.sync_s))

    @cached_property
    def fastest(self) -> Step:
        """Fastest time on the dial; never faster than stated."""
        return self.shutters.at_most(dials.shutter_stops(self.fastest_s))

    @cached_property
    def slowest(self) -> Step:
        """Slowest time that is wanted; never slower than stated."""
        return self.shutters.at_least(dials.shutter_stops(self.slowest_s))

    @cached_property
    def times_to_sync(self) -> tuple[Step, ...]:
        """Every time from the slowest that is wanted to the sync speed."""
        return self.shutters.between(self.slowest.stops, self.sync.stops)

    @cached_property
    def iso_low(self) -> Step:
        """The lowest ISO."""
        return dials.iso_dial().nearest(dials.iso_stops(self.iso_lowest))

    @cached_property
    def iso_high(self) -> Step:
        """The highest ISO that is allowed."""
        return dials.iso_dial().nearest(dials.iso_stops(self.iso_highest))


@dataclass(frozen=True)
class Lens:
    """A lens as mounted: focal length in mm, widest and smallest usable f-number."""

    focal_mm: Millimetres
    widest: FNumber
    smallest: FNumber
    name: str = ""

    def __post_init__(self) -> None:
        limits.FOCAL.check("focal_mm", self.focal_mm)
        limits.APERTURE.check("widest", self.widest)
        limits.APERTURE.check("smallest", self.smallest)
        if self.widest > self.smallest:
            problem = f"f/{number(self.widest)} is smaller than the smallest, f/{number(self.smallest)}"
            raise Refused("widest", problem)


@dataclass(frozen=True)
class Light:
    """One light as it stands: guide number (m, ISO 100, full power, one head, at infinite distance),
    losses in stops, distance in metres from its reference point to what it lights."""

    gn_m: Metres
    distance_m: Metres
    role: str = "key"
    name: str = ""
    loss: Stops = 0.0
    radius_m: Metres = 0.0
    count: int = 1
    power_min: float = 1 / 128
    power_step: Stops = 1 / 3
    scale: str = "fraction"
    full_mark: float = 10.0
    hss_toll: Stops | None = None
    relative_level: Stops | None = None

    def __post_init__(self) -> None:
        _choice("role", self.role, ROLES)
        _choice("scale", self.scale, SCALES)
        limits.GUIDE_NUMBER.check("gn_m", self.gn_m)
        limits.LIGHT_DISTANCE.check("distance_m", self.distance_m)
        limits.LOSS.check("loss", self.loss)
        limits.RADIUS.check("radius_m", self.radius_m)
        limits.HEADS.check("count", self.count)
        limits.LEAST_POWER.check("power_min", self.power_min)
        limits.POWER_STEP.check("power_step", self.power_step)
        limits.FULL_MARK.check("full_mark", self.full_mark)
        if self.hss_toll is not None:
            limits.TOLL.check("hss_toll", self.hss_toll)
        if self.relative_level is not None:
            limits.LEVEL.check("relative_level", self.relative_level)
            if self.role == "key" and self.relative_level != 0:
                raise Refused("relative_level", "the key is what the other lights are relative to")

    @cached_property
    def reach(self) -> Stops:
        """Level of a full pop where it falls, at f/1 and ISO 100 within sync. Source: ISO 1230."""
        return (
            flash.at_one_metre(self.gn_m)
            + flash.by_distance(self.distance_m)
            + flash.near_source(self.distance_m, self.radius_m)
            + flash.by_heads(self.count)
            - self.loss
        )

    @property
    def relative(self) -> Stops:
        """Level relative to the key: as stated, else the role's usual one."""
        return ROLES[self.role].relative_level if self.relative_level is None else self.relative_level

    @property
    def lights_subject(self) -> bool:
        """Whether it counts toward the subject's level (key and fill)."""
        return ROLES[self.role].lights_subject


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
        dial = dials.aperture_dial(self.camera.dial_steps)
        widest = dial.at_least(dials.aperture_stops(self.lens.widest))
        smallest = dial.at_most(dials.aperture_stops(self.lens.smallest))
        return dial.between(widest.stops, smallest.stops)

    @cached_property
    def wanted_aperture(self) -> Step:
        """The dial step nearest the aperture meant, inside what the lens reaches."""
        dial = Dial(self.apertures, 1 / self.camera.dial_steps)
        return dial.nearest(dials.aperture_stops(self.intent.aperture))

    @cached_property
    def key_and_fill(self) -> Stops:
        """By how much key and fill together exceed the key alone."""
        levels = (light.relative for light in self.lights if light.lights_subject)
        return exposure.mix(*levels) or 0.0

    @property
    def dial_step(self) -> Stops:
        """One step of the camera's dials."""
        return 1 / self.camera.dial_steps
