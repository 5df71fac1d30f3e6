"""What to change when the light changes: rung by rung from brighter to darker, or by the clock.

At and under sync the shutter follows the light and the flash stays as it is. In high-speed sync the flash
must follow the shutter; when ISO, aperture or a filter changes, it must follow too. Where the shutter
cannot follow, the way changes. All of it comes out of planning again; nothing here is a rule of thumb.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from noggin.core import limits
from noggin.core.advice.verdict_words import HAIR, drawback_words, lacks_in_words, landing, spare_words
from noggin.core.physics.dials import iso_dial
from noggin.core.planning.candidates import daylight_error
from noggin.core.planning.lighting import Settings
from noggin.core.planning.plan import plan, way_with
from noggin.core.planning.way import Way
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.shoot.timeline import Slot, planned, setup_at
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import stops

BRIGHTER: Stops = 2.0
DARKER: Stops = 4.0
"""How far the ladder goes to either side of what was planned."""


@dataclass(frozen=True)
class Rung:
    """What to dial when the light has changed by `shift` stops (positive is brighter): the way as it is
    then, whether it is another one than planned, what the key's power does, and what is lost."""

    shift: Stops
    way: Way
    changed: bool
    power: str
    lost: tuple[str, ...]
    time: datetime | None = None

    @property
    def planned(self) -> bool:
        """Whether this is the light that was planned."""
        return abs(self.shift) < TOLERANCE


def ladder(setup: SetUp, way: Way, step: Stops = 1 / 3) -> tuple[Rung, ...]:
    """A rung for every step of light, brightest first, each zone alike; as far as there is such light."""
    count_up, count_down = round(BRIGHTER / step), round(DARKER / step)
    shifts = [count * step for count in range(count_up, -count_down - 1, -1)]
    zones = [zone for zone in (getattr(setup.scene, name) for name in ZONES) if zone is not None]
    met = [shift for shift in shifts if all(zone + shift in limits.EV for zone in zones)]
    return tuple(_rung(way, shifted(setup, shift), shift) for shift in met)


def by_clock(slot: Slot, times: Sequence[datetime]) -> tuple[Rung, ...]:
    """The same by the clock, from the way that is planned at the set-up's start."""
    return tuple(rung_at(slot, time) for time in times)


def rung_at(slot: Slot, time: datetime, more: Stops = 0.0) -> Rung:
    """What to dial at a time where the light is by `more` stops brighter than foreseen; the rung's shift is
    from the light of the set-up's start."""
    start, then = setup_at(slot.placement, slot.start), setup_at(slot.placement, time)
    shift = then.scene.background - start.scene.background + more
    return replace(_rung(planned(slot), shifted(then, more), shift), time=time)


def shifted(setup: SetUp, shift: Stops) -> SetUp:
    """The set-up with every zone brighter by so many stops."""
    scene = setup.scene
    moved: dict[str, Any] = {
        name: None if getattr(scene, name) is None else getattr(scene, name) + shift for name in ZONES
    }
    return replace(setup, scene=replace(scene, **moved))


def _rung(way: Way, setup: SetUp, shift: Stops) -> Rung:
    settings = followed(setup, way, shift)
    now = way_with(setup, way.kind, settings) if settings else None
    if now is None or not now.feasible:
        other = plan(setup).shown
        if other.feasible or now is None:
            now = other
    changed = now.kind is not way.kind or now.settings.stack != way.settings.stack
    return Rung(shift, now, changed, power_words(way, now), tuple(_lost(way, now)))


def followed(setup: SetUp, way: Way, shift: Stops) -> Settings | None:
    """The planned settings with the shutter following the light; at the slow end ISO rises for the rest.
    None where the shutter cannot follow without another way, or a filter had better come off first."""
    camera, planned_settings = setup.camera, way.settings
    half = setup.dial_step / 2 + TOLERANCE
    target = planned_settings.shutter.stops + shift
    off = daylight_error(setup, planned_settings)
    if abs(shift) > TOLERANCE and abs(off - shift) <= half:
        # The plan was off by what its dials left; the light is followed from what is meant, not from that.
        target = planned_settings.shutter.stops + off
    fastest = camera.fastest if way.lighting.hss else camera.sync
    if target > fastest.stops + half or (way.lighting.hss and target < camera.sync.stops + half):
        return None
    if target >= camera.slowest.stops - half:
        return replace(planned_settings, shutter=camera.shutters.nearest(target))
    if planned_settings.stack.names:
        return None
    wanted = planned_settings.iso.stops + camera.slowest.stops - target
    iso = iso_dial().nearest(min(wanted, camera.iso_high.stops))
    return replace(planned_settings, shutter=camera.slowest, iso=iso)


def power_words(before: Way, now: Way) -> str:
    """What the key's power does from one way to another."""
    was, is_now = before.lighting.key.down, now.lighting.key.down
    if now.lighting.key.full is None:
        return "cannot fire"
    if is_now is None:
        return "off" if was is not None else "stays off"
    if was is None:
        return "on"
    if abs(is_now - was) < 0.05:
        return "stays"
    return f"{stops(abs(is_now - was))} {'down' if is_now > was else 'up'}"


def _lost(planned_way: Way, now: Way) -> Iterator[str]:
    """What is given up against the plan."""
    yield from lacks_in_words(now)
    yield from landing(now)
    known = {drawback.kind for drawback in planned_way.drawbacks}
    yield from (drawback_words(drawback) for drawback in now.drawbacks if drawback.kind not in known)
    old, new = planned_way.settings, now.settings
    if new.aperture.stops > old.aperture.stops + TOLERANCE:
        more = new.aperture.stops - old.aperture.stops
        yield f"{stops(more)} less blur, at f/{new.aperture.label}"
    if new.iso.stops >= old.iso.stops + 1 - TOLERANCE:
        yield f"more noise: ISO up {stops(new.iso.stops - old.iso.stops)}"
    reserve = now.reserve
    if reserve is not None and planned_way.reserve is not None and reserve < planned_way.reserve - 0.5:
        yield f"only {spare_words(reserve)}" if reserve >= HAIR else spare_words(reserve)
