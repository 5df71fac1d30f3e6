"""What goes on inside the shutter while a picture is taken: curtains, the flash against time, what each row
gets of both, and what that says in stops and in sentences."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from math import log2

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics import dials
from noggin.core.physics.curtains import SHUTTERS, curtain_travel
from noggin.core.physics.pulse import PULSE_CLASSES, Pulse
from noggin.core.physics.rows import RAMP_S, Opening, Pop, floor_of_toll, share_of_pop, share_of_train
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.tables import TOLLS
from noggin.core.units import Seconds, Stops
from noggin.core.wording import percent, shutter_time, signed_stops, stops

MODES = {"pop": "one pop", "hss": "high-speed sync", "off": "no flash"}
"""What the flash does while the shutter is open."""

CURTAINS = {"first": "first curtain", "second": "second curtain"}
"""Which curtain fires the pop: as the first one arrives, or just before the second one sets off."""

MOMENTS = 25
"""Moments from the first row's opening until all is over, both ends among them."""

ROWS = 40
"""Rows that are worked out; each stands for its middle."""

UNEVEN: Stops = 0.3
"""Rows further apart than this show it."""


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
        return self.kind in ("focal_plane", "rolling")

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


def state(inside: InsideShutter, at_s: Seconds) -> str:
    """What is to be seen at a moment, as a sentence.

    >>> state(InsideShutter("global", 1 / 1000, "off", 1 / 200), 0.0005)
    'At 0.50 ms: all rows are open. No flash.'
    """
    return f"At {1000 * at_s:.2f} ms: {_shutter_state(inside, at_s)}. {_flash_state(inside, at_s)}"


def _shutter_state(inside: InsideShutter, at_s: Seconds) -> str:
    opening = inside.opening
    first, second = opening.passed(at_s)
    if at_s >= opening.whole_s:
        return "the frame is closed"
    if not opening.travel_s:
        if first < 1:
            return f"the blades are {percent(first)} open"
        return "all rows are open" if second == 0 else f"the blades are {percent(second)} closed"
    if first >= 1 and second == 0:
        return "the whole frame is open"
    if second == 0:
        return f"the first curtain is {percent(first)} across, the rows it has passed are open"
    if first >= 1:
        return f"the second curtain is {percent(second)} across, the rows it has passed are closed"
    return f"a slit is open from {percent(second)} to {percent(first)} of the way across"


def _flash_state(inside: InsideShutter, at_s: Seconds) -> str:
    if inside.mode == "off":
        return "No flash."
    if inside.mode == "hss":
        if at_s >= inside.opening.whole_s:
            return "The pulses are over."
        return "The flash pulses evenly." if inside.droop < UNEVEN else "The flash pulses, and droops."
    given = inside.pop.given(at_s)
    if at_s < inside.pop.starts_s:
        return "The flash waits."
    return "The pop is over." if given > 0.99 else f"{percent(given)} of the pop is out."


def said_time(time_s: Seconds) -> str:
    """A shutter time by the label of its dial, where it is on one.

    >>> said_time(2 ** -(22 / 3)), said_time(1 / 180)
    ('1/160', '1/180')
    """
    step = dials.shutter_dial(3).nearest(dials.shutter_stops(time_s))
    return (
        step.label if abs(step.stops - dials.shutter_stops(time_s)) < ON_THE_DIAL else shutter_time(time_s)
    )


ON_THE_DIAL: Stops = 0.005
"""A time nearer than this to a step of the dial is that step."""


@dataclass(frozen=True)
class Sum:
    """One line of the sums: what it is, its figure, and why it is so."""

    what: str
    figure: str
    why: str


def sums(inside: InsideShutter) -> tuple[Sum, ...]:
    """What daylight got, what the flash got, and where the rest went."""
    return (_of_daylight(inside), *_of_flash(inside))


def _of_daylight(inside: InsideShutter) -> Sum:
    against = log2(inside.time_s / inside.sync_s)
    return Sum(
        "daylight",
        signed_stops(against),
        f"every row is open for {said_time(inside.time_s)} s; against {said_time(inside.sync_s)} s,"
        " the sync speed",
    )


def _of_flash(inside: InsideShutter) -> tuple[Sum, ...]:
    if inside.mode == "off":
        return ()
    if inside.mode == "pop":
        return _of_pop(inside)
    opening = inside.opening
    floor = floor_of_toll(inside.sync_s, opening.travel_s)
    shorter = log2(inside.sync_s / inside.time_s)
    travel, whole = 1000 * opening.travel_s, 1000 * opening.whole_s
    found = [
        Sum(
            "a row's share",
            percent(inside.share(0.5)),
            f"open for {1000 * inside.time_s:.2f} ms of the {whole:.2f} ms that the pulses last",
        ),
        Sum(
            "toll, at the sync speed",
            signed_stops(-inside.toll),
            "against one full pop; measured, or usual for the light",
        ),
        Sum(
            "of that by geometry",
            signed_stops(-floor),
            f"the light must last for the travel of {travel:.2f} ms as well: no light does better",
        ),
        Sum(
            "of that by the light",
            signed_stops(floor - inside.toll),
            "what regulating the pulses takes"
            if inside.toll >= floor
            else "better than geometry allows: was the toll measured at this camera?",
        ),
        Sum("shorter than sync", signed_stops(-shorter), "each stop of time takes a stop of flash"),
        Sum("flash, mid-frame", signed_stops(-inside.toll - shorter), "against one full pop at sync"),
    ]
    if inside.droop:
        found.append(Sum("droop", stops(inside.droop), "from the rows that open first to the last"))
    return tuple(found)


def _of_pop(inside: InsideShutter) -> tuple[Sum, ...]:
    first, last = inside.lit_rows
    lit = last - first
    found = [
        Sum(
            "rows with flash",
            percent(lit),
            "every row is open when the pop begins"
            if lit >= 1
            else "the others are closed again before the first curtain has arrived, and stay dark",
        ),
        Sum(
            "flash, best row",
            signed_stops(inside.best),
            "all of the pop is caught" if inside.best > -0.05 else "the row closes before the pop is over",
        ),
    ]
    if lit > 0 and inside.uneven > UNEVEN / 3:
        found.append(
            Sum(
                "from row to row",
                stops(inside.uneven),
                "the pop lasts while rows open or close: a soft edge or a gradient",
            )
        )
    found.append(
        Sum(
            "t0.1 of the pop",
            f"{shutter_time(inside.pulse.t01_s(inside.power))} s",
            "what freezes movement where the flash makes the picture",
        )
    )
    return tuple(found)


@dataclass(frozen=True)
class ShutterQuestion:
    """A question that opens the drawing where the answer is seen: what is set for it, as it is typed, and
    what to look at."""

    key: str
    asks: str
    given: Mapping[str, str]
    look: str


_FOCAL = {"shutter": "focal_plane", "sync": "1/200", "mode": "pop"}

QUESTIONS = (
    ShutterQuestion(
        "black_bar",
        "Why a black bar?",
        _FOCAL | {"time": "1/500", "head": "cut"},
        "The pop begins as the first curtain arrives; by then the second one has closed the rows that it"
        " has passed. A bar means time, not a weak flash.",
    ),
    ShutterQuestion(
        "within_sync",
        "Why does a shorter time within sync not dim the flash?",
        _FOCAL | {"time": "1/125", "head": "speedlight", "power": "1/4"},
        "The pop is over before any row closes: at 1/60 s as at 1/200 s each row catches all of it. Only"
        " daylight gets less.",
    ),
    ShutterQuestion(
        "hss_costs",
        "Why does high-speed sync cost two stops?",
        _FOCAL | {"time": "1/400", "mode": "hss", "toll": "1.1"},
        "The same charge must last while the slit crosses the frame, and each row is open for a part of"
        " that only: nearly a stop by geometry, a little by the light, and one more for each stop of time.",
    ),
    ShutterQuestion(
        "leaf_short",
        "Why does a leaf shutter at 1/1600 lose flash?",
        {
            "shutter": "leaf",
            "sync": "1/1600",
            "time": "1/1600",
            "mode": "pop",
            "head": "cut",
            "power": "1/1",
        },
        "All rows open at once, so there is no bar; but at full power the pop lasts longer than the blades"
        " are open, and the rest of it falls on closed blades.",
    ),
    ShutterQuestion(
        "smears",
        "Why does a speedlight at 1/1 smear?",
        _FOCAL | {"time": "1/200", "head": "speedlight", "power": "1/1"},
        "At full power the pop glows through a large part of the opening; at 1/16 it is cut after a"
        " fraction of that. Its t0.1 is what freezes movement.",
    ),
)
"""What people ask, and where it is seen."""
