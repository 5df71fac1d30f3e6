"""Rehearsing: a simulated spot answers instead of a camera, with something gone wrong where that is asked
for."""

from collections.abc import Iterator
from random import Random
from typing import Any

from noggin.core.errors import Refused
from noggin.core.limits import check_choice
from noggin.core.physics.power import power_label
from noggin.core.pops.faults import BY_KEY
from noggin.core.pops.frame import BandSeen, Frame, LevelSeen
from noggin.core.setup.light import Light
from noggin.core.units import Stops
from noggin.core.wording import listed
from noggin.devices.simulated_spot import SimulatedSpot
from noggin.devices.trigger import SimulatedTrigger, TriggerDevice
from noggin.documents.pops import dialled_document
from noggin.services.clock import Clock
from noggin.services.frames.spot import add_frame, keep_state
from noggin.services.frames.take import OpenTake, open_take
from noggin.store.store import Store

SEEN_BY = {"words": "a look at the screen", "raw": "a raw file"}
"""What a simulated frame can be looked at by."""


def fire(store: Store, clock: Clock, setup_id: int, by: str = "words", fault: str = "") -> OpenTake:
    """A simulated frame of what is proposed, with a fault where one is named. Raises NotKept, Refused."""
    check_choice("by", by, SEEN_BY)
    if fault:
        check_choice("fault", fault, BY_KEY)
    with store.write_transaction():
        found = open_take(store, clock, setup_id)
        if not found.is_rehearsal:
            raise Refused("rehearsal", "this take is a real one. Begin a rehearsal first")
        spot = _spot(found, by)
        frame = _fired(found, spot, by, fault)
        shown = found.rehearsal | {"last": {"frame": len(found.frames), "by": by, "fault": fault}}
        keep_state(store, clock, found, {"rehearsal": shown})
        seen = {
            "flash": frame.flash,
            "dialled": dialled_document(found.setup, frame.dialled),
            "seen": [dict(_seen(one)) for one in frame.seen],
        }
        return add_frame(store, clock, setup_id, seen)


def _spot(found: OpenTake, by: str, frames: int | None = None) -> SimulatedSpot:
    """The spot after so many frames of the take (None: all); it goes through them, so that it is the same
    spot still."""
    spot = SimulatedSpot(found.setup, Random(found.rehearsal["seed"]))  # noqa: S311 - repeatable, not secret
    for frame in found.frames[:frames]:
        spot.frame(frame.minute, frame.flash, frame.dialled, by)
    return spot


def _fired(found: OpenTake, spot: SimulatedSpot, by: str, fault: str) -> Frame:
    """The next frame of the spot."""
    minute = found.frames[-1].minute + 1.0 if found.frames else 0.0
    try:
        return spot.frame(minute, found.flash_next or not found.needs_flash, found.dialled, by, fault)
    except LookupError:
        raise Refused("fault", f"{BY_KEY[fault].label}: that cannot happen to this frame") from None


def look(store: Store, clock: Clock, setup_id: int) -> tuple[str, ...]:
    """What is seen at the spot after the last simulated frame: a test pop, the trigger, and the camera,
    each in a line. Raises NotKept, Refused where there is no simulated frame to look at."""
    found = open_take(store, clock, setup_id)
    last = found.rehearsal.get("last") if found.is_rehearsal else None
    if not last or last["frame"] != len(found.frames) - 1:
        raise Refused("rehearsal", "fire a simulated frame first, then look")
    frame = found.frames[-1]
    spot = _spot(found, last["by"], last["frame"])
    spot.frame(frame.minute, frame.flash, frame.dialled, last["by"], last["fault"])
    return tuple(_looked(found, spot))


def _looked(found: OpenTake, spot: SimulatedSpot) -> Iterator[str]:
    trigger: TriggerDevice = SimulatedTrigger(found.setup, spot.actual)
    seen = trigger.test_pop()
    lights = zip(found.setup.lights, seen.powers.values(), strict=True)
    if found.frames[-1].flash:
        yield f"Test pop: {listed([_flashes(light, down) for light, down in lights])}."
        mode = "powers set by hand" if seen.manual else "on automatic"
        yield f"Trigger: {mode}, high-speed sync {'on' if seen.high_speed else 'off'}."
    settings = spot.actual.dialled.settings
    dials = f"{settings.shutter.label} s, f/{settings.aperture.label}, ISO {spot.iso_shown.label}"
    on_lens = settings.stack.words if settings.stack.stops else "no filter"
    yield f"Camera: {dials}; on the lens: {on_lens}."


def _flashes(light: Light, down: Stops | None) -> str:
    if down is None:
        return f"{light.says} stays dark"
    return f"{light.says} flashes at {power_label(down, light.scale, light.full_mark)}"


def _seen(one: Any) -> Any:
    if isinstance(one, LevelSeen):
        return {"zone": one.zone, "level": round(one.level, 3), "by": one.by}
    if isinstance(one, BandSeen):
        return {"band": "bottom"}
    raise TypeError(f"{one} is not seen by a simulated camera")
