"""What a file says of how it was taken: EXIF (CIPA DC-008), through exifread."""

import logging
import re
from dataclasses import dataclass
from datetime import datetime, timedelta
from io import BytesIO
from typing import Any
from zoneinfo import ZoneInfo

import exifread
from PIL import Image

logging.getLogger("exifread").setLevel(logging.CRITICAL)  # what it cannot read is left out, not told

BIT_FIRED = 1
"""In the tag Flash: the flash fired (CIPA DC-008, tag 9209)."""


@dataclass(frozen=True)
class Exif:
    """Settings of a frame; None where the file does not say. `taken` has its zone where the file says one,
    `place` is latitude and longitude, `focal_35_mm` what its focal length would be on 36 mm × 24 mm."""

    taken: datetime | None = None
    shutter_s: float | None = None
    aperture: float | None = None
    iso: float | None = None
    focal_mm: float | None = None
    flash: bool | None = None
    compensation: float | None = None
    body: str = ""
    place: tuple[float, float] | None = None
    focal_35_mm: float | None = None

    def at(self, zone: ZoneInfo, clock_off: timedelta) -> datetime | None:
        """When it was taken, with its zone: that of the file, else the `zone` of the camera's clock, which
        was `clock_off` ahead."""
        if self.taken is None:
            return None
        taken = self.taken if self.taken.tzinfo else self.taken.replace(tzinfo=zone)
        return taken - clock_off

    def settings(self) -> dict[str, Any]:
        """As the log keeps it."""
        found = {
            "shutter_s": self.shutter_s,
            "aperture": self.aperture,
            "iso": self.iso,
            "focal_mm": self.focal_mm,
            "flash": self.flash,
            "compensation": self.compensation,
            "body": self.body or None,
        }
        return {name: value for name, value in found.items() if value is not None}


def read_exif(raw: bytes) -> Exif:
    """EXIF of a file of any kind; empty where it has none, or what it has cannot be read."""
    try:
        tags = exifread.process_file(BytesIO(_exif_part(raw)), details=False)
    except Exception:
        return Exif()
    flash = _number(tags, "Flash")
    return Exif(
        _taken(tags),
        _positive(tags, "ExposureTime"),
        _positive(tags, "FNumber"),
        _positive(tags, "ISOSpeedRatings", "PhotographicSensitivity"),
        _positive(tags, "FocalLength"),
        None if flash is None else bool(int(flash) & BIT_FIRED),
        _number(tags, "ExposureBiasValue"),
        _text(tags, "Model"),
        _place(tags),
        _positive(tags, "FocalLengthIn35mmFilm"),
    )


EXIF_MARK = b"Exif\0\0"


def _exif_part(raw: bytes) -> bytes:
    """A file, or of an HEIC file its EXIF alone as Pillow finds it (a TIFF file of its own)."""
    if raw[4:8] != b"ftyp":
        return raw
    try:
        with Image.open(BytesIO(raw), formats=("HEIF",)) as image:
            found: bytes = image.info.get("exif") or raw
            return found.removeprefix(EXIF_MARK)
    except (OSError, KeyError):
        return raw  # no HEIC file, or nothing here opens those


def _tag(tags: dict[str, Any], name: str) -> Any:
    return tags.get(f"EXIF {name}") or tags.get(f"Image {name}")


def _number(tags: dict[str, Any], *names: str) -> float | None:
    for name in names:
        tag = _tag(tags, name)
        values = getattr(tag, "values", None)
        if isinstance(values, list) and values:
            try:
                return float(values[0])
            except (TypeError, ValueError, ZeroDivisionError):
                continue
    return None


def _positive(tags: dict[str, Any], *names: str) -> float | None:
    found = _number(tags, *names)
    return found if found is not None and 0 < found < 1e7 else None


def _text(tags: dict[str, Any], name: str) -> str:
    values = getattr(_tag(tags, name), "values", "")
    text = values if isinstance(values, str) else ""
    return "".join(sign for sign in text.strip("\0 ") if sign.isprintable())[:120]


def _taken(tags: dict[str, Any]) -> datetime | None:
    text = _text(tags, "DateTimeOriginal") or _text(tags, "DateTime")
    try:
        taken = datetime.strptime(text, "%Y:%m:%d %H:%M:%S")  # noqa: DTZ007 - its zone follows
    except ValueError:
        return None
    part = re.fullmatch(r"\d{1,6}", _text(tags, "SubSecTimeOriginal"))
    if part:
        taken += timedelta(seconds=float(f"0.{part[0]}"))
    offset = _text(tags, "OffsetTimeOriginal") or _text(tags, "OffsetTime")
    if re.fullmatch(r"[+-]\d\d:\d\d", offset):
        try:
            return datetime.fromisoformat(f"{taken.isoformat()}{offset}")
        except ValueError:
            return taken
    return taken


def _place(tags: dict[str, Any]) -> tuple[float, float] | None:
    found = []
    for axis, minus, most in (("Latitude", "S", 90), ("Longitude", "W", 180)):
        values = getattr(tags.get(f"GPS GPS{axis}"), "values", None)
        try:
            degrees, minutes, seconds = (float(one) for one in values or ())
        except (TypeError, ValueError, ZeroDivisionError):
            return None
        value = degrees + minutes / 60 + seconds / 3600
        reference = str(getattr(tags.get(f"GPS GPS{axis}Ref"), "values", ""))
        if not 0 <= value <= most:
            return None
        found.append(-value if reference.startswith(minus) else value)
    return found[0], found[1]
