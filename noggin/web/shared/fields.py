"""Figures as they are drawn on a page, for documents of every kind."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from hashlib import sha256
from typing import Any

from flask import url_for
from flask_wtf.csrf import generate_csrf
from markupsafe import Markup

from noggin.services.keeping.form import Entry, Pending
from noggin.services.keeping.kept import KeptItem
from noggin.services.setups.setups import SetUp
from noggin.web.shared.parts import written

PLAIN_UNITS = ("mm", "Ws", "kg", "m²", "°", "ms", "s", "%", "mired", "m/s", "min")
"""Units of figures that are typed with figures alone."""

PLAIN_KEYS = (
    "aperture", "widest", "smallest", "iso_lowest", "iso_highest", "iso_base",
    "frames", "heads", "channel", "count", "pops",
)  # fmt: skip
"""Figures without a unit that are."""

WORDED_KEYS = ("gn", "gn_m", "faces_from", "durations", "minutes")
"""Figures that may need letters or several figures all the same."""

PICKED = {
    "date": "date", "day": "date",
    "clock": "time", "start": "time", "shade_from": "time", "shade_till": "time",
}  # fmt: skip
"""Figures that can be picked as well as typed, and the kind of picker."""


@dataclass(frozen=True)
class FigureForm:
    """Where the figures of a document are sent: the area and what is its owner's number called there, what
    an answer replaces, and whether a figure is sent while it is typed, too."""

    area: str
    owner: str
    number: int
    target: str = "#whole"
    live: bool = False

    @cached_property
    def _address(self) -> str:
        owner: dict[str, Any] = {self.owner: self.number}
        return url_for(f"{self.area}.figure", key=ANY_KEY, **owner)

    def address(self, key: str) -> str:
        """Where a figure is sent."""
        return self._address.replace(ANY_KEY, key)


ANY_KEY = "~"
"""Stands for a figure in an address; no key has one."""


@dataclass(frozen=True)
class Field:
    """One figure as it is drawn: what was typed and waits wins over what is kept. `taken` is what was
    entered just now, where it was this one; `picked` is the value
    as a picker has it."""

    key: str
    label: str
    stepped: bool
    unit: str
    suggests: str
    finds: str
    text: str
    words: str
    problem: str
    options: tuple[tuple[str, str], ...]
    taken: str | None
    picked: str
    target: str
    live: bool

    @property
    def _base(self) -> str:
        """The key without what it is a figure of."""
        return self.key.split(":")[0].split("-")[0]

    @property
    def keyboard(self) -> str:
        """The keyboard a phone shows for it (an `inputmode`): figures where nothing else is ever typed."""
        plain = (
            self.unit in PLAIN_UNITS or self.unit == "m" or self._base in PLAIN_KEYS or self.is_uncertainty
        )
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
    set-up, `limits` what the steps of a figure went no farther for, `taken` what was entered just now."""

    def __init__(
        self,
        form: FigureForm,
        document: Mapping[str, Any],
        entries: Mapping[str, Entry],
        pending: Mapping[str, Pending],
        setup: SetUp | None = None,
        limits: Mapping[str, str] | None = None,
        taken: Mapping[str, str] | None = None,
    ) -> None:
        self._form, self._document, self._entries, self._pending = form, document, entries, pending
        self._setup, self._limits, self._taken = setup, limits or {}, taken or {}

    def __getitem__(self, key: str) -> Field:
        entry, waiting = self._entries[key], self._pending.get(key)
        text = waiting.text if waiting else entry.text(self._document)
        words = entry.words(self._document, self._setup) if self._setup else entry.said(self._document)
        if self._limits.get(key):
            words = f"As far as it goes: {self._limits[key]}"
        return Field(
            key,
            entry.label,
            entry.stepped is not None,
            entry.unit_shown,
            entry.suggests,
            entry.finds,
            text,
            words,
            waiting.problem if waiting else "",
            tuple(entry.options(self._document).items()) if entry.choices else (),
            self._taken.get(key),
            "" if waiting else str(entry.value(self._document) or ""),
            self._form.target,
            self._form.live,
        )

    def __iter__(self) -> Iterator[str]:
        return iter(self._entries)

    def __len__(self) -> int:
        return len(self._entries)

    def fingerprint(self, keys: Iterable[str], *more: str) -> str:
        """Eight hexadecimal digits for what is drawn of some figures, and for what `more` is said beside
        them."""
        drawn = [self[key] for key in keys if key in self._entries]
        return sha256(repr((drawn, more)).encode()).hexdigest()[:8]

    def form(self, key: str, of: str = "") -> Markup:
        """A figure as a form of its own; `of` names the part that it is of."""
        return self._part("forms/_field.html", key, of)

    def value(self, key: str) -> Markup:
        """What stands in a figure."""
        return self._part("forms/_value.html", key, "")

    def _part(self, template: str, key: str, of: str) -> Markup:
        blanks = {"url": self._form.address(key), "token": generate_csrf()}
        return written(template, blanks, field=self[key], figure_of=of)


def fields_of(form: FigureForm, item: KeptItem, taken: Mapping[str, str] | None) -> Fields:
    """Every figure of a document that no set-up belongs to."""
    return Fields(form, item.document, item.entries, item.pending, taken=taken)
