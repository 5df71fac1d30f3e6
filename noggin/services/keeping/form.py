"""Taking what was typed for the figures of a kept document, whatever its kind.

What cannot be taken waits beside its figure with the reason, and is tried again with every entry: two
figures that contradict the document alone may be right together.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from noggin.core.errors import NogginError, Refused, Unreadable
from noggin.documents.paths import path_of
from noggin.documents.problems import BadDocument
from noggin.forms.entry import Document, Entry
from noggin.store.repository import KeptDocument

__all__ = ["Entry", "Form", "NoSuchFigure", "Pending"]


class NoSuchFigure(NogginError, LookupError):
    """No figure has this key, or it cannot be stepped."""


@dataclass(frozen=True)
class Pending:
    """Something typed that could not be taken: the text as typed, and why."""

    text: str
    problem: str


@dataclass(frozen=True)
class Form:
    """How documents of one kind are entered: their figures, and the check that makes them whole."""

    entries: Callable[[Document], Mapping[str, Entry]]
    canonical: Callable[[Document], Document]

    def entry(self, document: Document, key: str) -> Entry:
        """One figure. Raises NoSuchFigure."""
        try:
            return self.entries(document)[key]
        except KeyError:
            raise NoSuchFigure(f"There is no figure ‘{key}’.") from None

    def taken(
        self, document: Document, entries: Mapping[str, str], newest: str
    ) -> tuple[Document, Mapping[str, str]]:
        """The document with every entry that can be taken, and the entries that still wait; one for a
        figure that is gone with another entry waits no more."""
        together = self._with(document, entries)
        if together is not None:
            return together, {}
        # What cannot even be read holds up none of the others that belong together.
        legible = {key: text for key, text in entries.items() if self._reads(document, key, text)}
        together = self._with(document, legible) if legible and len(legible) < len(entries) else None
        if together is not None:
            known = self.entries(together)
            return together, {
                key: text for key, text in entries.items() if key not in legible and key in known
            }
        waiting = dict(entries)
        for key in sorted(entries, key=lambda key: key != newest):
            alone = self._with(document, {key: entries[key]})
            if alone is not None:
                document = alone
                del waiting[key]
        known = self.entries(document)
        return document, {key: text for key, text in waiting.items() if key in known}

    def changed(self, kept: KeptDocument, document: Document) -> tuple[Document, Mapping[str, str]]:
        """A change that is not an entry; what waits beside figures that are still there stays."""
        canonical = self.canonical(document)
        known = self.entries(canonical)
        return canonical, {key: text for key, text in kept.waiting.items() if key in known}

    def pending(self, kept: KeptDocument) -> Mapping[str, Pending]:
        """What waits, with the reasons."""
        known = self.entries(kept.document)
        found = {}
        for key, text in kept.waiting.items():
            if key in known:
                problem = self.problem(kept.document, known[key], text, kept.waiting)
                found[key] = Pending(text, problem or "was not taken; try it again")
        return found

    def _reads(self, document: Document, key: str, text: str) -> bool:
        """Whether a text can be read as a figure, whatever the others are."""
        try:
            self.entry(document, key).parsed(text)
        except (Unreadable, Refused, NoSuchFigure):
            return False
        return True

    def _with(self, document: Document, entries: Mapping[str, str]) -> Document | None:
        try:
            return self._entered(document, entries)
        except (Unreadable, Refused, BadDocument, NoSuchFigure):
            return None

    def _entered(self, document: Document, entries: Mapping[str, str]) -> Document:
        changed = document
        known = self.entries(document)
        for key, text in entries.items():
            if key not in known:
                raise NoSuchFigure(f"There is no figure ‘{key}’ any more.")
            entry = known[key]
            changed = entry.put(changed, entry.parsed(text))
        for key in entries:
            lacks = known[key].lacks
            if lacks and (words := lacks(changed)):
                raise Unreadable(words)
        return self.canonical(changed)

    def problem(
        self, document: Document, entry: Entry, text: str, waiting: Mapping[str, str] | None = None
    ) -> str:
        """Why this text cannot be taken for this figure, in words to show beside it; empty where it can.
        What is `waiting` beside other figures counts where they are given together with this one."""
        known = self.entries(document)
        together = {
            key: typed
            for key, typed in (waiting or {}).items()
            if entry.lacks and key in known and known[key].lacks and self._reads(document, key, typed)
        }
        try:
            self._entered(document, {**together, entry.key: text})
        except Unreadable as error:
            return str(error)
        except Refused as error:
            return error.problem
        except BadDocument as error:
            own = path_of(entry.path)
            others = reversed(list(self.entries(document).values()))
            labels = {path_of(other.path): other.label for other in others}
            problem = error.problems[0]
            if problem.path.startswith(own):
                return problem.problem
            around = (label for path, label in labels.items() if problem.path.startswith(f"{path}."))
            label = labels.get(problem.path) or next(around, "")
            return f"{label}: {problem.problem}" if label else problem.problem
        return ""
