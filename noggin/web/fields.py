"""Figures as they are drawn on a page, for documents of every kind."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from noggin.services.figures import Entry, Pending, SetUp

PLAIN_UNITS = ("mm", "Ws", "kg", "m²", "°", "ms", "s", "%", "mired", "m/s", "min")
"""Units of figures that are typed with figures alone."""

PLAIN_KEYS = (
    "aperture", "widest", "smallest", "iso_lowest", "iso_highest", "iso_base",
    "frames", "heads", "channel", "count", "pops",
)  # fmt: skip
"""Figures without a unit that are."""

WORDED_KEYS = ("gn", "gn_m", "faces_from", "durations", "minutes")
"""Figures that may need letters or several figures all the same."""

PICKED = {"date": "date", "start": "time", "shade_from": "time", "shade_till": "time"}
"""Figures that can be picked as well as typed, and the kind of picker."""


@dataclass(frozen=True)
class Field:
    """One figure as it is drawn: what was typed and waits wins over what is kept."""

    entry: Entry
    text: str
    words: str
    problem: str
    options: Mapping[str, str]

    @property
    def key(self) -> str:
        """The figure's key."""
        return self.entry.key

    @property
    def _base(self) -> str:
        """The key without what it is a figure of."""
        return self.key.split(":")[0].split("-")[0]

    @property
    def keyboard(self) -> str:
        """The keyboard a phone shows for it (an `inputmode`): figures where nothing else is ever typed."""
        unit = self.entry.unit_shown
        plain = unit in PLAIN_UNITS or unit == "m" or self._base in PLAIN_KEYS or self.is_uncertainty
        return "decimal" if plain and self._base not in WORDED_KEYS else "text"

    @property
    def picks(self) -> str:
        """The picker beside it: `date`, `time` or none."""
        return PICKED.get(self._base, "")

    @property
    def is_uncertainty(self) -> bool:
        """Whether it is the ± of another figure."""
        return self.key.endswith(":off")


class Fields(Mapping[str, Field]):
    """Every figure of a document, made when it is asked for. `setup` is what is behind the figures of a
    set-up, `limits` what the steps of a figure went no farther for."""

    def __init__(
        self,
        document: Mapping[str, Any],
        entries: Mapping[str, Entry],
        pending: Mapping[str, Pending],
        setup: SetUp | None = None,
        limits: Mapping[str, str] | None = None,
    ) -> None:
        self._document, self._entries, self._pending, self._setup = document, entries, pending, setup
        self._limits = limits or {}

    def __getitem__(self, key: str) -> Field:
        entry, waiting = self._entries[key], self._pending.get(key)
        text = waiting.text if waiting else entry.text(self._document)
        words = entry.words(self._document, self._setup) if self._setup else entry.said(self._document)
        if self._limits.get(key):
            words = f"As far as it goes: {self._limits[key]}"
        options = entry.options(self._document) if entry.choices else {}
        return Field(entry, text, words, waiting.problem if waiting else "", options)

    def __iter__(self) -> Iterator[str]:
        return iter(self._entries)

    def __len__(self) -> int:
        return len(self._entries)
