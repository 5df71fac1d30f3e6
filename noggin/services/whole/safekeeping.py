"""Use cases of keeping everything safe: copies of the database, everything as open documents, and what to
do with a file that is not right."""

import json
import os
import shutil
import tempfile
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event

from noggin.core.errors import NogginError
from noggin.documents import archive
from noggin.documents.json_input import read_object
from noggin.documents.kit import canonical_measurement
from noggin.documents.log import FORMAT as LOG
from noggin.documents.problems import BadDocument
from noggin.documents.takes import pictures_document, takes_document
from noggin.services.clock import Clock
from noggin.services.day.shoots import SHOOTS
from noggin.services.frames.log import import_log
from noggin.services.gear.bags import BAGS
from noggin.services.keeping.kept import Brought, bring_in
from noggin.services.whole.interchange import bring_everything, everything, take_out
from noggin.services.whole.opening import make_ready
from noggin.services.whole.readable import KINDS, problem_with
from noggin.store import database_file
from noggin.store import salvage as salvage_rows
from noggin.store.errors import StoreDamaged, StoreUnreadable, StoreUnusable
from noggin.store.own_schema import foreign_parts
from noggin.store.store import SET_ASIDE, Store

COPIES_KEPT = database_file.COPIES_KEPT

EVERY = timedelta(hours=24)
"""How often an automatic copy is made where something changed."""

LOOKED_S = 600.0
"""Seconds between looks whether a copy is due."""


def must_be_there(path: Path) -> None:
    """Raise StoreUnreadable where there is no such file."""
    if not path.is_file():
        raise StoreUnreadable(f"There is no file {path}")


@dataclass(frozen=True)
class Copy:
    """A copy of the database: its file, when it was made, and its size in bytes."""

    path: Path
    made: datetime
    size: int


def copies(store: Store) -> tuple[Copy, ...]:
    """The automatic copies that are there, the newest first."""
    return tuple(_copy(path) for path in database_file.copies(store.path))


def _copy(path: Path) -> Copy:
    state = path.stat()
    return Copy(path, datetime.fromtimestamp(state.st_mtime).astimezone(), state.st_size)


def backup(store: Store, target: Path) -> Copy:
    """Copy the database, as it is at one moment, to a new file. Raises FileExistsError, OSError,
    StoreUnusable."""
    store.copy_to(target)
    return _copy(target)


def copy_if_due(store: Store, clock: Clock) -> Path | None:
    """Make the day's automatic copy where something changed since the last one; its file. Raises OSError,
    StoreUnusable."""
    now = clock()
    # One that was made with the clock ahead says nothing of today.
    last = next((copy for copy in copies(store) if copy.made <= now), None)
    if last and (now - last.made < EVERY or not store.changed_since(last.made.timestamp())):
        return None
    return store.keep_copy(now, "daily")


def keep_copying(store: Store, clock: Clock, stop: Event, told: Callable[[str], object]) -> None:
    """Make the day's copy when it is due, now and again until `stop`; `told` is what went wrong."""
    while True:
        try:
            copy_if_due(store, clock)
        except (StoreUnusable, OSError) as error:
            told(f"No copy of the database could be made: {error}")
        if stop.wait(LOOKED_S):
            return


def restore(path: Path, source: Path, clock: Clock) -> Path | None:
    """Put a backup in the place of a database; programs that have it open go on with what was put back.
    Where what was there is kept aside (None: nothing was there). The copy lies complete and checked beside
    the database before anything of that is touched: on any failure it is as it was. Raises StoreUnusable,
    OSError."""
    must_be_there(source)
    if database_file.version(source) is None:
        raise StoreUnreadable(f"{source} is empty")
    ready = path.with_name(f".{path.name}.restoring-{os.getpid()}")
    try:
        with tempfile.TemporaryDirectory() as folder:
            checked = Path(folder) / "restored.sqlite3"
            database_file.copy(source, checked)
            _must_be_ours(checked, source)
            Store.on_file(checked, clock()).close()  # one of an older Noggin is brought up to date first
            database_file.copy(checked, ready)
        return _put_in_place(ready, path, clock())
    finally:
        ready.unlink(missing_ok=True)


def _must_be_ours(copy: Path, source: Path) -> None:
    """Raise StoreUnusable for a copy of a backup that is not whole, or holds what Noggin did not make."""
    foreign = foreign_parts(copy)
    if foreign:
        out = "‘noggin salvage’ writes out what can be read of it, to be taken in with ‘noggin import’"
        raise StoreUnreadable(
            f"{source} is not as Noggin makes a database: {', '.join(foreign[:3])}. {out}"
        )
    broken = database_file.problems(copy)
    if broken:
        raise StoreDamaged(source, broken[0])


def _put_in_place(ready: Path, path: Path, now: datetime) -> Path | None:
    if not path.exists():
        database_file.take_place(ready, path)
        return None
    if not path.stat().st_size:
        database_file.put_back(ready, path)
        return None
    try:
        aside = database_file.keep_copy(path, now, "before-restore")
    except StoreUnreadable:
        # Only what really cannot be read: a disk that is full says nothing of the file.
        aside = database_file.copy_name(path, now, "unreadable")
        database_file.keep_aside(path, aside)
        database_file.take_place(ready, path)
        return aside
    database_file.put_back(ready, path)
    return aside


def restore_into(store: Store, clock: Clock, raw: bytes) -> Path | None:
    """Put a backup, given as its bytes, in the place of everything in a store that is open; where what was
    there is kept aside. Raises StoreUnusable, OSError."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "the file"
        source.write_bytes(raw)
        try:
            aside = restore(store.path, source, clock)
        except StoreUnusable as error:
            raise StoreUnreadable(str(error).replace(str(source), "The file")) from None
    make_ready(store)
    return aside


def backup_bytes(store: Store) -> bytes:
    """A copy of the database as it is at one moment. Raises OSError, StoreUnusable."""
    with tempfile.TemporaryDirectory() as folder:
        return backup(store, Path(folder) / "copy.sqlite3").path.read_bytes()


def export(store: Store, clock: Clock, target: Path) -> int:
    """Write every document to a new or empty folder, or to a new ZIP; how many. Raises FileExistsError,
    OSError."""
    if target.suffix.lower() != ".zip":
        return archive.write_folder(everything(store, clock), target)
    files = list(everything(store, clock))
    with target.open("xb") as file:
        file.write(archive.zipped(files))
    return len(files)


def import_from(store: Store, clock: Clock, source: Path) -> Brought:
    """Take in a folder, a ZIP or one file of documents. Raises BadDocument, OSError."""
    return bring_everything(store, clock, archive.read_path(source))


def zip_of_everything(store: Store, clock: Clock) -> bytes:
    """Every document in one ZIP."""
    return archive.zipped(everything(store, clock))


def bring_zip(store: Store, clock: Clock, raw: bytes) -> Brought:
    """Take in a ZIP of documents, or one document. Raises BadDocument."""
    if raw.lstrip()[:1] == b"{":
        return bring_everything(store, clock, [("the file", read_object(raw, archive.FILE_MOST))])
    return bring_everything(store, clock, archive.read_zip(raw))


@dataclass(frozen=True)
class Health:
    """How the database is: its size and the room beside it, in bytes, and the last automatic copy."""

    size: int
    free: int
    last_copy: datetime | None


def health(store: Store) -> Health:
    """Whether the database can be read, now. Raises StoreUnusable, OSError."""
    with store.read_transaction():
        store.setups.latest()
    last = next(iter(copies(store)), None)
    free = shutil.disk_usage(store.path.parent).free
    return Health(store.path.stat().st_size, free, last.made if last else None)


def problems(path: Path) -> tuple[str, ...]:
    """Everything that is wrong with a database file: what SQLite finds, and documents that cannot be read.
    Raises StoreUnusable for one that cannot be looked into."""
    must_be_there(path)
    found = list(database_file.problems(path))
    with suppress(StoreDamaged):  # told already
        found += foreign_parts(path)
    for row in salvage_rows.documents(path):
        problem = problem_with(row.kind, row.text)
        if problem:
            found.append(f"{row.kind.removeprefix(SET_ASIDE)} {row.id}: {problem}")
    return tuple(found)


@dataclass(frozen=True)
class Salvaged:
    """What was written out of a damaged database: how many files with documents that can be taken in again,
    and the files of those that cannot be read as they are."""

    documents: int
    unreadable: tuple[Path, ...]


def salvage(path: Path, folder: Path, clock: Clock) -> Salvaged:
    """Write every document of a damaged database that can still be read to a new or empty folder, to be
    taken in elsewhere; the file itself is not touched. Raises FileExistsError, OSError, StoreUnusable."""
    must_be_there(path)
    unreadable = []
    with tempfile.TemporaryDirectory() as aside:
        path = salvage_rows.beside(path, Path(aside))
        store = Store.on_file(Path(aside) / "salvaged.sqlite3", clock())
        numbers: dict[int, int] = {}
        for row in sorted(salvage_rows.documents(path), key=_place):
            try:
                if row.present:
                    numbers[row.id] = _put_again(store, clock, row, numbers)
            except (NogginError, ValueError, KeyError):
                unreadable.append(row)
        for reading in salvage_rows.measurements(path):
            with suppress(BadDocument, ValueError):
                if reading.gear_id in numbers:
                    store.measurements.add(
                        numbers[reading.gear_id], canonical_measurement(json.loads(reading.text))
                    )
        for jpeg in salvage_rows.photographs(path):
            store.photographs.put(jpeg)
        _put_log_again(store, clock, path, numbers)
        written = archive.write_folder(everything(store, clock), folder)
        store.close()
    return Salvaged(written, tuple(_written_as_it_is(folder, row) for row in unreadable))


def _put_log_again(store: Store, clock: Clock, path: Path, numbers: Mapping[int, int]) -> None:
    """Frames, takes and small pictures, each that can be read; `numbers` are those that set-ups have
    now."""
    logged = {row.id: row for row in salvage_rows.frames(path)}
    for row in logged.values():
        with suppress(BadDocument, ValueError):
            import_log(store, {"format": LOG, "version": 1, "frames": [json.loads(row.text)]})
    names = {number: json.loads(text)["name"] for number, text in store.setups.texts().items()}
    for take in salvage_rows.takes(path):
        with suppress(BadDocument, ValueError, KeyError):
            of, begun = (
                names[numbers[take.setup_id]],
                datetime.fromisoformat(take.begun).replace(tzinfo=UTC),
            )
            taken = [json.loads(row.text)["taken"] for row in logged.values() if row.take_id == take.id]
            document = takes_document([take_out(json.loads(take.text), of, begun, taken)])
            bring_everything(store, clock, [("takes", document)])
    for number, jpeg in salvage_rows.pictures(path):
        with suppress(BadDocument, KeyError):
            digest = logged[number].sha256 or ""
            bring_everything(store, clock, [("pictures", pictures_document({digest: jpeg}))])


def _place(row: salvage_rows.Row) -> int:
    """What refers to others comes after them."""
    kinds = list(KINDS)
    plain = row.kind.removeprefix(SET_ASIDE)
    return kinds.index(plain) if plain in kinds else len(kinds)


def _put_again(store: Store, clock: Clock, row: salvage_rows.Row, numbers: dict[int, int]) -> int:
    """A document in another database, where what it refers to has other numbers."""
    document, kind = json.loads(row.text), KINDS[row.kind.removeprefix(SET_ASIDE)]
    if kind is BAGS:
        document["gear"] = [numbers[number] for number in document["gear"] if number in numbers]
    if kind is SHOOTS:
        slots = [slot for slot in document["slots"] if slot["setup"] in numbers]
        document["slots"] = [{**slot, "setup": numbers[slot["setup"]]} for slot in slots]
    return bring_in(store, clock, kind, kind.canonical(document), None)[0]


def _written_as_it_is(folder: Path, row: salvage_rows.Row) -> Path:
    target = folder / "unreadable" / f"{row.kind.removeprefix(SET_ASIDE)}-{row.id}.txt"
    target.parent.mkdir(exist_ok=True)
    target.write_text(row.text)
    return target
