"""Cuts the power while Noggin keeps set-ups, pops and files of frames and takes in documents, one after
another, and looks at what is there after the restart: nothing that was acknowledged may be lost, and the
database must open.

The database lies on an ext4 image of its own, mounted through a loop device. A cut is a copy of that image
as its device has it at one instant: what the system still held back is gone, and mounting the copy is the
restart. The same is done with PRAGMA synchronous=NORMAL, under which changes are lost, so that the trial is
known to show it. Writes that a device acknowledges and then loses are not played.

Run as root: python -m tools.power_cuts [CUTS] [SEED]
"""

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import count
from pathlib import Path
from typing import Any

from sqlalchemy import event

from noggin.demo import demo_documents
from noggin.services.clock import system_clock
from noggin.services.setups.setups import import_setup, new_setup
from noggin.services.whole.opening import open_store
from noggin.store import database_file
from noggin.store.frames import Wanted
from tools.writes import begin_rehearsal, keep_frame, keep_pop

IMAGE_BYTES = 48 * 1024 * 1024


def write(database: Path, acknowledged: int, synchronous: str) -> None:
    """Keep one thing after another, and say the number of each: of a set-up as it is, of a frame with a
    minus before it."""
    store = open_store(database)

    @event.listens_for(store._engine, "connect")
    def say(connection: Any, _: Any) -> None:
        connection.execute(f"PRAGMA synchronous={synchronous}")

    store._engine.dispose()
    for turn in count():
        if turn % 4 == 0:
            number = new_setup(store, system_clock)
        elif turn % 4 == 1:
            number = import_setup(store, system_clock, demo_documents()[0])
        elif turn % 4 == 2:
            number = -keep_frame(store, turn)
        else:
            number = -keep_pop(store)
        os.write(acknowledged, f"{number}\n".encode())


def _run(*command: str | Path) -> None:
    subprocess.run(command, check=True)  # noqa: S603 - our own commands


@contextmanager
def mounted(image: Path, place: Path) -> Iterator[None]:
    """An image mounted at a place."""
    place.mkdir(exist_ok=True)
    _run("mount", "-o", "loop", image, place)
    try:
        yield
    finally:
        _run("umount", place)


def at_one_instant(image: Path) -> bytes:
    """The image as its device has it: read until two readings are the same."""
    before, now = b"", image.read_bytes()
    while before != now:
        before, now = now, image.read_bytes()
    return now


def cut(folder: Path, after_s: float, synchronous: str) -> tuple[int, str]:
    """Cut the power after some time; how much was acknowledged by then, and what is wrong afterwards."""
    image, after = folder / "image", folder / "after"
    image.write_bytes(bytes(IMAGE_BYTES))
    _run("mkfs.ext4", "-q", image)
    read, wrote = os.pipe()
    with mounted(image, folder / "place"):
        database = folder / "place" / "noggin.sqlite3"
        store = open_store(database)
        begin_rehearsal(store)
        store.close()
        child = os.fork()
        if child == 0:
            write(database, wrote, synchronous)
        os.close(wrote)
        time.sleep(after_s)
        os.kill(child, signal.SIGSTOP)
        os.set_blocking(read, False)
        heard = _heard(read)
        after.write_bytes(at_one_instant(image))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
    os.close(read)
    with mounted(after, folder / "place"):
        problem = _problem(database, heard)
    return len(heard), problem


def _heard(pipe: int) -> list[int]:
    text = b""
    while True:
        try:
            text += os.read(pipe, 65536)
        except BlockingIOError:
            return [int(line) for line in text.split(b"\n")[:-1]]


def _problem(database: Path, acknowledged: list[int]) -> str:
    damage = database_file.problems(database)
    if damage:
        return f"damaged: {damage[0]}"
    store = open_store(database)
    there = set(store.setups.texts()) | {-frame.id for frame in store.frames.all(Wanted())}
    lost = set(acknowledged) - there
    store.close()
    return f"lost {len(lost)} of {len(acknowledged)}" if lost else ""


def main(arguments: list[str]) -> int:
    """Print what was found; 1 where anything acknowledged was lost, or the trial could not show it."""
    cuts, seed = [*map(int, arguments), *(20, 1)[len(arguments) :]]
    faults = {}
    for synchronous in ("FULL", "NORMAL"):
        chance, found, total = random.Random(seed), [], 0  # noqa: S311 - repeatable, not secret
        for _ in range(cuts):
            with tempfile.TemporaryDirectory() as folder:
                heard, problem = cut(Path(folder), chance.uniform(0.3, 2.0), synchronous)
            total += heard
            found += [problem] if problem else []
        print(f"synchronous={synchronous}: {cuts} cuts, {total} acknowledged, {len(found)} faults")
        for problem in found[:3]:
            print(f"  {problem}")
        faults[synchronous] = found
    return 1 if faults["FULL"] or not faults["NORMAL"] else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
