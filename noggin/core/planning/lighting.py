"""Given settings, what every light must give, what it can give, and where each zone then lands."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import isnan, log2, nan

from noggin.core.physics import exposure, flash
from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import NO_FILTER, Stack
from noggin.core.physics.flash import Term
from noggin.core.physics.power import dialled_down, power_label
from noggin.core.setup.camera import Camera
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.tables import BAFFLE_WORDS, BAFFLES, GELS, GRID_LOSS
from noggin.core.units import EV100, TOLERANCE, Metres, Stops
from noggin.core.wording import NONE, metres, number

AMBIENT_ENOUGH: Stops = 1 / 3
"""Daylight that comes so near to the level meant is enough where the key cannot give so little. Common
practice, no source."""

FACES_AT = 1 / 3
"""Where faces are in the frame, from its top (0) to its bottom (1). Common practice, no source."""

TOO_STRONG: Stops = 1 / 3
"""What a light may give too much at its least power. Common practice, no source: it does not show."""


@dataclass(frozen=True)
class Settings:
    """Camera and filters as dialled."""

    shutter: DialStep
    aperture: DialStep
    iso: DialStep
    stack: Stack = NO_FILTER

    @cached_property
    def ev(self) -> EV100:
        """EV100 that the camera alone places at mid-tone."""
        return exposure.settings_ev(self.shutter.stops, self.aperture.stops, self.iso.stops)

    def level(self, zone: EV100) -> Stops:
        """Where a zone of daylight lands."""
        return exposure.ambient_level(zone, self.ev, self.stack.stops)


@dataclass(frozen=True)
class Firing:
    """One light in one way. Levels in stops from mid-tone where it falls (subject or background).

    `hss` says that it fires in high-speed sync; `down` is the dialled power in stops under full, and
    `spare` what the head can be turned down before a short opening lets less of its pulse through.
    `needed`, `down`, `level` and `reserve` are None where no flash is needed; `full`, `down`, `level`
    and `reserve` where the light cannot take part.
    """

    light: Light
    hss: bool
    full: Stops | None
    needed: Stops | None
    down: Stops | None
    spare: Stops = 0.0

    @property
    def reserve(self) -> Stops | None:
        """Full-power level less the level needed; negative is short."""
        return None if self.full is None or self.needed is None else self.full - self.needed

    @property
    def level(self) -> Stops | None:
        """Level at the dialled power."""
        if self.full is None or self.down is None:
            return None
        return min(self.full + self.spare - self.down, self.full)

    @property
    def too_strong(self) -> Stops:
        """Stops by which its least power gives more than is needed; 0 where it does not, or stays off."""
        if self.full is None or self.needed is None:
            return 0.0
        least = min(self.full + self.spare + log2(self.light.power_min), self.full)
        return max(least - self.needed, 0.0)

    @property
    def power(self) -> float | None:
        """Dialled power as a fraction of full."""
        return None if self.down is None else float(2**-self.down)

    @property
    def power_label(self) -> str | None:
        """Dialled power in the light's own notation."""
        if self.down is None:
            return None
        return power_label(self.down, self.light.scale, self.light.full_mark)

    @property
    def power_words(self) -> str:
        """The power as it is said: "1/2 −0.3", "3.6 of 10"; "off" where none is needed, a dash where
        the light cannot take part."""
        if self.full is None:
            return NONE
        if self.power_label is None:
            return "off"
        light = self.light
        return (
            f"{self.power_label} of {number(light.full_mark)}"
            if light.scale == "decimal"
            else self.power_label
        )


@dataclass(frozen=True)
class Levels:
    """Where every zone lands, in stops from mid-tone; None where there is nothing to say. `rim` is sun and
    rim lights on the subject's edge, `spill` what key and fill leave on the background."""

    sky: Stops | None
    rim: Stops | None
    background_ambient: Stops
    background: Stops
    spill: Stops | None
    subject_ambient: Stops
    flash: Stops | None
    subject: Stops


@dataclass(frozen=True)
class Lighting:
    """All lights and all levels under one choice of settings. `left_off` says that the flash stays off only
    because its least power would be too strong, and daylight comes near enough."""

    settings: Settings
    hss: bool
    needed_flash: Stops | None
    firings: tuple[Firing, ...]
    levels: Levels
    left_off: bool = False

    @cached_property
    def key(self) -> Firing:
        """The key light's part."""
        return next(firing for firing in self.firings if firing.light.role == "key")

    @property
    def flash_share(self) -> float:
        """Linear share of flash in the subject's light, 0 to 1."""
        return exposure.flash_share(self.levels.subject_ambient, self.levels.flash)


def past_sync(setup: SetUp, settings: Settings) -> bool:
    """Whether these settings need high-speed sync."""
    return settings.shutter.stops > setup.camera.sync.stops


def opening(camera: Camera, light: Light, shutter: DialStep) -> Stops | None:
    """What the shutter does to a full pop: at or slower than sync nothing, but for the part of a slow
    pulse that the opening misses; past sync the toll, the time, and what the light droops from mid-frame to
    the faces; None where it cannot take part."""
    if shutter.stops <= camera.sync.stops:
        return _pulse_through(camera, light, shutter)
    if light.hss_toll is None or not camera.hss:
        return None
    return flash.past_sync(shutter.stops, camera.sync.stops) - light.hss_toll + light.droop_at(FACES_AT)


def spare(camera: Camera, light: Light, shutter: DialStep) -> Stops:
    """How far a head that cuts its pulse can be turned down before a short opening passes less: what
    the opening misses is the tail, which lower power does not fire."""
    if light.flash_pulse.head != "cut" or shutter.stops > camera.sync.stops:
        return 0.0
    return -_pulse_through(camera, light, shutter)


def _pulse_through(camera: Camera, light: Light, shutter: DialStep) -> Stops:
    """What the opening misses of a full pulse, in the middle of the frame. Under curtains nothing, unless
    pulse and travel are both stated: a rated sync speed has that margin built in."""
    if not camera.has_curtains:
        return light.flash_pulse.caught(shutter.value)
    if light.pulse is None or camera.curtain_s is None:
        return 0.0
    return light.pulse.caught(shutter.value - camera.curtain_s / 2)


def full_level(setup: SetUp, light: Light, settings: Settings) -> Stops | None:
    """A light's level at full power; None past sync where it cannot do high-speed sync."""
    through = opening(setup.camera, light, settings.shutter)
    if through is None:
        return None
    return light.reach - settings.aperture.stops + settings.iso.stops - settings.stack.stops + through


def flash_terms(setup: SetUp, light: Light, settings: Settings) -> tuple[Term, ...]:
    """The terms of `full_level`, from a full pop to the level it leaves, each with its name.

    Past sync the light must have a toll.
    """
    terms = [
        Term(f"full power, GN {number(light.gn_m, 0)}", flash.at_one_metre(light.gn_m)),
        Term(f"{metres(light.distance_m)} away", flash.by_distance(light.distance_m)),
    ]
    if light.count > 1:
        terms.append(Term(f"{light.count} heads", flash.by_heads(light.count)))
    terms += _shaped(light)
    terms.append(Term(f"aperture f/{settings.aperture.label}", -settings.aperture.stops))
    if settings.iso.stops:
        terms.append(Term(f"ISO {settings.iso.label}", settings.iso.stops))
    if settings.stack.stops:
        terms.append(Term("filter", -settings.stack.stops))
    return (*terms, *_timed(setup, light, settings))


def _shaped(light: Light) -> Iterator[Term]:
    """What stands before the light."""
    if light.radius_m:
        yield Term("large source, close", flash.near_source(light.distance_m, light.radius_m))
    if light.loss:
        yield Term("modifier", -light.loss)
    if light.grid:
        yield Term("grid", -GRID_LOSS)
    if BAFFLES[light.baffles]:
        yield Term(BAFFLE_WORDS[light.baffles], BAFFLES[light.baffles])
    if light.gel is not None:
        yield Term(GELS[light.gel].label, -light.gel_loss)


def _timed(setup: SetUp, light: Light, settings: Settings) -> Iterator[Term]:
    """What the shutter takes."""
    sync = setup.camera.sync
    if not past_sync(setup, settings):
        missed = _pulse_through(setup.camera, light, settings.shutter)
        if missed:
            yield Term("pulse cut off", missed)
    elif light.hss_toll is not None:
        yield Term("high-speed toll", -light.hss_toll)
        shorter = flash.past_sync(settings.shutter.stops, sync.stops)
        yield Term(f"{sync.label} to {settings.shutter.label} s", shorter)
        if light.hss_droop:
            yield Term("droop at the faces", light.droop_at(FACES_AT))


def needed_flash(setup: SetUp, subject_ambient: Stops) -> Stops | None:
    """Level that key and fill together must give by the chosen school; None when none is needed."""
    intent = setup.intent
    if intent.school == "match":
        return intent.subject_level
    if intent.school == "share" and intent.share is not None:
        return exposure.flash_for_share(intent.share, subject_ambient)
    return exposure.flash_for_total(intent.subject_level, subject_ambient)


def light_up(setup: SetUp, settings: Settings) -> Lighting:
    """Every light's need, power and reserve, and every level, under the given settings."""
    needed = needed_flash(setup, settings.level(setup.scene.subject))
    key = _fire(setup, setup.key, settings, _relative_need(setup, setup.key, needed))
    left_off = _leave_off(setup, settings, key)
    if left_off:
        needed = None
    firings = [
        _fire(setup, light, settings, _relative_need(setup, light, needed)) for light in setup.lights
    ]
    _top_up(setup, settings, firings)
    levels = _levels(setup, settings, firings)
    return Lighting(settings, past_sync(setup, settings), needed, tuple(firings), levels, left_off)


def at_powers(
    setup: SetUp, settings: Settings, powers: Mapping[int, Stops], *, hss: bool = True
) -> Lighting:
    """Every light at the power it is dialled to (stops under full, by its place in the set-up; one that is
    left out is off), and every level that comes of it. Past sync without `hss` a light reaches a part of
    the frame alone: it then has no level, and `needed` is what that part has of it."""
    firings = [
        _dialled(setup, light, settings, powers.get(index), hss=hss)
        for index, light in enumerate(setup.lights)
    ]
    levels = _levels(setup, settings, firings)
    return Lighting(settings, past_sync(setup, settings), levels.flash, tuple(firings), levels)


def _dialled(setup: SetUp, light: Light, settings: Settings, down: Stops | None, *, hss: bool) -> Firing:
    past = past_sync(setup, settings)
    full, more = full_level(setup, light, settings), spare(setup.camera, light, settings.shutter)
    if down is None:
        return Firing(light, False, full, None, None)
    if past and (not hss or full is None):
        at_sync = full_level(setup, light, replace(settings, shutter=setup.camera.sync))
        return Firing(light, False, None, None if at_sync is None else at_sync - down, None)
    level = None if full is None else min(full + more - down, full)
    return Firing(light, past, full, level, down, more)


def _relative_need(setup: SetUp, light: Light, needed: Stops | None) -> Stops | None:
    """The level of a light that stands in relation to the key; None where the key stays off, and for one
    that tops up the background."""
    if needed is None or light.tops_up:
        return None
    return needed - setup.key_and_fill + light.relative


def _leave_off(setup: SetUp, settings: Settings, key: Firing) -> bool:
    """Whether the flash stays off because the key cannot give so little and daylight comes near enough."""
    if not setup.intent.daylight_counts or key.too_strong <= TOO_STRONG + TOLERANCE:
        return False
    enough = setup.intent.subject_level - AMBIENT_ENOUGH
    return settings.level(setup.scene.subject) >= enough - TOLERANCE


def _fire(setup: SetUp, light: Light, settings: Settings, needed: Stops | None) -> Firing:
    """One light's part where it must give a level; it stays off where none is needed."""
    full, more = full_level(setup, light, settings), spare(setup.camera, light, settings.shutter)
    down = None
    if full is not None and needed is not None:
        down = dialled_down(full - needed + more, light.power_step, light.power_min)
    return Firing(light, past_sync(setup, settings) and full is not None, full, needed, down, more)


def _top_up(setup: SetUp, settings: Settings, firings: list[Firing]) -> None:
    """Background lights without a level of their own bring the background from what it has to what is
    meant, each with an equal part. They stay off where it comes within half a dial step of that, and where
    one's least power would be too strong and it comes within a third of a stop."""
    topping = [index for index, firing in enumerate(firings) if firing.light.tops_up]
    if not topping:
        return
    meant, half = setup.intent.background_level, setup.dial_step / 2
    has = background_level(setup, settings, firings)
    if has >= meant - half - TOLERANCE:
        return
    need = meant + log2(1 - 2 ** (has - meant)) - log2(len(topping))
    near = has >= meant - max(TOO_STRONG, half) - TOLERANCE
    for index in topping:
        lit = _fire(setup, firings[index].light, settings, need)
        if not (near and lit.too_strong > TOO_STRONG + TOLERANCE):
            firings[index] = lit


def background_level(setup: SetUp, settings: Settings, firings: Sequence[Firing]) -> Stops:
    """Where the background lands with daylight and everything that the given lights throw on it."""
    spilt = (spill(setup, firing) for firing in firings)
    return _together(settings.level(setup.scene.background), *spilt)


def spill(setup: SetUp, firing: Firing) -> Stops | None:
    """The level of one light on the background: of key and fill by their fall-off, of a background light as
    it is; None where it stays off or is a rim light."""
    by = on_background_by(firing.light, setup.behind_m)
    return None if firing.level is None or isnan(by) else firing.level + by


def on_background_by(light: Light, behind_m: Metres) -> Stops:
    """From a light's level to what it leaves `behind_m` behind the subject; NaN for a rim light."""
    if light.role == "rim":
        return nan
    if light.role == "background":
        return 0.0
    return flash.falloff(light.distance_m, behind_m, light.radius_m) - light.kept_off(behind_m)


def _levels(setup: SetUp, settings: Settings, firings: Sequence[Firing]) -> Levels:
    scene = setup.scene
    subject_ambient = settings.level(scene.subject)
    on_subject = exposure.mix(*(f.level for f in firings if f.light.lights_subject))
    on_rim = [f.level for f in firings if f.light.role == "rim"]
    of_key = [spill(setup, f) for f in firings if f.light.lights_subject]
    return Levels(
        sky=None if scene.sky is None else settings.level(scene.sky),
        rim=exposure.mix(None if scene.rim is None else settings.level(scene.rim), *on_rim),
        background_ambient=settings.level(scene.background),
        background=background_level(setup, settings, firings),
        spill=exposure.mix(*of_key),
        subject_ambient=subject_ambient,
        flash=on_subject,
        subject=_together(subject_ambient, on_subject),
    )


def _together(ambient: Stops, *flashes: Stops | None) -> Stops:
    level = exposure.mix(ambient, *flashes)
    assert level is not None  # noqa: S101 - daylight is always there
    return level
