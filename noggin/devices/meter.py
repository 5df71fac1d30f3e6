"""A flash meter, and the simulated one: the same interface that a person fills in by hand."""

from dataclasses import dataclass
from math import log2
from random import Random
from typing import Protocol

from noggin.core.gear.calibrate import Reading
from noggin.core.units import Metres, Seconds, Stops


class MeterDevice(Protocol):
    """Whatever gives a reading of one pop."""

    def read(self, distance_m: Metres, power: float, shutter_s: Seconds | None = None) -> Reading:
        """The reading of a pop at a distance and power, in high-speed sync where a time is given."""
        ...


@dataclass(frozen=True)
class HiddenLight:
    """The truth behind a simulated meter: guide number for infinite distance, radius, toll at a sync
    time, and droop as further stops lost for each stop past sync."""

    gn_m: Metres
    radius_m: Metres
    toll: Stops
    droop: Stops
    sync_s: Seconds


class SimulatedMeter:
    """Reads a hidden light with noise, in stops, from a generator that is passed in."""

    def __init__(self, light: HiddenLight, noise: Stops, rng: Random) -> None:
        self._light, self._noise, self._rng = light, noise, rng

    def read(self, distance_m: Metres, power: float, shutter_s: Seconds | None = None) -> Reading:
        """A reading as a meter would show it, to no finer than its noise."""
        light = self._light
        level = 2 * log2(light.gn_m) - log2(distance_m**2 + light.radius_m**2) + log2(power)
        if shutter_s is not None:
            level -= light.toll + (1 + light.droop) * log2(light.sync_s / shutter_s)
        level += self._rng.gauss(0, self._noise)
        return Reading(distance_m, power, float(2 ** (level / 2)), 100, shutter_s)
