"""Every change of one control before the next frame, and what it would come to."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from math import isinf, log2

from noggin.core.physics import dials
from noggin.core.physics.power import dialled_down, power_label
from noggin.core.planning.verdicts import dark_weight
from noggin.core.planning.way import Way
from noggin.core.pops.actual import ActualFrame
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.frame import BandSeen, Dialled, Frame
from noggin.core.pops.judging import NEAR, errors, level, right
from noggin.core.pops.target import meant_subject
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops
from noggin.core.wording import signed

COSTS = {"power": 0.0, "shutter": 0.0, "iso": 0.03, "filter": 0.15, "aperture": 0.3, "distance": 0.05}
"""What it costs to touch each control, in stops² of what is off: power and time are at hand, a filter
comes off a lens, an aperture changes the look and moves last. Common practice, no source."""


ITS_OWN = 0.03
"""The same for the aperture of a way that closes it. Common practice, no source."""


TURNED = 0.03
"""The same for turning the filter that is on the lens. Common practice, no source."""


FRAME = 0.15
"""What one more frame costs, in stops²: 0.4 stop that is off is worth it. Common practice, no source."""


MISSED = 0.6
"""What it costs to be off by more than a third of a stop for sure, in stops². Of 0.15, 0.3, 0.6 and 1 this
came to the fewest pops and false alarms in benchmarks/at_the_spot."""


HOPELESS = 0.6
"""What is off by more, in stops², is never within a third of a stop."""


NOTHING_OFF: Stops = NEAR / 2
"""Nearer than this nothing is changed. Common practice, no source."""


BACKGROUND_MOST = 2.0


FACE_WEIGHS = 1.5
"""What a background may cost at most, in stops², and what a face weighs against it. Common practice, no
source."""


NEAREST_M: Metres = 0.5


MOVED_MOST: Stops = 3.0
"""How near a light is brought, and by how much moving it changes at most. Common practice, no source."""


COMPENSATION_MOST: Stops = 3.0
"""How far automatic flash can be corrected. Common practice, no source."""


NEAR_WALL: Stops = 0.7
"""A time so near the sync speed may leave a band. Common practice, no source: radio delay costs up to a
third of a stop, a slow pulse more."""


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
class Prospects:
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
        background, subject = errors(self.setup, self.estimate, self.estimate.lit(ActualFrame(dialled)))
        # Faces come first: a background that cannot be mended, as one that the flash lights, ruins no face.
        off = min(background**2, BACKGROUND_MOST) + FACE_WEIGHS * subject**2
        missed = 1.0 if off > HOPELESS else 1 - right(self.setup, self.estimate, dialled)
        return off, missed

    def is_near(self, dialled: Dialled) -> bool:
        """Whether both are so near that nothing is changed."""
        off = errors(self.setup, self.estimate, self.estimate.lit(ActualFrame(dialled)))
        return max(abs(one) for one in off) < NOTHING_OFF

    def changes(self, dialled: Dialled) -> Iterator[Change]:
        """Every change of one control."""
        yield from self._of_camera(dialled)
        yield from self._of_lights(dialled)

    def _of_camera(self, dialled: Dialled) -> Iterator[Change]:
        """Shutter, aperture, ISO and filters, other than they are. A background that is meant black and is
        stays so."""
        black = self._is_black(dialled)
        for change in self._camera_dials(dialled):
            if change.dialled.settings == dialled.settings or not self._may(change):
                continue
            if not (black and change.expected["background"] > self._black_enough):
                yield change

    @property
    def _black_enough(self) -> Stops:
        return self.setup.intent.background_level + NEAR

    def _is_black(self, dialled: Dialled) -> bool:
        """Whether the background is meant black, and comes out so."""
        lit = self.estimate.lit(ActualFrame(dialled))
        lands = level(self.estimate, lit.zone("background"))
        return not dark_weight(self.setup) and lands <= self._black_enough

    def away_from_the_wall(self, last: Frame, dialled: Dialled) -> Change | None:
        """A longer time, where a band was seen within sync: the time is too near the sync speed. None
        elsewhere."""
        camera, shutter = self.setup.camera, dialled.settings.shutter
        band = last.flash and any(isinstance(one, BandSeen) for one in last.seen)
        if not band or shutter.stops > camera.sync.stops + TOLERANCE:
            return None
        times = camera.shutters.between(camera.slowest.stops, shutter.stops)
        longer = [time for time in times if time.stops < shutter.stops - TOLERANCE]
        if not longer or shutter.stops < camera.sync.stops - NEAR_WALL:
            return None
        return self._set("shutter", longer[-1].label, dialled, shutter=longer[-1])

    def _camera_dials(self, dialled: Dialled) -> Iterator[Change]:
        settings, camera, setup = dialled.settings, self.setup.camera, self.setup
        past = settings.shutter.stops > camera.sync.stops + TOLERANCE
        fastest = camera.fastest if past else camera.sync
        for shutter in camera.shutters.between(camera.slowest.stops, fastest.stops):
            # A way stays what it is: in high-speed sync the time stays past sync.
            if not past or shutter.stops > camera.sync.stops + TOLERANCE:
                yield self._set("shutter", shutter.label, dialled, shutter=shutter)
        closes = self._closes
        for aperture in setup.apertures:
            if not closes or aperture.stops > setup.wanted_aperture.stops + TOLERANCE:
                yield self._set("aperture", f"f/{aperture.label}", dialled, aperture=aperture)
        for iso in dials.iso_dial().between(camera.iso_low.stops, camera.iso_high.stops):
            yield self._set("iso", f"ISO {iso.label}", dialled, iso=iso)
        for stack in setup.stacks if settings.stack.stops or self.way.kind.uses_filters else ():
            yield self._set("filter", stack.words, dialled, stack=stack)

    @property
    def _closes(self) -> bool:
        """Whether the way's own aperture is smaller than the wanted one."""
        return self.way.settings.aperture.stops > self.setup.wanted_aperture.stops + TOLERANCE

    def _of_lights(self, dialled: Dialled) -> Iterator[Change]:
        """Powers, and where one is at its end, the light brought nearer or taken away."""
        return filter(self._may, self._light_dials(dialled))

    def _may(self, change: Change) -> bool:
        return (change.control, change.light) not in self.left_alone

    def _light_dials(self, dialled: Dialled) -> Iterator[Change]:
        if dialled.compensation is not None:
            set_to = self._compensation(dialled)
            if set_to is not None and abs(set_to - dialled.compensation) > TOLERANCE:
                key = self.setup.lights.index(self.setup.key)
                yield self._change("power", signed(set_to), replace(dialled, compensation=set_to), key)
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

    def _compensation(self, dialled: Dialled) -> Stops | None:
        """The compensation that is right, in thirds; None where no flash can be."""
        wanted = _needed(self.setup, self.estimate, dialled, self.setup.lights.index(self.setup.key))
        if wanted is None or dialled.compensation is None:
            return None
        thirds = round((dialled.compensation + wanted) * 3) / 3
        return min(max(thirds, -COMPENSATION_MOST), COMPENSATION_MOST)

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
        if changed.compensation is not None and self.fresh:
            set_to = self._compensation(changed)
            changed = replace(changed, compensation=changed.compensation if set_to is None else set_to)
        turned = changed.settings.stack.names == dialled.settings.stack.names
        touch = TURNED if control == "filter" and turned else COSTS[control]
        if control == "aperture" and self._closes:
            touch = ITS_OWN
        return replace(self._change(control, to, changed), touch=touch)

    def _change(self, control: str, to: str, dialled: Dialled, light: int | None = None) -> Change:
        estimate = self.estimate
        lit = estimate.lit(ActualFrame(dialled))
        landing = {zone: level(estimate, lit.zone(zone)) for zone in estimate.unknowns.zones}
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
