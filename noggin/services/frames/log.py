"""Use cases of the log: every frame, newest first, found by what it is of; out and in as open documents."""

import json
import re
from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime
from itertools import chain, count, islice
from typing import Any

from noggin.core.errors import Refused
from noggin.core.units import Stops
from noggin.core.wording import signed
from noggin.documents.archive import file_name, text_of, zipped
from noggin.documents.csv_table import written as as_csv
from noggin.documents.log import FORMAT as LOG
from noggin.documents.log import NOTE_LENGTH, FrameEntry, read_entry, read_log, streamed, written_entry
from noggin.documents.problems import BadDocument
from noggin.documents.xmp import sidecar
from noggin.forms.change import with_frames
from noggin.services.clock import Clock
from noggin.services.frames.frame_tags import VERDICTS, put_frame, tags_of, words_of
from noggin.services.frames.spot import corrections_of_take
from noggin.services.keeping import kept
from noggin.services.keeping.kept import unused
from noggin.services.keeping.results import plan_of_text
from noggin.services.setups.setups import SETUPS
from noggin.services.setups.two_pictures import PictureChoice
from noggin.store.frames import KeptFrame, KeptTake, Wanted
from noggin.store.repository import NotKept
from noggin.store.store import Store

__all__ = [
    "FILTERS",
    "FrameEntry",
    "LogPage",
    "LoggedFrame",
    "Wanted",
    "like_that_day",
    "page",
    "wanted_of",
]

PAGE_SIZE = 40
"""Frames on a page of the log."""

FILTERS = {
    "setup": "set-up",
    "shoot": "shoot",
    "light": "light",
    "modifier": "modifier",
    "way": "method",
    "sun": "sun's height",
    "place": "place",
    "verdict": "what came of it",
}
"""What the log is filtered by, as kinds of tag, and what each is called."""

SIDECARS_MOST = 500
"""XMP sidecars in one ZIP."""


def planned_picture(store: Store, frame_id: int) -> PictureChoice | None:
    """The picture that a frame's take planned, by the set-up as it was then; None for a frame without a
    take. Raises NotKept."""
    take_id = store.frames.get(frame_id).take_id
    if take_id is None:
        return None
    take = store.takes.get(take_id).document
    plan = plan_of_text(json.dumps(take["setup"]))
    way = plan.way(take["way"])
    return PictureChoice("planned", f"Planned: {way.label}", plan.setup, way)


@dataclass(frozen=True)
class LoggedFrame:
    """A frame in the log."""

    id: int
    place: int
    take_id: int | None
    entry: FrameEntry
    has_picture: bool

    @property
    def taken(self) -> datetime:
        """When."""
        return datetime.fromisoformat(self.entry.taken)

    @property
    def shot(self) -> Mapping[str, tuple[Stops, Stops]]:
        """Level and ± of every zone that was read."""
        return {zone: (level.value, level.uncertainty) for zone, level in self.entry.levels.items()}

    @property
    def rows(self) -> tuple[tuple[str, Stops | None, Stops | None, Stops | None], ...]:
        """What was meant and what was shot, zone by zone: zone, meant, shot, ± of that."""
        entry = self.entry
        zones = [
            zone
            for zone in ("subject", "background", "sky", "rim")
            if zone in entry.levels or zone in entry.meant
        ]
        return tuple(
            (
                zone,
                entry.meant.get(zone),
                entry.levels[zone].value if zone in entry.levels else None,
                entry.levels[zone].uncertainty if zone in entry.levels else None,
            )
            for zone in zones
        )


@dataclass(frozen=True)
class LogPage:
    """A part of the log, where the next one begins (None: this is the last), and how many frames of it
    cannot be read: another program changed their rows."""

    frames: tuple[LoggedFrame, ...]
    before: int | None
    unreadable: int = 0


def wanted_of(asked: Mapping[str, str]) -> Wanted:
    """What is asked for on a page or in a command: a value for each of FILTERS, and words to `find`."""
    tags = tuple((kind, asked[kind]) for kind in FILTERS if asked.get(kind))
    find = "".join(sign for sign in asked.get("find", "")[:200] if sign.isprintable())
    return Wanted(tags, find)


def page(store: Store, wanted: Wanted, before: int | None = None, most: int = PAGE_SIZE) -> LogPage:
    """A page of the log."""
    with store.read_transaction():
        found = store.frames.page(most + 1, wanted, before)
        more, shown = len(found) > most, found[:most]
        frames = _logged(store, shown)
        return LogPage(frames, found[most - 1].place if more else None, len(shown) - len(frames))


def one(store: Store, frame_id: int) -> LoggedFrame:
    """One frame. Raises NotKept, BadDocument."""
    with store.read_transaction():
        kept = store.frames.get(frame_id)
        return _read(kept, kept.id in store.frames.with_pictures([kept.id]))


def of_same_take(store: Store, frame: LoggedFrame) -> tuple[LoggedFrame, ...]:
    """Every frame of the take that a frame is of, the first one first."""
    if frame.take_id is None:
        return (frame,)
    with store.read_transaction():
        return _logged(store, store.frames.of_take(frame.take_id))


def _logged(store: Store, found: Sequence[KeptFrame]) -> tuple[LoggedFrame, ...]:
    """Frames as they are shown; those that cannot be read are left out."""
    pictures = store.frames.with_pictures([frame.id for frame in found])
    shown = []
    for frame in found:
        with suppress(BadDocument):  # it is counted, and told on the page
            shown.append(_read(frame, frame.id in pictures))
    return tuple(shown)


def _read(frame: KeptFrame, has_picture: bool) -> LoggedFrame:
    return LoggedFrame(frame.id, frame.place, frame.take_id, read_entry(frame.document), has_picture)


def values(store: Store) -> Mapping[str, tuple[str, ...]]:
    """Every value that each filter can have."""
    with store.read_transaction():
        return {kind: store.frames.values(kind) for kind in FILTERS}


def keep_note(store: Store, frame_id: int, note: str) -> None:
    """A note on a frame. Raises NotKept, Refused."""
    if len(note) > NOTE_LENGTH:
        raise Refused("note", f"{len(note):,} characters are more than {NOTE_LENGTH:,}")
    with store.write_transaction():
        frame = store.frames.get(frame_id)
        entry = read_entry({**frame.document, "note": note.strip()})
        put_frame(store, frame, entry, _take_of(store, frame))


def put_with(store: Store, frame_id: int, setup_id: int) -> None:
    """A frame to a set-up by hand: into its latest take, or a fresh one. Raises NotKept."""
    with store.write_transaction():
        frame, document = store.frames.get(frame_id), store.setups.get(setup_id)
        entry = read_entry(frame.document)
        take = store.takes.latest(setup_id)
        if take is None:
            raise NotKept("Nothing was shot of that set-up yet. Begin with its page “Shoot this set-up”.")
        given = {**written_entry(entry), "setup": document.document["name"], "way": take.document["way"]}
        put_frame(store, frame, read_entry(given), take)


def remove(store: Store, frame_id: int) -> None:
    """A frame out of the log; its file is left alone. Raises NotKept."""
    store.frames.remove(frame_id)


def _take_of(store: Store, frame: KeptFrame) -> KeptTake | None:
    return store.takes.get(frame.take_id) if frame.take_id else None


def like_that_day(store: Store, clock: Clock, frame_id: int) -> int:
    """A new set-up like that of a frame's take, with what was learned in it; its number. Raises NotKept,
    Refused where the frame is of no set-up."""
    with store.write_transaction():
        frame = store.frames.get(frame_id)
        take = _take_of(store, frame)
        if take is None:
            raise Refused("frame", "this frame is of no set-up. Put it with one first")
        begun = take.document["setup"]
        document = with_frames(begun, begun, *corrections_of_take(store, take))
        day = datetime.fromisoformat(frame.document["taken"])
        name = f"{begun['name'][:80]}, as on {day:%d %B %Y}"
        document["name"] = unused(name, store.setups.names())
        return kept.add(store, clock, SETUPS, SETUPS.canonical(document)).id


def log_json(store: Store, wanted: Wanted, since: date | None = None) -> Iterator[str]:
    """The log as an open document, piece by piece, newest first."""
    return streamed(
        json.dumps(frame.document, ensure_ascii=False) for frame in _since(store, wanted, since)
    )


def since(store: Store, wanted: Wanted, day: date | None) -> Iterator[LoggedFrame]:
    """Frames from a day on, newest first; nothing is said of their pictures."""
    for frame in _since(store, wanted, day):
        yield _read(frame, False)


def _since(store: Store, wanted: Wanted, since: date | None) -> Iterator[KeptFrame]:
    for frame in store.frames.all(wanted):
        if since is not None and datetime.fromisoformat(frame.document["taken"]).date() < since:
            return
        yield frame


COLUMNS = (
    "taken", "setup", "shoot", "way", "shutter", "aperture", "iso", "filters", "powers", "flash",
    "face meant", "face shot", "background meant", "background shot", "verdict", "file", "note",
)  # fmt: skip
"""Columns of the log as CSV. Levels in stops from mid-tone."""


def log_csv(store: Store, wanted: Wanted, since: date | None = None) -> str:
    """The log as a table."""
    rows = (_csv_row(read_entry(frame.document)) for frame in _since(store, wanted, since))
    return as_csv([COLUMNS, *rows])


def _csv_row(entry: FrameEntry) -> tuple[str, ...]:
    dialled = entry.dialled
    exposure = (
        (f"{dialled.shutter:g}", f"{dialled.aperture:g}", f"{dialled.iso:g}", " + ".join(dialled.filters))
        if dialled
        else ("", "", "", "")
    )
    powers = ", ".join(f"{name} {power}" for name, power in dialled.powers.items()) if dialled else ""

    def level(found: Stops | None) -> str:
        return "" if found is None else signed(found)

    def shot(zone: str) -> str:
        return level(entry.levels[zone].value if zone in entry.levels else None)

    return (
        entry.taken,
        entry.setup or "",
        entry.shoot or "",
        entry.way or "",
        *exposure,
        powers,
        "yes" if entry.flash else "no",
        level(entry.meant.get("subject")),
        shot("subject"),
        level(entry.meant.get("background")),
        shot("background"),
        VERDICTS.get(entry.verdict or "", ""),
        entry.file or "",
        entry.note,
    )


FRAMES_A_FILE = 10_000
"""Frames in one file of an archive: some 15 MB."""


def log_files(store: Store) -> Iterator[tuple[str, bytes]]:
    """The log as files of an archive, by their names; none where there is no frame."""
    frames = store.frames.all(Wanted())
    number = 1
    while some := list(islice(frames, FRAMES_A_FILE)):
        document = {"format": LOG, "version": 1, "frames": [frame.document for frame in some]}
        yield file_name("log", number, "log"), text_of(document)
        number += 1


def sidecars(store: Store, wanted: Wanted) -> Iterator[tuple[str, bytes]]:
    """XMP sidecars of the frames that have a file, by the name that goes beside it."""
    given = set[str]()
    for frame in store.frames.all(wanted):
        entry = read_entry(frame.document)
        if entry.file is None:
            continue
        if len(given) == SIDECARS_MOST:
            return
        name = beside_names(entry.file, given)
        given.add(name.lower())
        yield name, sidecar(entry)


def beside_names(file: str, given: set[str]) -> str:
    r"""Where the sidecar of a file goes in an archive: below it, whatever the file's own name says, and by
    a name that none of those `given` (in small letters) has.

    >>> beside_names("../../card/IMG_1.jpg", set()), beside_names(r"C:\day\IMG_1.dng", {"day/img_1.xmp"})
    ('card/IMG_1.xmp', 'day/IMG_1.dng.xmp')
    """
    plain = "".join(sign if sign.isprintable() and sign not in '<>:"|?*' else "_" for sign in file)
    parts = [part.strip(". ") for part in re.split(r"[/\\]", re.sub(r"^[A-Za-z]_[/\\]", "", plain))]
    path = "/".join(part for part in parts if part) or "frame"
    stem = path.rpartition(".")[0] if "." in path.rpartition("/")[2] else path
    numbered = (f"{path} {number}.xmp" for number in count(2))
    names = chain((f"{stem}.xmp", f"{path}.xmp"), numbered)
    return next(name for name in names if name.lower() not in given)


def sidecars_zip(store: Store, wanted: Wanted) -> bytes:
    """The same in one ZIP."""
    return zipped(sidecars(store, wanted))


def import_log(store: Store, found: dict[str, Any]) -> tuple[int, int]:
    """Frames of a parsed log; how many are new, and how many were there already: those of the same file,
    or of the same moment, set-up and settings. They come in in pieces that are each whole, so that others
    can write meanwhile. Raises BadDocument."""
    entries = read_log(found)
    new = 0
    for first in range(0, len(entries), A_PIECE):
        with store.write_transaction():
            new += sum(_brought(store, entry) for entry in entries[first : first + A_PIECE])
    return new, len(entries) - new


A_PIECE = 100
"""Frames that come in in one transaction: about a second."""


def _brought(store: Store, entry: FrameEntry) -> bool:
    taken = datetime.fromisoformat(entry.taken)
    document = written_entry(entry)
    if store.frames.same(taken, document):
        return False
    setup_id = store.setups.named(entry.setup) if entry.setup else None
    take = store.takes.latest(setup_id) if setup_id else None
    near = take if take and abs((taken - take.begun_at).total_seconds()) < DAY_S else None
    added = store.frames.add(
        taken,
        document,
        tuple(tags_of(entry, near)),
        words_of(entry),
        take_id=near.id if near else None,
        sha256=entry.sha256,
    )
    return added is not None


DAY_S = 12 * 3600
"""Seconds within which a frame that is brought in is of a take."""


def is_empty(store: Store) -> bool:
    """Whether no frame is in it."""
    return not store.frames.any()
