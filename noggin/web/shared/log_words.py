"""What a frame of the log is called on a page."""

from collections.abc import Iterator

from noggin.services.frames.log import FrameEntry
from noggin.services.frames.take import ZONE_WORDS
from noggin.services.words import FAULTS_BY_KEY, VERDICTS, WAYS, wording


def exposure(entry: FrameEntry) -> str:
    """Shutter, aperture and ISO."""
    dialled = entry.dialled
    if dialled is None:
        return "settings not known"
    return f"{wording.shutter_time(dialled.shutter)} f/{dialled.aperture:g} ISO {dialled.iso:g}"


def lighting(entry: FrameEntry) -> str:
    """Filters and powers, or that the flash was off."""
    dialled = entry.dialled
    if not entry.flash:
        return "flash off"
    powers = ", ".join(f"{name} {power}" for name, power in dialled.powers.items()) if dialled else ""
    if dialled and dialled.compensation is not None:
        powers = f"automatic flash {wording.signed(dialled.compensation)}"
    filters = " + ".join(dialled.filters) if dialled else ""
    return "; ".join(part for part in (powers, filters) if part) or "flash fired"


def zone(key: str) -> str:
    """A zone at the start of a row."""
    words = ZONE_WORDS.get(key, key)
    return words[:1].upper() + words[1:]


def facts(entry: FrameEntry) -> Iterator[tuple[str, str]]:
    """What else is known of a frame, label and words."""
    exif, fault = entry.exif, FAULTS_BY_KEY.get(entry.fault or "")
    way = WAYS.get(entry.way or "")
    read_off = next(iter(entry.levels.values()), None)
    known = (
        ("method", way.label if way else entry.way),
        ("what came of it", VERDICTS.get(entry.verdict or "")),
        ("what went wrong", fault.label if fault else None),
        ("before the lights", ", ".join(entry.modifiers)),
        ("shoot", entry.shoot),
        ("sun's height", None if entry.sun_deg is None else f"{entry.sun_deg:.0f}°"),
        ("focal length", f"{exif['focal_mm']:g} mm" if "focal_mm" in exif else None),
        ("body", exif.get("body")),
        ("file", entry.file),
        ("place", f"{entry.place.lat:.4f}, {entry.place.lon:.4f}" if entry.place else None),
        ("read off", BY_WORDS[read_off.by] if read_off else None),
    )
    return ((label, str(words)) for label, words in known if words)


BY_WORDS = {
    "words": "a look at the screen",
    "jpeg": "a JPEG, its curve not known",
    "jpeg_fitted": "a JPEG, its curve fitted",
    "raw": "a raw file",
    "meter": "a flash meter",
    "histogram": "a histogram",
}
