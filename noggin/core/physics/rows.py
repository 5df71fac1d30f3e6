"""Inside the shutter: when each row of the frame is open, and what of daylight and flash falls into that.

A row is counted from 0, where the travel begins, to 1, where it ends; the picture stands upside down in the
camera, so that 0 is the foot of a landscape frame. Times are in seconds from when the first row begins to
open. Model: rows open one after another at an even pace, a pop decays exponentially, blades open and close
at an even pace; common practice, no source."""

from dataclasses import dataclass
from math import expm1, inf, log, log2

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics.curtains import SHUTTERS, opens_by_rows
from noggin.core.physics.pulse import Pulse
from noggin.core.units import Seconds, Stops

RAMP_S = 1 / 4000
"""Time that the blades of a leaf shutter take to open, and again to close, where it is not known. From
memory, ±1 stop."""


@dataclass(frozen=True)
class Opening:
    """One opening of a shutter of a kind (a key of SHUTTERS): its time as dialled, how long curtains or
    readout take across the frame, how long the blades of a leaf shutter take to open. Raises Refused and
    OutOfRange.

    >>> Opening("focal_plane", 1 / 400, 1 / 250).lit_part
    0.625
    """

    kind: str
    time_s: Seconds
    travel_s: Seconds = 0.0
    ramp_s: Seconds = 0.0

    def __post_init__(self) -> None:
        limits.check_choice("shutter", self.kind, SHUTTERS)
        limits.SHUTTER.check("time_s", self.time_s)
        limits.TRAVEL.check("travel_s", self.travel_s)
        limits.TRAVEL.check("ramp_s", self.ramp_s)
        if self.travel_s and not opens_by_rows(self.kind):
            raise Refused("travel_s", f"the rows of a {SHUTTERS[self.kind]} shutter open at once")
        if self.ramp_s and self.kind != "leaf":
            raise Refused("ramp_s", f"a {SHUTTERS[self.kind]} shutter has no blades")
        if self.ramp_s > self.time_s:
            raise Refused("ramp_s", "the blades would close before they have opened")

    @property
    def whole_s(self) -> Seconds:
        """From when the first row begins to open until the last one is closed."""
        return self.travel_s + self.time_s + self.ramp_s

    @property
    def ready_s(self) -> Seconds:
        """When a shutter fires the flash: as the first curtain arrives, or the blades are open."""
        return self.travel_s + self.ramp_s

    @property
    def lit_part(self) -> float:
        """Part of the rows (0 to 1) that are open when the flash fires, whatever its length."""
        return min(1.0, self.time_s / self.travel_s) if self.travel_s else 1.0

    def opens_s(self, row: float) -> Seconds:
        """When a row begins to open."""
        return row * self.travel_s

    def closes_s(self, row: float) -> Seconds:
        """When a row is closed."""
        return row * self.travel_s + self.time_s + self.ramp_s

    def openness(self, row: float, at_s: Seconds) -> float:
        """How far a row is open at a moment, 0 to 1; between those only while blades move."""
        since, till = at_s - self.opens_s(row), self.closes_s(row) - at_s
        if since < 0 or till < 0:
            return 0.0
        return min(1.0, since / self.ramp_s, till / self.ramp_s) if self.ramp_s else 1.0

    def daylight_s(self, row: float, at_s: Seconds) -> Seconds:
        """Daylight that a row has had by a moment, as seconds of being fully open; the dialled time in the
        end, since that is counted from half open to half closed.

        >>> Opening("leaf", 1 / 500, ramp_s=1 / 4000).daylight_s(0.3, 1.0)
        0.002
        """
        since = min(max(at_s - self.opens_s(row), 0.0), self.closes_s(row) - self.opens_s(row))
        if not self.ramp_s:
            return since
        opening = min(since, self.ramp_s)
        closing = max(since - self.time_s, 0.0)
        fully = max(min(since, self.time_s) - self.ramp_s, 0.0)
        return opening**2 / (2 * self.ramp_s) + fully + closing - closing**2 / (2 * self.ramp_s)

    def passed(self, at_s: Seconds) -> tuple[float, float]:
        """How far down the first and the second curtain are at a moment, 0 to 1 each; where all rows open
        at once, how far the frame is open and how far it is closed again."""
        first = at_s / self.ready_s if self.ready_s else float(at_s >= 0)
        closing_s = self.travel_s or self.ramp_s
        second = (at_s - self.time_s) / closing_s if closing_s else float(at_s >= self.time_s)
        return min(max(first, 0.0), 1.0), min(max(second, 0.0), 1.0)


@dataclass(frozen=True)
class Pop:
    """One pop at a power (0 to 1) that begins at a moment."""

    pulse: Pulse
    power: float
    starts_s: Seconds

    def given(self, at_s: Seconds) -> float:
        """Part of its light (0 to 1) that it has given by a moment; what a short opening catches of it, see
        `Pulse.caught`."""
        since = at_s - self.starts_s
        return 2.0 ** self.pulse.caught(since, self.power) if since > 0 else 0.0

    @property
    def cut_s(self) -> Seconds:
        """How long it glows before it is cut; without end where it is not."""
        is_cut = self.pulse.head == "cut" and self.power < 1
        return -log2(1 - self.power) * self.pulse.t05_s if is_cut else inf

    @property
    def lasts_s(self) -> Seconds:
        """How long nearly all of its light takes: until 1 % is to come, or it is cut."""
        return min(-log2(0.01) * self.pulse.t05_s, self.cut_s)

    def given_through(self, at_s: Seconds) -> Seconds:
        """The integral of `given` up to a moment, for blades, which let ever more or less through: of
        1 - 2^(-t/t0.5) until it is cut, and of 1 from then on."""
        since = max(at_s - self.starts_s, 0.0)
        glows = min(since, self.cut_s)
        mean_s = self.pulse.t05_s / log(2)
        fired = self.power if self.pulse.head == "cut" else 1.0
        return (glows + mean_s * expm1(-glows / mean_s)) / fired + since - glows


def share_of_pop(opening: Opening, pop: Pop, row: float, at_s: Seconds | None = None) -> float:
    """Part of a pop's light (0 to 1) that a row catches, in the end or by a moment. A row of curtains that
    opens at `a` and closes at `b` catches what is given between the two.

    >>> half = Pulse("voltage", 1 / 1000)
    >>> share_of_pop(Opening("global", 1 / 1000), Pop(half, 1.0, 0.0), 0.5)
    0.5
    """
    end = opening.closes_s(row) if at_s is None else min(at_s, opening.closes_s(row))
    begin = opening.opens_s(row)
    if end <= begin:
        return 0.0
    if not opening.ramp_s:
        return pop.given(end) - pop.given(begin)
    # Integrated by parts: how far it is open changes only while blades move.
    opened, closing = min(end, begin + opening.ramp_s), min(end, begin + opening.time_s)
    while_opening = pop.given_through(opened) - pop.given_through(begin)
    while_closing = pop.given_through(end) - pop.given_through(closing)
    moving = (while_closing - while_opening) / opening.ramp_s
    return max(opening.openness(row, end) * pop.given(end) + moving, 0.0)


def share_of_train(opening: Opening, row: float, at_s: Seconds | None = None) -> float:
    """Part of a charge (0 to 1) that a row gets where pulses follow each other evenly for as long as any
    row is open: t/(T + t) in the end.

    >>> share_of_train(Opening("focal_plane", 1 / 1000, 4 / 1000), 0.5)
    0.2
    """
    end = opening.whole_s if at_s is None else at_s
    return opening.daylight_s(row, end) / opening.whole_s


def floor_of_toll(sync_s: Seconds, travel_s: Seconds) -> Stops:
    """The least that high-speed sync can cost at the sync time: log2((T + t)/t), by geometry alone.

    >>> round(floor_of_toll(1 / 200, 0.85 / 200), 2)
    0.89
    """
    return log2((travel_s + sync_s) / sync_s)
