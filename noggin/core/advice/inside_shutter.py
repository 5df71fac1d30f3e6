"""What goes on inside the shutter while a picture is taken: curtains, the flash against time, and what each
row gets of both."""

from dataclasses import dataclass, replace
from functools import cached_property
from math import log2

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics.curtains import SHUTTERS, curtain_travel, opens_by_rows
from noggin.core.physics.pulse import PULSE_CLASSES, Pulse
from noggin.core.physics.rows import RAMP_S, Opening, Pop, share_of_pop, share_of_train
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.tables import TOLLS
from noggin.core.units import Seconds, Stops

MODES = {"pop": "one pop", "hss": "high-speed sync", "off": "no flash"}
"""What the flash does while the shutter is open."""

CURTAINS = {"first": "first curtain", "second": "second curtain"}
"""Which curtain fires the pop: as the first one arrives, or just before the second one sets off."""

MOMENTS = 25
"""Moments from the first row's opening until all is over, both ends among them."""

ROWS = 40
"""Rows that are worked out; each stands for its middle."""


@dataclass(frozen=True)
class InsideShutter:
    """One exposure: kind of shutter (a key of SHUTTERS) and its time, what the flash does (a key of MODES),
    sync time, travel of curtains or readout (None: usual for the sync time), the head's pulse and power (0
    to 1), what the trigger is late by, which curtain fires (a key of CURTAINS), and in high-speed sync its
    toll and droop in stops. Raises Refused and OutOfRange.

    >>> past = InsideShutter("focal_plane", 1 / 800, "pop", 1 / 200)
    >>> round(past.lit_rows[0], 2), round(past.lit_rows[1], 2)
    (0.71, 1.0)
    """

    kind: str
    time_s: Seconds
    mode: str
    sync_s: Seconds
    travel_s: Seconds | None = None
    pulse: Pulse = PULSE_CLASSES["cut"].pulse
    power: float = 1.0
    delay_s: Seconds = 0.0
    curtain: str = "first"
    toll: Stops = TOLLS["unknown"].toll
    droop: Stops = 0.0

    def __post_init__(self) -> None:
        limits.check_choice("mode", self.mode, MODES)
        limits.check_choice("curtain", self.curtain, CURTAINS)
        limits.SHUTTER.check("sync_s", self.sync_s)
        limits.LEAST_POWER.check("power", self.power)
        limits.DELAY.check("delay_s", self.delay_s)
        limits.TOLL.check("toll", self.toll)
        limits.DROOP.check("droop", self.droop)
        if self.mode == "hss" and not self.has_curtains:
            raise Refused("mode", f"a {SHUTTERS[self.kind]} shutter needs no high-speed sync")
        _ = self.opening

    @property
    def has_curtains(self) -> bool:
        """Whether rows open one after another."""
        return opens_by_rows(self.kind)

    @cached_property
    def opening(self) -> Opening:
        """The shutter's opening."""
        if not self.has_curtains:
            ramp = min(RAMP_S, self.time_s) if self.kind == "leaf" else 0.0
            return Opening(self.kind, self.time_s, ramp_s=ramp)
        travel = curtain_travel(self.sync_s) if self.travel_s is None else self.travel_s
        return Opening(self.kind, self.time_s, travel)

    @cached_property
    def pop(self) -> Pop:
        """The one pop: from when the shutter fires it, late by the trigger's delay; by the second curtain
        so that most of it is over when that one sets off."""
        ready = self.opening.ready_s
        still = Pop(self.pulse, self.power, 0.0)
        if self.curtain == "second":
            ready = max(ready, self.time_s - still.lasts_s)
        return replace(still, starts_s=ready + self.delay_s)

    @cached_property
    def ends_s(self) -> Seconds:
        """Until when there is anything to see: the last row is closed and the pop all but over."""
        whole = self.opening.whole_s
        if self.mode != "pop":
            return whole
        return max(whole, min(self.pop.starts_s + self.pop.lasts_s, 2.5 * whole))

    @property
    def moments(self) -> tuple[Seconds, ...]:
        """The moments that are shown, evenly from the start to the end."""
        last = MOMENTS - 1
        return (*(self.ends_s * step / last for step in range(last)), self.ends_s)

    def light(self, at_s: Seconds) -> float:
        """How bright the flash is at a moment, against its brightest: the pop decays by its t0.5 until it
        is cut, a train is even but for its droop."""
        if self.mode == "hss":
            whole = self.opening.whole_s
            part = at_s / whole
            return 2.0 ** (-self.droop * part) if 0 <= part <= 1 else 0.0
        since = at_s - self.pop.starts_s
        if self.mode == "off" or since < 0 or self.pop.given(at_s) >= 1:
            return 0.0
        return float(2.0 ** (-since / self.pulse.t05_s))

    def share(self, row: float, at_s: Seconds | None = None) -> float:
        """Part of the pop, or of the train's charge, that a row gets, in the end or by a moment."""
        if self.mode == "off":
            return 0.0
        if self.mode == "hss":
            return share_of_train(self.opening, row, at_s)
        return share_of_pop(self.opening, self.pop, row, at_s)

    def flash(self, row: float, at_s: Seconds | None = None) -> float:
        """Flash on a row against a full pop of which all is caught (1), in the end or by a moment: the
        pop's power and share; of a train, the toll at the sync time and the times beyond it."""
        if self.mode == "hss":
            lost = self.toll + log2(self.sync_s / self.time_s) + self.droop * (row - 0.5)
            done = self.share(row, at_s) / self.share(row)
            return self.power * float(2.0**-lost) * done
        return self.power * self.share(row, at_s)

    def daylight(self, row: float, at_s: Seconds | None = None) -> float:
        """Daylight on a row against the whole time at the sync speed (1), in the end or by a moment."""
        end = self.opening.whole_s if at_s is None else at_s
        return self.opening.daylight_s(row, end) / self.sync_s

    @property
    def rows(self) -> tuple[float, ...]:
        """The rows that are worked out, by their middles."""
        return tuple((index + 0.5) / ROWS for index in range(ROWS))

    @cached_property
    def levels(self) -> tuple[Stops, ...]:
        """What each row gets of the flash, in stops against a full pop caught whole; far under where it
        gets none."""
        return tuple(log2(max(self.flash(row), 2.0**-20)) for row in self.rows)

    @property
    def lit_rows(self) -> tuple[float, float]:
        """From where to where the frame has flash; equal where it has none."""
        opening = self.opening
        if self.mode == "off":
            return 0.0, 0.0
        if self.mode == "hss" or not opening.travel_s:
            return 0.0, 1.0
        # A row is open at the pop's beginning from there on, and later rows open while it lasts.
        first = (self.pop.starts_s - opening.time_s) / opening.travel_s
        return min(max(first, 0.0), 1.0), 1.0

    @property
    def uneven(self) -> Stops:
        """By how much the brightest row that is lit is over the darkest one."""
        first, _ = self.lit_rows
        lit = [level for row, level in zip(self.rows, self.levels, strict=True) if row > first]
        return max(lit) - min(lit) if lit else 0.0

    @property
    def best(self) -> Stops:
        """What the row that gets most gets of a pop at this power."""
        return max(self.levels) - log2(self.power)


def inside_of(setup: SetUp, way: Way) -> InsideShutter:
    """What goes on where a way of a set-up is shot, with its key light."""
    camera, light, firing = setup.camera, setup.key, way.lighting.key
    mode = "off" if firing.down is None else "hss" if way.lighting.hss and camera.has_curtains else "pop"
    return InsideShutter(
        camera.shutter,
        way.settings.shutter.value,
        mode,
        camera.sync.value,
        camera.travel_s if camera.has_curtains else None,
        light.flash_pulse,
        2.0 ** -(firing.down or 0.0),
        toll=TOLLS["unknown"].toll if light.hss_toll is None else light.hss_toll,
        droop=light.hss_droop,
    )
