"""Rehearsing: a simulated spot answers instead of a camera, with something gone wrong where that is asked
for."""

from random import Random
from typing import Any

from noggin.core.errors import Refused
from noggin.core.limits import check_choice
from noggin.core.pops.faults import BY_KEY
from noggin.core.pops.frame import BandSeen, Frame, LevelSeen
from noggin.devices.simulated_spot import SimulatedSpot
from noggin.documents.pops import dialled_document
from noggin.services.clock import Clock
from noggin.services.shooting import add_frame
from noggin.services.take import Shooting, open_shooting
from noggin.store.store import Store

SEEN_BY = {"words": "a look at the screen", "raw": "a raw file"}
"""What a simulated frame can be looked at by."""


def fire(store: Store, clock: Clock, setup_id: int, by: str = "words", fault: str = "") -> Shooting:
    """A simulated frame of what is proposed, with a fault where one is named. Raises NotKept, Refused."""
    check_choice("by", by, SEEN_BY)
    if fault:
        check_choice("fault", fault, BY_KEY)
    with store.writing():
        found = open_shooting(store, clock, setup_id)
        if not found.is_rehearsal:
            raise Refused("rehearsal", "this take is a real one. Begin a rehearsal first")
        frame = _frame(found, by, fault)
        seen = {
            "flash": frame.flash,
            "dialled": dialled_document(found.setup, frame.dialled),
            "seen": [dict(_seen(one)) for one in frame.seen],
        }
        return add_frame(store, clock, setup_id, seen)


def _frame(found: Shooting, by: str, fault: str) -> Frame:
    """The next frame of the spot; it goes through those before it, so that it is the same spot still."""
    assert found.take is not None  # noqa: S101 - it is a rehearsal
    seed = found.take.document["rehearsal"]["seed"]
    spot = SimulatedSpot(found.setup, Random(seed))  # noqa: S311 - repeatable, not secret
    last = 0.0
    for frame in found.frames:
        spot.frame(frame.minute, frame.flash, frame.dialled, by)
        last = frame.minute
    minute = last + 1.0 if found.frames else 0.0
    try:
        return spot.frame(minute, found.flash_next or not found.needs_flash, found.dialled, by, fault)
    except LookupError:
        raise Refused("fault", f"{BY_KEY[fault].label}: that cannot happen to this frame") from None


def _seen(one: Any) -> Any:
    if isinstance(one, LevelSeen):
        return {"zone": one.zone, "level": round(one.level, 3), "by": one.by}
    if isinstance(one, BandSeen):
        return {"band": "bottom"}
    raise TypeError(f"{one} is not seen by a simulated camera")
