"""The flash pulse: how long it lasts, how much of it a short opening catches, what it freezes."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import exp, expm1, log, log2

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.units import Seconds, Stops

T01_OVER_T05 = log(10) / log(2)
"""t0.1 over t0.5 of an exponential decay, 3.32. Source: ISO 2827 definitions; ln 10 / ln 2."""

LONGER_PER_STOP = 1.1
"""How much longer a voltage-controlled pulse gets for each stop less power, where the light has no
table of its own. Common practice, no source."""

HEADS = {
    "cut": "cuts the pulse: shorter as power drops",
    "voltage": "lowers the voltage: longer as power drops",
}
"""The two kinds of head."""


@dataclass(frozen=True)
class Pulse:
    """A light's pulse: kind of head, t0.5 at full power in seconds, and its own table of
    (power, t0.1 in seconds), full power first, where it has one."""

    head: str
    t05_s: Seconds
    table: tuple[tuple[float, Seconds], ...] = ()

    def __post_init__(self) -> None:
        limits.check_choice("head", self.head, HEADS)
        limits.PULSE.check("t05_s", self.t05_s)
        for index, (power, time_s) in enumerate(self.table):
            limits.LEAST_POWER.check(f"table[{index}][0]", power)
            limits.PULSE.check(f"table[{index}][1]", time_s)
        if any(earlier[0] <= later[0] for earlier, later in pairwise(self.table)):
            raise Refused("table", "must run from full power down, each power once")

    def t01_s(self, power: float) -> Seconds:
        """t0.1 at a power (0 to 1): the time over which nine tenths of the height is passed.

        The light's own table, log-log between its points and level beyond them; else for a head that
        cuts an exponential pulse the time to the cut, and for a voltage-controlled one a tenth longer
        for each stop down. Source: ISO 2827 for t0.1.

        >>> round(1 / Pulse("cut", 1 / 250).t01_s(1 / 128))
        22094
        """
        if self.table:
            return between(self.table, power)
        full = self.t05_s * T01_OVER_T05
        if self.head == "voltage":
            return full * float(LONGER_PER_STOP ** -log2(power))
        if power >= 1:
            return full
        return min(full, -self.t05_s / log(2) * log(1 - power))

    def t05_at(self, power: float) -> Seconds:
        """t0.5 at a power (0 to 1), as some heads display it: a cut pulse ends before it, so that it is no
        longer than t0.1; of an exponential one it is t0.1 less 3.3 times (ISO 2827).

        >>> Pulse("cut", 1 / 250).t05_at(1.0), round(1 / Pulse("voltage", 1 / 800).t05_at(1.0))
        (0.004, 800)
        """
        if self.head == "voltage":
            return self.t01_s(power) / T01_OVER_T05
        return min(self.t05_s, self.t01_s(power))

    def caught(self, open_s: Seconds, power: float = 1.0) -> Stops:
        """Stops of a pop at a power (0 to 1) that an opening of `open_s` seconds loses; 0 or negative.

        Of an exponential decay it catches 1 - 2^(-t/t0.5). A head that cuts its pulse fires only the
        first part of it at lower power, of which the opening may catch all.

        >>> round(Pulse("voltage", 1 / 500).caught(1 / 500), 2)
        -1.0
        >>> round(Pulse("voltage", 1 / 500).caught(1 / 2000), 2)
        -2.65
        >>> Pulse("cut", 1 / 500).caught(1 / 500, power=1 / 4)
        0.0
        """
        share = -expm1(-log(2) * open_s / self.t05_s)
        fired = power if self.head == "cut" else 1.0
        return log2(min(share, fired) / fired)


@dataclass(frozen=True)
class PulseClass:
    """A kind of light where its own pulse is not stated: what it is called, its pulse, and the colour
    temperature of its flash in kelvin."""

    label: str
    pulse: Pulse
    colour_k: float


def _of_class(head: str, *table: tuple[float, float]) -> Pulse:
    """A pulse from rows of power and 1/t0.1."""
    rows = tuple((power, 1 / rate) for power, rate in table)
    return Pulse(head, rows[0][1] / T01_OVER_T05, rows)


PULSE_CLASSES = {
    "cut": PulseClass(
        "head that cuts the pulse",
        _of_class(
            "cut",
            *((1, 250), (1 / 2, 500), (1 / 4, 1000), (1 / 8, 2000), (1 / 16, 4000), (1 / 40, 10_000)),
        ),
        5600,
    ),
    "cut_fast": PulseClass(
        "head that cuts the pulse, in its fast mode",
        _of_class(
            "cut",
            *((1, 250), (1 / 2, 1000), (1 / 4, 2500), (1 / 8, 6000), (1 / 16, 12_000), (1 / 64, 19_000)),
        ),
        6200,
    ),
    "speedlight": PulseClass(
        "speedlight",
        _of_class(
            "cut",
            *((1, 300), (1 / 2, 1000), (1 / 4, 2500), (1 / 8, 5000), (1 / 16, 10_000), (1 / 32, 20_000)),
        ),
        5600,
    ),
    "voltage": PulseClass(
        "voltage-controlled studio head", _of_class("voltage", (1, 400), (1 / 32, 200)), 5600
    ),
}
"""t0.1 by power for every kind of light. Common practice, from memory, ±1 stop; the fast mode of a head
costs colour: bluer by about 600 K, from memory."""


def between(table: Sequence[tuple[float, Seconds]], power: float) -> Seconds:
    """A duration at `power` from rows of (power, seconds), log-log between them, level beyond the ends.

    >>> round(1 / between(((1.0, 1 / 300), (1 / 4, 1 / 1200)), 1 / 2))
    600
    """
    rows = sorted(table)
    if power <= rows[0][0]:
        return rows[0][1]
    for (low, low_s), (high, high_s) in pairwise(rows):
        if power <= high:
            part = log(power / low) / log(high / low)
            return low_s * exp(part * log(high_s / low_s))
    return rows[-1][1]
