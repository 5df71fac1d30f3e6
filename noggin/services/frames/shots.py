"""The frames of a take, as they are kept and as the core sees them."""

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import lru_cache

from noggin.core.clock import MINUTE, apart
from noggin.core.pops.frame import Frame, Meant
from noggin.core.setup.setup import SetUp
from noggin.documents.log import FrameEntry, read_entry
from noggin.documents.pops import core_frame
from noggin.services.frames.looks import TakeLooks, take_in
from noggin.store.frames import KeptFrame


@dataclass(frozen=True)
class SaidFrame:
    """A frame as the core sees it, known again by all that it says."""

    text: str
    frame: Frame = field(compare=False)

    @classmethod
    def of(cls, frame: Frame) -> "SaidFrame":
        """A frame with what it says."""
        return cls(repr(frame), frame)


@dataclass(frozen=True)
class Shot:
    """A frame of a take: as it is kept, and as the core sees it (None: nobody knows what was dialled)."""

    kept: KeptFrame
    entry: FrameEntry
    said: SaidFrame | None

    @property
    def frame(self) -> Frame | None:
        """The frame as the core sees it."""
        return self.said.frame if self.said else None

    @property
    def id(self) -> int:
        """Its number."""
        return self.kept.id

    @property
    def taken(self) -> datetime:
        """When."""
        return datetime.fromisoformat(self.entry.taken)


def shots_of(looks: TakeLooks, frames: Sequence[KeptFrame]) -> Iterator[Shot]:
    """Kept frames as the core sees them, minutes counted from the first, each with what it was meant to
    be."""
    first: datetime | None = None
    meant = looks.begun()
    for kept in frames:
        text = kept.text
        entry = _entry(text)
        taken = datetime.fromisoformat(entry.taken)
        first = first or taken
        yield Shot(kept, entry, _said(looks.setup, text, _minute(first, taken), take_in(meant, entry)))


def shot_of(setup: SetUp, kept: KeptFrame, entry: FrameEntry, first: datetime, meant: Meant) -> Shot:
    """One kept frame, so many minutes after the first of its take."""
    minute = _minute(first, datetime.fromisoformat(entry.taken))
    return Shot(kept, entry, said_of(setup, entry, minute, meant))


def _minute(first: datetime, taken: datetime) -> float:
    return max(apart(first, taken) / MINUTE, 0.0)


def said_of(setup: SetUp, entry: FrameEntry, minute: float, meant: Meant | None) -> SaidFrame | None:
    """What a frame says, so many minutes into its take; None where nobody knows how it was dialled."""
    frame = entry.frame(minute)
    return SaidFrame.of(replace(core_frame(setup, frame), meant=meant)) if frame else None


# What a kept frame says does not change: it is read once, not once for every frame that comes after it.
@lru_cache(maxsize=256)
def _entry(text: str) -> FrameEntry:
    return read_entry(json.loads(text))


@lru_cache(maxsize=256)
def _said(setup: SetUp, text: str, minute: float, meant: Meant) -> SaidFrame | None:
    return said_of(setup, _entry(text), minute, meant)
