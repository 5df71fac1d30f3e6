"""Everything as open documents, out and in. What goes along is the table CARRIED: a row for each format."""

import json
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from noggin.core.errors import Refused
from noggin.documents import archive
from noggin.documents.kit import FORMAT as KIT
from noggin.documents.log import FORMAT as LOG
from noggin.documents.problems import BadDocument, Problem
from noggin.documents.setup import FORMAT as SETUP
from noggin.documents.setup import canonical
from noggin.documents.shoot import FORMAT as SHOOT
from noggin.services.clock import Clock
from noggin.services.day.shoot_document import import_shoot, shoot_document
from noggin.services.day.shoots import open_shoot
from noggin.services.frames.log import import_log, log_files
from noggin.services.gear.kit_document import import_kit, kit_document
from noggin.services.keeping.kept import Brought, bring_in
from noggin.services.setups.setups import SETUPS
from noggin.store.store import Store

Named = tuple[str, dict[str, Any]]
"""A parsed document with the name of its file."""


@dataclass(frozen=True)
class GoesAlong:
    """A format that goes along with everything: how what is kept goes out as files, and how documents come
    in, inside one transaction."""

    format: str
    files: Callable[[Store, Clock], Iterator[tuple[str, bytes]]]
    bring: Callable[[Store, Clock, Iterable[Named]], Iterator[Brought]]


def everything(store: Store, clock: Clock) -> Iterator[tuple[str, bytes]]:
    """Every document that is in a list, as files of an archive: the kit with its readings and bags, the
    set-ups, the shoots, the log. What was archived, and small pictures of frames, are in a backup only."""
    with store.read_transaction():
        for each in CARRIED:
            yield from each.files(store, clock)


def bring_everything(store: Store, clock: Clock, files: Iterable[Named]) -> Brought:
    """Take documents in, all of them or none. What is there already, figure for figure, is not taken twice.
    Raises BadDocument with the names of the files that cannot be."""
    by_format: dict[str, list[Named]] = {each.format: [] for each in CARRIED}
    problems = []
    for name, document in files:
        known = by_format.get(str(document.get("format")))
        if known is None:
            problems.append(Problem(name, f"is none of {', '.join(by_format)}"))
        else:
            known.append((name, document))
    if problems:
        raise BadDocument(problems)
    brought = Brought()
    with store.write_transaction():
        for each in CARRIED:
            for came in each.bring(store, clock, by_format[each.format]):
                brought = brought.and_then(came)
    return brought


@contextmanager
def _named(name: str) -> Iterator[None]:
    """What is wrong inside is wrong with a file."""
    try:
        yield
    except BadDocument as bad:
        raise BadDocument([Problem(name, str(problem)) for problem in bad.problems]) from None
    except Refused as refusal:
        raise BadDocument([Problem(name, str(refusal))]) from None


def _kit_files(store: Store, _: Clock) -> Iterator[tuple[str, bytes]]:
    yield "kit.json", archive.text_of(kit_document(store))


def _bring_kit(store: Store, clock: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    for name, document in documents:
        with _named(name):
            yield import_kit(store, clock, document)


def _setup_files(store: Store, _: Clock) -> Iterator[tuple[str, bytes]]:
    for place, (_number, text) in enumerate(sorted(store.setups.texts().items()), start=1):
        document = json.loads(text)
        yield archive.file_name("setups", place, document["name"]), archive.text_of(document)


def _bring_setups(store: Store, clock: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    there = Counter(store.setups.texts().values())
    for name, found in documents:
        with _named(name):
            document = canonical(found)
            text = json.dumps(document)
            if there[text]:
                there[text] -= 1
                yield Brought(same=(document["name"],))
            else:
                yield bring_in(store, clock, SETUPS, document, None)[1]


def _shoot(store: Store, clock: Clock, number: int) -> dict[str, Any]:
    return shoot_document(store, open_shoot(store, clock, number))


def _shoot_files(store: Store, clock: Clock) -> Iterator[tuple[str, bytes]]:
    for place, number in enumerate(sorted(store.shoots.texts()), start=1):
        document = _shoot(store, clock, number)
        yield archive.file_name("shoots", place, document["name"]), archive.text_of(document)


def _bring_shoots(store: Store, clock: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    there = {archive.text_of(_shoot(store, clock, number)) for number in store.shoots.texts()}
    for name, document in documents:
        with _named(name):
            if archive.text_of(document) in there:
                yield Brought(same=(str(document["name"]),))
            else:
                _, setups = import_shoot(store, clock, document)
                yield Brought(new=(str(document["name"]),)).and_then(setups)


def _log_files(store: Store, _: Clock) -> Iterator[tuple[str, bytes]]:
    yield from log_files(store)


def _bring_log(store: Store, _: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    for name, document in documents:
        with _named(name):
            new, known = import_log(store, document)
            yield Brought(
                new=(f"{new} frames of the log",) if new else (),
                same=(f"{known} frames of the log",) if known else (),
            )


CARRIED = (
    GoesAlong(KIT, _kit_files, _bring_kit),
    GoesAlong(SETUP, _setup_files, _bring_setups),
    GoesAlong(SHOOT, _shoot_files, _bring_shoots),
    GoesAlong(LOG, _log_files, _bring_log),
)
"""What goes along, in the order in which it comes in: what others refer to comes first."""
