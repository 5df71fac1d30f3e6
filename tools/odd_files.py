"""Files that nobody should have on a card: cut off, spoilt, mislabelled, far too large by their own word,
links that lead nowhere or round and round, names that no screen shows, settings of no time. Each is taken
in or named and skipped; none ends the run, takes long or much memory, or is in twice.

Run: python -m tools.odd_files [FILES] [SEED]
"""

import os
import random
import resource
import struct
import sys
import tempfile
import time
from collections import Counter
from datetime import datetime, timedelta, timezone
from io import BytesIO
from pathlib import Path

from PIL import Image

from noggin.devices.simulated_camera import Exposure, FileCamera, View
from noggin.services.frames.frame_import import batch_of, import_folder
from noggin.store.store import Store

SLOW_S = 2.0
"""No file may take longer."""

MEMORY_MOST_MB = 700
"""What this process may hold at most, with all of Noggin's packages read in."""

AT = datetime(2027, 6, 19, 13, 20, tzinfo=timezone(timedelta(hours=2)))

NAMES = (
    "{n}.jpg",
    "{n}.DNG",
    "{n}.tif",
    "{n}.heic",
    "\u202egpj.{n}.jpg",
    "{n}\t\x01.jpg",
    "{n} \udcff.jpg",
    "…{n}.cr2",
)


def odd(chance: random.Random, whole: tuple[bytes, ...], number: int) -> bytes:
    """The bytes of one file."""
    raw = bytearray(chance.choice(whole))
    kind = chance.randrange(7)
    if kind == 0:
        del raw[chance.randrange(len(raw)) :]
    elif kind in (1, 2):
        for _ in range(chance.choice((1, 3, 30))):
            raw[chance.randrange(min(len(raw), 4000))] = chance.randrange(256)
    elif kind == 3:
        raw[:] = said_to_be(chance.choice((20_000, 65_535, 500_000)), chance.choice((20_000, 65_535)))
    elif kind == 4:
        years = (b"0001", b"1899", b"9999", b"2027")
        raw[:] = bytes(raw).replace(b"2027:06:19", chance.choice(years) + b":06:19")
    elif kind == 5:
        raw[:] = chance.randbytes(chance.choice((0, 1, 12, 5000)))
    raw += struct.pack("<I", number)  # no two are the same file
    return bytes(raw)


def said_to_be(width: int, height: int) -> bytes:
    """A small PNG file that says it is large: its sizes are the first two figures of its header (PNG, W3C
    Recommendation, 11.2.2)."""
    out = BytesIO()
    Image.new("L", (8, 8)).save(out, "PNG")
    raw = bytearray(out.getvalue())
    struct.pack_into(">II", raw, 16, width, height)
    return bytes(raw)


def fill(folder: Path, count: int, seed: int) -> None:
    """Write so many of them, with links among them."""
    chance = random.Random(seed)  # noqa: S311 - repeatable, not secret
    camera = FileCamera(seed)
    taken = Exposure(1 / 160, 2.8, 200, 85, True, AT)
    view = View({"subject": 0.0, "background": -1.0})
    heic = BytesIO()
    Image.open(BytesIO(camera.jpeg(view, taken))).save(heic, "HEIF")
    whole = (camera.jpeg(view, taken), camera.dng(view, taken), heic.getvalue())
    for number in range(count):
        name = chance.choice(NAMES).format(n=number)
        place = folder / f"day {number % 7}" / name
        place.parent.mkdir(exist_ok=True)
        if number % 50 == 0:
            place.symlink_to(chance.choice(("nowhere.jpg", name, "/dev/zero", str(folder))))
        else:
            place.write_bytes(odd(chance, whole, number))
    with (folder / "vast.jpg").open("wb") as file:
        os.truncate(file.fileno(), 6_000_000_000)


def main(arguments: list[str]) -> int:
    """Print what came of them; 1 where anything went wrong."""
    files, seed = [*map(int, arguments), *(2000, 1)[len(arguments) :]]
    faults: list[str] = []
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place) / "card"
        folder.mkdir()
        fill(folder, files, seed)
        store = Store.on_file(Path(place) / "noggin.sqlite3")
        states: Counter[str] = Counter()
        for again in (False, True):
            began = time.monotonic()
            for brought in import_folder(store, folder, batch_of()):
                took = time.monotonic() - began
                if took > SLOW_S:
                    faults.append(f"{brought.name}: {took:.1f} s")
                if again and brought.state == "new":
                    faults.append(f"{brought.name} is in twice")
                if brought.state == "skipped" and not brought.why:
                    faults.append(f"{brought.name} is skipped without a word")
                states[f"{'again' if again else 'first'}: {brought.state}"] += 1
                began = time.monotonic()
        kept = store.frames.count()
        if kept != states["first: new"]:
            faults.append(f"{kept} are kept, {states['first: new']} came in")
        store.close()
    held = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024 / 1e6
    if held > MEMORY_MOST_MB:
        faults.append(f"held {held:.0f} MB")
    for fault in faults[:20]:
        print(fault)
    print(", ".join(f"{state} {often}" for state, often in sorted(states.items())))
    print(f"{files} files, at most {held:.0f} MB, {len(faults)} faults")
    return 1 if faults or not kept else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
