"""What planning gives: every way of making one picture, worked out, best first."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from noggin.core.physics.optics import Focus
from noggin.core.planning.candidates import Candidates
from noggin.core.planning.drawbacks import Drawback
from noggin.core.planning.lighting import Lighting, Settings
from noggin.core.planning.mend import Mend
from noggin.core.planning.selection import Among
from noggin.core.planning.verdicts import HOLDS, JUST, NOT_NEEDED, Miss
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops


@dataclass(frozen=True, eq=False)
class WayKind:
    """A way of making the picture, before any set-up: what it is called (`said` in a sentence), which
    settings it may use, what it lacks as such, and why it comes to its figures. One file in `kinds` and a
    row of its table make one.

    `speed_rank` is its place where speed comes first, the least to handle at 0. `always` says that it has
    its use even where the wanted picture fits within sync, `among` which of its settings are open by what
    they give (None: all), `uses_filters` and `past_sync` what it does.
    """

    key: str
    label: str
    said: str
    does: str
    costs: str
    speed_rank: int
    candidates: Callable[[SetUp], Candidates]
    lacks: Callable[[SetUp, Stops], Iterator[Miss]]
    reasons: Callable[[SetUp, "Way"], Iterator[str]]
    price: Callable[[SetUp, "Way"], Iterator[str]]
    always: bool = False
    among: Among | None = None
    uses_filters: bool = False
    past_sync: bool = False


@dataclass(frozen=True)
class Way:
    """One method worked out for a set-up: settings, lights and levels, the verdict and what it misses (and
    what that comes to in stops, means that are lacking left aside), the drawbacks that rank it lower, the ±
    of its reserve in stops, and the one move that would make it work, where one does."""

    kind: WayKind
    lighting: Lighting
    focus: Focus
    verdict: str = HOLDS
    misses: tuple[Miss, ...] = ()
    miss: Stops = 0.0
    drawbacks: tuple[Drawback, ...] = ()
    uncertainty: Stops | None = None
    mend: Mend | None = None

    @property
    def key(self) -> str:
        """Its method's key."""
        return self.kind.key

    @property
    def label(self) -> str:
        """Its method's name as people say it."""
        return self.kind.label

    @property
    def feasible(self) -> bool:
        """Whether the picture can be made this way, or comes within a third of a stop of it."""
        return self.verdict in (HOLDS, JUST)

    @property
    def not_needed(self) -> bool:
        """Whether the wanted picture already fits within sync, so that this way is not needed."""
        return self.verdict == NOT_NEEDED

    @property
    def advisable(self) -> bool:
        """Whether it may be recommended: it works, or would with a light moved closer."""
        return self.feasible or self.mend is not None

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
        if setup.intent.school != "auto" or self.lighting.key.needed is None:
            return None
        return round((self.lighting.needed_flash or 0.0) * 3) / 3


@dataclass(frozen=True)
class Plan:
    """Every way of one set-up, best first."""

    setup: SetUp
    ways: tuple[Way, ...]

    @property
    def chosen(self) -> Way | None:
        """The first way, where it works or would with a light moved closer; else None."""
        return self.ways[0] if self.ways[0].advisable else None

    @property
    def shown(self) -> Way:
        """The way to speak of: the chosen one, else the one that comes closest."""
        return self.chosen or self.ways[0]

    @property
    def by_key(self) -> Mapping[str, Way]:
        """The ways by their methods' keys."""
        return {way.key: way for way in self.ways}

    def way(self, key: str) -> Way:
        """One way by its method's key."""
        return self.by_key[key]
