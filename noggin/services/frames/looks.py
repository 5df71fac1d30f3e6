"""The looks of a take: several pictures of the same people under the same light, each with its own
intention, all sharing what is known."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Protocol

from noggin.core.errors import Refused
from noggin.core.physics.appearance import NAMED_LEVELS
from noggin.core.pops.frame import Meant, meant_of
from noggin.core.pops.looks import as_it_came
from noggin.core.setup.setup import SetUp
from noggin.core.wording import signed
from noggin.documents.log import FrameEntry
from noggin.documents.pops import LOOKS_MOST
from noggin.documents.setup import setup_of
from noggin.store.store import Store

FIRST = ""
"""The look that the set-up itself means."""


class Kept(Protocol):
    """A frame as far as looks need it."""

    @property
    def entry(self) -> FrameEntry:
        """As it is kept."""


@dataclass(frozen=True)
class TakeLooks:
    """The looks of one take beside the first: what each is meant to be, which one is taken now, and which
    ones the photographer calls done."""

    setup: SetUp
    others: tuple[Meant, ...] = ()
    now: str = FIRST
    ended: frozenset[str] = frozenset()

    @classmethod
    def of(cls, setup: SetUp, state: Mapping[str, Any]) -> "TakeLooks":
        """Those that a take's document has."""
        others = tuple(
            Meant(look["background_level"], look["subject_level"], look["name"])
            for look in state.get("looks") or ()
        )
        return cls(setup, others, state.get("look") or FIRST, frozenset(state.get("ended") or ()))

    @property
    def names(self) -> tuple[str, ...]:
        """Every look by its name, the first one first."""
        return (FIRST, *(look.look for look in self.others))

    def begun(self) -> dict[str, Meant]:
        """What each is meant to be before any frame was taken as it came out."""
        return {FIRST: meant_of(self.setup), **{look.look: look for look in self.others}}

    def after(self, frames: Iterable[Kept]) -> dict[str, Meant]:
        """What each is meant to be after some frames."""
        meant = self.begun()
        for frame in frames:
            take_in(meant, frame.entry)
        return meant

    def label(self, name: str) -> str:
        """What a look is called on a page."""
        if name == FIRST:
            return f"as planned, {signed(self.setup.intent.background_level)}"
        found = next(look for look in self.others if look.look == name)
        return f"{name}, {signed(found.background_level)}"

    def written(self) -> dict[str, Any]:
        """As a take's document keeps them."""
        others = [
            {
                "name": look.look,
                "background_level": look.background_level,
                "subject_level": look.subject_level,
            }
            for look in self.others
        ]
        return {"looks": others, "look": self.now, "ended": sorted(self.ended)}

    def with_look(self, name: str) -> "TakeLooks":
        """One that is there is gone on with; another is begun, by the level it is named after. Raises
        Refused."""
        if name in self.names:
            return TakeLooks(self.setup, self.others, name, self.ended)
        if name not in NAMED_LEVELS:
            raise Refused("look", f"there is no look ‘{name}’")
        if len(self.others) >= LOOKS_MOST:
            raise Refused("look", f"{LOOKS_MOST} looks are the most of one take. Begin again")
        begun = Meant(NAMED_LEVELS[name], self.setup.intent.subject_level, name)
        return TakeLooks(self.setup, (*self.others, begun), name, self.ended)

    def with_end(self, *, ended: bool) -> "TakeLooks":
        """The look that is taken now called done, or not."""
        names = self.ended | {self.now} if ended else self.ended - {self.now}
        return TakeLooks(self.setup, self.others, self.now, names)

    def choices(self) -> Iterator[tuple[str, str]]:
        """TakeLooks that can be begun: name and words."""
        own = self.setup.intent.background_level
        for name, level in NAMED_LEVELS.items():
            if name not in self.names and abs(level - own) > 0.1:
                yield name, f"{name}, {signed(level)}"


def take_in(meant: dict[str, Meant], entry: FrameEntry) -> Meant:
    """What a frame was meant to be, and what its look is from then on, where a zone was wanted as it came
    out."""
    look = entry.look or FIRST
    was = meant.get(look, meant[FIRST])
    if entry.wanted:
        meant[look] = as_it_came(was, {str(zone): level for zone, level in entry.wanted.items()})
    return was


def looks_of(store: Store, setup_id: int) -> tuple[Meant, ...]:
    """The looks beside the first that a set-up's last take holds."""
    kept = store.takes.latest(setup_id)
    return () if kept is None else TakeLooks.of(setup_of(kept.document["setup"]), kept.document).others
