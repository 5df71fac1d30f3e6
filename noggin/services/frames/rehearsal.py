"""Rehearsing: a simulated spot answers instead of a camera, with something gone wrong where that is asked
for."""

from collections.abc import Iterator
from dataclasses import replace
from random import Random
from typing import Any

from noggin.core.errors import Refused
from noggin.core.limits import check_choice
from noggin.core.physics.power import power_label
from noggin.core.pops.faults import BY_KEY
from noggin.core.pops.frame import BandSeen, Frame, LevelSeen, Seen
from noggin.core.setup.light import Light
from noggin.core.units import Stops
from noggin.core.wording import listed
from noggin.devices.simulated_spot import SimulatedSpot
from noggin.devices.trigger import SimulatedTrigger, TriggerDevice
from noggin.documents.log import FrameEntry, read_entry
from noggin.documents.pops import dialled_document
from noggin.services.clock import Clock
from noggin.services.frames.entry import taken_now
from noggin.services.frames.spot import add_frame, keep_state
from noggin.services.frames.take import OpenTake
from noggin.store.store import Store

SEEN_BY = {"words": "a look at the screen", "raw": "a raw file"}
"""What a simulated frame can be looked at by."""


def fired(clock: Clock, take: OpenTake, by: str, fault: str) -> FrameEntry:
    """Such a frame as the log has it, not kept yet. Raises Refused."""
    check_choice("by", by, SEEN_BY)
    if fault:
        check_choice("fault", fault, BY_KEY)
    if not take.is_rehearsal:
        raise Refused("rehearsal", "this take is a real one. Begin a rehearsal first")
    frame = _fired(take, _spot(take, by), by, fault)
    return read_entry(
        {
            "taken": taken_now(clock, take.setup),
            "flash": frame.flash,
            "dialled": dialled_document(take.setup, frame.dialled),
            "seen": [_seen(one) for one in frame.seen],
        }
    )


def keep_fired(
    store: Store, clock: Clock, take: OpenTake, entry: FrameEntry, by: str, fault: str
) -> OpenTake:
    """Keep such a frame, and what it was fired with. Raises Refused."""
    shown = take.rehearsal | {"last": {"frame": len(take.frames), "by": by, "fault": fault}}
    take = replace(take, kept=keep_state(store, clock, take, {"rehearsal": shown}))
    return add_frame(store, clock, take, entry)


def _spot(take: OpenTake, by: str, frames: int | None = None) -> SimulatedSpot:
    """The spot after so many frames of the take (None: all); it goes through them, so that it is the same
    spot still."""
    spot = SimulatedSpot(take.setup, Random(take.rehearsal["seed"]))  # noqa: S311 - repeatable, not secret
    for frame in take.frames[:frames]:
        spot.frame(frame.minute, frame.flash, frame.dialled, by)
    return spot


def _fired(take: OpenTake, spot: SimulatedSpot, by: str, fault: str) -> Frame:
    """The next frame of the spot."""
    minute = take.frames[-1].minute + 1.0 if take.frames else 0.0
    try:
        return spot.frame(minute, take.flash_next or not take.needs_flash, take.dialled, by, fault)
    except LookupError:
        raise Refused("fault", f"{BY_KEY[fault].label}: that cannot happen to this frame") from None


def look(take: OpenTake) -> tuple[str, ...]:
    """What is seen at the spot after the last simulated frame: a test pop, the trigger, and the camera,
    each in a line. Raises Refused where there is no simulated frame to look at."""
    last = take.rehearsal.get("last") if take.is_rehearsal else None
    if not last or last["frame"] != len(take.frames) - 1:
        raise Refused("rehearsal", "fire a simulated frame first, then look")
    frame = take.frames[-1]
    spot = _spot(take, last["by"], last["frame"])
    spot.frame(frame.minute, frame.flash, frame.dialled, last["by"], last["fault"])
    return tuple(_looked(take, spot))


def _looked(take: OpenTake, spot: SimulatedSpot) -> Iterator[str]:
    trigger: TriggerDevice = SimulatedTrigger(take.setup, spot.actual)
    seen = trigger.test_pop()
    lights = zip(take.setup.lights, seen.powers.values(), strict=True)
    if take.frames[-1].flash:
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


def _seen(one: Seen) -> dict[str, Any]:
    if isinstance(one, LevelSeen):
        return {"zone": one.zone, "level": round(one.level, 3), "by": one.by}
    if isinstance(one, BandSeen):
        return {"band": "bottom"}
    raise TypeError(f"{one} is not seen by a simulated camera")
