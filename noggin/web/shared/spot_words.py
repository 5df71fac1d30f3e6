"""What frames and changes are called on a page."""

from typing import Any

from noggin.services.frames.shots import Shot
from noggin.services.frames.take import ZONE_WORDS, Change, OpenTake
from noggin.services.words import wording

CONTROLS = {
    "power": "Power of {light} to {to}",
    "distance": "{light} to {to}",
    "shutter": "Shutter to {to} s",
    "aperture": "Aperture to {to}",
    "iso": "{to}",
    "filter": "Filter: {to}",
    "compensation": "Automatic flash to {to}",
}


def change_words(found: OpenTake, change: Change) -> str:
    """One change: "Power of Key to 1/2"."""
    light = "" if change.light is None else found.setup.lights[change.light].says
    control = "compensation" if change.dialled.compensation is not None else change.control
    kind = change.control if change.control != "power" else control
    words = CONTROLS[kind].format(light=light, to=change.to or "none")
    return words[:1].upper() + words[1:]


def shot_words(shot: Shot) -> str:
    """What a frame was dialled to."""
    frame = shot.frame
    if frame is None:
        return "settings not known"
    settings = frame.dialled.settings
    camera = f"{settings.shutter.label} f/{settings.aperture.label} ISO {settings.iso.label}"
    filters = f", {settings.stack.words}" if settings.stack.stops else ""
    if not frame.flash:
        return f"{camera}{filters}, flash off"
    dialled = shot.entry.dialled
    powers = ", ".join(f"{name} {power}" for name, power in dialled.powers.items()) if dialled else ""
    if frame.dialled.compensation is not None:
        powers = f"automatic flash {wording.signed(frame.dialled.compensation)}"
    return f"{camera}{filters}, {powers or 'flash off'}"


def seen_words(shot: Shot) -> str:
    """What was seen in a frame."""
    return "; ".join(filter(None, (_seen(one) for one in shot.entry.seen))) or "nothing was said of it"


def _seen(one: Any) -> str:
    zone = ZONE_WORDS.get(one.zone or "", "")
    if one.band:
        return "a dark band"
    if one.clipped:
        return f"{zone} blinks"
    if one.meter:
        return f"meter, {one.light or 'key'} alone {one.meter}"
    if one.flash_share is not None:
        return f"flash {wording.percent(one.flash_share)} of the light"
    return "" if one.level is None else f"{zone} {wording.signed(one.level)}"


def spread_words(uncertainty: float) -> str:
    """A ±, where it may be next to nothing."""
    return f"± {wording.plain(uncertainty)}" if uncertainty >= 0.05 else "± under 0.1"
