"""The board of ways: the same rows for every way, written the same on the screen and the terminal."""

from collections.abc import Callable
from dataclasses import dataclass

from noggin.core.plan import Way
from noggin.core.wording import NONE, listed, metres_span, percent, plain, signed, stops


@dataclass(frozen=True)
class Row:
    """One question asked of every way, and how the answer is written."""

    key: str
    label: str
    text: Callable[[Way], str]


def camera_text(way: Way) -> str:
    """Shutter and aperture as dialled: "1/200 f/2"."""
    return f"{way.settings.shutter.label} f/{way.settings.aperture.label}"


def filter_text(way: Way) -> str:
    """What stands before the lens, and what it comes to where the name alone does not say."""
    stack = way.settings.stack
    if not stack.names:
        return "no filter"
    words = listed(stack.names)
    if len(stack.names) > 1:
        return f"{words}, {stops(stack.stops)} in all"
    return f"{words}, set to {stops(stack.stops)}" if stack.variable else words


def power_text(way: Way) -> str:
    """What every light is dialled to, in its own notation."""
    texts = [firing.power_words for firing in way.lighting.firings]
    if len(texts) == 1:
        return texts[0]
    lights = [firing.light for firing in way.lighting.firings]
    return ", ".join(f"{light.role} {text}" for light, text in zip(lights, texts, strict=True))


def reserve_text(way: Way) -> str:
    """Reserve of the key, or why there is none to speak of."""
    if way.reserve is not None:
        return f"{signed(way.reserve)} ± {plain(way.uncertainty or 0.0)}"
    return NONE if way.lighting.key.full is None else "not needed"


ROWS = (
    Row("camera", "shutter, aperture", camera_text),
    Row("iso", "ISO", lambda way: way.settings.iso.label),
    Row("filter", "filter", filter_text),
    Row("power", "flash power", power_text),
    Row("reserve", "reserve, stops", reserve_text),
    Row("background", "background, daylight", lambda w: signed(w.lighting.levels.background_ambient)),
    Row("daylight", "subject, daylight", lambda w: signed(w.lighting.levels.subject_ambient)),
    Row("flash", "subject, flash", lambda w: signed(w.lighting.levels.flash)),
    Row("subject", "subject, both", lambda w: signed(w.lighting.levels.subject)),
    Row("share", "flash on the face", lambda w: percent(w.lighting.flash_share)),
    Row("focus", "in focus", lambda w: metres_span(w.focus.near_m, w.focus.far_m)),
    Row("blur", "blur behind", lambda w: f"{plain(w.focus.background_blur_pct)} % of frame"),
)
"""Every row of the board, in order."""

LABELS = {row.key: row.label for row in ROWS}
"""What each row asks, by its key."""


def figures(way: Way) -> dict[str, str]:
    """Every row's text for one way, by the row's key."""
    return {row.key: row.text(way) for row in ROWS}
