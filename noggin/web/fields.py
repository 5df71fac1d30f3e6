"""Figures as they are drawn on a page, for documents of every kind."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from noggin.services.figures import Entry, Pending, SetUp


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
