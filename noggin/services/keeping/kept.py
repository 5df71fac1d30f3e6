"""What all kept documents have in common, whatever their kind: they are entered figure by figure, changed,
undone and redone, archived and brought back, imported. One mechanism for set-ups, kit, bags and shoots.

Each use case is one transaction, and within it one of a larger use case where there is one.
"""

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from noggin.core.errors import NogginError, Refused, Unreadable
from noggin.forms.entry import Document, Entry
from noggin.services.clock import Clock
from noggin.services.keeping.form import Form, NoSuchFigure, Pending
from noggin.store.repository import KeptDocument, Listed, Repository, UndoStep
from noggin.store.store import Store


class TooLate(NogginError, RuntimeError):
    """Something else was done to the document since this act was offered."""


Canonical = Callable[[Document], Document]
Entries = Callable[[Document], Mapping[str, Entry]]


@dataclass(frozen=True)
class Kind:
    """A kind of document: its key in the store, its figures (which may depend on what the store offers),
    the check that makes a document whole, whether no two may have one name, what is done after each change
    in the same transaction, and how many there may be, so that what goes out can always come in."""

    key: str
    entries: Callable[[Store], Entries]
    canonical: Canonical
    own_names: bool = True
    after: Callable[[Store, KeptDocument], None] | None = None
    most: int | None = None

    def repository(self, store: Store) -> Repository:
        """Where documents of this kind are kept."""
        return store.of(self.key)

    def form(self, store: Store, number: int | None = None) -> Form:
        """How documents of this kind are entered; `number` is the one that keeps its name."""

        def canonical(found: Document) -> Document:
            if self.own_names:
                check_name(found, self.repository(store).names(without=number))
            return self.canonical(found)

        return Form(self.entries(store), canonical)


@dataclass(frozen=True)
class KeptItem:
    """A kept document as it is opened, with what was typed that could not be taken."""

    id: int
    document: Mapping[str, Any]
    entries: Mapping[str, Entry]
    pending: Mapping[str, Pending]
    revision: int
    undo: UndoStep | None
    redo: UndoStep | None

    @property
    def name(self) -> str:
        """What it is called."""
        return str(self.document["name"])


def opened(store: Store, kind: Kind, kept: KeptDocument) -> KeptItem:
    """A kept document opened."""
    form = kind.form(store, kept.id)
    entries = form.entries(kept.document)
    pending = form.pending(kept) if kept.waiting else {}
    return KeptItem(kept.id, kept.document, entries, pending, kept.revision, kept.undo, kept.redo)


def open_item(store: Store, kind: Kind, number: int) -> KeptItem:
    """One document. Raises NotKept."""
    with store.read_transaction():
        return opened(store, kind, kind.repository(store).get(number))


def add(store: Store, clock: Clock, kind: Kind, document: Mapping[str, Any]) -> KeptDocument:
    """Keep a new document. Raises Refused where there are as many as there may be."""
    with store.write_transaction():
        if kind.most is not None and len(kind.repository(store).names()) >= kind.most:
            raise Refused("name", f"there are {kind.most} already, and that is the most. Archive one first")
        return _after(store, kind, kind.repository(store).add(document, clock()))


def enter(store: Store, clock: Clock, kind: Kind, number: int, key: str, text: str) -> KeptDocument:
    """Take what was typed for one figure; keep it beside the figure when it cannot be taken.

    Figures that wait are tried again with every entry, for two that contradict the document alone may
    be right together. Raises NotKept, NoSuchFigure.
    """

    def taken(form: Form, _: Entry, kept: KeptDocument) -> tuple[Document, Mapping[str, str]]:
        return form.taken(kept.document, {**kept.waiting, key: text}, newest=key)

    return _entered(store, clock, kind, number, key, taken)


def nudge(
    store: Store, clock: Clock, kind: Kind, number: int, key: str, by: int, basis: Any
) -> tuple[KeptDocument, str]:
    """Move one figure by so many steps of its dial, one after another until one cannot be taken: the figure
    stays there, and what stands in the way is said (else empty). `basis` makes what steps depend on (such
    as the set-up) from the document. Raises NotKept, NoSuchFigure."""
    one, limit = 1 if by > 0 else -1, ""

    def moved(form: Form, entry: Entry, kept: KeptDocument) -> tuple[Document, Mapping[str, str]]:
        nonlocal limit
        if entry.stepped is None:
            raise NoSuchFigure(f"{entry.label} has no steps.")
        document = kept.document
        entries = {other: text for other, text in kept.waiting.items() if other != key}
        for _ in range(abs(by)):
            on, value = basis(document), entry.value(document)
            try:
                moved_to = entry.stepped(on, entry.start_from(on) if value is None else value, one)
            except Unreadable as lacking:
                limit = f"{entry.label}: {lacking}"
                break
            text = entry.show(moved_to)
            farther, left = form.taken(document, {**entries, key: text}, newest=key)
            if key in left:
                limit = form.problem(document, entry, text)
                break
            document, entries = farther, dict(left)
        return document, entries

    return _entered(store, clock, kind, number, key, moved), limit


def _entered(
    store: Store,
    clock: Clock,
    kind: Kind,
    number: int,
    key: str,
    change: Callable[[Form, Entry, KeptDocument], tuple[Document, Mapping[str, str]]],
) -> KeptDocument:
    with store.write_transaction():
        form, repository = kind.form(store, number), kind.repository(store)
        entry = form.entry(repository.peek(number).document, key)
        nudge = UndoStep(entry.label, key)
        kept = repository.change(number, lambda kept: change(form, entry, kept), clock(), nudge)
        return _after(store, kind, kept)


def act(
    store: Store,
    clock: Clock,
    kind: Kind,
    number: int,
    label: str,
    change: Callable[[Document], Document],
    waiting: Callable[[str], bool] = lambda _: True,
) -> KeptDocument:
    """A change that is not an entry, as one step: `change` gives another document. What waits beside
    figures that are still there stays, where `waiting` says so of its key. Raises NotKept, Refused."""
    with store.write_transaction():
        form = kind.form(store, number)

        def changed(kept: KeptDocument) -> tuple[Document, Mapping[str, str]]:
            canonical, entries = form.changed(kept, change(kept.document))
            return canonical, {key: text for key, text in entries.items() if waiting(key)}

        repository = kind.repository(store)
        return _after(store, kind, repository.change(number, changed, clock(), UndoStep(label)))


@contextmanager
def as_offered(store: Store, kind: Kind, number: int, offered: int | None) -> Iterator[None]:
    """Within one transaction, an act on a document as a page offered it at revision `offered` (None: not
    known). A second press is so never a second act. Figures entered since then do not count: they move
    nothing that an act names. Raises NotKept, TooLate."""
    with store.write_transaction():
        if offered is not None and kind.repository(store).peek(number).acted > offered:
            raise TooLate(
                "That was done already, or something else was done since. Press again if you still want it."
            )
        yield


@contextmanager
def once(store: Store, word: str) -> Iterator[None]:
    """Within one transaction, something that a page offers once, by a word of that page's own ("" where it
    has none). Raises TooLate the second time."""
    with store.write_transaction():
        if word and store.marked(word):
            raise TooLate("That was taken in already. Open the page again to take it in once more.")
        if word:
            store.mark(word)
        yield


def move(store: Store, clock: Clock, kind: Kind, number: int, by: int) -> KeptDocument:
    """Undo (`by` -1) or redo (+1) one step. Raises NotKept, NoSuchRevision."""
    with store.write_transaction():
        return _after(store, kind, kind.repository(store).move(number, by, clock()))


def archive(store: Store, clock: Clock, kind: Kind, number: int) -> None:
    """Take a document out of the lists; it can be brought back. Raises NotKept."""
    kind.repository(store).archive(number, clock())


def bring_back(store: Store, clock: Clock, kind: Kind, number: int) -> None:
    """Bring back what was archived. Raises NotKept."""
    with store.write_transaction():
        _after(store, kind, kind.repository(store).bring_back(number, clock()))


def archived(store: Store, kind: Kind) -> tuple[Listed, ...]:
    """Every document of a kind that was archived."""
    return kind.repository(store).archived()


@dataclass(frozen=True)
class Brought:
    """What an import brought: names of what is new, of what was changed, and of what was there already."""

    new: tuple[str, ...] = ()
    changed: tuple[str, ...] = ()
    same: tuple[str, ...] = ()

    def and_then(self, other: "Brought") -> "Brought":
        """Both together."""
        return Brought(self.new + other.new, self.changed + other.changed, self.same + other.same)


def bring_in(
    store: Store, clock: Clock, kind: Kind, document: Document, known: int | None
) -> tuple[int, Brought]:
    """Keep a document that was imported: as a new one, or in the place of the one it is known to be, which
    can be undone; its number, and what that came to."""
    name = (str(document["name"]),)
    with store.write_transaction():
        if known is None:
            return add(store, clock, kind, document).id, Brought(new=name)
        kept = kind.repository(store).get(known)
        if kept.document == document:
            return known, Brought(same=name)
        changed = kind.repository(store).change(
            known, lambda _: (document, {}), clock(), UndoStep("imported")
        )
        _after(store, kind, changed)
        return known, Brought(changed=name)


def check_name(document: Mapping[str, Any], others: set[str]) -> None:
    """Raise Refused for a name that another one has."""
    if document["name"] in others:
        raise Refused("name", f"‘{document['name']}’ is taken. Choose another name")


def unused(name: str, taken: set[str]) -> str:
    """The name, with a number where it is taken."""
    return next(candidate for candidate in _numbered(name) if candidate not in taken)


def _numbered(name: str) -> Iterator[str]:
    yield name
    number = 2
    while True:
        yield f"{name} {number}"
        number += 1


def _after(store: Store, kind: Kind, kept: KeptDocument) -> KeptDocument:
    if kind.after:
        kind.after(store, kept)
    return kept
