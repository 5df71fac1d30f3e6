"""The one thing to change before the next frame: every dial is tried in thought, and the one that brings
every zone nearest to what is meant wins."""

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cache
from math import isinf, log2

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics import dials
from noggin.core.physics.power import dialled_down, power_label
from noggin.core.planning.way import Way
from noggin.core.pops.actual import ActualFrame, LightSum, Lit
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.frame import Dialled
from noggin.core.pops.target import meant_subject
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops

NEAR: Stops = 1 / 3
"""A zone is right within this."""

SURE = 0.9
"""How probable it must be that face and background are right, to call a picture done."""

COSTS = {"power": 0.0, "shutter": 0.0, "iso": 0.03, "filter": 0.15, "aperture": 0.08, "distance": 0.05}
"""What it costs to touch each control, in stops² of what is off: power and time are at hand, a filter
comes off a lens, an aperture changes the look. Common practice, no source."""

TURNED = 0.03
"""The same for turning the filter that is on the lens. Common practice, no source."""

FRAME = 0.15
"""What one more frame costs, in stops²: 0.4 stop that is off is worth it. Common practice, no source."""

MISSED = 0.6
"""What it costs to be off by more than a third of a stop for sure, in stops². Of 0.15, 0.3, 0.6 and 1 this
came to the fewest pops and false alarms in benchmarks/at_the_spot."""

HOPELESS = 0.6
"""What is off by more, in stops², is never within a third of a stop."""

WORTH = 0.01
"""What a change must bring, in stops², to be advised. Of 0.01 and 0.05 this came to the fewest pops in
benchmarks/at_the_spot."""

NOTHING_OFF: Stops = NEAR / 2
"""Nearer than this nothing is changed. Common practice, no source."""

BACKGROUND_MOST = 2.0
FACE_WEIGHS = 1.5
"""What a background may cost at most, in stops², and what a face weighs against it. Common practice, no
source."""

DARK_ENOUGH: Stops = -4.0
"""A background that is meant darker than this cannot be too dark, as in planning."""

NEAREST_M: Metres = 0.5
MOVED_MOST: Stops = 3.0
"""How near a light is brought, and by how much moving it changes at most. Common practice, no source."""

DRAWS = 4000


@dataclass(frozen=True)
class Change:
    """One control, where it goes, what is then dialled, where every zone lands, what that leaves off, how
    probable it is to leave more off than a third of a stop, and what it costs to touch it, in stops²."""

    control: str
    light: int | None
    to: str
    dialled: Dialled
    expected: Mapping[str, Stops]
    off: float
    missed: float
    touch: float

    @property
    def left(self) -> float:
        """What is off after it, with what it costs to be off by too much, and to touch it."""
        return self.off + MISSED * self.missed + self.touch


@dataclass(frozen=True)
class Advice:
    """What to do next: a change, or none where the picture is as near as it gets; how probable it is that
    face and background are right as dialled; and whether the picture is done: right as far as can be known,
    with the flash where it needs any."""

    change: Change | None
    probability: float
    why: str
    done: bool = False


def advise(
    setup: SetUp, way: Way, estimate: Estimate, left_alone: Collection[tuple[str, int | None]] = ()
) -> Advice:
    """What to do after the last frame of an estimate. Controls that are `left_alone` (each with its light's
    place, None for the camera's) are not proposed: the photographer has overruled them."""
    dialled = with_flash(way, estimate.frames[-1].dialled)
    probability = right(setup, estimate, dialled)
    flash_was_on = estimate.frames[-1].flash
    if probability >= SURE and (flash_was_on or not dialled.powers):
        return Advice(None, probability, "Face and background are within a third of a stop.", done=True)
    fresh = not any(frame.flash for frame in estimate.frames)
    prospects = _Prospects(setup, way, estimate, fresh, frozenset(left_alone))
    changes = list(prospects.changes(dialled))
    now = prospects.stays(dialled, changes)
    ranked = [(prospects.worth(one), place, one) for place, one in enumerate(changes)]
    if not ranked:
        return Advice(None, probability, "Everything that could be changed stays as you want it.")
    worth, _, found = min(ranked)
    why = _why(setup, estimate, dialled)
    if now - worth < WORTH or (flash_was_on and prospects.is_near(dialled)):
        words = "Daylight is as planned: fire the flash."
        if flash_was_on:
            words = why if SPILLS in why else f"{why} No change is worth a frame."
        return Advice(None, probability, words)
    follows = found.light is None and not fresh and prospects.light_brings(found) > WORTH
    return Advice(found, probability, f"{why} Then the light follows." if follows else why)


def with_flash(way: Way, dialled: Dialled) -> Dialled:
    """The same with every light on: at the power it was dialled to, else as planned."""
    planned = {
        index: firing.down for index, firing in enumerate(way.lighting.firings) if firing.down is not None
    }
    return replace(dialled, powers={**planned, **dialled.powers}, hss=way.lighting.hss)


def right(setup: SetUp, estimate: Estimate, dialled: Dialled) -> float:
    """How probable it is that face and background are both within a third of a stop of what is meant."""
    lit = estimate.lit(ActualFrame(dialled))
    terms = (lit.zone("background"), lit.zone("subject"))
    found = [one.level(estimate.offsets) for one in terms]
    follows = np.array([row for _, row in found])
    spread = follows @ estimate.covariance @ follows.T
    ambient, _ = lit.daylight("subject").level(estimate.offsets)
    off = np.array(
        [found[0][0] - setup.intent.background_level, found[1][0] - meant_subject(setup, ambient)]
    )
    # The square root of a matrix that may be all but singular.
    values, vectors = np.linalg.eigh(spread)
    root = vectors * np.sqrt(np.maximum(values, 0.0))
    drawn = off + _normal() @ root.T
    if setup.intent.background_level < DARK_ENOUGH:
        drawn[:, 0] = np.maximum(drawn[:, 0], 0.0)
    return float((np.abs(drawn) <= NEAR + TOLERANCE).all(axis=1).mean())


@cache
def _normal() -> NDArray[np.float64]:
    """Draws from two normal distributions, always the same ones."""
    return np.random.default_rng(1).standard_normal((DRAWS, 2))


@dataclass(frozen=True)
class _Prospects:
    """What changes would come to. `fresh` says that no light was fired yet: then the powers go with
    whatever else is changed, for nobody has dialled them so far. Controls that are `left_alone` change
    neither first nor after another one."""

    setup: SetUp
    way: Way
    estimate: Estimate
    fresh: bool
    left_alone: frozenset[tuple[str, int | None]]

    def worth(self, change: Change) -> float:
        """What is off after a change, and after a second one where the first misses: a light after the
        camera, and the camera after a light."""
        after = self._of_camera if change.light is not None else self._of_lights
        return change.touch + _foreseen(change.off, change.missed, after(change.dialled))

    def stays(self, dialled: Dialled, changes: Iterable[Change]) -> float:
        """What is off where the next frame is dialled like the last, and changed after it if it misses."""
        return _foreseen(*self._judged(dialled), changes)

    def light_brings(self, change: Change) -> float:
        """By how much less is off, in stops², where a light follows what was changed."""
        return change.off - min((one.off for one in self._of_lights(change.dialled)), default=change.off)

    def _judged(self, dialled: Dialled) -> tuple[float, float]:
        """What is off, in stops², and how probable it is to be off by more than a third of a stop."""
        background, subject = _errors(self.setup, self.estimate, self.estimate.lit(ActualFrame(dialled)))
        # Faces come first: a background that cannot be mended, as one that the flash lights, ruins no face.
        off = min(background**2, BACKGROUND_MOST) + FACE_WEIGHS * subject**2
        missed = 1.0 if off > HOPELESS else 1 - right(self.setup, self.estimate, dialled)
        return off, missed

    def is_near(self, dialled: Dialled) -> bool:
        """Whether both are so near that nothing is changed."""
        off = _errors(self.setup, self.estimate, self.estimate.lit(ActualFrame(dialled)))
        return max(abs(one) for one in off) < NOTHING_OFF

    def changes(self, dialled: Dialled) -> Iterator[Change]:
        """Every change of one control."""
        yield from self._of_camera(dialled)
        yield from self._of_lights(dialled)

    def _of_camera(self, dialled: Dialled) -> Iterator[Change]:
        """Shutter, aperture, ISO and filters, other than they are."""
        for change in self._camera_dials(dialled):
            if change.dialled.settings != dialled.settings and self._may(change):
                yield change

    def _camera_dials(self, dialled: Dialled) -> Iterator[Change]:
        settings, camera, setup = dialled.settings, self.setup.camera, self.setup
        past = settings.shutter.stops > camera.sync.stops + TOLERANCE
        fastest = camera.fastest if past else camera.sync
        for shutter in camera.shutters.between(camera.slowest.stops, fastest.stops):
            # A way stays what it is: in high-speed sync the time stays past sync.
            if not past or shutter.stops > camera.sync.stops + TOLERANCE:
                yield self._set("shutter", shutter.label, dialled, shutter=shutter)
        for aperture in setup.apertures:
            yield self._set("aperture", f"f/{aperture.label}", dialled, aperture=aperture)
        for iso in dials.iso_dial().between(camera.iso_low.stops, camera.iso_high.stops):
            yield self._set("iso", f"ISO {iso.label}", dialled, iso=iso)
        for stack in setup.stacks if settings.stack.stops or self.way.kind.uses_filters else ():
            yield self._set("filter", stack.words, dialled, stack=stack)

    def _of_lights(self, dialled: Dialled) -> Iterator[Change]:
        """Powers, and where one is at its end, the light brought nearer or taken away."""
        return filter(self._may, self._light_dials(dialled))

    def _may(self, change: Change) -> bool:
        return (change.control, change.light) not in self.left_alone

    def _light_dials(self, dialled: Dialled) -> Iterator[Change]:
        for index in dialled.powers:
            found = self._power(dialled, index)
            if found is None:
                continue
            to, short = found
            light = self.setup.lights[index]
            powered = replace(dialled, powers={**dialled.powers, index: to})
            if abs(to - dialled.powers[index]) > TOLERANCE:
                label = power_label(to, light.scale, light.full_mark)
                yield self._change("power", label, powered, index)
            if NOTHING_OFF < abs(short) < MOVED_MOST and light.lights_subject:
                yield self._moved(powered, index, short)

    def _power(self, dialled: Dialled, index: int) -> tuple[Stops, Stops] | None:
        """The power that is right for a light, stops under full, and what that leaves short of it
        (negative: over); None where it counts toward no zone that is meant, or cannot."""
        wanted = _needed(self.setup, self.estimate, dialled, index)
        if wanted is None:
            return None
        light, down = self.setup.lights[index], dialled.powers[index]
        to = dialled_down(down - wanted, light.power_step, light.power_min)
        return to, wanted - (down - to)

    def _moved(self, dialled: Dialled, index: int, by: Stops) -> Change:
        """A light brought nearer, or taken away; the zones as they are then."""
        distance_m = dialled.distances.get(index, self.setup.lights[index].distance_m)
        to_m = round(max(distance_m * 2 ** (-by / 2), NEAREST_M), 1)
        moved = replace(dialled, distances={**dialled.distances, index: to_m})
        return self._change("distance", f"{to_m:.1f} m", moved, index)

    def _set(self, control: str, to: str, dialled: Dialled, **settings: object) -> Change:
        changed = replace(dialled, settings=replace(dialled.settings, **settings))  # type: ignore[arg-type]
        for index in changed.powers if self.fresh else ():
            found = self._power(changed, index)
            if found is not None:
                changed = replace(changed, powers={**changed.powers, index: found[0]})
        turned = changed.settings.stack.names == dialled.settings.stack.names
        touch = TURNED if control == "filter" and turned else COSTS[control]
        return replace(self._change(control, to, changed), touch=touch)

    def _change(self, control: str, to: str, dialled: Dialled, light: int | None = None) -> Change:
        estimate = self.estimate
        lit = estimate.lit(ActualFrame(dialled))
        landing = {zone: _level(estimate, lit.zone(zone)) for zone in estimate.unknowns.zones}
        return Change(control, light, to, dialled, landing, *self._judged(dialled), COSTS[control])


def _foreseen(off: float, missed: float, following: Iterable[Change]) -> float:
    """What is off, with what it costs to be off by too much; or, where the frame misses, what is off after
    the best of the changes that follow, which takes one more frame."""
    at_most = off + MISSED * missed
    then = FRAME + min((one.left for one in following), default=at_most)
    return min(at_most, (1 - missed) * off + missed * then)


def _needed(setup: SetUp, estimate: Estimate, dialled: Dialled, index: int) -> Stops | None:
    """How much more a light should give; None where it counts toward no zone that is meant, or cannot."""
    lit, light = estimate.lit(ActualFrame(dialled)), setup.lights[index]
    zone = "background" if light.role == "background" else "subject"
    if light.role == "rim":
        return None
    level, _ = lit.zone(zone).level(estimate.offsets)
    ambient, _ = lit.daylight("subject").level(estimate.offsets)
    meant = setup.intent.background_level if zone == "background" else meant_subject(setup, ambient)
    own = lit.light(index).level(estimate.offsets)[0] - dialled.settings.stack.stops
    if isinf(own):
        return None  # it cannot take part, as past sync without high-speed sync
    rest = 2**level - 2**own
    missing = 2**meant - rest
    if missing <= 0:
        return log2(light.power_min)
    return log2(missing) - own


def _level(estimate: Estimate, terms: LightSum) -> Stops:
    return terms.level(estimate.offsets)[0]


def _errors(setup: SetUp, estimate: Estimate, lit: Lit) -> tuple[Stops, Stops]:
    """By how much background and face are over what is meant."""
    background = _level(estimate, lit.zone("background")) - setup.intent.background_level
    if setup.intent.background_level < DARK_ENOUGH:
        background = max(background, 0.0)
    meant = meant_subject(setup, _level(estimate, lit.daylight("subject")))
    return background, _level(estimate, lit.zone("subject")) - meant


def _why(setup: SetUp, estimate: Estimate, dialled: Dialled) -> str:
    background, subject = _errors(setup, estimate, estimate.lit(ActualFrame(dialled)))
    said = [
        f"{zone} {abs(off):.1f} {'over' if off > 0 else 'under'}"
        for zone, off in (("background", background), ("face", subject))
        if abs(off) > NEAR / 2
    ]
    words = f"As dialled: {' and '.join(said)} what is meant." if said else "As dialled it comes near."
    return f"{words} {SPILLS}" if background > NEAR and _spills(estimate, dialled) else words


SPILLS = "The flash lights the background: take them farther from it, or put a grid on the light."


def _spills(estimate: Estimate, dialled: Dialled) -> bool:
    """Whether a background that is too bright is so by the flash: it adds a stop and more."""
    lit = estimate.lit(ActualFrame(dialled))
    adds = _level(estimate, lit.zone("background")) - _level(estimate, lit.daylight("background"))
    return adds > 1.0
