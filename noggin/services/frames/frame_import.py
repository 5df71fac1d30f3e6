"""Use cases of frames from files: each is read, matched to the day's set-ups by time and settings,
measured, and kept once. Files themselves are only ever read."""

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property
from hashlib import sha256
from math import log2
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from noggin.core.errors import Refused, Unreadable
from noggin.core.physics import dials
from noggin.core.planning.way import Plan
from noggin.core.units import Stops
from noggin.documents.fields import is_zone
from noggin.documents.log import FrameEntry, read_entry, written_entry
from noggin.documents.problems import BadDocument
from noggin.documents.setup import setup_of_text
from noggin.photos.exif import Exif
from noggin.photos.patches import Patch
from noggin.photos.photo import Photo, check_bytes, is_photo
from noggin.services.day.placements import SetUpSpan, all_spans
from noggin.services.frames.entry import PictureOfFrame, completed, verdict_of
from noggin.services.frames.frame_tags import put_frame
from noggin.services.frames.measured import MeasuredFile, measured_file, measured_patch
from noggin.services.frames.spot import blank_take
from noggin.services.frames.take import COLD
from noggin.services.keeping.results import plan_of_text
from noggin.store.frames import KeptTake
from noggin.store.store import Store

AROUND = timedelta(minutes=30)
"""A frame belongs to a set-up of the day this long before its start and after its end. From memory."""

NEAR_APERTURE: Stops = 1.5
NEAR_FOCAL = 1.25
"""Within what a frame's aperture and focal length are those of a set-up: a stop and a half, for advice may
have changed it; a quarter. From memory."""

YEARS = range(1970, 2100)
"""In which a frame may have been taken: a camera's clock that was never set says its first year."""

KNOWN = "is in the log already"


@dataclass(frozen=True)
class Batch:
    """How files are taken in: the zone of a camera's clock where a file does not say it, by how much that
    clock is ahead, and whether the place is kept."""

    zone: ZoneInfo = field(default_factory=lambda: ZoneInfo("UTC"))
    clock_off: timedelta = timedelta()
    keep_place: bool = False


def batch_of(zone: str = "UTC", clock_off_s: float = 0.0, *, keep_place: bool = False) -> Batch:
    """A batch by the zone's name and seconds that the clock is ahead. Raises Refused."""
    if not is_zone(zone):
        raise Refused("zone", f"{zone} is not a time zone. Try Europe/Madrid")
    if not abs(clock_off_s) <= 366 * 86400:
        raise Refused("clock", f"{clock_off_s:g} s is more than a year")
    return Batch(ZoneInfo(zone), timedelta(seconds=clock_off_s), keep_place)


@dataclass(frozen=True)
class ImportedFrame:
    """What came of one file: `new`, `known` or `skipped` with why; its frame's number and entry."""

    name: str
    state: str
    why: str = ""
    frame_id: int | None = None
    entry: FrameEntry | None = None
    sha256: str = ""


def usual_zone(store: Store) -> str:
    """The zone of the shoot that was worked on last: the best guess at what a camera's clock shows."""
    newest = store.shoots.newest(1)
    return str(store.shoots.peek(newest[0][0]).document["place"]["tz"]) if newest else "UTC"


class Matcher:
    """Which set-up a frame is of. What the days hold is read once for a batch."""

    def __init__(self, store: Store) -> None:
        self._store = store

    @cached_property
    def spans(self) -> tuple[SetUpSpan, ...]:
        """Every set-up on every day."""
        return all_spans(self._store)

    def take_of(self, taken: datetime, exif: Exif) -> tuple[KeptTake | None, str | None]:
        """The take that a frame is of, begun where there is none yet, and the shoot; (None, None) where it
        matches nothing."""
        found = [
            (max(place.start - taken, taken - place.end), index, place)
            for index, place in enumerate(self.spans)
            if place.start - AROUND <= taken <= place.end + AROUND and self._fits(place.setup_id, exif)
        ]
        under_way = self._store.takes.begun_between(taken - COLD, taken + timedelta(minutes=1))
        for take in under_way:
            if take.document.get("rehearsal") is None and self._fits(take.setup_id, exif):
                shoot = next(
                    (place.shoot for _, _, place in found if place.setup_id == take.setup_id), None
                )
                return take, shoot
        if not found:
            return None, None
        _, _, best = min(found)
        return self._begun(best, taken), best.shoot

    def _begun(self, place: SetUpSpan, taken: datetime) -> KeptTake:
        kept = self._store.setups.get(place.setup_id)
        document = blank_take(kept.document, plan_of_text(kept.text).shown.key)
        return self._store.takes.begin(place.setup_id, document, taken)

    def _fits(self, setup_id: int, exif: Exif) -> bool:
        texts = self._store.setups.texts([setup_id])
        return setup_id in texts and fits(plan_of_text(texts[setup_id]), exif)


def fits(worked_out: Plan, exif: Exif) -> bool:
    """Whether a frame may be of a set-up, by its aperture, which is near the wanted one or that of the way
    that is shown, and its focal length; what is not said fits."""
    setup = worked_out.setup
    if exif.aperture is not None:
        stops = 2 * log2(exif.aperture)
        wanted = (setup.wanted_aperture.stops, worked_out.shown.settings.aperture.stops)
        if min(abs(stops - one) for one in wanted) > NEAR_APERTURE:
            return False
    if exif.focal_mm is not None:
        apart = exif.focal_mm / setup.lens.focal_mm
        return 1 / NEAR_FOCAL <= apart <= NEAR_FOCAL
    return True


def import_frame(
    store: Store, raw: bytes, name: str, batch: Batch, matcher: Matcher | None = None
) -> ImportedFrame:
    """One file into the log. Whatever is wrong with it is said, not raised."""
    digest = sha256(raw).hexdigest()
    shown = _printable(name)
    kept = store.frames.known(digest)
    if kept:
        return ImportedFrame(shown, "known", KNOWN, kept.id, read_entry(kept.document), digest)
    try:
        measured = measured_file(store, raw, name)
        taken = _taken(measured.photo.exif, batch)
        with store.write_transaction():
            take, shoot = (matcher or Matcher(store)).take_of(taken, measured.photo.exif)
            entry = entry_of_file(measured, taken, take, shoot, keep_place=batch.keep_place)
            return _kept(store, measured.photo, entry, take, taken)
    except (Unreadable, BadDocument) as error:
        return ImportedFrame(shown, "skipped", str(error), sha256=digest)


def _taken(exif: Exif, batch: Batch) -> datetime:
    """When a file says that it was taken. Raises Unreadable where it does not, or nobody can have."""
    if exif.taken is not None and exif.taken.year not in YEARS:
        raise Unreadable(f"says that it was taken in the year {exif.taken.year}. Set the camera's clock")
    taken = exif.at(batch.zone, batch.clock_off)
    if taken is None:
        raise Unreadable("does not say when it was taken")
    return taken


def _printable(name: str) -> str:
    """A file's name as it can be shown: signs that cannot be printed, and halves of signs, are replaced."""
    return "".join(sign if sign.isprintable() else "\N{REPLACEMENT CHARACTER}" for sign in name)


def _kept(
    store: Store, photo: Photo, entry: FrameEntry, take: KeptTake | None, taken: datetime
) -> ImportedFrame:
    kept = store.frames.add(
        taken,
        written_entry(entry),
        (),
        "",
        take_id=take.id if take else None,
        sha256=photo.sha256,
        jpeg=photo.jpeg,
    )
    if kept is None:
        return ImportedFrame(photo.name, "known", KNOWN, sha256=photo.sha256)
    put_frame(store, kept, entry, take)
    return ImportedFrame(photo.name, "new", "", kept.id, entry, photo.sha256)


def entry_of_file(
    measured: MeasuredFile,
    taken: datetime,
    take: KeptTake | None,
    shoot: str | None,
    *,
    keep_place: bool,
) -> FrameEntry:
    """A file as an entry of the log: of a take where it is one's, else by itself."""
    exif = measured.photo.exif
    picture = _picture_of(take, shoot) if take else None
    figures: dict[str, Any] = {
        **measured.figures(picture.setup if picture else None),
        "taken": taken.isoformat(),
        "shoot": shoot,
        "flash": exif.flash is not False,
        "dialled": dialled_of(exif),
    }
    if keep_place and exif.place:
        figures["place"] = {"lat": exif.place[0], "lon": exif.place[1]}
    entry = read_entry(figures)
    if picture is None:
        return entry if entry.flash else entry.model_copy(update={"verdict": "daylight"})
    entry = completed(entry, picture)
    came_out = {zone: (level.value, level.uncertainty) for zone, level in entry.levels.items()}
    verdict = verdict_of(entry, came_out, needs_flash=picture.needs_flash)
    return entry.model_copy(update={"verdict": verdict})


def _picture_of(take: KeptTake, shoot: str | None) -> PictureOfFrame:
    """The picture of a take, as its set-up was then."""
    text = json.dumps(take.document["setup"])
    way = plan_of_text(text).way(take.document["way"])
    name, lesson = take.document["setup"]["name"], take.document.get("lesson", "")
    return PictureOfFrame(name, setup_of_text(text), way, shoot, lesson=lesson)


def dialled_of(exif: Exif) -> dict[str, Any] | None:
    """What a file says was dialled, on the nearest steps of the dials; None where it says too little."""
    if exif.shutter_s is None or exif.aperture is None or exif.iso is None:
        return None
    try:
        shutter = dials.shutter_dial(3).nearest(dials.shutter_stops(exif.shutter_s))
        aperture = dials.aperture_dial(3).nearest(dials.aperture_stops(exif.aperture))
        iso = dials.iso_dial().nearest(dials.iso_stops(exif.iso))
    except (Refused, ValueError):
        return None
    return {
        "shutter": shutter.label,
        "aperture": float(aperture.label),
        "iso": float(iso.label),
        "filters": [],
        "powers": {},
        "hss": False,
    }


def import_folder(store: Store, folder: Path, batch: Batch) -> Iterator[ImportedFrame]:
    """Every file of a folder and those below it, in the order of their names; what is no file of a frame is
    left alone. Raises OSError."""
    matcher = Matcher(store)
    names = [folder] if folder.is_file() else sorted(path for path in folder.rglob("*") if path.is_file())
    for path in names:
        if not is_photo(path.name):
            continue
        name = str(path.relative_to(folder)) if path != folder else path.name
        try:
            check_bytes(path.stat().st_size)
            raw = path.read_bytes()
        except Unreadable as error:
            yield ImportedFrame(_printable(name), "skipped", str(error))
            continue
        except OSError as error:
            yield ImportedFrame(_printable(name), "skipped", f"cannot be read: {error.strerror}")
            continue
        yield import_frame(store, raw, name, batch, matcher)


def patch_of(box: Sequence[str]) -> Patch:
    """A patch as it is typed: left, top, width and height in percent of the frame. Raises Refused."""
    figures = []
    for name, text in zip(("left", "top", "width", "height"), box, strict=True):
        try:
            figures.append(float(text.replace(",", ".").rstrip("% ")) / 100)
        except ValueError:
            raise Refused(name, f"{name}: {text or 'nothing'} is not a percentage") from None
    return Patch(*figures)


def measure_anew(store: Store, frame_id: int, raw: bytes, zone: str, patch: Patch) -> FrameEntry:
    """A zone of a frame by another patch of its file, which must be the very same file. Raises NotKept,
    Refused, Unreadable."""
    entry = read_entry(store.frames.get(frame_id).document)
    check_same_file(entry, raw)
    measured = measured_patch(store, raw, entry.file or "", zone, patch).measure()
    with store.write_transaction():
        kept = store.frames.get(frame_id)
        take = store.takes.get(kept.take_id) if kept.take_id else None
        setup = setup_of_text(json.dumps(take.document["setup"])) if take else None
        entry = read_entry(kept.document)
        change = {
            "patches": {**entry.patches, zone: patch.corners},
            "levels": {**entry.levels, **measured.levels(setup)},
        }
        put_frame(store, kept, entry.model_copy(update=change), take)
        return entry.model_copy(update=change)


def check_same_file(entry: FrameEntry, raw: bytes) -> None:
    """Raise Refused unless this is the very file that a frame is of."""
    if sha256(raw).hexdigest() != entry.sha256:
        raise Refused("file", "that is another file than the one this frame is of")
