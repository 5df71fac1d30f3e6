"""Use cases of frames from files: each is read, matched to the day's set-ups by time and settings,
measured, and kept once. Files themselves are only ever read."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from hashlib import sha256
from math import hypot, log2
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from noggin.core.daylight.sun import sun_at
from noggin.core.errors import Refused, Unreadable
from noggin.core.limits import check_choice
from noggin.core.physics import dials
from noggin.core.physics.appearance import SKINS
from noggin.core.planning.way import Plan
from noggin.core.pops.frame import TRUST
from noggin.core.pops.next_change import NEAR
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.documents.fields import is_zone
from noggin.documents.log import FrameEntry, read_entry, written_entry
from noggin.photos.exif import Exif
from noggin.photos.patches import Patch, PatchTone, find_patches, histogram, measure
from noggin.photos.photo import Photo, is_photo, read_photo
from noggin.services.clock import Clock
from noggin.services.day.shoots import listed_shoots, open_shoot
from noggin.services.frames.frame_tags import put_frame
from noggin.services.frames.spot import blank_take, meant_and_planned
from noggin.services.frames.take import COLD
from noggin.services.gear.camera_curves import curve_of
from noggin.services.keeping.results import plan_of_text, setup_of_text
from noggin.store.frames import KeptFrame, KeptTake
from noggin.store.store import Store

AROUND = timedelta(minutes=30)
"""A frame belongs to a set-up of the day this long before its start and after its end. From memory."""

NEAR_APERTURE: Stops = 1.5
NEAR_FOCAL = 1.25
"""Within what a frame's aperture and focal length are those of a set-up: a stop and a half, for advice may
have changed it; a quarter. From memory."""

SKIN_UNKNOWN: Stops = 0.9
"""± that skin of which nothing is said adds: fair to deep are 2 stops. From SKINS."""

KNOWN = "is in the log already"

ALL_ZONES = dict.fromkeys(ZONES)


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


@dataclass(frozen=True)
class _SetUpOfDay:
    """A set-up on a day: from when to when, its shoot."""

    setup_id: int
    start: datetime
    end: datetime
    shoot: str


def usual_zone(store: Store) -> str:
    """The zone of the shoot that was worked on last: the best guess at what a camera's clock shows."""
    newest = store.shoots.newest(1)
    return str(store.shoots.peek(newest[0][0]).document["place"]["tz"]) if newest else "UTC"


class Matcher:
    """Which set-up a frame is of. What the days hold is read once for a batch."""

    def __init__(self, store: Store, clock: Clock) -> None:
        self._store, self._clock = store, clock
        self._places: list[_SetUpOfDay] | None = None

    @property
    def places(self) -> list[_SetUpOfDay]:
        """Every set-up on every day."""
        if self._places is None:
            self._places = [
                _SetUpOfDay(placed.setup_id, placed.slot.start, placed.slot.end, day.name)
                for shoot in _all_shoots(self._store)
                for day in (open_shoot(self._store, self._clock, shoot),)
                for placed in day.slots
                if placed.slot
            ]
        return self._places

    def take_of(self, taken: datetime, exif: Exif) -> tuple[KeptTake | None, str | None]:
        """The take that a frame is of, begun where there is none yet, and the shoot; (None, None) where it
        matches nothing."""
        found = [
            (max(place.start - taken, taken - place.end), index, place)
            for index, place in enumerate(self.places)
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

    def _begun(self, place: _SetUpOfDay, taken: datetime) -> KeptTake:
        kept = self._store.setups.get(place.setup_id)
        document = blank_take(kept.document, plan_of_text(kept.text).shown.key)
        return self._store.takes.begin(place.setup_id, document, taken)

    def _fits(self, setup_id: int, exif: Exif) -> bool:
        texts = self._store.setups.texts([setup_id])
        return setup_id in texts and fits(plan_of_text(texts[setup_id]), exif)


def _all_shoots(store: Store) -> Iterator[int]:
    offset: int | None = 0
    while offset is not None:
        rows, offset = listed_shoots(store, offset)
        yield from (row.id for row in rows)


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
    store: Store, clock: Clock, raw: bytes, name: str, batch: Batch, matcher: Matcher | None = None
) -> ImportedFrame:
    """One file into the log. Whatever is wrong with it is said, not raised."""
    digest = sha256(raw).hexdigest()
    kept = store.frames.known(digest)
    if kept:
        return ImportedFrame(name, "known", KNOWN, kept.id, read_entry(kept.document), digest)
    try:
        photo = read_photo(raw, name)
    except Unreadable as error:
        return ImportedFrame(name, "skipped", str(error), sha256=digest)
    taken = photo.exif.at(batch.zone, batch.clock_off)
    if taken is None:
        return ImportedFrame(name, "skipped", "does not say when it was taken", sha256=digest)
    with store.write_transaction():
        take, shoot = (matcher or Matcher(store, clock)).take_of(taken, photo.exif)
        entry = entry_of_photo(store, photo, taken, take, shoot, keep_place=batch.keep_place)
        return _kept(store, photo, entry, take, taken)


def _kept(
    store: Store, photo: Photo, entry: FrameEntry, take: KeptTake | None, taken: datetime
) -> ImportedFrame:
    found = store.frames.add(
        taken,
        written_entry(entry),
        (),
        "",
        take_id=take.id if take else None,
        sha256=photo.sha256,
        jpeg=photo.jpeg,
    )
    if found is None:
        return ImportedFrame(photo.name, "known", KNOWN, sha256=photo.sha256)
    put_frame(store, found, entry, take)
    return ImportedFrame(photo.name, "new", "", found.id, entry, photo.sha256)


def entry_of_photo(
    store: Store,
    photo: Photo,
    taken: datetime,
    take: KeptTake | None,
    shoot: str | None,
    *,
    keep_place: bool,
) -> FrameEntry:
    """A file as an entry of the log, its zones measured where they are found."""
    exif = photo.exif
    setup = setup_of_take(take) if take else None
    zones = ALL_ZONES if setup is None else dict.fromkeys(zone for zone in ZONES if _has(setup, zone))
    patches = find_patches(photo, zones)
    curve = curve_of(store, exif.body) if photo.by == "jpeg" else None
    measured = {zone: measure(photo, patch, curve) for zone, patch in patches.items()}
    given: dict[str, Any] = {
        "taken": taken.isoformat(),
        "file": photo.name,
        "sha256": photo.sha256,
        "shoot": shoot,
        "flash": exif.flash is not False,
        "dialled": dialled_of(exif),
        "exif": exif.settings(),
        "patches": {zone: patch.corners for zone, patch in patches.items()},
        "histogram": [round(part, 5) for part in histogram(photo)],
        "levels": levels_of(setup, measured, "jpeg_fitted" if curve else photo.by),
    }
    if keep_place and exif.place:
        given["place"] = {"lat": exif.place[0], "lon": exif.place[1]}
    if take and setup:
        given |= _of_take(take, setup)
        if setup.scene.moment:
            here = setup.scene.moment.place
            given["sun_deg"] = round(sun_at(here.lat, here.lon, taken).height_deg, 1)
        given["verdict"] = _verdict(given)
    return read_entry(given)


def _verdict(given: Mapping[str, Any]) -> str | None:
    """What came of a frame, as far as its file says it: off by more than its ± is off."""
    if not given["flash"]:
        return "daylight"
    levels, meant = given["levels"], given["meant"]
    if not all(zone in levels for zone in meant):
        return None
    apart = {zone: abs(levels[zone]["value"] - meant[zone]) for zone in meant}
    if all(off <= NEAR for off in apart.values()):
        return "right"
    return "off" if any(off > NEAR + levels[zone]["uncertainty"] for zone, off in apart.items()) else None


def setup_of_take(take: KeptTake) -> SetUp:
    """The set-up of a take, as it was then."""
    return setup_of_text(_text(take))


def _text(take: KeptTake) -> str:
    return json.dumps(take.document["setup"])


def _has(setup: SetUp, zone: str) -> bool:
    return getattr(setup.scene, zone) is not None and zone != "rim"


def _of_take(take: KeptTake, setup: SetUp) -> dict[str, Any]:
    way = plan_of_text(_text(take)).way(take.document["way"])
    return {
        "setup": take.document["setup"]["name"],
        **meant_and_planned(setup, way),
        "lights": [firing.light.says for firing in way.lighting.firings if firing.down is not None],
    }


def levels_of(setup: SetUp | None, measured: Mapping[str, PatchTone], by: str) -> dict[str, Any]:
    """Levels of the light on each zone: what a patch comes out at, less what its surface throws back. What
    is full says no level."""
    check_choice("by", by, TRUST)
    found = {}
    for zone, one in measured.items():
        if one.blinks:
            continue
        level, uncertainty = one.level, TRUST[by].uncertainty
        if zone == "subject":
            skins = {person.skin for person in setup.scene.people if person.skin} if setup else set()
            is_said = len(skins) == 1
            known = skins.pop() if is_said else "medium"
            level -= SKINS[known].offset
            uncertainty = uncertainty if is_said else hypot(uncertainty, SKIN_UNKNOWN)
        found[zone] = {"value": round(level, 3), "uncertainty": round(uncertainty, 2), "by": by}
    return found


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


def import_folder(store: Store, clock: Clock, folder: Path, batch: Batch) -> Iterator[ImportedFrame]:
    """Every file of a folder and those below it, in the order of their names; what is no file of a frame is
    left alone. Raises OSError."""
    matcher = Matcher(store, clock)
    names = [folder] if folder.is_file() else sorted(path for path in folder.rglob("*") if path.is_file())
    for path in names:
        if not is_photo(path.name):
            continue
        name = str(path.relative_to(folder)) if path != folder else path.name
        try:
            raw = path.read_bytes()
        except OSError as error:
            yield ImportedFrame(name, "skipped", f"cannot be read: {error.strerror}")
            continue
        yield import_frame(store, clock, raw, name, batch, matcher)


def seen_in(store: Store, setup: SetUp, raw: bytes, name: str) -> tuple[dict[str, Any], Photo]:
    """A file as what was seen of a pop: settings where it says them, tones of the zones that are found, and
    what is full. Raises Unreadable, and Refused where nothing can be read off it or it is in the log."""
    photo = read_photo(raw, name)
    if store.frames.known(photo.sha256):
        raise Refused("file", KNOWN)
    patches = find_patches(photo, dict.fromkeys(zone for zone in ZONES if _has(setup, zone)))
    curve = curve_of(store, photo.exif.body) if photo.by == "jpeg" else None
    by = "jpeg_fitted" if curve else photo.by
    measured = {zone: measure(photo, patch, curve) for zone, patch in patches.items()}
    levels = levels_of(setup, measured, by)
    seen = [
        {"zone": zone, "level": one["value"], "by": by}
        for zone, one in levels.items()
        if _sure(setup, zone)
    ]
    seen += [
        {"zone": zone, "clipped": True, "by": "histogram"} for zone, one in measured.items() if one.blinks
    ]
    if not seen:
        raise Refused("file", "no zone can be read off it: no face is found, or its skin is not said")
    found = {
        "seen": seen,
        "file": name,
        "sha256": photo.sha256,
        "exif": photo.exif.settings(),
        "patches": {zone: patch.corners for zone, patch in patches.items()},
        "histogram": [round(part, 5) for part in histogram(photo)],
        "levels": levels,
    }
    return found, photo


def _sure(setup: SetUp, zone: str) -> bool:
    """Whether a zone's surface is known well enough to say the light on it."""
    return zone != "subject" or len({person.skin for person in setup.scene.people if person.skin}) == 1


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
    kept = store.frames.get(frame_id)
    entry = read_entry(kept.document)
    if sha256(raw).hexdigest() != entry.sha256:
        raise Refused("file", "that is another file than the one this frame is of")
    check_choice("zone", zone, ALL_ZONES)
    return _measured_anew(store, kept, entry, read_photo(raw, entry.file or ""), zone, patch)


def _measured_anew(
    store: Store, kept: KeptFrame, entry: FrameEntry, photo: Photo, zone: str, patch: Patch
) -> FrameEntry:
    take = store.takes.get(kept.take_id) if kept.take_id else None
    setup = setup_of_take(take) if take else None
    curve = curve_of(store, photo.exif.body) if photo.by == "jpeg" else None
    found = levels_of(setup, {zone: measure(photo, patch, curve)}, "jpeg_fitted" if curve else photo.by)
    document = written_entry(entry)
    document["patches"] = {**document.get("patches", {}), zone: patch.corners}
    document["levels"] = {**document["levels"], **found}
    written = read_entry(document)
    put_frame(store, kept, written, take)
    return written
