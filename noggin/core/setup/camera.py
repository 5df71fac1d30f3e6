"""The body with its trigger, and the lens as mounted.

Value objects are frozen and check themselves; a refusal names the figure as the document does.
"""

from dataclasses import dataclass
from functools import cached_property, lru_cache

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics import dials
from noggin.core.physics.appearance import clipping_level
from noggin.core.physics.curtains import SHUTTERS, curtain_travel, opens_by_rows
from noggin.core.physics.dials import Dial, DialStep
from noggin.core.units import FNumber, Millimetres, Seconds, Stops
from noggin.core.wording import number, shutter_time

SUPPORTS = {"hand": "hand-held", "tripod": "on a tripod"}
"""What holds the camera."""


@dataclass(frozen=True)
class Camera:
    """A body with its trigger. A limit with no label on the dial snaps to the safe side.

    `iso_base` is the lowest ISO that is not extended (None: the lowest is), `curtain_s` the curtains'
    travel time (None: the usual part of the sync time).
    """

    sync_s: Seconds
    fastest_s: Seconds = 1 / 8000
    slowest_s: Seconds = 1 / 60
    iso_lowest: float = 100
    iso_highest: float = 6400
    dial_steps: int = 3
    sensor_mm: tuple[Millimetres, Millimetres] = (36, 24)
    hss: bool = True
    name: str = ""
    shutter: str = "focal_plane"
    iso_base: float | None = None
    curtain_s: Seconds | None = None
    support: str = "hand"

    def __post_init__(self) -> None:
        limits.check_choice("dial_steps", self.dial_steps, dials.DIAL_STEPS)
        limits.check_choice("shutter", self.shutter, SHUTTERS)
        limits.check_choice("support", self.support, SUPPORTS)
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
        if self.iso_base is not None:
            limits.ISO.check("iso_base", self.iso_base)
        if self.curtain_s is not None:
            limits.SHUTTER.check("curtain_s", self.curtain_s)
            if self.curtain_s > self.sync.value:
                problem = f"{shutter_time(self.curtain_s)} is longer than the sync time, {self.sync.label}"
                raise Refused("curtain_s", problem)

    def _check_order(self, name: str, step: DialStep, than: str, limit_name: str, limit: DialStep) -> None:
        if step.stops > limit.stops:
            raise Refused(name, f"{step.label} is {than} than {limit_name}, {limit.label}")

    @property
    def shutters(self) -> Dial:
        """The shutter dial of this body."""
        return dials.shutter_dial(self.dial_steps)

    @cached_property
    def sync(self) -> DialStep:
        """Fastest time at which the whole frame is open at once; never faster than stated."""
        return self.shutters.at_most(dials.shutter_stops(self.sync_s))

    @cached_property
    def fastest(self) -> DialStep:
        """Fastest time on the dial; never faster than stated."""
        return self.shutters.at_most(dials.shutter_stops(self.fastest_s))

    @cached_property
    def slowest(self) -> DialStep:
        """Slowest time that is wanted; never slower than stated."""
        return self.shutters.at_least(dials.shutter_stops(self.slowest_s))

    @cached_property
    def times_to_sync(self) -> tuple[DialStep, ...]:
        """Every time from the slowest that is wanted to the sync speed."""
        return self.shutters.between(self.slowest.stops, self.sync.stops)

    @cached_property
    def iso_low(self) -> DialStep:
        """The lowest ISO."""
        return dials.iso_dial().nearest(dials.iso_stops(self.iso_lowest))

    @cached_property
    def iso_high(self) -> DialStep:
        """The highest ISO that is allowed."""
        return dials.iso_dial().nearest(dials.iso_stops(self.iso_highest))

    def clipping_level(self, iso: DialStep) -> Stops:
        """Stops over mid-tone at which this sensor is full; lower at an extended low ISO."""
        base = self.iso_low.stops if self.iso_base is None else dials.iso_stops(self.iso_base)
        return clipping_level(iso.stops, base)

    @property
    def has_curtains(self) -> bool:
        """Whether parts of the frame open one after another: curtains, or the rows of a rolling readout."""
        return opens_by_rows(self.shutter)

    @property
    def travel_s(self) -> Seconds:
        """Time a curtain, or a rolling readout, takes across the frame."""
        return curtain_travel(self.sync.value) if self.curtain_s is None else self.curtain_s


@dataclass(frozen=True)
class Lens:
    """A lens as mounted: focal length in mm, widest and smallest usable f-number, and its filter thread
    where that is known."""

    focal_mm: Millimetres
    widest: FNumber
    smallest: FNumber
    name: str = ""
    thread_mm: Millimetres | None = None

    def __post_init__(self) -> None:
        limits.FOCAL.check("focal_mm", self.focal_mm)
        if self.thread_mm is not None:
            limits.THREAD.check("thread_mm", self.thread_mm)
        limits.APERTURE.check("widest", self.widest)
        limits.APERTURE.check("smallest", self.smallest)
        if self.widest > self.smallest:
            problem = f"f/{number(self.widest)} is smaller than the smallest, f/{number(self.smallest)}"
            raise Refused("widest", problem)

    def apertures(self, per_stop: int) -> Dial:
        """What of an aperture dial of 1, 2 or 3 steps to the stop this lens reaches."""
        return _reached(self.widest, self.smallest, per_stop)


@lru_cache(maxsize=256)
def _reached(widest: FNumber, smallest: FNumber, per_stop: int) -> Dial:
    dial = dials.aperture_dial(per_stop)
    first = dial.at_least(dials.aperture_stops(widest))
    last = dial.at_most(dials.aperture_stops(smallest))
    return Dial(dial.between(first.stops, last.stops), dial.size)
