"""Use cases of the place on a photograph: what its settings and tones say of the daylight, and what stands
behind the people in proofs."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from math import atan, degrees, hypot, log2
from types import MappingProxyType
from typing import Any

import numpy as np

from noggin.core.daylight.place import Moment
from noggin.core.errors import Refused, Unreadable
from noggin.core.layout.standing import layout_of
from noggin.core.limits import FIELD_ACROSS, HORIZON, check_choice
from noggin.core.physics.appearance import READ_OFF
from noggin.core.physics.colour import LUMINANCE
from noggin.core.physics.dials import aperture_stops, iso_stops, shutter_stops
from noggin.core.physics.exposure import settings_ev
from noggin.core.pops.frame import TRUST
from noggin.core.pops.tone_curve import ToneCurve
from noggin.core.proof.mesh import Floats
from noggin.core.proof.photographed import frame_on, part_of
from noggin.core.proof.stage import stage_of
from noggin.core.setup.photograph import Box, Photograph, check_box
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.timeline import Placement, setup_at
from noggin.core.units import EV100, Stops
from noggin.documents.fields import uncertainty_of
from noggin.documents.setup import setup_of
from noggin.documents.written import PhotographWritten, PhotographZoneWritten, SetUpWritten, set_up_copy
from noggin.forms.change import with_light_of
from noggin.forms.entry import Document
from noggin.photos.patches import BLINKS, FULL_WITHIN, Patch, find_patches
from noggin.photos.photo import RENDERED_FULL, Photo, read_photo
from noggin.photos.place_copy import copy_size, linear_copy, place_copy
from noggin.services.clock import Clock
from noggin.services.gear.camera_curves import curve_of
from noggin.services.setups.proofs import LARGE
from noggin.services.setups.setups import OpenSetUp, change_setup, new_setup, open_setup
from noggin.store.store import Store

__all__ = ["READ_OFF", "Unreadable"]

SCOUTED = ("background", "subject", "rim")
"""What a scout brings pictures of: the place, the shade where people will stand, and the sun there."""

ASIDE: Box = (0.35, 0.35, 0.3, 0.3)
"""Where another picture of a zone is read: its middle."""

PHONE_FIELD_DEG = 69.0
"""Field across of a phone's usual camera (26 mm on 36 mm), where a file does not say. From memory."""

SURFACE_UNKNOWN: Stops = 0.9
"""± that the light on a face has where it is not said what it was read off: grass to a white wall."""

WIDE_35_MM, HIGH_35_MM = 36.0, 24.0


@dataclass(frozen=True)
class PictureRead:
    """A picture of a place, read: what its settings place at mid-tone, how far its copy's tones are off, by
    what kind of file, the curve of its camera where one was fitted, and the copy that is kept."""

    photo: Photo
    settings_ev100: EV100
    shift: Stops
    curve: ToneCurve | None
    copy: bytes

    @property
    def by(self) -> str:
        """What its tones are read by, a key of TRUST."""
        return "jpeg_fitted" if self.curve else self.photo.by

    @property
    def measured(self) -> "Measured":
        """From a tone of its copy to EV100 and its ±."""
        return _measured(self.settings_ev100, self.shift, self.by, self.curve)


def picture_read(store: Store, raw: bytes, name: str) -> PictureRead:
    """A file of a picture, read. Raises Unreadable, Refused where it does not say its settings."""
    photo = read_photo(raw, name)
    exif = photo.exif
    if exif.shutter_s is None or exif.aperture is None or exif.iso is None:
        raise Refused("picture", "does not say its settings. Take the file as the camera wrote it")
    copy, shift = place_copy(raw), 0.0
    if photo.kind == "raw":
        seen = linear_copy(copy) @ LUMINANCE
        shift = log2(max(float(np.median(photo.light)), 1e-6) / max(float(np.median(seen)), 1e-6))
    curve = curve_of(store, exif.body) if photo.by == "jpeg" else None
    settings = settings_ev(
        shutter_stops(exif.shutter_s), aperture_stops(exif.aperture), iso_stops(exif.iso)
    )
    return PictureRead(photo, settings, shift, curve, copy)


def bring(store: Store, clock: Clock, setup_id: int, raw: bytes, name: str) -> OpenSetUp:
    """Put the place on a picture behind a set-up's people, its background and sky read where they usually
    are. Raises Unreadable, Refused, NotKept."""
    return _stood_behind(store, clock, setup_id, picture_read(store, raw, name))


def _stood_behind(store: Store, clock: Clock, setup_id: int, shot: PictureRead) -> OpenSetUp:
    linear, zones = linear_copy(shot.copy), dict[str, PhotographZoneWritten]()
    patches = find_patches(shot.photo, dict.fromkeys(("background", "sky")))
    boxes = {zone: _box(patch) for zone, patch in patches.items()}
    boxes["background"] = _behind_them(open_setup(store, setup_id).setup, shot.photo) or boxes["background"]
    for zone, box in boxes.items():
        try:
            zones[zone] = _reading(shot.measured, linear, zone, box, "")
        except Refused:
            if zone == "background":
                raise
    taken = shot.photo.exif.taken

    def put(document: Document) -> SetUpWritten:
        copy = set_up_copy(document)
        before = copy["scene"].get("photograph")
        aside = {
            zone: one for zone, one in (before["zones"] if before else {}).items() if one["box"] is None
        }
        copy["scene"]["photograph"] = {
            "sha256": store.photographs.put(shot.copy),
            "field_deg": field_of(shot.photo),
            "horizon": 0.5,
            "settings_ev100": round(shot.settings_ev100, 3),
            "shift": round(shot.shift, 3),
            "by": shot.by,
            "body": shot.photo.exif.body,
            "taken": _instant(document, taken),
            "zones": aside | zones,
        }
        return copy

    return change_setup(store, clock, setup_id, "the place from a photograph", put)


def _behind_them(setup: SetUp, photo: Photo) -> Box | None:
    """The part of a picture that a set-up's lens will see behind people's heads and shoulders; None where
    its frame is not in the picture."""
    aspect = photo.width / photo.height
    stood = Photograph("", field_of(photo), 0.5, (0.0, 0.0, 1.0, 1.0))
    view = stage_of(setup, layout_of(setup), LARGE).view
    across, down = zip(*frame_on(view, stood, aspect), strict=True)
    left, top, wide, high = min(across), min(down), max(across) - min(across), max(down) - min(down)
    if left < 0 or top < 0 or left + wide > 1 or top + high > 1:
        return None
    return left + 0.1 * wide, top + 0.4 * high, 0.8 * wide, 0.5 * high


def read_zone(
    store: Store, clock: Clock, setup_id: int, zone: str, box: Box, surface: str = ""
) -> OpenSetUp:
    """Read a zone off a part of the picture that is kept. Raises Refused, NotKept."""
    check_choice("zone", zone, dict.fromkeys(ZONES))
    check_box("box", box)
    photograph = photograph_of(open_setup(store, setup_id).document)
    jpeg = store.photographs.get(photograph["sha256"])
    if jpeg is None:
        raise Refused("picture", "is not here. Bring it again")
    curve = curve_of(store, photograph.get("body", "")) if photograph["by"] == "jpeg_fitted" else None
    found = _reading(
        _measured(photograph["settings_ev100"], photograph["shift"], photograph["by"], curve),
        linear_copy(jpeg),
        zone,
        box,
        surface,
    )
    return _changed(store, clock, setup_id, f"{zone} read off the photograph", _with_zone(zone, found))


def read_elsewhere(
    store: Store, clock: Clock, setup_id: int, zone: str, surface: str, raw: bytes, name: str
) -> OpenSetUp:
    """Read a zone off the middle of another picture, of which nothing is kept. Raises Unreadable,
    Refused."""
    check_choice("zone", zone, dict.fromkeys(ZONES))
    found = _read_aside(picture_read(store, raw, name), zone, surface)
    return _changed(store, clock, setup_id, f"{zone} read off a photograph", _with_zone(zone, found))


def _read_aside(shot: PictureRead, zone: str, surface: str) -> PhotographZoneWritten:
    found = _reading(shot.measured, linear_copy(shot.copy), zone, ASIDE, surface)
    found["box"] = None
    return found


def look_so(store: Store, clock: Clock, setup_id: int, horizon: float, field_deg: float) -> OpenSetUp:
    """Say how far down the horizon lies (a part of the height) and the field across, degrees. Raises
    Refused."""
    HORIZON.check("horizon", horizon)
    FIELD_ACROSS.check("field", field_deg)

    def put(photograph: PhotographWritten) -> None:
        photograph["horizon"], photograph["field_deg"] = round(horizon, 4), round(field_deg, 2)

    return _changed(store, clock, setup_id, "horizon and field of the photograph", put)


def take_light(store: Store, clock: Clock, setup_id: int) -> OpenSetUp:
    """Take what the picture says of the daylight for the set-up: as readings of its own hour, moved with
    the day's light to the set-up's where place and time are known. Raises Refused, NotKept."""
    return change_setup(store, clock, setup_id, "light of the photograph", with_its_light)


def without(store: Store, clock: Clock, setup_id: int) -> OpenSetUp:
    """Take the picture away; what was read off it stays in the set-up. Raises NotKept."""

    def put(document: Document) -> SetUpWritten:
        copy = set_up_copy(document)
        copy["scene"].pop("photograph", None)
        return copy

    return change_setup(store, clock, setup_id, "photograph removed", put)


def scouted(
    store: Store,
    clock: Clock,
    pictures: Mapping[str, tuple[bytes, str]],
    surfaces: Mapping[str, str] = MappingProxyType({}),
) -> int:
    """A new set-up from pictures by zone: "background" gives the place, "subject" and "rim" the light where
    people will stand, read off `surfaces`. All of it or nothing. Raises Refused, Unreadable."""
    if "background" not in pictures:
        raise Refused("background", "one picture shows what will be behind them")
    # Decoding takes long: nobody else waits for it.
    place = picture_read(store, *pictures["background"])
    aside = {
        zone: _read_aside(picture_read(store, *given), zone, surfaces.get(zone, ""))
        for zone, given in pictures.items()
        if zone != "background"
    }
    with store.write_transaction():
        number = new_setup(store, clock)
        _stood_behind(store, clock, number, place)
        for zone, found in aside.items():
            _changed(store, clock, number, f"{zone} read off a photograph", _with_zone(zone, found))
        take_light(store, clock, number)
    return number


@dataclass(frozen=True)
class ZoneRead:
    """A zone as it was read: its name, where on the picture (None: on another one), EV100 and its ±, what
    it was read off, and EV100 that the set-up has now (None: it is not in its picture)."""

    zone: str
    box: Box | None
    ev100: EV100
    uncertainty: Stops
    surface: str
    now: EV100 | None


@dataclass(frozen=True)
class PlaceShown:
    """A set-up's place on its photograph: the set-up, the photograph as it is written, the copy (None: it
    is not here) with its shape (width for a height of 1), the zones that were read, and the corners of
    the set-up's own frame on it."""

    opened: OpenSetUp
    photograph: PhotographWritten
    jpeg: bytes | None
    aspect: float
    zones: tuple[ZoneRead, ...]
    frame: tuple[tuple[float, float], ...]

    @property
    def reaches(self) -> bool:
        """Whether the photograph reaches to every edge of the set-up's frame."""
        return all(0 <= part <= 1 for corner in self.frame for part in corner)

    @property
    def taken(self) -> datetime | None:
        """When it was taken, where that is known."""
        taken = self.photograph.get("taken")
        return datetime.fromisoformat(taken) if taken else None


def shown(store: Store, setup_id: int) -> PlaceShown | None:
    """The place of a set-up on its photograph; None where it has none. Raises NotKept."""
    opened = open_setup(store, setup_id)
    scene = opened.setup.scene
    if scene.photograph is None:
        return None
    photograph = photograph_of(opened.document)
    jpeg = store.photographs.get(photograph["sha256"])
    width, height = copy_size(jpeg) if jpeg else (3, 2)
    view = stage_of(opened.setup, layout_of(opened.setup), LARGE).view
    zones = (
        ZoneRead(
            zone,
            _four(read["box"]),
            read["ev100"],
            uncertainty_of(read["uncertainty"]),
            read.get("surface", ""),
            getattr(scene, zone),
        )
        for zone in ZONES
        if (read := photograph["zones"].get(zone))
    )
    return PlaceShown(
        opened,
        photograph,
        jpeg,
        width / height,
        tuple(zones),
        tuple(frame_on(view, scene.photograph, width / height)),
    )


def _four(box: list[float] | None) -> Box | None:
    return (box[0], box[1], box[2], box[3]) if box else None


def photograph_of(document: Mapping[str, Any]) -> PhotographWritten:
    """A set-up's photograph as it is written. Raises Refused."""
    found: PhotographWritten | None = document["scene"].get("photograph")
    if found is None:
        raise Refused("picture", "there is none yet. Bring one first")
    return found


def with_its_light(document: Document) -> SetUpWritten:
    """A copy with the zones of its photograph, moved with the day's light from its minute to the set-up's
    own; other zones stay as they are. Raises Refused."""
    copy, photograph = set_up_copy(document), photograph_of(document)
    scene, zones = copy["scene"], photograph["zones"]
    read = {zone: found for zone, found in zones.items() if found is not None}
    scene.pop("moved_from", None)
    known = scene.setdefault("uncertainty", {})
    for zone, found in read.items():
        scene["ev100"][zone] = round(found["ev100"], 2)
        known[zone] = found["uncertainty"]
    own, taken = setup_of(copy).scene.moment, photograph.get("taken")
    if own is None or not taken:
        return copy
    return _moved(copy, read, own, datetime.fromisoformat(taken))


def _moved(
    copy: SetUpWritten, read: Mapping[str, PhotographZoneWritten], own: Moment, taken: datetime
) -> SetUpWritten:
    """A copy whose zones that were `read` at an instant are as they will be at the set-up's own."""
    clocks = own.time.tzinfo
    assert clocks is not None  # noqa: S101 - times are aware
    then = set_up_copy(copy)
    place = then["scene"]["place"]
    assert place is not None  # noqa: S101 - it has a moment
    place["time"] = taken.astimezone(clocks).isoformat(timespec="minutes")
    placement = Placement(setup_of(then), own.place, own.time.date(), clocks)
    moved = with_light_of(copy, setup_at(placement, own.time))
    for zone in ZONES:
        if zone not in read:
            moved["scene"]["ev100"][zone] = copy["scene"]["ev100"].get(zone)
            moved["scene"]["uncertainty"][zone] = copy["scene"]["uncertainty"].get(zone, "measured")
            if moved_from := moved["scene"].get("moved_from"):
                moved_from["ev100"][zone] = None
    return moved


def field_of(photo: Photo) -> float:
    """Field across of a picture by what its file says of its lens, degrees."""
    focal = photo.exif.focal_35_mm
    if focal is None:
        return PHONE_FIELD_DEG
    wide = WIDE_35_MM if photo.width >= photo.height else HIGH_35_MM
    return round(degrees(2 * atan(wide / 2 / focal)), 1)


def _instant(document: Mapping[str, Any], taken: datetime | None) -> str | None:
    """When it was taken, with its offset: by the set-up's own zone where the file names none."""
    moment = setup_of(dict(document)).scene.moment
    if taken is None or (taken.tzinfo is None and moment is None):
        return None
    aware = taken if taken.tzinfo else taken.replace(tzinfo=moment.time.tzinfo if moment else None)
    return aware.isoformat(timespec="seconds")


Measured = Callable[[Stops], tuple[EV100, Stops]]
"""From a tone of a kept copy, stops from mid-tone, to EV100 and its ±."""


def _measured(settings: EV100, shift: Stops, by: str, curve: ToneCurve | None) -> Measured:
    """By a fitted curve where there is one, else by how far the copy's tones are off."""
    return lambda tone: (
        settings + (curve.level(tone) if curve else tone + shift),
        TRUST[by].uncertainty,
    )


def _reading(
    measured: Measured, linear: Floats, zone: str, box: Box, surface: str
) -> PhotographZoneWritten:
    if surface:
        check_choice("surface", surface, READ_OFF)
    light = part_of(linear, box)
    if float((light >= 2**-FULL_WITHIN).mean()) >= BLINKS:
        raise Refused(
            "box", f"the {zone} is white there: nothing can be read off it. Move the box, or expose less"
        )
    ev, uncertainty = measured(log2(max(float(light.mean()), 1e-6)) + RENDERED_FULL)
    if zone in ("subject", "rim"):
        # What falls on a face, not what the place throws back.
        offset = READ_OFF[surface].offset if surface else 0.0
        ev, uncertainty = ev - offset, uncertainty if surface else hypot(uncertainty, SURFACE_UNKNOWN)
    return {
        "box": [round(one, 4) for one in box],
        "surface": surface,
        "ev100": round(ev, 2),
        "uncertainty": round(uncertainty, 2),
    }


def _box(patch: Patch) -> Box:
    return patch.x, patch.y, patch.width, patch.height


def _with_zone(zone: str, found: PhotographZoneWritten) -> Callable[[PhotographWritten], None]:
    def put(photograph: PhotographWritten) -> None:
        photograph["zones"][zone] = found

    return put


def _changed(
    store: Store, clock: Clock, setup_id: int, label: str, put: Callable[[PhotographWritten], None]
) -> OpenSetUp:
    def change(document: Document) -> SetUpWritten:
        copy = set_up_copy(document)
        put(photograph_of(copy))
        return copy

    return change_setup(store, clock, setup_id, label, change)
