"""A radio trigger with the lights it fires, and the simulated one that stands in for it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

from noggin.core.pops.actual import ActualFrame
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops


@dataclass(frozen=True)
class PopSeen:
    """What trigger and lights do when the test button is pressed: by each light's place, the power at which
    it flashes in stops under full (None: it stays dark); whether high-speed sync is on, and whether powers
    are set by hand."""

    powers: Mapping[int, Stops | None]
    high_speed: bool
    manual: bool


class TriggerDevice(Protocol):
    """Whatever fires lights, and shows how it is set."""

    def test_pop(self) -> PopSeen:
        """Press the test button and look."""
        ...


class SimulatedTrigger:
    """Trigger and receivers as they stood when a frame was taken: with whatever had gone wrong then."""

    def __init__(self, setup: SetUp, actual: ActualFrame) -> None:
        self._setup, self._happened = setup, actual

    def test_pop(self) -> PopSeen:
        """What each light does, and how the trigger is set."""
        actual, dialled = self._happened, self._happened.dialled
        past = dialled.settings.shutter.stops > self._setup.camera.sync.stops + TOLERANCE
        return PopSeen(
            {
                index: None if index in actual.off else dialled.powers.get(index)
                for index in range(len(self._setup.lights))
            },
            actual.taken_toll or (past and not actual.band),
            actual.free is None or actual.free[0] != "flash",
        )
