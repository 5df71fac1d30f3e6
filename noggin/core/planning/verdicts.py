"""Whether settings make the picture that is meant, and what they miss when they do not: facts, not
words."""

from collections.abc import Iterator
from dataclasses import dataclass

from noggin.core import limits
from noggin.core.planning.lighting import TOO_STRONG, Firing, Lighting
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

HOLDS, JUST, MEND, SHORT, NOT_NEEDED = "holds", "just", "mend", "short", "not_needed"

VERDICTS = {
    HOLDS: "the picture can be made",
    JUST: "the picture comes out within a third of a stop of what is meant",
    MEND: "the picture can be made once a light stands closer",
    SHORT: "the picture cannot be made",
    NOT_NEEDED: "the wanted picture already fits within sync",
}
"""Every verdict on a way, best first."""

JUST_MISSES: Stops = TOO_STRONG
"""What background or flash may miss, or a light be too strong by, where a way is just there. Common
practice, no source: less does not show."""

PASSED_BY: Stops = 0.005
"""A limit that decides a verdict is passed by more than this only: nobody loses a method to the fourth
decimal."""

MISS_STEP: Stops = 0.05
"""Misses are compared in steps of this."""

DARK_COUNTS_HALF: Stops = -3.0
DARK_COUNTS_NOT: Stops = -4.0
"""A background meant darker than the first may come out darker still at half the price; meant as dark as
the second, at none."""


@dataclass(frozen=True)
class MissKind:
    """One thing a way can miss: what the document calls it, what its figure says, and whether it is a means
    that is lacking."""

    what: str
    means: bool
    says: str


MISS_KINDS = {
    "filter": MissKind("filter", True, "no filter for the surplus, which is `by`"),
    "aperture": MissKind("aperture", True, "the wanted aperture is the lens's smallest"),
    "faster_time": MissKind("high_speed", True, "the camera has no time past sync"),
    "high_speed": MissKind("high_speed", True, "no high-speed sync: of the light named, or of the camera"),
    "background": MissKind("background", False, "the background lands `by` off: positive is too bright"),
    "spill": MissKind("spill", False, "flash makes the background `by` too bright; daylight does not"),
    "flash": MissKind("flash", False, "the light is `by` short at full power"),
    "too_strong": MissKind("too_strong", False, "the light gives `by` too much at its least power"),
}
"""Everything that a way can miss."""


@dataclass(frozen=True)
class Miss:
    """One thing that a way misses: its kind (a key of MISS_KINDS), what it adds to the miss in stops (None
    for a means), by how many stops it is off in all, the light it is about ("" for the camera or none),
    where that lands and where it is meant, and the power dialled."""

    kind: str
    stops: Stops | None = None
    by: Stops = 0.0
    light: str = ""
    reached: Stops | None = None
    meant: Stops | None = None
    dialled: str = ""

    def __post_init__(self) -> None:
        limits.check_choice("kind", self.kind, MISS_KINDS)

    @property
    def what(self) -> str:
        """What the document calls it."""
        return MISS_KINDS[self.kind].what

    @property
    def means(self) -> bool:
        """Whether it is a means that is lacking."""
        return MISS_KINDS[self.kind].means


def background_error(setup: SetUp, lighting: Lighting) -> Stops:
    """Stops by which the background comes out brighter than meant, flash on it included."""
    return lighting.levels.background - setup.intent.background_level


def dark_weight(setup: SetUp) -> Stops:
    """What a stop too dark counts against a stop too bright."""
    meant = setup.intent.background_level
    return 0.0 if meant <= DARK_COUNTS_NOT else 0.5 if meant < DARK_COUNTS_HALF else 1.0


def counted_error(setup: SetUp, error: Stops) -> Stops:
    """How far off a background counts to be, 0 or more."""
    return error if error > 0 else -error * dark_weight(setup)


def within_just(setup: SetUp) -> Stops:
    """How far off the background may be where a way is just there."""
    return max(JUST_MISSES, setup.dial_step / 2) + PASSED_BY


def miss_of(setup: SetUp, lighting: Lighting) -> Stops:
    """What settings miss in all: background beyond half a dial step, every light's shortage, and what each
    is too strong by beyond a third of a stop."""
    counted = counted_error(setup, background_error(setup, lighting))
    reserves = [firing.reserve for firing in lighting.firings if firing.reserve is not None]
    strong = [max(firing.too_strong - JUST_MISSES, 0.0) for firing in lighting.firings]
    short = [max(-reserve, 0.0) for reserve in reserves]
    return max(counted - setup.dial_step / 2, 0.0) + sum(short) + sum(strong)


def verdict_of(setup: SetUp, lighting: Lighting) -> tuple[str, tuple[Miss, ...]]:
    """The verdict on settings with everything they miss.

    They hold where the background lands within half a dial step of where it is meant, no light is short
    and none too strong by more than a third of a stop at its least power; within a third throughout they
    are just there; else they are short.
    """
    misses = tuple(_misses(setup, lighting))
    if not misses:
        return HOLDS, ()
    off = counted_error(setup, background_error(setup, lighting))
    fatal = [miss for miss in misses if miss.means or miss.kind == "too_strong"]
    flash_off = max((miss.by for miss in misses if miss.kind == "flash"), default=0.0)
    just = not fatal and off <= within_just(setup) and flash_off <= JUST_MISSES + PASSED_BY
    return JUST if just else SHORT, misses


def _misses(setup: SetUp, lighting: Lighting) -> Iterator[Miss]:
    error = background_error(setup, lighting)
    half = setup.dial_step / 2
    added = counted_error(setup, error) - half
    if added > PASSED_BY:
        levels, meant = lighting.levels, setup.intent.background_level
        spilt = error > 0 and levels.background_ambient - meant <= half + PASSED_BY
        kind = "spill" if spilt else "background"
        yield Miss(kind, added, error, reached=levels.background, meant=meant)
    for firing in lighting.firings:
        yield from _light_misses(setup, firing)


def _light_misses(setup: SetUp, firing: Firing) -> Iterator[Miss]:
    name = firing.light.says
    if firing.full is None:
        if setup.camera.hss:
            yield Miss("high_speed", light=name)
        elif firing.light.role == "key":
            yield Miss("high_speed")
    elif firing.reserve is not None:
        over, dialled = firing.too_strong, firing.power_label or ""
        if firing.reserve < -PASSED_BY:
            yield Miss("flash", -firing.reserve, -firing.reserve, name)
        elif over > JUST_MISSES + PASSED_BY:
            yield Miss("too_strong", over - JUST_MISSES, over, name, dialled=dialled)
