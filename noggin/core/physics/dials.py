"""The settings a camera and lens really have.

A dial moves in third, half or full stops. Sums use the exact position, 2^(k/3) and so on; the engraved
label is only for reading (1/250 is exactly 2^-8 s, f/5.6 is √2^5). A camera has one of the nominal
series. Series: common practice; each label is tested to lie within a quarter stop of its exact value.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from math import log2

from noggin.core.units import TOLERANCE, FNumber, Seconds, Stops

SNAP: Stops = 0.02
"""How far a figure may miss a label or its exact value and still mean that step."""

DIAL_STEPS = {3: "third stops", 2: "half stops", 1: "full stops"}
"""Steps to the stop that a camera's dials can have."""


@dataclass(frozen=True)
class DialStep:
    """One position of a dial.

    `stops` counts from 1 s, f/1 or ISO 100 (APEX time and aperture values; speed over ISO 100),
    `value` is exact (seconds, f-number or ISO), `label` is the number engraved, `nominal_stops` what
    that number would be if it were taken at its word.
    """

    stops: Stops
    value: float
    label: str
    nominal_stops: Stops

    def __hash__(self) -> int:
        return hash(self.stops)

    def means(self, stops: Stops) -> bool:
        """Whether a figure at `stops` is this step, by its label or by its exact value."""
        low, high = sorted((self.stops, self.nominal_stops))
        return low - SNAP <= stops <= high + SNAP


@dataclass(frozen=True)
class Dial:
    """Every position in rising stops; `size` is the step between neighbours."""

    steps: tuple[DialStep, ...]
    size: Stops

    def labelled(self, stops: Stops) -> DialStep | None:
        """The step that a figure names, or None when this dial has no such label."""
        return next((step for step in self.steps if step.means(stops)), None)

    def nearest(self, stops: Stops) -> DialStep:
        """The step a figure names, else the one closest to it."""
        return self.labelled(stops) or min(self.steps, key=lambda step: abs(step.stops - stops))

    def at_most(self, stops: Stops) -> DialStep:
        """The step a figure names, else the next one below it (the lowest when there is none)."""
        below = bisect_right(self.steps, stops, key=lambda step: step.stops)
        return self.labelled(stops) or self.steps[max(below - 1, 0)]

    def at_least(self, stops: Stops) -> DialStep:
        """The step a figure names, else the next one above it (the highest when there is none)."""
        above = bisect_left(self.steps, stops, key=lambda step: step.stops)
        return self.labelled(stops) or self.steps[min(above, len(self.steps) - 1)]

    def between(self, low: Stops, high: Stops) -> tuple[DialStep, ...]:
        """Every step from `low` to `high`, both included, in rising order."""
        return tuple(s for s in self.steps if low - TOLERANCE <= s.stops <= high + TOLERANCE)

    def beside(self, stops: Stops, by: int) -> DialStep:
        """The step `by` positions from the nearest one, held at the ends of the dial."""
        index = self.steps.index(self.nearest(stops)) + by
        return self.steps[max(0, min(index, len(self.steps) - 1))]


def shutter_stops(time_s: Seconds) -> Stops:
    """APEX time value, -log2(t): one stop more is half the time. Source: APEX, ISO 2720 annex.

    >>> shutter_stops(1 / 128)
    7.0
    """
    return -log2(time_s)


def aperture_stops(f_number: FNumber) -> Stops:
    """APEX aperture value, 2 log2(N): one stop more is half the light. Source: APEX, ISO 2720 annex.

    >>> aperture_stops(16)
    8.0
    """
    return 2 * log2(f_number)


def iso_stops(iso: float) -> Stops:
    """Stops of sensitivity over ISO 100, log2(S/100).

    >>> iso_stops(400)
    2.0
    """
    return log2(iso / 100)


_SHUTTER_LABELS = {
    3: "1/8000 1/6400 1/5000 1/4000 1/3200 1/2500 1/2000 1/1600 1/1250 1/1000 1/800 1/640 1/500 1/400"
    " 1/320 1/250 1/200 1/160 1/125 1/100 1/80 1/60 1/50 1/40 1/30 1/25 1/20 1/15 1/13 1/10 1/8 1/6"
    " 1/5 1/4 0.3 0.4 0.5 0.6 0.8 1 1.3 1.6 2 2.5 3.2 4 5 6 8 10 13 15 20 25 30",
    2: "1/8000 1/6000 1/4000 1/3000 1/2000 1/1500 1/1000 1/750 1/500 1/350 1/250 1/180 1/125 1/90 1/60"
    " 1/45 1/30 1/20 1/15 1/10 1/8 1/6 1/4 0.3 0.5 0.7 1 1.5 2 3 4 6 8 10 15 20 30",
    1: "1/8000 1/4000 1/2000 1/1000 1/500 1/250 1/125 1/60 1/30 1/15 1/8 1/4 0.5 1 2 4 8 15 30",
}
_APERTURE_LABELS = {
    3: "0.95 1 1.1 1.2 1.4 1.6 1.8 2 2.2 2.5 2.8 3.2 3.5 4 4.5 5 5.6 6.3 7.1 8 9 10 11 13 14 16 18 20"
    " 22 25 29 32",
    2: "1 1.2 1.4 1.7 2 2.4 2.8 3.3 4 4.8 5.6 6.7 8 9.5 11 13 16 19 22 27 32",
    1: "1 1.4 2 2.8 4 5.6 8 11 16 22 32",
}
_ISO_LABELS = (
    "25 32 40 50 64 80 100 125 160 200 250 320 400 500 640 800 1000 1250 1600 2000 2500 3200 4000 5000"
    " 6400 8000 10000 12800 16000 20000 25600 32000 40000 51200 64000 80000 102400"
)


@cache
def shutter_dial(per_stop: int) -> Dial:
    """Times from 30 s to 1/8000 s in 1, 2 or 3 steps to the stop.

    >>> shutter_dial(3).at_most(shutter_stops(1 / 180)).label
    '1/160'
    """
    labels = _SHUTTER_LABELS[per_stop].split()[::-1]
    return _dial(labels, -5 * per_stop, per_stop, shutter_stops, lambda stops: 2**-stops)


@cache
def aperture_dial(per_stop: int) -> Dial:
    """Apertures from f/0.95 (thirds) or f/1 to f/32 in 1, 2 or 3 steps to the stop.

    >>> aperture_dial(3).nearest(aperture_stops(5.6)).value == 2**2.5
    True
    """
    labels = _APERTURE_LABELS[per_stop].split()
    first = -1 if per_stop == 3 else 0
    return _dial(labels, first, per_stop, aperture_stops, lambda stops: 2 ** (stops / 2))


@cache
def iso_dial() -> Dial:
    """ISO 25 to 102400, in thirds on every camera.

    >>> iso_dial().nearest(iso_stops(64)).value == 100 * 2 ** (-2 / 3)
    True
    """
    return _dial(_ISO_LABELS.split(), -6, 3, iso_stops, lambda stops: 100 * 2**stops)


def _dial(
    labels: list[str],
    first: int,
    per_stop: int,
    stops_of: Callable[[float], Stops],
    value_of: Callable[[Stops], float],
) -> Dial:
    steps = []
    for position, label in enumerate(labels, start=first):
        stops = position / per_stop
        steps.append(DialStep(stops, value_of(stops), label, stops_of(float(Fraction(label)))))
    return Dial(tuple(steps), 1 / per_stop)
