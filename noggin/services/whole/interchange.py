"""Everything as open documents, out and in. What goes along is the table CARRIED: a row for each format."""

import json
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from noggin.core.errors import Refused
from noggin.documents import archive
from noggin.documents.kit import FORMAT as KIT
from noggin.documents.log import FORMAT as LOG
from noggin.documents.log import read_entry
from noggin.documents.photograph import PLACES, places_document, read_places
from noggin.documents.practice import FORMAT as PRACTICE
from noggin.documents.problems import BadDocument, Problem
from noggin.documents.setup import FORMAT as SETUP
from noggin.documents.setup import canonical
from noggin.documents.shoot import FORMAT as SHOOT
from noggin.documents.takes import (
    PICTURES,
    PICTURES_MOST,
    TAKES,
    pictures_document,
    read_pictures,
    read_takes,
    takes_document,
)
from noggin.photos.photo import is_small_jpeg
from noggin.photos.place_copy import check_copy
from noggin.services.clock import Clock
from noggin.services.day.shoot_document import import_shoot, shoot_document
from noggin.services.day.shoots import open_shoot
from noggin.services.frames.frame_tags import put_frame
from noggin.services.frames.log import import_log, log_files
from noggin.services.gear.kit_document import import_kit, kit_document
from noggin.services.keeping.kept import Brought, bring_in
from noggin.services.practice import practice
from noggin.services.setups.setups import SETUPS
from noggin.store.frames import KeptTake
from noggin.store.store import Store

TAKES_A_FILE = 1000
"""Takes in one file of an archive: some 5 MB."""

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
    set-ups, the shoots, takes at the spot, the log and its small pictures. What was archived is in a backup
    only."""
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
            named = by_format[each.format]
            # What is there already is read only where something comes that it may be the same as.
            for came in each.bring(store, clock, named) if named else ():
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


def _place_files(store: Store, _: Clock) -> Iterator[tuple[str, bytes]]:
    named = [json.loads(text)["scene"].get("photograph") for text in store.setups.texts().values()]
    names = [each["sha256"] for each in named if each]
    for place, (_name, jpeg) in enumerate(store.photographs.some(names), start=1):
        yield archive.file_name("places", place, "place"), archive.text_of(places_document([jpeg]))


def _bring_places(store: Store, _: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    for name, document in documents:
        with _named(name):
            jpegs = read_places(document)
            for jpeg in jpegs:
                check_copy(jpeg)
            there = store.photographs.names()
            new = sum(store.photographs.put(jpeg) not in there for jpeg in jpegs)
            yield _counted(new, len(jpegs) - new, "pictures of places")


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
            yield _counted(new, known, "frames of the log")


def _take_files(store: Store, _: Clock) -> Iterator[tuple[str, bytes]]:
    named = {number: json.loads(text)["name"] for number, text in store.setups.texts().items()}
    takes = [
        take_out(
            take.document,
            named[take.setup_id],
            take.begun_at,
            [frame.document["taken"] for frame in store.frames.of_take(take.id)],
        )
        for take in store.takes.all()
        if take.setup_id in named
    ]
    for place, first in enumerate(range(0, len(takes), TAKES_A_FILE), start=1):
        document = takes_document(takes[first : first + TAKES_A_FILE])
        yield archive.file_name("takes", place, "takes"), archive.text_of(document)


LOOK_PARTS = ("looks", "look", "ended")
"""What a take's document has of its looks."""


def take_out(kept: Mapping[str, Any], name: str, begun: datetime, taken: list[str]) -> dict[str, Any]:
    """A take as it goes along: its document as it is kept, the name of its set-up, when it was begun, and
    the instants of its frames."""
    rehearsal = kept.get("rehearsal")
    return {
        "of": name,
        "begun": begun.isoformat(),
        **{part: kept[part] for part in ("setup", "way", "ticked", "left_alone")},
        "lesson": kept.get("lesson", ""),
        **{part: kept[part] for part in LOOK_PARTS if kept.get(part)},
        "frames": taken,
        "rehearsal": rehearsal["seed"] if rehearsal else None,
    }


def _bring_takes(store: Store, _: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    for name, document in documents:
        with _named(name):
            new = known = 0
            for take, setup in read_takes(document):
                number, begun = store.setups.named(take.of), datetime.fromisoformat(take.begun)
                if number is None:
                    raise BadDocument(
                        [Problem("takes", f"no set-up is called ‘{take.of}’: take it in first")]
                    )
                last = store.takes.latest(number, begun)
                if last and last.begun_at == begun:
                    known += 1
                    continue
                parts = {"way", "ticked", "left_alone", "lesson", *LOOK_PARTS}
                kept = take.model_dump(mode="json", include=parts)
                rehearsal = None if take.rehearsal is None else {"seed": take.rehearsal}
                begun_take = store.takes.begin(
                    number, {"setup": setup, "rehearsal": rehearsal, **kept}, begun
                )
                for taken in take.frames:
                    _put_with(store, begun_take, take.of, datetime.fromisoformat(taken))
                new += 1
            yield _counted(new, known, "takes")


def _put_with(store: Store, take: KeptTake, name: str, taken: datetime) -> None:
    for frame in store.frames.at(taken):
        entry = read_entry(frame.document)
        if entry.setup == name:
            put_frame(store, frame, entry, take)


def _picture_files(store: Store, _: Clock) -> Iterator[tuple[str, bytes]]:
    for place, pictures in enumerate(store.frames.pictures(PICTURES_MOST), start=1):
        yield archive.file_name("pictures", place, "pictures"), archive.text_of(pictures_document(pictures))


def _bring_pictures(store: Store, _: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    for name, document in documents:
        with _named(name):
            pictures = read_pictures(document)
            for digest, jpeg in pictures:
                if not is_small_jpeg(jpeg):
                    raise BadDocument([Problem(digest, "is no small JPEG")])
                if store.frames.known(digest) is None:
                    raise BadDocument(
                        [Problem(digest, "no frame of the log has this file: take the log in first")]
                    )
            new = sum(store.frames.put_picture(digest, jpeg) for digest, jpeg in pictures)
            yield _counted(new, len(pictures) - new, "pictures of frames")


def _counted(new: int, known: int, what: str) -> Brought:
    return Brought(
        new=(f"{new} {what}",) if new else (),
        same=(f"{known} {what}",) if known else (),
    )


def _practice_files(store: Store, _: Clock) -> Iterator[tuple[str, bytes]]:
    if store.practice.all():
        yield "practice.json", archive.text_of(practice.document(store))


def _bring_practice(store: Store, _: Clock, documents: Iterable[Named]) -> Iterator[Brought]:
    for name, document in documents:
        with _named(name):
            yield practice.import_practice(store, document)


CARRIED = (
    GoesAlong(KIT, _kit_files, _bring_kit),
    GoesAlong(SETUP, _setup_files, _bring_setups),
    GoesAlong(PLACES, _place_files, _bring_places),
    GoesAlong(SHOOT, _shoot_files, _bring_shoots),
    GoesAlong(LOG, _log_files, _bring_log),
    GoesAlong(TAKES, _take_files, _bring_takes),
    GoesAlong(PICTURES, _picture_files, _bring_pictures),
    GoesAlong(PRACTICE, _practice_files, _bring_practice),
)
"""What goes along, in the order in which it comes in: what others refer to comes first."""
