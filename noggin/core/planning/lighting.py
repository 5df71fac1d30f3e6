"""Given settings, what every light must give, what it can give, and where each zone then lands."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from noggin.core.physics import exposure, flash
from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import NO_FILTER, Stack
from noggin.core.physics.flash import Term
from noggin.core.physics.power import dialled_down, power_label
from noggin.core.setup.camera import Camera
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GELS
from noggin.core.units import EV100, Seconds, Stops
from noggin.core.wording import NONE, metres, number


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
    """Where every zone lands, in stops from mid-tone; None where there is nothing to say."""

    sky: Stops | None
    rim: Stops | None
    background_ambient: Stops
    background: Stops
    subject_ambient: Stops
    flash: Stops | None
    subject: Stops


@dataclass(frozen=True)
class Lighting:
    """All lights and all levels under one choice of settings."""

    settings: Settings
    hss: bool
    needed_flash: Stops | None
    firings: tuple[Firing, ...]
    levels: Levels

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


def open_time(camera: Camera, shutter: DialStep) -> Seconds:
    """How long the middle of the frame stays open to a pop fired at full opening, at or under sync."""
    return shutter.value - (camera.travel_s / 2 if camera.shutter == "focal_plane" else 0.0)


def opening(camera: Camera, light: Light, shutter: DialStep) -> Stops | None:
    """What the shutter does to a full pop: at or slower than sync nothing, but for the part of a slow
    pulse that the opening misses; past sync the toll and the time; None where it cannot take part."""
    if shutter.stops <= camera.sync.stops:
        return 0.0 if light.pulse is None else light.pulse.caught(open_time(camera, shutter))
    if light.hss_toll is None or not camera.hss:
        return None
    return flash.past_sync(shutter.stops, camera.sync.stops) - light.hss_toll


def spare(camera: Camera, light: Light, shutter: DialStep) -> Stops:
    """How far a head that cuts its pulse can be turned down before a short opening passes less: what
    the opening misses is the tail, which lower power does not fire."""
    if light.pulse is None or light.pulse.head != "cut" or shutter.stops > camera.sync.stops:
        return 0.0
    return -light.pulse.caught(open_time(camera, shutter))


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
    if light.radius_m:
        near = flash.near_source(light.distance_m, light.radius_m)
        terms.append(Term("large source, close", near))
    if light.loss:
        terms.append(Term("modifier", -light.loss))
    if light.gel is not None:
        terms.append(Term(GELS[light.gel].label, -light.gel_loss))
    terms.append(Term(f"aperture f/{settings.aperture.label}", -settings.aperture.stops))
    if settings.iso.stops:
        terms.append(Term(f"ISO {settings.iso.label}", settings.iso.stops))
    if settings.stack.stops:
        terms.append(Term("filter", -settings.stack.stops))
    sync = setup.camera.sync
    if not past_sync(setup, settings):
        if light.pulse is not None:
            terms.append(
                Term("pulse cut off", light.pulse.caught(open_time(setup.camera, settings.shutter)))
            )
    elif light.hss_toll is not None:
        terms.append(Term("high-speed toll", -light.hss_toll))
        shorter = flash.past_sync(settings.shutter.stops, sync.stops)
        terms.append(Term(f"{sync.label} to {settings.shutter.label} s", shorter))
    return tuple(terms)


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
    firings = tuple(_fire(setup, light, settings, needed) for light in setup.lights)
    levels = _levels(setup, settings, firings)
    return Lighting(settings, past_sync(setup, settings), needed, firings, levels)


def _fire(setup: SetUp, light: Light, settings: Settings, needed_flash: Stops | None) -> Firing:
    """One light's part. Where no flash is needed, rim and background lights are relative to the level
    meant for the subject."""
    needed = None
    if needed_flash is not None:
        needed = needed_flash - setup.key_and_fill + light.relative
    elif not light.lights_subject:
        needed = setup.intent.subject_level + light.relative
    full, more = full_level(setup, light, settings), spare(setup.camera, light, settings.shutter)
    down = None
    if full is not None and needed is not None:
        down = dialled_down(full - needed + more, light.power_step, light.power_min)
    return Firing(light, past_sync(setup, settings) and full is not None, full, needed, down, more)


def _levels(setup: SetUp, settings: Settings, firings: Sequence[Firing]) -> Levels:
    scene = setup.scene
    subject_ambient = settings.level(scene.subject)
    background_ambient = settings.level(scene.background)
    on_subject = exposure.mix(*(f.level for f in firings if f.light.lights_subject))
    spill = (_on_background(setup, firing) for firing in firings)
    return Levels(
        sky=None if scene.sky is None else settings.level(scene.sky),
        rim=None if scene.rim is None else settings.level(scene.rim),
        background_ambient=background_ambient,
        background=_together(background_ambient, *spill),
        subject_ambient=subject_ambient,
        flash=on_subject,
        subject=_together(subject_ambient, on_subject),
    )


def _together(ambient: Stops, *flashes: Stops | None) -> Stops:
    level = exposure.mix(ambient, *flashes)
    assert level is not None  # noqa: S101 - daylight is always there
    return level


def _on_background(setup: SetUp, firing: Firing) -> Stops | None:
    """What a light adds to the background: key and fill by fall-off, background lights directly."""
    if firing.level is None or firing.light.role == "rim":
        return None
    if firing.light.role == "background":
        return firing.level
    light, scene = firing.light, setup.scene
    behind = scene.background_distance_m - scene.subject_distance_m
    return firing.level + flash.falloff(light.distance_m, behind, light.radius_m)
