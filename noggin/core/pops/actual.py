"""What a frame was really taken with, and what every zone of it then is, as a sum of lights whose offsets
are not known.

A level is log2 of a sum of terms 2^(c + g·x): every term is linear in the unknown offsets x. So the level
has its derivatives for nothing: the mean of the g, weighted by what each term gives.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import hypot, inf, isnan, log2, sqrt

from noggin.core.physics import dials
from noggin.core.planning.lighting import Settings, full_level, on_background_by, spare
from noggin.core.pops.frame import Dialled, Frame
from noggin.core.pops.linear import Row, Vector, dot
from noggin.core.setup.light import Light
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.tables import SOURCES
from noggin.core.units import TOLERANCE, Stops

FILTER_UNCERTAINTY: Stops = SOURCES["measured"].uncertainty
"""± of what the filters on the lens take together. Common practice, no source."""

AUTOMATIC_UNCERTAINTY: Stops = 1.2
"""± of what automatic flash gives, about the compensation that is dialled: it meters what it sees. Common
practice, no source."""

WEAK: Stops = 1.75
WEAK_UNCERTAINTY: Stops = 1.5
"""A light that is weaker than its class is so by this much, ±. Common practice, no source: up to 2 stops
and more are met."""

DRIFT = {"clear": 0.1, "overcast": 0.1, "partly": 0.5}
"""By how much daylight wanders, stops in √minutes, one standard deviation. Common practice, no source."""

DRIFT_UNKNOWN: Stops = 0.2
"""The same under a sky of which nothing is said. From memory."""


@dataclass(frozen=True)
class Unknown:
    """An offset that is not known: its key, its ± (two standard deviations) and what it is taken for before
    anything is seen."""

    key: str
    uncertainty: Stops
    mean: Stops = 0.0


@dataclass(frozen=True)
class ActualFrame:
    """What a frame was really taken with: what was dialled, unless something went wrong.

    `off` are the lights that did not fire, `flash_shutter` what the flash alone saw of the shutter,
    `taken_toll` whether it fired in high-speed sync within sync, `band` whether a part of the frame is
    without flash, and `free` an offset of `daylight`, `flash` or `all` that nothing else explains.
    """

    dialled: Dialled
    off: frozenset[int] = frozenset()
    flash_shutter: dials.DialStep | None = None
    taken_toll: bool = False
    band: bool = False
    free: tuple[str, Unknown] | None = None

    def changed(self, **settings: object) -> "ActualFrame":
        """The same with other settings."""
        dialled = replace(self.dialled, settings=replace(self.dialled.settings, **settings))  # type: ignore[arg-type]
        return replace(self, dialled=dialled)


def as_dialled(frame: Frame, setup: SetUp) -> ActualFrame:
    """A frame in which everything went as it was dialled."""
    off = frozenset() if frame.flash else frozenset(range(len(setup.lights)))
    return ActualFrame(frame.dialled, off)


@dataclass(frozen=True)
class LightSum:
    """A level as a sum of lights: each one's constant in stops, and how it follows each offset."""

    lights: tuple[tuple[Stops, Row], ...]

    def level(self, offsets: Sequence[float]) -> tuple[Stops, Row]:
        """The level at some offsets, and by how much it follows each of them; -inf where nothing shines."""
        level, follows, _ = self.at(offsets)
        return level, follows

    def at(self, offsets: Sequence[float]) -> tuple[Stops, Row, list[tuple[float, Row]]]:
        """The same with the part of its light that each light gives, and how that one follows."""
        if not self.lights:
            return -inf, {}, []
        if len(self.lights) == 1:
            ((constant, follows),) = self.lights
            return constant + dot(follows, offsets), follows, [(1.0, follows)]
        each = [constant + dot(follows, offsets) for constant, follows in self.lights]
        most = max(each)
        parts = [2.0 ** (one - most) for one in each]
        total = sum(parts)
        found: dict[int, float] = {}
        shares = []
        for part, (_, follows) in zip(parts, self.lights, strict=True):
            share = part / total
            shares.append((share, follows))
            for index, value in follows.items():
                found[index] = found.get(index, 0.0) + share * value
        return most + log2(total), found, shares

    def with_those_of(self, other: "LightSum") -> "LightSum":
        """Both together."""
        return LightSum(self.lights + other.lights)

    def seen_from(self, change: Callable[[Row], Row]) -> "LightSum":
        """The same, following other offsets."""
        return LightSum(tuple((constant, change(follows)) for constant, follows in self.lights))


@dataclass(frozen=True)
class Unknowns:
    """Every offset of a set-up over some frames: of each zone's daylight, each light, the toll, the
    filters, by how much daylight has wandered from frame to frame, and those of what went wrong. `weak`
    takes the lights for weaker than their class by as much as is met."""

    setup: SetUp
    minutes: tuple[float, ...]
    free: Mapping[int, tuple[str, Unknown]] = field(default_factory=dict)
    weak: bool = False

    @cached_property
    def all(self) -> tuple[Unknown, ...]:
        """Every one, in the order of the vectors."""
        return (
            *self._of_zones(),
            *self._of_gear(),
            *self._of_time(),
            *(found for _, found in self.free.values()),
        )

    def _of_zones(self) -> Iterator[Unknown]:
        scene = self.setup.scene
        for zone in self.zones:
            own = scene.subject_uncertainty if zone == "subject" else scene.background_uncertainty
            yield Unknown(zone, own)

    def _of_gear(self) -> Iterator[Unknown]:
        for index, light in enumerate(self.setup.lights):
            if self.weak:
                yield Unknown(f"light {index}", WEAK_UNCERTAINTY, -WEAK)
            else:
                yield Unknown(f"light {index}", light_uncertainty(light))
        if self.setup.intent.school == "auto":
            yield Unknown("auto", AUTOMATIC_UNCERTAINTY)
        yield Unknown("toll", self.setup.key.uncertainty.toll)
        yield Unknown("filters", FILTER_UNCERTAINTY)

    def _of_time(self) -> Iterator[Unknown]:
        moment = self.setup.scene.moment
        rate = DRIFT.get(moment.place.sky, DRIFT_UNKNOWN) if moment else DRIFT_UNKNOWN
        for index, (before, after) in enumerate(zip(self.minutes, self.minutes[1:], strict=False), start=1):
            yield Unknown(f"drift {index}", 2 * rate * sqrt(max(after - before, 1 / 60)))

    @cached_property
    def zones(self) -> tuple[str, ...]:
        """The zones that the picture has."""
        return tuple(zone for zone in ZONES if getattr(self.setup.scene, zone) is not None)

    @cached_property
    def place(self) -> Mapping[str, int]:
        """Where each is in the vectors."""
        return {unknown.key: index for index, unknown in enumerate(self.all)}

    @property
    def lasting(self) -> int:
        """How many last from frame to frame, those of zones and gear: the first of the vectors."""
        return len((*self._of_zones(), *self._of_gear()))

    @cached_property
    def deviations(self) -> Vector:
        """One standard deviation of each before anything is seen."""
        return [max(unknown.uncertainty, 0.01) / 2 for unknown in self.all]

    @cached_property
    def means(self) -> Vector:
        """What each is taken for before anything is seen."""
        return [unknown.mean for unknown in self.all]


def light_uncertainty(light: Light) -> Stops:
    """± of a light's level at a power: guide number and, where something is before it, its loss."""
    known = light.uncertainty
    return hypot(known.gn, known.loss) if light.loss else known.gn


@dataclass(frozen=True)
class Lit:
    """Every zone and every light of one frame, as sums of lights."""

    unknowns: Unknowns
    index: int
    actual: ActualFrame

    @property
    def _settings(self) -> Settings:
        return self.actual.dialled.settings

    def daylight(self, zone: str) -> LightSum:
        """A zone without any flash."""
        level = self._settings.level(getattr(self.unknowns.setup.scene, zone))
        return LightSum(((level, self._row(zone, *self._drifted(), free=("daylight", "all"))),))

    def flash(self) -> LightSum:
        """All flash on the subject."""
        setup = self.unknowns.setup
        return _sum_of(found for found in self._fired() if setup.lights[found[0]].lights_subject)

    def light(self, index: int) -> LightSum:
        """One light alone, as a meter sees it: no filter is before that."""
        return _sum_of(found for found in self._fired(filtered=False) if found[0] == index)

    def zone(self, zone: str) -> LightSum:
        """A zone with everything that shines on it."""
        setup, fired = self.unknowns.setup, list(self._fired())
        if zone == "subject":
            others = [found for found in fired if setup.lights[found[0]].lights_subject]
        elif zone == "rim":
            others = [found for found in fired if setup.lights[found[0]].role == "rim"]
        elif zone == "background":
            by = [
                on_background_by(self._light(index), setup.behind_m) for index in range(len(setup.lights))
            ]
            others = [
                (index, level + by[index], row) for index, level, row in fired if not isnan(by[index])
            ]
        else:
            others = []
        return self.daylight(zone).with_those_of(_sum_of(others))

    def _fired(self, *, filtered: bool = True) -> Iterator[tuple[int, Stops, Row]]:
        """Place, level as planned and derivatives of every light that fired."""
        setup, actual, settings = self.unknowns.setup, self.actual, self._settings
        seen = replace(settings, shutter=actual.flash_shutter or settings.shutter)
        past = seen.shutter.stops > setup.camera.sync.stops + TOLERANCE
        if actual.dialled.compensation is not None:
            yield from self._metered(actual.dialled.compensation, seen, filtered=filtered)
            return
        for index, down in actual.dialled.powers.items():
            light = self._light(index)
            full = full_level(setup, light, seen)
            if index in actual.off or full is None:
                continue
            more = spare(setup.camera, light, seen.shutter)
            level = min(full + more - down, full)
            keys = [f"light {index}"]
            if actual.taken_toll and not past:
                level -= light.hss_toll or 0.0
            toll = past or actual.taken_toll
            row = self._row(*keys, toll=toll, filtered=filtered, free=("flash", "all"))
            yield index, level if filtered else level + settings.stack.stops, row

    def _metered(
        self, compensation: Stops, seen: Settings, *, filtered: bool
    ) -> Iterator[tuple[int, Stops, Row]]:
        """The same on automatic flash: key and fill together come to the compensation, as far as full power
        goes; the flash meters through the lens, so that gear and filter are in it already."""
        setup, stack = self.unknowns.setup, self._settings.stack
        for index, light in enumerate(setup.lights):
            full = full_level(setup, self._light(index), seen)
            if index in self.actual.off or full is None or light.tops_up:
                continue
            metered = compensation - setup.key_and_fill + light.relative
            row = self._row("auto", filtered=False, free=("flash", "all"))
            if metered > full:
                metered, row = full, self._row(f"light {index}", filtered=filtered, free=("flash", "all"))
            yield index, metered if filtered else metered + stack.stops, row

    def _light(self, index: int) -> Light:
        """A light where it stood."""
        light = self.unknowns.setup.lights[index]
        distance_m = self.actual.dialled.distances.get(index)
        return light if distance_m is None else replace(light, distance_m=distance_m)

    def _drifted(self) -> list[str]:
        return [f"drift {index}" for index in range(1, self.index + 1)]

    def _row(
        self, *keys: str, toll: bool = False, filtered: bool = True, free: tuple[str, ...] = ()
    ) -> Row:
        place = self.unknowns.place
        row = {place[key]: 1.0 for key in keys}
        if toll:
            row[place["toll"]] = -1.0
        if filtered and self._settings.stack.stops:
            row[place["filters"]] = -1.0
        own = self.unknowns.free.get(self.index)
        if own and own[0] in free:
            row[place[own[1].key]] = 1.0
        return row


def _sum_of(found: Iterable[tuple[int, Stops, Row]]) -> LightSum:
    return LightSum(tuple((level, row) for _, level, row in found))
