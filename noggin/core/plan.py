"""What planning gives: the five ways of one set-up, each worked out, and the one advised."""

from dataclasses import dataclass

from noggin.core.lighting import Lighting, Settings
from noggin.core.optics import Focus
from noggin.core.setup import SetUp
from noggin.core.units import Stops


@dataclass(frozen=True)
class Method:
    """A way past the sync wall: its name, what it does and costs, and its place in `speed` order."""

    label: str
    does: str
    costs: str
    speed_rank: int


METHODS = {
    "within_sync": Method("Within sync", "the wanted aperture already fits", "nothing", 0),
    "stop_down": Method("Stop down", "the aperture closes until sync speed fits", "everything sharp", 2),
    "nd": Method("ND at sync", "glass takes the surplus", "finder and autofocus dim", 4),
    "mixed": Method("Mixed", "part filter, part aperture", "a filter and some depth of field", 3),
    "hss": Method("High-speed sync", "the shutter takes the surplus", "the toll, battery, heat", 1),
}
"""Every way, in the order the trade lists them."""


@dataclass(frozen=True)
class Way:
    """One way worked out: settings, lights and levels, whether it can be, what it lacks, and the
    drawbacks that put it lower in the advice; `uncertainty` is the ± of its reserve in stops."""

    way: str
    lighting: Lighting
    focus: Focus
    lacks: tuple[str, ...] = ()
    drawbacks: tuple[str, ...] = ()
    uncertainty: Stops | None = None
    reasons: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()

    @property
    def feasible(self) -> bool:
        """Whether the picture can be made this way."""
        return not self.lacks

    @property
    def label(self) -> str:
        """The way's name as people say it."""
        return METHODS[self.way].label

    @property
    def costs(self) -> str:
        """What taking this way costs."""
        return METHODS[self.way].costs

    @property
    def settings(self) -> Settings:
        """Camera and filters as dialled."""
        return self.lighting.settings

    @property
    def reserve(self) -> Stops | None:
        """The key light's reserve; None where no flash is needed or the key cannot take part."""
        return self.lighting.key.reserve

    def compensation(self, setup: SetUp) -> Stops | None:
        """For automatic flash: the compensation to set, in thirds; 0 puts flash alone at mid-tone."""
        if setup.intent.school != "auto" or self.lighting.needed_flash is None:
            return None
        return round(self.lighting.needed_flash * 3) / 3


@dataclass(frozen=True)
class Plan:
    """All five ways of one set-up, best first, why the first is advised, and what the comparison
    teaches in this case."""

    setup: SetUp
    ways: tuple[Way, ...]
    advice: str = ""
    lesson: str = ""

    @property
    def chosen(self) -> Way | None:
        """The first feasible way; None when none can be."""
        return next((way for way in self.ways if way.feasible), None)

    def way(self, key: str) -> Way:
        """One way by its key in METHODS."""
        return next(way for way in self.ways if way.way == key)
