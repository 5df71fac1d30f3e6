"""Checks of a day: set-ups that overlap, too little time to rebuild or recycle, batteries over the day,
one thing in two places at once or left behind, the sun in the lens, light that goes before the end.
"""

from collections import Counter, defaultdict
from collections.abc import Container, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import combinations, pairwise
from math import acos, atan, ceil, cos, degrees, hypot, radians

from noggin.core.advice.verdict_words import first_lack
from noggin.core.clock import MINUTE, apart, later
from noggin.core.daylight.day import off_axis
from noggin.core.daylight.sun import sun_at
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way, WayKind
from noggin.core.planning.ways import WAYS
from noggin.core.setup.light import Light
from noggin.core.shoot.timeline import Slot, planned, setup_at, verdict_at
from noggin.core.wording import listed, percent

REBUILD = timedelta(minutes=10)
"""Time to take down, carry and set up again. Common practice, no source."""

FRAMES_USUAL = 60
"""Frames of a set-up where none are counted. Common practice, no source."""

FLARE_DEG = 10.0
"""How near to the edge of the frame the sun still flares. Common practice, no source."""


@dataclass(frozen=True)
class Check:
    """One thing wrong with a day, in words, and the places of the set-ups it is about."""

    words: str
    slots: tuple[int, ...]


def checks(slots: Sequence[Slot], along: Mapping[str, int], *, packed: bool = False) -> tuple[Check, ...]:
    """Everything that is wrong; `along` says how many of a thing are packed, by its name (one unless said),
    and `packed` that nothing else does."""
    return (
        *_overlaps(slots),
        *_rebuilding(slots),
        *(_left_behind(slots, along) if packed else ()),
        *_twice(slots, along),
        *_recycling(slots),
        *_batteries(slots),
        *_into_the_sun(slots),
        *_losing_light(slots),
    )


def _named(slot: Slot) -> str:
    return f"‘{slot.setup.name}’"


def _in_order(slots: Sequence[Slot]) -> list[tuple[int, Slot]]:
    return sorted(enumerate(slots), key=lambda numbered: numbered[1].start)


def _overlaps(slots: Sequence[Slot]) -> Iterator[Check]:
    for (index, first), (next_index, second) in combinations(_in_order(slots), 2):
        if second.start < first.end:
            over = apart(second.start, min(first.end, second.end))
            minutes = int(over / MINUTE)
            yield Check(
                f"{_named(first)} and {_named(second)} overlap by {minutes} minutes.", (index, next_index)
            )


def _rebuilding(slots: Sequence[Slot]) -> Iterator[Check]:
    for (index, first), (next_index, second) in pairwise(_in_order(slots)):
        gap = apart(first.end, second.start)
        if timedelta(0) <= gap < REBUILD:
            minutes = int(gap / MINUTE)
            words = f"Only {minutes} minutes to move from {_named(first)} to {_named(second)}: allow ten."
            yield Check(words, (index, next_index))


def things(slot: Slot, along: Mapping[str, int]) -> Mapping[str, int]:
    """How many of each thing a set-up needs: its lights, and the filters of the way that is planned."""
    needed: Counter[str] = Counter()
    for light in slot.setup.lights:
        if light.name:
            needed[known_name(light.name, along)] += light.count
    needed.update(planned(slot).settings.stack.names)
    return needed


def known_name(name: str, along: Container[str]) -> str:
    """A light's name in the kit: without the number that tells several of it apart."""
    return name if name in along else name.rstrip("0123456789").rstrip() or name


def left_behind(slots: Sequence[Slot], along: Mapping[str, int]) -> tuple[str, ...]:
    """What set-ups need and nobody packed, each once, in the order of the set-ups."""
    return tuple(dict.fromkeys(name for slot in slots for name in things(slot, along) if name not in along))


def _left_behind(slots: Sequence[Slot], along: Mapping[str, int]) -> Iterator[Check]:
    for index, slot in enumerate(slots):
        missing = left_behind([slot], along)
        if missing:
            are = "are" if len(missing) > 1 else "is"
            yield Check(f"{_named(slot)} needs {listed(missing)}, which {are} not in the bag.", (index,))


def _twice(slots: Sequence[Slot], along: Mapping[str, int]) -> Iterator[Check]:
    for (index, first), (next_index, second) in combinations(_in_order(slots), 2):
        if second.start >= first.end:
            continue
        here, there = things(first, along), things(second, along)
        shared = [name for name in here if name in there and here[name] + there[name] > along.get(name, 1)]
        if shared:
            words = f"{_named(first)} and {_named(second)} both need {listed(shared)} at the same time."
            yield Check(words, (index, next_index))


def frames_of(slot: Slot) -> int:
    """Frames of a set-up: as counted, else the usual number."""
    return slot.setup.intent.frames or FRAMES_USUAL


def _recycling(slots: Sequence[Slot]) -> Iterator[Check]:
    for index, slot in enumerate(slots):
        if slot.setup.intent.frames is None:
            continue
        for light, power, _ in _powers(planned(slot)):
            if light.battery is None:
                continue
            needs = timedelta(seconds=frames_of(slot) * light.battery.recycles_in(power))
            if needs > slot.minutes * MINUTE:
                minutes = ceil(needs / MINUTE)
                words = f"{light.says} needs {minutes} minutes to recycle for {frames_of(slot)} frames"
                yield Check(f"{_named(slot)}: {words}, and only {slot.minutes} are planned.", (index,))


def _powers(way: Way) -> Iterator[tuple[Light, float, bool]]:
    """Each light that fires, its power and whether in high-speed sync."""
    for firing in way.lighting.firings:
        if firing.power is not None:
            yield firing.light, firing.power, firing.hss


def charges(slots: Sequence[Slot]) -> Mapping[str, float]:
    """How many charges of its battery each light uses over the day, by its name. Energy as in `supply`."""
    used: dict[str, float] = defaultdict(float)
    for slot in slots:
        for light, power, hss in _powers(planned(slot)):
            battery = light.battery
            if battery is None:
                continue
            draw = battery.hss_draw if hss else 1.0
            full = battery.pops * (1 + battery.overhead)
            used[light.name or light.role] += frames_of(slot) * (power + battery.overhead) * draw / full
    return dict(used)


def _batteries(slots: Sequence[Slot]) -> Iterator[Check]:
    for name, share in charges(slots).items():
        if share > 1:
            places = tuple(
                index
                for index, slot in enumerate(slots)
                if any(light.name == name for light in slot.setup.lights)
            )
            uses = f"{name} uses {percent(share)} of a charge over the day"
            yield Check(f"{uses}: bring a second battery or use less power.", places)


def _into_the_sun(slots: Sequence[Slot]) -> Iterator[Check]:
    for index, slot in enumerate(slots):
        facing = slot.placement.place.facing_deg
        sun = sun_at(slot.placement.place.lat, slot.placement.place.lon, slot.start)
        if facing is None or sun.height_deg <= 0:
            continue
        sensor, focal = slot.setup.camera.sensor_mm, slot.setup.lens.focal_mm
        half = degrees(atan(hypot(*sensor) / 2 / focal))
        # Angle between the level axis of the lens and the sun.
        along = cos(radians(sun.height_deg)) * cos(radians(off_axis(sun, facing)))
        off = degrees(acos(max(-1.0, min(1.0, along))))
        if off <= half:
            yield Check(
                f"{_named(slot)}: the sun is in the frame. Never look at it through an optical finder.",
                (index,),
            )
        elif off <= half + FLARE_DEG:
            words = f"{_named(slot)}: the sun is {off - half:.0f}° outside the frame and will flare"
            yield Check(f"{words}: use a hood or flag.", (index,))


def _losing_light(slots: Sequence[Slot]) -> Iterator[Check]:
    for index, slot in enumerate(slots):
        way, last = planned(slot), later(slot.end, -MINUTE)
        if not way.feasible or _works(slot, way.kind, last):
            continue
        if not any(_works(slot, kind, last) for kind in WAYS.values()):
            lacks = first_lack(plan(setup_at(slot.placement, last)).shown)
            yield Check(f"{_named(slot)}: the light fails before this set-up ends: {lacks}.", (index,))


def _works(slot: Slot, kind: WayKind, time: datetime) -> bool:
    return verdict_at(slot.placement, kind, time).works
