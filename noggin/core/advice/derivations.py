"""Why a figure is what it is: its steps, the formula, and the formula's source.

One derivation for each row of the table of ways; steps that add up end in the figure itself.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from noggin.core.physics import flash, optics
from noggin.core.physics.flash import Term
from noggin.core.planning.lighting import flash_terms, spill
from noggin.core.planning.verdicts import background_error, counted_error
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import EV100
from noggin.core.wording import metres, number, percent, plain, signed, stops


@dataclass(frozen=True)
class Step:
    """One step of a derivation: what it is and its figure in words."""

    what: str
    figure: str


@dataclass(frozen=True)
class Derivation:
    """How one row of the table comes about: formula, its source, and the steps for a set-up and a way."""

    formula: str
    source: str
    steps: Callable[[SetUp, Way], Iterator[Step]]


def _settings(way: Way) -> Iterator[Term]:
    settings = way.settings
    yield Term(f"time {settings.shutter.label}", settings.shutter.stops)
    yield Term(f"aperture f/{settings.aperture.label}", settings.aperture.stops)
    yield Term(f"ISO {settings.iso.label}", -settings.iso.stops)


def _terms(terms: Iterator[Term]) -> Iterator[Step]:
    for term in terms:
        yield Step(term.what, signed(term.stops, 2))


def _camera(setup: SetUp, way: Way) -> Iterator[Step]:
    yield from _terms(_settings(way))
    yield Step("EV these settings place at mid-tone", plain(way.settings.ev, 2))
    yield Step("sync speed of this shutter", setup.camera.sync.label)
    yield Step("wanted aperture", f"f/{setup.wanted_aperture.label}")


def _zone(zone: EV100, name: str, way: Way) -> Iterator[Step]:
    yield Step(f"{name}, EV at ISO 100", plain(zone, 2))
    for term in _settings(way):
        yield Step(term.what, signed(-term.stops, 2))
    if way.settings.stack.stops:
        yield Step("filter", signed(-way.settings.stack.stops, 2))
    yield Step("level", signed(way.settings.level(zone), 2))


def _background(setup: SetUp, way: Way) -> Iterator[Step]:
    yield from _zone(setup.scene.background, "background", way)
    levels = way.lighting.levels
    for firing in way.lighting.firings:
        thrown = spill(setup, firing)
        if thrown is not None:
            yield Step(f"{firing.light.says} on the background", signed(thrown, 2))
    yield Step("together", signed(levels.background, 2))
    yield Step("meant", signed(setup.intent.background_level, 2))


def _verdict(setup: SetUp, way: Way) -> Iterator[Step]:
    error = background_error(setup, way.lighting)
    yield Step("background off what is meant", signed(error, 2))
    yield Step("that counts as", plain(counted_error(setup, error), 2))
    yield Step("it may be off by half a dial step", plain(setup.dial_step / 2, 2))
    for firing in way.lighting.firings:
        if firing.reserve is not None:
            yield Step(f"{firing.light.says}, reserve", signed(firing.reserve, 2))
            if firing.too_strong:
                yield Step(f"{firing.light.says}, too strong at its least", signed(firing.too_strong, 2))
    yield Step("missed in all", stops(way.miss, 2))


def _spill(setup: SetUp, way: Way) -> Iterator[Step]:
    for firing in way.lighting.firings:
        light, thrown = firing.light, spill(setup, firing)
        if not light.lights_subject or thrown is None or firing.level is None:
            continue
        yield Step(f"{light.says} on the faces", signed(firing.level, 2))
        behind = flash.falloff(light.distance_m, setup.behind_m, light.radius_m)
        yield Step(
            f"{metres(light.distance_m)} to {metres(light.distance_m + setup.behind_m)}", signed(behind, 2)
        )
        if light.grid:
            yield Step("grid", signed(-light.kept_off(setup.behind_m), 2))
        yield Step("on the background", signed(thrown, 2))
    if way.lighting.levels.spill is None:
        yield Step("flash on the background", "none")


def _daylight(setup: SetUp, way: Way) -> Iterator[Step]:
    yield from _zone(setup.scene.subject, "faces in shade", way)


def _needed(setup: SetUp, way: Way) -> Iterator[Step]:
    lighting = way.lighting
    yield Step("faces in daylight", signed(lighting.levels.subject_ambient, 2))
    yield Step("faces meant", signed(setup.intent.subject_level, 2))
    if lighting.needed_flash is None:
        yield Step("flash needed", "none: daylight is enough")
        return
    yield Step("key and fill must give", signed(lighting.needed_flash, 2))
    if setup.key_and_fill:
        yield Step("of which the fill adds to the key", signed(-setup.key_and_fill, 2))
    yield Step("key must give", signed(lighting.key.needed, 2))


def _reserve(setup: SetUp, way: Way) -> Iterator[Step]:
    key = way.lighting.key
    if key.full is None:
        yield Step("high-speed sync", "the key has none")
        return
    yield from _terms(iter(flash_terms(setup, setup.key, way.settings)))
    yield Step("full power", signed(key.full, 2))
    yield from _needed(setup, way)
    if way.reserve is not None:
        yield Step("reserve", signed(way.reserve, 2))
        yield Step("± from guide number, modifier, toll and reading", plain(way.uncertainty or 0.0, 2))


def _power(_: SetUp, way: Way) -> Iterator[Step]:
    for firing in way.lighting.firings:
        if firing.reserve is None or firing.down is None:
            yield Step(firing.light.says, firing.power_words)
            continue
        yield Step(f"{firing.light.says}, reserve", signed(firing.reserve, 2))
        if firing.spare:
            yield Step("tail of the pulse that lower power leaves out", signed(firing.spare, 2))
        yield Step(f"in steps of {number(firing.light.power_step, 2)}", f"{stops(firing.down, 2)} down")
        yield Step("dialled", firing.power_words)


def _flash(_: SetUp, way: Way) -> Iterator[Step]:
    for firing in way.lighting.firings:
        if firing.light.lights_subject and firing.level is not None and firing.full is not None:
            yield Step(f"{firing.light.says} at full power", signed(firing.full, 2))
            yield Step("dialled down", signed(firing.level - firing.full, 2))
    yield Step("together", signed(way.lighting.levels.flash, 2))


def _subject(_: SetUp, way: Way) -> Iterator[Step]:
    levels = way.lighting.levels
    yield Step("daylight", signed(levels.subject_ambient, 2))
    yield Step("flash", signed(levels.flash, 2))
    yield Step("both", signed(levels.subject, 2))


def _share(setup: SetUp, way: Way) -> Iterator[Step]:
    yield from _subject(setup, way)
    yield Step("flash share", percent(way.lighting.flash_share))


def _iso(setup: SetUp, way: Way) -> Iterator[Step]:
    yield Step("lowest ISO of this camera", setup.camera.iso_low.label)
    raised = way.settings.iso.stops - setup.camera.iso_low.stops
    yield Step("raised for the hand, for movement, or for a light that is short", stops(raised, 2))


def _filter(_: SetUp, way: Way) -> Iterator[Step]:
    for name in way.settings.stack.names:
        yield Step(name, "on the lens")
    yield Step("together", stops(way.settings.stack.stops, 2))


def _focus(setup: SetUp, way: Way) -> Iterator[Step]:
    coc = optics.circle_of_confusion(setup.camera.sensor_mm)
    n = way.settings.aperture.value
    yield Step("focal length", f"{number(setup.lens.focal_mm, 1)} mm")
    yield Step("exact f-number", plain(n, 2))
    yield Step("circle of confusion", f"{plain(coc, 4)} mm")
    yield Step("hyperfocal distance", metres(optics.hyperfocal(setup.lens.focal_mm, n, coc)))
    yield Step("near", metres(way.focus.near_m))
    yield Step("far", metres(way.focus.far_m))


def _blur(setup: SetUp, way: Way) -> Iterator[Step]:
    scene = setup.scene
    disc = optics.blur_disc(
        scene.subject_distance_m,
        scene.background_distance_m,
        setup.lens.focal_mm,
        way.settings.aperture.value,
    )
    yield Step("subject at", metres(scene.subject_distance_m))
    yield Step("background at", metres(scene.background_distance_m))
    yield Step("disc on the sensor", f"{plain(disc, 3)} mm")
    yield Step("of the frame's width", f"{plain(way.focus.background_blur_pct, 2)}%")


DERIVATIONS = {
    "verdict": Derivation(
        "holds within half a dial step and no light short; only just works within 1/3 stop",
        "rule of the plan",
        _verdict,
    ),
    "camera": Derivation("EV = log2(N²/t) − log2(ISO/100)", "APEX; ISO 2720", _camera),
    "iso": Derivation("raised only as far as within sync needs", "rule of the plan", _iso),
    "filter": Derivation(
        "stops = log2(factor) = density / 0.301", "definition of optical density", _filter
    ),
    "power": Derivation("power = 2^(−reserve), to the light's step", "definition of a stop", _power),
    "reserve": Derivation(
        "2·log2(GN/d) − log2(1 + r²/d²) + log2 n − loss − 2·log2 N + log2(ISO/100) − ND, less the need",
        "ISO 1230; illuminance on the axis of a Lambertian disc",
        _reserve,
    ),
    "background": Derivation(
        "log2(2^A + Σ 2^F), A = EV of the zone − EV of the settings − ND", "APEX; ISO 2720", _background
    ),
    "spill": Derivation("F + log2((d² + r²)/((d + D)² + r²))", "inverse square, Lambertian disc", _spill),
    "daylight": Derivation("A = EV of the zone − EV of the settings − ND", "APEX; ISO 2720", _daylight),
    "flash": Derivation("log2 Σ 2^F over key and fill", "definition of a stop", _flash),
    "subject": Derivation("log2(2^A + 2^F)", "definition of a stop", _subject),
    "share": Derivation("2^F / (2^A + 2^F)", "definition of a stop", _share),
    "focus": Derivation(
        "H = f²/(N·c) + f; near = s(H−f)/(H+s−2f); far = s(H−f)/(H−s)", "thin lens, handbook", _focus
    ),
    "blur": Derivation("f²/(N(s−f)) · |D−s|/D", "thin lens, handbook", _blur),
}
"""For every row of the table of ways its steps, formula and source."""
