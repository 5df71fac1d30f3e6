"""What Noggin keeps while it is killed or its power is cut: one pop, one file of a frame."""

from datetime import datetime, timedelta, timezone
from random import Random

from noggin.devices.simulated_camera import Exposure, FileCamera, View
from noggin.services.clock import system_clock
from noggin.services.frames import rehearsal
from noggin.services.frames.frame_import import batch_of, import_frame
from noggin.services.frames.spot import begin_again
from noggin.services.frames.take import open_take
from noggin.services.whole.demo import load_demo_once
from noggin.store.store import Store

FIRST = datetime(2027, 6, 19, 13, 20, tzinfo=timezone(timedelta(hours=2)))

SETUP = 1
"""The demo's set-up that is rehearsed."""

CHANCE = Random(SETUP)  # noqa: S311 - the same place each time


def begin_rehearsal(store: Store) -> None:
    """Load the demo, and begin a take at a simulated spot."""
    load_demo_once(store, system_clock)
    with store.write_transaction():
        begin_again(store, system_clock, open_take(store, system_clock, SETUP), rehearsal=CHANCE)


def keep_pop(store: Store) -> int:
    """Keep one more simulated pop; its frame's number."""
    with store.write_transaction():
        take = open_take(store, system_clock, SETUP)
        entry = rehearsal.fired(system_clock, take, "words", "")
        return rehearsal.keep_fired(store, system_clock, take, entry, "words", "").shots[-1].id


def keep_frame(store: Store, index: int) -> int:
    """Take in one more file of a frame; its frame's number."""
    taken = Exposure(1 / 160, 2.0, 100, 85, True, FIRST + timedelta(seconds=index))
    raw = FileCamera(index).jpeg(View({"background": -1.0, "subject": 0.0}), taken)
    return import_frame(store, raw, f"{index}.jpg", batch_of()).frame_id or 0
