"""The scale of stops: one ruler from black to clipped, with every zone of the picture on it.

Daylight's marks stand above, flash and what comes out below; each kind has its own shape, so that
colour is never needed to tell them apart.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from noggin.core.advice.details import clipping_level
from noggin.core.physics.appearance import BLACK, CLIP
from noggin.core.planning.lighting import Levels
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import plain, signed
from noggin.web.drawings.greys import colour

LOWEST: Stops = -6
HIGHEST: Stops = 4
CELLS_PER_STOP = 3
MARGIN = 12.0
LABEL_GAP = 10.0
ROW_HEIGHT = 16.0
SHAPE_HEIGHT = 14.0
WORTH_SHOWING: Stops = 0.1
"""Two levels nearer than this are one mark."""


@dataclass(frozen=True)
class ScaleZone:
    """One zone of the picture: its level, and the shape and kind of its mark."""

    name: str
    level: Stops
    shape: str
    kind: str
    uncertainty: Stops | None = None

    @property
    def label(self) -> str:
        """Name and level as written beside the mark; an arrowhead where it is off the drawn end."""
        text = f"{self.name} {signed(self.level)}"
        if self.uncertainty is not None:
            text += f" ± {plain(self.uncertainty)}"
        if self.level < LOWEST:
            return f"‹ {text}"
        return f"{text} ›" if self.level > HIGHEST else text


@dataclass(frozen=True)
class Mark:
    """A zone's place on the edge of the bar, that of its label, and where the line between them ends."""

    zone: ScaleZone
    x: float
    y: float
    label_x: float
    label_y: float
    leader_from: float
    leader_to: float
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True)
class Cell:
    """One third of a stop, in its own tone."""

    x: float
    width: float
    fill: str


@dataclass(frozen=True)
class Tick:
    """A whole or third stop on the ruler; only some carry their number."""

    x: float
    label: str
    on_dark: bool


@dataclass(frozen=True)
class Scale:
    """Everything drawn, in units of the drawing; `zero` and `per_stop` place a level for who drags one."""

    width: float
    height: float
    bar_y: float
    bar_height: float
    cells: tuple[Cell, ...]
    ticks: tuple[Tick, ...]
    above: tuple[Mark, ...]
    below: tuple[Mark, ...]
    meant_background: float
    meant_subject: float
    black_to: float
    clips_from: float
    zero: float
    per_stop: float
    narrow: bool
    bare: bool
    drag: bool
    words: str


SPILL_SHOWS: Stops = 3.0
"""Flash on the background is marked where it is no more than this under the daylight there."""


@dataclass(frozen=True)
class _Ruler:
    width: float

    def x(self, level: Stops) -> float:
        held = max(LOWEST, min(level, HIGHEST))
        return MARGIN + (self.width - 2 * MARGIN) * (held - LOWEST) / (HIGHEST - LOWEST)


def scale(setup: SetUp, way: Way, width: float = 940, *, narrow: bool = False, drag: bool = False) -> Scale:
    """The scale for one way; see `scale_of`."""
    intent = setup.intent
    meant = intent.background_level, intent.subject_level
    return scale_of(
        way.lighting.levels, *meant, clipping_level(setup, way), width, narrow=narrow, drag=drag
    )


def _with_uncertainty(zones: Iterable[ScaleZone], known: Mapping[str, Stops]) -> Iterator[ScaleZone]:
    for zone in zones:
        yield replace(zone, uncertainty=known.get(zone.name))


def scale_of(
    levels: Levels,
    meant_background: Stops,
    meant_subject: Stops,
    full: Stops,
    width: float = 940,
    *,
    narrow: bool = False,
    bare: bool = False,
    drag: bool = False,
    uncertainty: Mapping[str, Stops] | None = None,
) -> Scale:
    """The scale for levels, what is meant, and the level at which the sensor is full. `narrow` is for a
    phone: fewer numbers, more rows of labels; `bare` has marks alone, for a list of many; `drag` lets what
    is meant be dragged. `uncertainty` is the ± of zones by the name of their mark."""
    known = uncertainty or {}
    above = tuple(_with_uncertainty(_daylight(levels), known))
    below = tuple(_with_uncertainty(_flash_and_both(levels), known))
    return _drawn(
        above, below, (meant_background, meant_subject), full, width, narrow=narrow, bare=bare, drag=drag
    )


SEEN_MARKS = {
    "background": ("background", "square", "daylight"),
    "sky": ("sky", "round", "daylight"),
    "rim": ("rim", "diamond", "daylight"),
    "subject": ("face", "up", "both"),
}
"""Name, shape and kind of the mark of a zone that was shot."""


def seen_scale(
    shot: Mapping[str, tuple[Stops, Stops]],
    meant_background: Stops,
    meant_subject: Stops,
    width: float = 940,
    *,
    narrow: bool = False,
    bare: bool = False,
) -> Scale:
    """The scale for what was shot: zones by their level and ±, against what was meant."""
    marks = [
        (zone, ScaleZone(name, shot[zone][0], shape, kind, None if bare else shot[zone][1]))
        for zone, (name, shape, kind) in SEEN_MARKS.items()
        if zone in shot
    ]
    above = tuple(mark for zone, mark in marks if zone != "subject")
    below = tuple(mark for zone, mark in marks if zone == "subject")
    return _drawn(above, below, (meant_background, meant_subject), CLIP, width, narrow=narrow, bare=bare)


def _drawn(
    zones_above: Iterable[ScaleZone],
    zones_below: Iterable[ScaleZone],
    meant: tuple[Stops, Stops],
    full: Stops,
    width: float,
    *,
    narrow: bool = False,
    bare: bool = False,
    drag: bool = False,
) -> Scale:
    ruler = _Ruler(width)
    letter = 6.4 if narrow else 7.0
    meant_background, meant_subject = meant
    daylight, flash = _rows(zones_above, ruler, letter), _rows(zones_below, ruler, letter)
    top = SHAPE_HEIGHT if bare else SHAPE_HEIGHT + len(daylight) * ROW_HEIGHT
    bar_height = 14.0 if bare else 28.0
    foot = top + bar_height
    above = tuple(_above(place, top, row, ruler) for row, places in enumerate(daylight) for place in places)
    below = tuple(_below(place, foot, row, ruler) for row, places in enumerate(flash) for place in places)
    return Scale(
        width=width,
        height=foot + SHAPE_HEIGHT if bare else foot + SHAPE_HEIGHT + 4 + len(flash) * ROW_HEIGHT,
        bar_y=top,
        bar_height=bar_height,
        cells=tuple(_cells(ruler)),
        ticks=tuple(_ticks(ruler, 0 if bare else 2 if narrow else 1)),
        above=above,
        below=below,
        meant_background=ruler.x(meant_background),
        meant_subject=ruler.x(meant_subject),
        black_to=ruler.x(BLACK),
        clips_from=ruler.x(full),
        zero=ruler.x(0),
        per_stop=ruler.x(1) - ruler.x(0),
        narrow=narrow,
        bare=bare,
        drag=drag,
        words=_words(meant_background, meant_subject, (*above, *below), full),
    )


def _daylight(levels: Levels) -> Iterable[ScaleZone]:
    yield ScaleZone("face, daylight", levels.subject_ambient, "down", "daylight")
    yield ScaleZone("background", levels.background_ambient, "square", "daylight")
    if levels.sky is not None:
        yield ScaleZone("sky", levels.sky, "round", "daylight")
    if levels.rim is not None:
        yield ScaleZone("rim", levels.rim, "diamond", "daylight")


LEGEND = (
    ScaleZone("sky", 0, "round", "daylight"),
    ScaleZone("background", 0, "square", "daylight"),
    ScaleZone("rim of sun", 0, "diamond", "daylight"),
    ScaleZone("face in daylight", 0, "down", "daylight"),
    ScaleZone("flash on the face", 0, "up", "flash"),
    ScaleZone("face as it comes out", 0, "up", "both"),
)
"""The marks that a small scale, which has no words, is read by; without levels of their own."""


def _flash_and_both(levels: Levels) -> Iterable[ScaleZone]:
    if levels.flash is not None:
        yield ScaleZone("flash", levels.flash, "up", "flash")
    if levels.spill is not None and levels.spill > max(BLACK, levels.background_ambient - SPILL_SHOWS):
        yield ScaleZone("spill", levels.spill, "square", "flash")
    yield ScaleZone("face, both", levels.subject, "up", "both")
    if levels.background - levels.background_ambient >= WORTH_SHOWING:
        yield ScaleZone("background, both", levels.background, "square", "both")


@dataclass(frozen=True)
class _Place:
    zone: ScaleZone
    x: float
    label_x: float


def _rows(zones: Iterable[ScaleZone], ruler: _Ruler, letter: float) -> list[list[_Place]]:
    """Labels in as few rows as they fit into without touching, the nearest row to the bar first."""
    rows: list[list[_Place]] = []
    ends: list[float] = []
    for zone in sorted(zones, key=lambda zone: zone.level):
        x, half = ruler.x(zone.level), len(zone.label) * letter / 2
        label_x = max(half, min(x, ruler.width - half))
        row = next((r for r, end in enumerate(ends) if end <= label_x - half), len(ends))
        if row == len(ends):
            ends.append(0.0)
            rows.append([])
        ends[row] = label_x + half + LABEL_GAP
        rows[row].append(_Place(zone, x, label_x))
    return rows


def _above(place: _Place, edge: float, row: int, ruler: _Ruler) -> Mark:
    label_y = edge - 16 - row * ROW_HEIGHT
    ends = _ends(place.zone, ruler)
    return Mark(place.zone, place.x, edge, place.label_x, label_y, edge - 10, label_y + 3, *ends)


def _below(place: _Place, edge: float, row: int, ruler: _Ruler) -> Mark:
    label_y = edge + 27 + row * ROW_HEIGHT
    ends = _ends(place.zone, ruler)
    return Mark(place.zone, place.x, edge, place.label_x, label_y, edge + 10, label_y - 10, *ends)


def _ends(zone: ScaleZone, ruler: _Ruler) -> tuple[float | None, float | None]:
    if zone.uncertainty is None:
        return None, None
    return ruler.x(zone.level - zone.uncertainty), ruler.x(zone.level + zone.uncertainty)


@lru_cache(maxsize=16)
def _cells(ruler: _Ruler) -> tuple[Cell, ...]:
    found = []
    for cell in range(int((HIGHEST - LOWEST) * CELLS_PER_STOP)):
        low = LOWEST + cell / CELLS_PER_STOP
        x = ruler.x(low)
        width = ruler.x(low + 1 / CELLS_PER_STOP) - x
        found.append(Cell(x, width, colour(low + 0.5 / CELLS_PER_STOP)))
    return tuple(found)


def _ticks(ruler: _Ruler, every: int) -> Iterable[Tick]:
    for level in range(int(LOWEST), int(HIGHEST) + 1):
        inside = BLACK + 0.2 < level < CLIP - 0.2
        numbered = inside and every > 0 and level % every == 0
        yield Tick(ruler.x(level), signed(level, 0) if numbered else "", level < 1)


def _words(meant_background: Stops, meant_subject: Stops, marks: Iterable[Mark], full: Stops) -> str:
    """The same drawing for someone who hears it."""
    said = "; ".join(mark.zone.label for mark in marks)
    return (
        f"Levels in stops from mid-tone, black below {signed(BLACK)}, clipping from {signed(full)}."
        f" {said}. Meant: background {signed(meant_background)}, face {signed(meant_subject)}."
    )
