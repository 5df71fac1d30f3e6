"""Kills Noggin in the middle of writing, popping, importing, copying and restoring, and looks at what is
left: nothing that was acknowledged may be lost, nothing may be there by half, every database must open.

Run: python -m tools.kills [KILLS] [SEED]. A kill is SIGKILL to a process of its own; a power cut is more
than that, see `tools/power_cuts.py`.
"""

import os
import random
import signal
import sys
import tempfile
import time
from collections.abc import Callable
from itertools import count
from pathlib import Path
from select import select

from noggin.services.clock import system_clock
from noggin.services.setups.setups import new_setup
from noggin.services.whole import safekeeping
from noggin.services.whole.demo import load_demo_once, start_demo_over
from noggin.services.whole.opening import open_store
from noggin.store import database_file
from noggin.store.frames import Wanted
from tools.writes import begin_rehearsal, keep_frame, keep_pop

Act = Callable[[Path, Callable[[int], None]], None]
Check = Callable[[Path, list[int]], str]

LATEST_S = 0.6
"""A kill comes within this time of the start."""

FIRST_S = 120.0
"""So long something that is kept is waited for at most."""

LATER = {"popping": 4.0, "taking frames in": 4.0, "restoring": 4.0}
"""Of what begins with the whole demo, so many times that."""


def write(database: Path, acknowledge: Callable[[int], None]) -> None:
    """Keep one set-up after another."""
    store = open_store(database)
    while True:
        acknowledge(new_setup(store, system_clock))


def all_there(database: Path, acknowledged: list[int]) -> str:
    """Whether everything acknowledged is kept."""
    store = open_store(database)
    lost = set(acknowledged) - set(store.setups.texts())
    store.close()
    return f"lost {sorted(lost)}" if lost else ""


def load(database: Path, acknowledge: Callable[[int], None]) -> None:
    """Load the demo, and start it over again and again."""
    store = open_store(database)
    load_demo_once(store, system_clock)
    acknowledge(1)
    while True:
        start_demo_over(store, system_clock, database.with_name(f"aside-{time.monotonic_ns()}"))


def demo_whole_or_not(database: Path, acknowledged: list[int]) -> str:
    """Whether the demo is there whole, or nothing where it was not acknowledged."""
    store = open_store(database)
    counts = (len(store.setups.texts()), len(store.gear.texts()), len(store.shoots.texts()))
    store.close()
    whole = (8, 33, 1)
    return "" if counts == whole or (counts == (0, 0, 0) and not acknowledged) else f"by half: {counts}"


def bring(database: Path, acknowledge: Callable[[int], None]) -> None:
    """Import everything into an empty database."""
    store = open_store(database)
    safekeeping.bring_zip(store, system_clock, _zip())
    acknowledge(1)
    time.sleep(LATEST_S)


def copy(database: Path, acknowledge: Callable[[int], None]) -> None:
    """Make one automatic copy after another of a database with the demo in it."""
    store = open_store(database)
    load_demo_once(store, system_clock)
    while True:
        store.keep_copy(system_clock(), "daily")
        acknowledge(1)


def copies_whole(database: Path, _: list[int]) -> str:
    """Whether every copy that is there is whole."""
    broken = [path for path in database_file.copies(database) if database_file.problems(path)]
    return f"broken copies: {broken}" if broken else ""


def pop(database: Path, acknowledge: Callable[[int], None]) -> None:
    """Keep one simulated pop after another."""
    store = open_store(database)
    begin_rehearsal(store)
    while True:
        acknowledge(keep_pop(store))


def bring_frames(database: Path, acknowledge: Callable[[int], None]) -> None:
    """Take in one file of a frame after another."""
    store = open_store(database)
    load_demo_once(store, system_clock)
    for index in count():
        acknowledge(keep_frame(store, index))


def frames_there(database: Path, acknowledged: list[int]) -> str:
    """Whether every frame that was acknowledged is kept."""
    store = open_store(database)
    there = {frame.id for frame in store.frames.all(Wanted())}
    store.close()
    lost = set(acknowledged) - there
    return f"lost {sorted(lost)}" if lost else ""


def put_back(database: Path, acknowledge: Callable[[int], None]) -> None:
    """Put a backup in the place of what is there, again and again."""
    open_store(database).close()
    source = database.with_name("backup.sqlite3")
    backup = open_store(source)
    load_demo_once(backup, system_clock)
    backup.close()
    while True:
        safekeeping.restore(database, source, system_clock)
        acknowledge(1)


ACTS: dict[str, tuple[Act, Check]] = {
    "writing": (write, all_there),
    "loading the demo": (load, demo_whole_or_not),
    "importing": (bring, demo_whole_or_not),
    "copying": (copy, copies_whole),
    "popping": (pop, frames_there),
    "taking frames in": (bring_frames, frames_there),
    "restoring": (put_back, demo_whole_or_not),
}

ZIP: list[bytes] = []


def _zip() -> bytes:
    if not ZIP:
        with tempfile.TemporaryDirectory() as folder:
            store = open_store(Path(folder) / "noggin.sqlite3")
            load_demo_once(store, system_clock)
            ZIP.append(safekeeping.zip_of_everything(store, system_clock))
            store.close()
    return ZIP[0]


def killed(act: Act, database: Path, after_s: float, from_first: bool = False) -> list[int]:
    """Start an act in a process of its own and kill it after some time (counted from its first
    acknowledgement, however slow the machine, where that is asked for); what it had acknowledged."""
    read, wrote = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(read)

        def acknowledge(number: int) -> None:
            os.write(wrote, f"{number}\n".encode())

        act(database, acknowledge)
        os._exit(0)
    os.close(wrote)
    if from_first:
        select([read], [], [], FIRST_S)
    time.sleep(after_s)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    with os.fdopen(read, "rb") as pipe:
        return [int(line) for line in pipe.read().split(b"\n")[:-1]]


def faults(kills: int, seed: int) -> tuple[list[str], int]:
    """What was found wrong after so many kills, shared out over the acts, and how much was acknowledged."""
    chance, found, heard = random.Random(seed), [], 0  # noqa: S311 - repeatable, not secret
    _zip()
    with tempfile.TemporaryDirectory() as folder:
        for turn in range(kills):
            name = list(ACTS)[turn % len(ACTS)]
            act, check = ACTS[name]
            database = Path(folder) / str(turn) / "noggin.sqlite3"
            after_s = chance.uniform(0.02, LATEST_S * LATER.get(name, 1.0))
            # One kill in two finds something kept, the others what is not kept yet.
            acknowledged = killed(act, database, after_s, from_first=chance.random() < 0.5)
            heard += len(acknowledged)
            problem = check(database, acknowledged)
            problem = problem or "; ".join(database_file.problems(database)[:3])
            if problem:
                found.append(f"{name}, kill {turn}: {problem}")
    return found, heard


def main(arguments: list[str]) -> int:
    """Print what was found wrong; 1 where anything was."""
    kills, seed = [*map(int, arguments), *(200, 1)[len(arguments) :]]
    found, heard = faults(kills, seed)
    for fault in found:
        print(fault)
    print(f"{kills} kills, {heard} acknowledged, {len(found)} faults")
    return 1 if found or not heard else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
