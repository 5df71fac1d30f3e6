"""Why a figure is what it is: its chain of terms, the formula, and the formula's source.

One row for each row of the board; the terms of a chain that adds up end in the figure itself.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from noggin.core import optics
from noggin.core.flash import Term
from noggin.core.lighting import flash_terms
from noggin.core.plan import Way
from noggin.core.setup import SetUp
from noggin.core.units import EV100
from noggin.core.wording import metres, number, percent, plain, signed, stops


@dataclass(frozen=True)
class Link:
    """One link of a chain: what it is and its figure in words."""

    what: str
    figure: str


@dataclass(frozen=True)
class Why:
    """How one row of the board comes about; `links` sees the set-up and the way."""

    formula: str
    source: str
    links: Callable[[SetUp, Way], Iterator[Link]]


def _settings(way: Way) -> Iterator[Term]:
    settings = way.settings
    yield Term(f"time {settings.shutter.label}", settings.shutter.stops)
    yield Term(f"aperture f/{settings.aperture.label}", settings.aperture.stops)
    yield Term(f"ISO {settings.iso.label}", -settings.iso.stops)


def _terms(terms: Iterator[Term]) -> Iterator[Link]:
    for term in terms:
        yield Link(term.what, signed(term.stops, 2))


def _camera(setup: SetUp, way: Way) -> Iterator[Link]:
    yield from _terms(_settings(way))
    yield Link("EV that they place at mid-tone", plain(way.settings.ev, 2))
    yield Link("sync speed of this shutter", setup.camera.sync.label)
    yield Link("wanted aperture", f"f/{setup.wanted_aperture.label}")


def _zone(zone: EV100, name: str, way: Way) -> Iterator[Link]:
    yield Link(f"{name}, EV at ISO 100", plain(zone, 2))
    for term in _settings(way):
        yield Link(term.what, signed(-term.stops, 2))
    if way.settings.stack.stops:
        yield Link("filter", signed(-way.settings.stack.stops, 2))
    yield Link("level", signed(way.settings.level(zone), 2))


def _background(setup: SetUp, way: Way) -> Iterator[Link]:
    yield from _zone(setup.scene.background, "background", way)
    yield Link("meant", signed(setup.intent.background_level, 2))


def _daylight(setup: SetUp, way: Way) -> Iterator[Link]:
    yield from _zone(setup.scene.subject, "shaded face", way)


def _needed(setup: SetUp, way: Way) -> Iterator[Link]:
    lighting = way.lighting
    yield Link("subject in daylight", signed(lighting.levels.subject_ambient, 2))
    yield Link("subject meant", signed(setup.intent.subject_level, 2))
    if lighting.needed_flash is None:
        yield Link("flash needed", "none, daylight is enough")
        return
    yield Link("key and fill must give", signed(lighting.needed_flash, 2))
    if setup.key_and_fill:
        yield Link("of which fill and key over the key alone", signed(-setup.key_and_fill, 2))
    yield Link("key must give", signed(lighting.key.needed, 2))


def _reserve(setup: SetUp, way: Way) -> Iterator[Link]:
    key = way.lighting.key
    if key.full is None:
        yield Link("high-speed sync", "the key cannot take part")
        return
    yield from _terms(iter(flash_terms(setup, setup.key, way.settings)))
    yield Link("full pop", signed(key.full, 2))
    yield from _needed(setup, way)
    if way.reserve is not None:
        yield Link("reserve", signed(way.reserve, 2))
        yield Link("± by guide number, modifier, toll and reading", plain(way.uncertainty or 0.0, 2))


def _power(_: SetUp, way: Way) -> Iterator[Link]:
    for firing in way.lighting.firings:
        if firing.reserve is None or firing.down is None:
            yield Link(firing.light.says, firing.power_words)
            continue
        yield Link(f"{firing.light.says}, reserve", signed(firing.reserve, 2))
        if firing.spare:
            yield Link("tail of the pulse that lower power does not fire", signed(firing.spare, 2))
        yield Link(f"in steps of {number(firing.light.power_step, 2)}", f"{stops(firing.down, 2)} down")
        yield Link("dialled", firing.power_words)


def _flash(_: SetUp, way: Way) -> Iterator[Link]:
    for firing in way.lighting.firings:
        if firing.light.lights_subject and firing.level is not None and firing.full is not None:
            yield Link(f"{firing.light.says}, full pop", signed(firing.full, 2))
            yield Link("dialled down", signed(firing.level - firing.full, 2))
    yield Link("together", signed(way.lighting.levels.flash, 2))


def _subject(_: SetUp, way: Way) -> Iterator[Link]:
    levels = way.lighting.levels
    yield Link("daylight", signed(levels.subject_ambient, 2))
    yield Link("flash", signed(levels.flash, 2))
    yield Link("both", signed(levels.subject, 2))


def _share(setup: SetUp, way: Way) -> Iterator[Link]:
    yield from _subject(setup, way)
    yield Link("flash of both", percent(way.lighting.flash_share))


def _iso(setup: SetUp, way: Way) -> Iterator[Link]:
    yield Link("lowest of this camera", setup.camera.iso_low.label)
    raised = way.settings.iso.stops - setup.camera.iso_low.stops
    yield Link("raised for a time within sync or a light that is short", stops(raised, 2))


def _filter(_: SetUp, way: Way) -> Iterator[Link]:
    for name in way.settings.stack.names:
        yield Link(name, "on the lens")
    yield Link("together", stops(way.settings.stack.stops, 2))


def _focus(setup: SetUp, way: Way) -> Iterator[Link]:
    coc = optics.circle_of_confusion(setup.camera.sensor_mm)
    n = way.settings.aperture.value
    yield Link("focal length", f"{number(setup.lens.focal_mm, 1)} mm")
    yield Link("exact f-number", plain(n, 2))
    yield Link("circle of confusion", f"{plain(coc, 4)} mm")
    yield Link("hyperfocal distance", metres(optics.hyperfocal(setup.lens.focal_mm, n, coc)))
    yield Link("near", metres(way.focus.near_m))
    yield Link("far", metres(way.focus.far_m))


def _blur(setup: SetUp, way: Way) -> Iterator[Link]:
    scene = setup.scene
    disc = optics.blur_disc(
        scene.subject_distance_m,
        scene.background_distance_m,
        setup.lens.focal_mm,
        way.settings.aperture.value,
    )
    yield Link("subject at", metres(scene.subject_distance_m))
    yield Link("background at", metres(scene.background_distance_m))
    yield Link("disc on the sensor", f"{plain(disc, 3)} mm")
    yield Link("of the frame's width", f"{plain(way.focus.background_blur_pct, 2)} %")


CHAINS = {
    "camera": Why("EV = log2(N²/t) − log2(ISO/100)", "APEX; ISO 2720", _camera),
    "iso": Why("raised only as far as within sync needs", "the plan's own rule", _iso),
    "filter": Why("stops = log2(factor) = density / 0.301", "definition of optical density", _filter),
    "power": Why("power = 2^(−reserve), to the light's step", "definition of a stop", _power),
    "reserve": Why(
        "2·log2(GN/d) − log2(1 + r²/d²) + log2 n − loss − 2·log2 N + log2(ISO/100) − ND, less the need",
        "ISO 1230; illuminance on the axis of a Lambertian disc",
        _reserve,
    ),
    "background": Why("A = EV of the zone − EV of the settings − ND", "APEX; ISO 2720", _background),
    "daylight": Why("A = EV of the zone − EV of the settings − ND", "APEX; ISO 2720", _daylight),
    "flash": Why("log2 Σ 2^F over key and fill", "definition of a stop", _flash),
    "subject": Why("log2(2^A + 2^F)", "definition of a stop", _subject),
    "share": Why("2^F / (2^A + 2^F)", "definition of a stop", _share),
    "focus": Why(
        "H = f²/(N·c) + f; near = s(H−f)/(H+s−2f); far = s(H−f)/(H−s)", "thin lens, handbook", _focus
    ),
    "blur": Why("f²/(N(s−f)) · |D−s|/D", "thin lens, handbook", _blur),
}
"""For every row of the board its chain, formula and source."""
