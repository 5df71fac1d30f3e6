"""What settings on offer give, each judged once and only where it is asked about.

The sums are those of `lighting`, without the words and the parts that only a chosen way needs; a test holds
the two to each other. Judgement depends on what aperture, ISO and filters take together and on the time,
so that settings which dim alike are judged as one.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator
from functools import lru_cache
from itertools import product
from math import ceil, inf, isnan, log2
from typing import NamedTuple

from noggin.core.physics.dials import DialStep
from noggin.core.planning.candidates import Candidates
from noggin.core.planning.lighting import AMBIENT_ENOUGH, needed_flash, on_background_by, opening, spare
from noggin.core.planning.verdicts import JUST_MISSES, PASSED_BY, dark_weight, within_just
from noggin.core.setup.camera import Camera
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops

BACKGROUND_COUNTS = 2.0
"""Where nothing holds, a stop of background counts as much as two of flash: daylight is held as it is
meant, and the light that is too weak is named."""

HALF_OF_IT: Stops = 1.0
"""Daylight this far under the background's level is half of its light."""

Place = tuple[int, int]
"""A setting on offer: the place of its dimming, and of its time."""


class Judgement(NamedTuple):
    """What a setting gives.

    `error`: background off what is meant, flash on it included; `counted`: how far off that counts to be;
    `reserve`: the key's, None where it has none; `shortest`: by how much the shortest light is short;
    `strongest`: by how much the worst light is too strong at its least power; `fits`: the background is
    where it is meant; `daylit`: daylight is at least half of its light; `miss`, `holds` and `just`: the
    verdict; `weighed`: the miss in which the background counts BACKGROUND_COUNTS times.
    """

    error: Stops
    counted: Stops
    reserve: Stops | None
    shortest: Stops
    strongest: Stops
    fits: bool
    daylit: bool
    miss: Stops
    weighed: Stops
    holds: bool
    just: bool


class Outline(NamedTuple):
    """What is known of a setting without working out the background's light.

    `needed`: what the key must give (None: it stays off); `reserve`: the key's (None where it has none);
    `missed`, `shortest`, `strongest`: what all lights but those that top up the background miss, and how
    far off the worst of them are; `counted`: the least that the background may count to be off by;
    `weighed`: the least that all of it may miss, the background weighed."""

    needed: Stops | None
    reserve: Stops | None
    missed: Stops
    shortest: Stops
    strongest: Stops
    counted: Stops
    weighed: Stops


class _LightPart(NamedTuple):
    """A light under one time, before aperture, ISO and filters. `full`: its level at full power; `least`:
    from there to its least, 0 or under; `spare`, `step` and `lowest`: how it is dialled; `relative`: to the
    key; `spills`: from its level to what it throws on the background (None: nothing)."""

    full: Stops
    least: Stops
    spare: Stops
    step: Stops
    lowest: Stops
    relative: Stops
    spills: Stops | None

    def under_full(self, reserve: Stops) -> Stops:
        """From its level at full power, of which it is to leave so much, to its level as it is dialled."""
        steps = ceil((reserve + self.spare) / self.step - 0.5 - TOLERANCE)
        return min(self.spare - min(max(steps * self.step, 0.0), self.lowest), 0.0)


class _LightsThen(NamedTuple):
    """The lights that can take part under one time: the key (None: it cannot), all that stand in relation
    to it, the key among them, those that top up the background, whether every one can, and all that they
    can throw on the background at full power before aperture, ISO and filters, as linear light."""

    key: _LightPart | None
    related: tuple[_LightPart, ...]
    topping: tuple[_LightPart, ...]
    able: bool
    on_background: float


class Judge:
    """Settings on offer to one set-up, judged as they are asked about."""

    def __init__(self, setup: SetUp, offered: Candidates) -> None:
        self.setup, self.offered = setup, offered
        self.dimmings = offered.dimmings(setup.wanted_aperture.stops)
        self.times = [time.stops for time in offered.times]
        self.half = setup.dial_step / 2
        self.just_within = within_just(setup)
        self._meant, self._background = setup.intent.background_level, setup.scene.background
        self._dark_weight = dark_weight(setup)
        self._topping = sum(light.tops_up for light in setup.lights)
        self._lights = _lights_then(setup.lights, setup.camera, setup.behind_m, offered.times)
        # Under each dimming: where the background would be over what is meant at 1 s, and what is left
        # there of flash.
        self._over = [self._background - row.stops - self._meant for row in self.dimmings]
        self._left = [2.0 ** (-row.stops - self._meant) for row in self.dimmings]
        self._known: dict[Place, Judgement] = {}
        self._outlined: dict[Place, Outline] = {}

    def of(self, place: Place) -> Judgement:
        """What a setting gives."""
        known = self._known.get(place)
        if known is None:
            known = self._known[place] = self._judge(place)
        return known

    def outline(self, place: Place) -> Outline:
        """What can be said of a setting before it is judged."""
        known = self._outlined.get(place)
        if known is None:
            known = self._outlined[place] = self._outline(place)
        return known

    def places(self) -> Iterator[Place]:
        """Every setting on offer."""
        return product(range(len(self.dimmings)), range(len(self.times)))

    def daylight_over(self, place: Place) -> Stops:
        """Stops by which daylight alone leaves the background over what is meant: no light makes it
        darker."""
        return self._over[place[0]] - self.times[place[1]]

    def brightest_over(self, place: Place) -> Stops:
        """Stops by which the background would be over what is meant with every light at full power on it:
        none makes it brighter."""
        dimming, time_at = place
        lit = self._left[dimming] * self._lights[time_at].on_background
        return log2(2.0 ** (self._over[dimming] - self.times[time_at]) + lit)

    def least_off(self) -> Stops:
        """How little the best setting may be off by the background alone."""
        found = inf
        for dimming in range(len(self.dimmings)):
            at = bisect_left(self.times, self._over[dimming])
            for time_at in (at - 1, at):
                if 0 <= time_at < len(self.times):
                    found = min(found, self.off_at_least((dimming, time_at)))
        return found

    def within(self, limit: Stops) -> list[Place]:
        """Settings whose background may count to be off by `limit` stops (0 or more) or less; of the others
        none does."""
        found = []
        darkest = 2.0 ** (-limit / self._dark_weight) if self._dark_weight else 0.0
        most = max(lights.on_background for lights in self._lights)
        for dimming, over in enumerate(self._over):
            first = bisect_left(self.times, over - limit - TOLERANCE)
            lacks = darkest - most * self._left[dimming]
            last = (
                bisect_right(self.times, over - log2(lacks) + TOLERANCE) if lacks > 0 else len(self.times)
            )
            found += [(dimming, time_at) for time_at in range(first, last)]
        return found

    def off_at_least(self, place: Place) -> Stops:
        """How little its background may count to be off by."""
        over = self._over[place[0]] - self.times[place[1]]
        if over >= 0 or not self._dark_weight:
            return max(over, 0.0)
        return max(-self.brightest_over(place) * self._dark_weight, 0.0)

    def _outline(self, place: Place) -> Outline:
        dimming, lights = self.dimmings[place[0]].stops, self._lights[place[1]]
        counted, needed = self.off_at_least(place), self._key_needs(dimming, place[1])
        weighed = BACKGROUND_COUNTS * (counted - self.half) if counted > self.half else 0.0
        if needed is None:
            return Outline(None, None, 0.0, 0.0, 0.0, counted, weighed)
        asked = needed + dimming
        missed, short, strong = _missed(
            [(light, light.full - light.relative - asked) for light in lights.related]
        )
        reserve = None if lights.key is None else lights.key.full - asked
        return Outline(needed, reserve, missed, short, strong, counted, weighed + missed)

    def _judge(self, place: Place) -> Judgement:
        known, dimming, lights = self.outline(place), self.dimmings[place[0]].stops, self._lights[place[1]]
        background = self._background - dimming - self.times[place[1]]
        missed, short, strong = known.missed, known.shortest, known.strongest
        amount = 2.0**background
        if known.needed is not None:
            for light in lights.related:
                if light.spills is not None:
                    full = light.full - dimming
                    level = full + light.under_full(full - known.needed - light.relative)
                    amount += 2.0 ** (level + light.spills)
        if lights.topping:
            topping = self._topping_up(lights, dimming, log2(amount))
            more, shorter, stronger = _missed(topping)
            missed, short, strong = missed + more, max(short, shorter), max(strong, stronger)
            for light, reserve in topping:
                amount += 2.0 ** (light.full - dimming + light.under_full(reserve))
        reached = log2(amount)
        error = reached - self._meant
        counted = error if error > 0 else -error * self._dark_weight
        fits, beyond = counted <= self.half + PASSED_BY, max(counted - self.half, 0.0)
        able = lights.able and strong <= JUST_MISSES + PASSED_BY
        return Judgement(
            error,
            counted,
            known.reserve,
            short,
            strong,
            fits,
            background >= reached - HALF_OF_IT - TOLERANCE,
            beyond + missed,
            BACKGROUND_COUNTS * beyond + missed,
            fits and able and short <= PASSED_BY,
            counted <= self.just_within and able and short <= JUST_MISSES + PASSED_BY,
        )

    def _key_needs(self, dimming: Stops, time_at: int) -> Stops | None:
        """What the key must give; None where it stays off, because daylight is enough or comes near enough
        for a light that cannot give so little."""
        setup, key = self.setup, self._lights[time_at].key
        subject = setup.scene.subject - dimming - self.times[time_at]
        level = needed_flash(setup, subject)
        if level is None:
            return None
        needed = level - setup.key_and_fill
        if setup.intent.daylight_counts and key is not None:
            near = subject >= setup.intent.subject_level - AMBIENT_ENOUGH - TOLERANCE
            if near and key.full - dimming + key.least - needed > JUST_MISSES + TOLERANCE:
                return None
        return needed

    def _topping_up(
        self, lights: _LightsThen, dimming: Stops, spilt: Stops
    ) -> list[tuple[_LightPart, Stops]]:
        """The lights that bring the background from what it has to what is meant, each with an equal part,
        and what each then leaves of its full power; none where it comes near enough."""
        meant = self._meant
        if spilt >= meant - self.half - TOLERANCE:
            return []
        need = meant + log2(1 - 2.0 ** (spilt - meant)) - log2(self._topping)
        near = spilt >= meant - max(JUST_MISSES, self.half) - TOLERANCE
        found = [(light, light.full - dimming - need) for light in lights.topping]
        return [
            (light, reserve)
            for light, reserve in found
            if not near or reserve + light.least <= JUST_MISSES + TOLERANCE
        ]


def _missed(lights: Iterable[tuple[_LightPart, Stops]]) -> tuple[Stops, Stops, Stops]:
    """Of lights with their reserves: what they miss together, and by how much the shortest is short and the
    strongest too strong at its least."""
    missed = shortest = strongest = 0.0
    for light, reserve in lights:
        strong = reserve + light.least
        if reserve < 0:
            missed -= reserve
            shortest = max(shortest, -reserve)
        elif strong > strongest:
            strongest = strong
        if strong > JUST_MISSES:
            missed += strong - JUST_MISSES
    return missed, shortest, strongest


@lru_cache(maxsize=128)
def _lights_then(
    lights: tuple[Light, ...], camera: Camera, behind_m: Metres, times: tuple[DialStep, ...]
) -> tuple[_LightsThen, ...]:
    """The lights under each time."""
    return tuple(_lights_at(lights, camera, behind_m, time) for time in times)


def _lights_at(lights: tuple[Light, ...], camera: Camera, behind_m: Metres, time: DialStep) -> _LightsThen:
    parts = [(light, _part_of(light, camera, behind_m, time)) for light in lights]
    able = [(light, part) for light, part in parts if part is not None]
    return _LightsThen(
        next((part for light, part in able if light.role == "key"), None),
        tuple(part for light, part in able if not light.tops_up),
        tuple(part for light, part in able if light.tops_up),
        len(able) == len(lights),
        sum(2.0 ** (part.full + part.spills) for _, part in able if part.spills is not None),
    )


def _part_of(light: Light, camera: Camera, behind_m: Metres, time: DialStep) -> _LightPart | None:
    through, more, lowest = opening(camera, light, time), spare(camera, light, time), -log2(light.power_min)
    if through is None:
        return None
    full, spills = light.reach + through, on_background_by(light, behind_m)
    return _LightPart(
        full,
        min(more - lowest, 0.0),
        more,
        light.power_step,
        lowest,
        light.relative,
        None if isnan(spills) else spills,
    )
