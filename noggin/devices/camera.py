"""A camera as a measuring instrument, and the simulated one: the same that a person reads off a screen."""

from dataclasses import dataclass
from random import Random
from typing import Protocol

from noggin.core.physics.curtains import lit_part
from noggin.core.physics.filters import gelled
from noggin.core.units import EV100, Seconds, Stops


class CameraDevice(Protocol):
    """Whatever shows how much of a frame a pop lights, and at what exposure and balance a card is right."""

    def lit(self, time_s: Seconds) -> float:
        """Per cent of the frame's height that one plain pop lights at a shutter time."""
        ...

    def card(self, glass: "HiddenGlass | None" = None) -> tuple[EV100, float]:
        """EV at which a card comes out right, and the white balance in kelvin that makes it neutral,
        through a filter where one is on."""
        ...


@dataclass(frozen=True)
class HiddenBody:
    """The truth behind a simulated camera: its curtains' travel time, and the light on the card."""

    travel_s: Seconds
    ev100: EV100 = 12.0
    kelvin: float = 5500.0


@dataclass(frozen=True)
class HiddenGlass:
    """The truth behind a filter: stops, and mired by which it warms."""

    stops: Stops
    mired: float = 0.0


class SimulatedCamera:
    """Reads a hidden body, light and filter with noise from a generator that is passed in: `noise` in stops
    on exposures, 1 % of the frame on bands, 50 K on balances."""

    def __init__(self, body: HiddenBody, noise: Stops, rng: Random) -> None:
        self._body, self._noise, self._rng = body, noise, rng

    def lit(self, time_s: Seconds) -> float:
        """Whole frames read as whole; a band's edge is read to a per cent or so."""
        part = lit_part(time_s, self._body.travel_s)
        return 100.0 if part == 1 else max(0.0, min(99.0, 100 * part + self._rng.gauss(0, 1)))

    def card(self, glass: HiddenGlass | None = None) -> tuple[EV100, float]:
        """The light on the card through the glass, as read."""
        stops, mired = (glass.stops, glass.mired) if glass else (0.0, 0.0)
        kelvin = gelled(self._body.kelvin, mired)
        return self._body.ev100 - stops + self._rng.gauss(0, self._noise), kelvin + self._rng.gauss(0, 50)
