"""Whether settings make the picture that is meant, and what they lack when they do not: facts, not
words."""

from collections.abc import Iterator
from dataclasses import dataclass

from noggin.core import limits
from noggin.core.planning.candidates import background_error, reaches_background
from noggin.core.planning.lighting import Firing, Lighting
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

POWER_MISS: Stops = 1 / 3
"""How far a dialled light may miss its needed level."""

LACK_KINDS = {
    "not_needed": "the wanted picture already fits within sync; `stops` is how much darker it could"
    " get there",
    "filter": "no filter for the surplus, which is `stops`",
    "aperture": "the wanted aperture is the lens's smallest",
    "faster_time": "the camera has no time past sync",
    "high_speed": "no high-speed sync: of the light named, or of camera and trigger",
    "background": "the background lands `stops` off: positive is too bright",
    "flash": "the light is `stops` short at full power",
    "too_strong": "the light gives `stops` too much as dialled, mostly at its least power",
    "power_steps": "the light's steps are too coarse: it misses by `stops`",
}
"""Everything that a way can lack, and what its figure then says."""


@dataclass(frozen=True)
class Lack:
    """One thing that a way lacks: its kind (a key of LACK_KINDS), how many stops it is about, the light it
    is about ("" for the camera or none), where that lands and where it is meant, and the power dialled."""

    kind: str
    stops: Stops | None = None
    light: str = ""
    reached: Stops | None = None
    meant: Stops | None = None
    dialled: str = ""

    def __post_init__(self) -> None:
        limits.check_choice("kind", self.kind, LACK_KINDS)


def shortcomings(setup: SetUp, lighting: Lighting) -> Iterator[Lack]:
    """What these settings lack; nothing at all means that the picture can be made.

    The background must land within half a dial step of where it is meant, every light must take part
    with a reserve of 0 or more, and come within a third of a stop of its needed level when dialled.
    """
    if not reaches_background(setup, lighting.settings):
        yield Lack(
            "background",
            background_error(setup, lighting.settings),
            reached=lighting.levels.background_ambient,
            meant=setup.intent.background_level,
        )
    for firing in lighting.firings:
        yield from _light_lacks(setup, firing)


def _light_lacks(setup: SetUp, firing: Firing) -> Iterator[Lack]:
    name = firing.light.says
    if firing.full is None:
        yield Lack("high_speed", light=name if setup.camera.hss else "")
        return
    if firing.reserve is None or firing.level is None or firing.needed is None:
        return
    over, dialled = firing.level - firing.needed, firing.power_label or ""
    if firing.reserve < -TOLERANCE:
        yield Lack("flash", -firing.reserve, name)
    elif over > POWER_MISS + TOLERANCE:
        yield Lack("too_strong", over, name, dialled=dialled)
    elif over < -POWER_MISS - TOLERANCE:
        yield Lack("power_steps", -over, name, dialled=dialled)
