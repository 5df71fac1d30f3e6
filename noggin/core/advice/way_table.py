"""The table of ways: the same rows for every way, written the same on the screen and the terminal."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from noggin.core.advice.verdict_words import VERDICT_WORDS
from noggin.core.planning.way import Way
from noggin.core.setup.layout import light_names
from noggin.core.units import Stops
from noggin.core.wording import NONE, metres_span, percent, plain, signed

NOTHING: Stops = -8.0
"""Under this level a background is black whatever light is on it. Common practice, no source."""


@dataclass(frozen=True)
class TableRow:
    """One question asked of every way, and how the answer is written."""

    key: str
    label: str
    text: Callable[[Way], str]


def camera_text(way: Way) -> str:
    """Shutter and aperture as dialled: "1/200 f/2"."""
    return f"{way.settings.shutter.label} f/{way.settings.aperture.label}"


def filter_text(way: Way) -> str:
    """What goes before the lens, and how it is set."""
    return way.settings.stack.words or "no filter"


def power_text(way: Way) -> str:
    """What every light is dialled to, in its own notation."""
    texts = [firing.power_words for firing in way.lighting.firings]
    return texts[0] if len(texts) == 1 else ", ".join(_each_power(way, texts))


def _each_power(way: Way, texts: list[str]) -> Iterator[str]:
    """Lights by role, numbered where several have the same; those of a role that are all dialled alike are
    said once."""
    roles = [firing.light.role for firing in way.lighting.firings]
    alike = {role: {text for own, text in zip(roles, texts, strict=True) if own == role} for role in roles}
    said = set()
    for role, name, text in zip(roles, light_names(tuple(roles)), texts, strict=True):
        if roles.count(role) > 1 and len(alike[role]) == 1:
            if role not in said:
                yield f"{roles.count(role)} {role} lights {text}"
            said.add(role)
        else:
            yield f"{name} {text}"


def reserve_text(way: Way) -> str:
    """Reserve of the key; where there is none, whether the picture needs no flash or cannot be made this
    way."""
    if way.reserve is not None:
        return f"{signed(way.reserve)} ± {plain(way.uncertainty or 0.0)}"
    return "no flash needed" if way.feasible else NONE


def background_text(way: Way) -> str:
    """Where the background lands, and what daylight alone would give where flash changes that."""
    levels = way.lighting.levels
    reached, alone = signed(levels.background), signed(levels.background_ambient)
    return reached if reached == alone else f"{reached} (daylight {alone})"


def spill_text(way: Way) -> str:
    """What key and fill leave on the background."""
    levels = way.lighting.levels
    if levels.spill is None:
        return NONE
    return signed(levels.spill) if levels.spill > NOTHING else "next to nothing"


ROWS = (
    TableRow("verdict", "verdict", lambda way: VERDICT_WORDS[way.verdict]),
    TableRow("camera", "shutter, aperture", camera_text),
    TableRow("iso", "ISO", lambda way: way.settings.iso.label),
    TableRow("filter", "filter", filter_text),
    TableRow("power", "flash power", power_text),
    TableRow("reserve", "reserve, stops", reserve_text),
    TableRow("background", "background", background_text),
    TableRow("spill", "flash on the background", spill_text),
    TableRow("daylight", "faces, daylight", lambda way: signed(way.lighting.levels.subject_ambient)),
    TableRow("flash", "faces, flash", lambda way: signed(way.lighting.levels.flash)),
    TableRow("subject", "faces, both", lambda way: signed(way.lighting.levels.subject)),
    TableRow("share", "flash share", lambda way: percent(way.lighting.flash_share)),
    TableRow("focus", "in focus", lambda way: metres_span(way.focus.near_m, way.focus.far_m)),
    TableRow("blur", "background blur", lambda way: f"{plain(way.focus.background_blur_pct)}% of frame"),
)
"""Every row, in order."""

ROW_LABELS = {row.key: row.label for row in ROWS}
"""What each row asks, by its key."""


def figures(way: Way) -> dict[str, str]:
    """Every row's text for one way, by the row's key."""
    return {row.key: row.text(way) for row in ROWS}
