"""A file of a frame, measured: its zones found and read. Decoding takes long, so nothing here is done while
the database is being written."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from math import hypot
from typing import Any

from noggin.core.errors import Refused
from noggin.core.limits import check_choice
from noggin.core.physics.appearance import SKINS
from noggin.core.pops.frame import TRUST
from noggin.core.pops.tone_curve import ToneCurve
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.documents.log import SeenLevel
from noggin.photos.patches import Patch, PatchTone, find_patches, histogram, measure
from noggin.photos.photo import Photo, read_photo
from noggin.services.gear.camera_curves import curve_of
from noggin.store.store import Store

SKIN_UNKNOWN: Stops = 0.9
"""± that skin of which nothing is said adds: fair to deep are 2 stops. From SKINS."""


@dataclass(frozen=True)
class MeasuredFile:
    """A file that was read, the curve of its camera where one was fitted, and where its zones lie."""

    photo: Photo
    curve: ToneCurve | None
    patches: Mapping[str, Patch]

    @property
    def by(self) -> str:
        """What its tones are read by."""
        return "jpeg_fitted" if self.curve else self.photo.by

    @cached_property
    def tones(self) -> Mapping[str, PatchTone]:
        """What each zone comes out at."""
        return {zone: measure(self.photo, patch, self.curve) for zone, patch in self.patches.items()}

    @cached_property
    def _histogram(self) -> list[float]:
        return [round(part, 5) for part in histogram(self.photo)]

    def measure(self) -> "MeasuredFile":
        """Itself, with everything read that is read off its pixels."""
        _ = self.tones, self._histogram
        return self

    def zones_of(self, setup: SetUp | None) -> tuple[str, ...]:
        """Zones that were found and that a set-up has."""
        return tuple(zone for zone in self.patches if setup is None or has_zone(setup, zone))

    def levels(self, setup: SetUp | None) -> dict[str, SeenLevel]:
        """Levels of the light on each zone: what a patch comes out at, less what its surface throws back.
        What is full says no level."""
        check_choice("by", self.by, TRUST)
        levels = {}
        for zone in self.zones_of(setup):
            tone = self.tones[zone]
            if tone.blinks:
                continue
            level, uncertainty = tone.level, TRUST[self.by].uncertainty
            if zone == "subject":
                known = skin_of(setup)
                level -= SKINS[known or "medium"].offset
                uncertainty = uncertainty if known else hypot(uncertainty, SKIN_UNKNOWN)
            levels[zone] = SeenLevel.model_validate(
                {"value": round(level, 3), "uncertainty": round(uncertainty, 2), "by": self.by}
            )
        return levels

    def seen(self, setup: SetUp) -> list[dict[str, Any]]:
        """What can be said of a pop by it: levels where the surface is known, and what is full. Raises
        Refused where nothing can."""
        levels = self.levels(setup)
        seen: list[dict[str, Any]] = [
            {"zone": zone, "level": level.value, "by": level.by}
            for zone, level in levels.items()
            if zone != "subject" or skin_of(setup)
        ]
        seen += [
            {"zone": zone, "clipped": True, "by": "histogram"}
            for zone in self.zones_of(setup)
            if self.tones[zone].blinks
        ]
        if not seen:
            raise Refused("file", "no zone can be read off it: no face is found, or its skin is not said")
        return seen

    def figures(self, setup: SetUp | None) -> dict[str, Any]:
        """Everything of the file that an entry of the log keeps."""
        return {
            "file": self.photo.name,
            "sha256": self.photo.sha256,
            "exif": self.photo.exif.settings(),
            "patches": {zone: self.patches[zone].corners for zone in self.zones_of(setup)},
            "histogram": self._histogram,
            "levels": {zone: level.model_dump() for zone, level in self.levels(setup).items()},
        }


def has_zone(setup: SetUp, zone: str) -> bool:
    """Whether a zone of a set-up can be looked for in a file: there is one, and it is no mere edge."""
    return getattr(setup.scene, zone) is not None and zone != "rim"


def skin_of(setup: SetUp | None) -> str | None:
    """The one skin that is said of everybody; None where it is not said, or not one."""
    skins = {person.skin for person in setup.scene.people if person.skin} if setup else set()
    return skins.pop() if len(skins) == 1 else None


def measured_file(store: Store, raw: bytes, name: str) -> MeasuredFile:
    """A file, read and measured in every zone that is found. Raises Unreadable."""
    photo = read_photo(raw, name)
    patches = find_patches(photo, dict.fromkeys(ZONES))
    return MeasuredFile(photo, _curve(store, photo), patches).measure()


def measured_patch(store: Store, raw: bytes, name: str, zone: str, patch: Patch) -> MeasuredFile:
    """The same of one zone alone, by a patch that was given. Raises Unreadable, Refused."""
    check_choice("zone", zone, dict.fromkeys(ZONES))
    photo = read_photo(raw, name)
    return MeasuredFile(photo, _curve(store, photo), {zone: patch})


def _curve(store: Store, photo: Photo) -> ToneCurve | None:
    return curve_of(store, photo.exif.body) if photo.by == "jpeg" else None
