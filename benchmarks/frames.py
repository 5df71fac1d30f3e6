"""A log of 100,000 frames against one of 1,000: first page, search and filter; and files taken in
against a bare loop that decodes the same files, with pages of the Bench meanwhile. Ratios, in one run.
Run: python -m benchmarks.frames [FRAMES] [FILES]"""

import json
import sys
import tempfile
import threading
from collections.abc import Callable
from datetime import UTC, datetime, timedelta, timezone
from io import BytesIO
from pathlib import Path
from random import Random
from statistics import median
from time import perf_counter

from flask.testing import FlaskClient
from PIL import Image
from sqlalchemy import text

from noggin.devices.simulated_camera import Exposure, FileCamera, View
from noggin.documents.log import read_entry, written_entry
from noggin.services.clock import system_clock
from noggin.services.frames.frame_import import batch_of, import_folder
from noggin.services.frames.frame_tags import tags_of, words_of
from noggin.services.whole.demo import load_demo_once
from noggin.store.frames import PLACES_PER_MS
from noggin.store.store import Store
from noggin.web import create_app

FEW = 1_000
PAGES = {
    "first page": "/log",
    "search": "/log?find=orchard+green",
    "filter": "/log?light=Key&way=hss",
    "search that finds nothing": "/log?find=parrot",
}
ROUNDS = 15
DISTINCT = 200
"""Pictures that are made; more files than these are the same ones again with other bytes."""

BEGUN = datetime(2026, 1, 1, 8, tzinfo=UTC)


def log_of(count: int, path: Path) -> FlaskClient:
    """An application with so many frames in its log."""
    store = Store.on_file(path)
    load_demo_once(store, system_clock)
    chance = Random(1)  # noqa: S311 - repeatable, not secret
    with store.write_transaction() as session:
        connection = session.connection()
        for index in range(count):
            taken = BEGUN + timedelta(minutes=3 * index)
            entry = read_entry(
                {
                    "taken": taken.isoformat(),
                    "file": f"IMG_{index:06}.jpg",
                    "setup": chance.choice(("Orchard wall", "Dome door", "Steps", "Terrace")),
                    "shoot": f"Day {index // 500}",
                    "way": chance.choice(("nd", "hss", "within_sync")),
                    "verdict": chance.choice(("right", "off", "daylight")),
                    "lights": [chance.choice(("Key", "Fill", "Rim"))],
                    "dialled": {"shutter": "1/200", "aperture": 2.8, "iso": 100},
                    "levels": {"background": {"value": -1.0, "uncertainty": 0.6, "by": "jpeg"}},
                    "meant": {"background": -1.0, "subject": 0.0},
                    "note": chance.choice(("", "", "green light", "she laughed")),
                }
            )
            place = round(taken.timestamp() * 1000) * PLACES_PER_MS
            given = {"place": place, "document": json.dumps(written_entry(entry)), "words": words_of(entry)}
            row = connection.execute(
                text("INSERT INTO frame(place, document) VALUES (:place, :document) RETURNING id"), given
            )
            number = row.scalar_one()
            connection.execute(
                text(
                    "INSERT INTO frame_tag(frame_id, kind, value, place)"
                    " VALUES (:frame, :kind, :value, :place)"
                ),
                [
                    {"frame": number, "kind": kind, "value": value, "place": place}
                    for kind, value in set(tags_of(entry, None))
                ],
            )
            connection.execute(text("INSERT INTO frame_text(rowid, words) VALUES (:place, :words)"), given)
    store.close()
    return create_app({"DATABASE": path, "TESTING": True, "WTF_CSRF_ENABLED": False}).test_client()


def seconds(act: Callable[[], object]) -> float:
    """How long something takes."""
    begun = perf_counter()
    act()
    return perf_counter() - begun


def page_time(client: FlaskClient, address: str) -> float:
    """The middle of some rounds."""
    client.get(address)
    return median(seconds(lambda: client.get(address)) for _ in range(ROUNDS))


def lists(many: int, folder: Path) -> None:
    """Print how pages of a long log compare with those of a short one."""
    few_client, many_client = log_of(FEW, folder / "few.sqlite3"), log_of(many, folder / "many.sqlite3")
    for words, address in PAGES.items():
        few, much = page_time(few_client, address), page_time(many_client, address)
        print(
            f"{words}: {1000 * few:.1f} ms with {FEW:,}, {1000 * much:.1f} ms with {many:,}:"
            f" {much / few:.2f}"
        )


def files(count: int, folder: Path) -> None:
    """Print how fast files come in against a bare loop, and what pages of the Bench take meanwhile."""
    card = folder / "card"
    card.mkdir()
    at = datetime(2027, 6, 19, 13, tzinfo=timezone(timedelta(hours=2)))
    chance = Random(2)  # noqa: S311 - repeatable, not secret
    grain = Image.effect_noise((3000, 2000), 24).convert("RGB")
    made = min(count, DISTINCT)
    for index in range(made):
        view = View({"background": chance.uniform(-2, 0), "subject": chance.uniform(-1, 1), "sky": 0.3})
        small = FileCamera(index).jpeg(
            view, Exposure(1 / 160, 2, 100, 85, True, at + timedelta(seconds=index))
        )
        with Image.open(BytesIO(small)) as image:
            large = Image.blend(image.resize((3000, 2000)), grain, 0.15)
            large.save(card / f"IMG_{index:05}.jpg", quality=85, exif=image.getexif())
    for index in range(made, count):
        # The same picture with other bytes after its end: another file, and no longer in the making.
        known = (card / f"IMG_{index % made:05}.jpg").read_bytes()
        (card / f"IMG_{index:05}.jpg").write_bytes(known + index.to_bytes(4, "big"))

    def bare() -> None:
        for path in sorted(card.iterdir()):
            with Image.open(BytesIO(path.read_bytes())) as image:
                image.convert("RGB")

    alone = seconds(bare)
    path = folder / "taken.sqlite3"
    store = Store.on_file(path)
    load_demo_once(store, system_clock)
    client = create_app({"DATABASE": path, "TESTING": True}).test_client()
    idle = page_time(client, "/setups/1")
    meanwhile: list[float] = []
    done = threading.Event()

    def reader() -> None:
        while not done.is_set():
            meanwhile.append(seconds(lambda: client.get("/setups/1")))
            done.wait(0.05)

    shot = store.frames.count()
    taken = seconds(lambda: list(import_folder(store, card, batch_of())))
    print(
        f"{count} files of 6 megapixels: bare {count / alone:.1f} a second, taken in {count / taken:.1f}:"
    )
    print(f"  {alone / taken:.2f} of the bare rate; {store.frames.count() - shot} in the log, each once")
    store.clear()
    for path in sorted(card.iterdir())[DISTINCT:]:
        path.unlink()
    load_demo_once(store, system_clock)
    thread = threading.Thread(target=reader)
    thread.start()
    list(import_folder(store, card, batch_of()))
    done.set()
    thread.join()
    print(f"  a page of the Bench: {1000 * idle:.0f} ms idle, {1000 * median(meanwhile):.0f} ms meanwhile:")
    print(f"  {median(meanwhile) / idle:.2f} in the same process; the server has imports in another one")
    store.close()


def main(arguments: list[str]) -> None:
    """Print everything."""
    many = int(arguments[0]) if arguments else 100_000
    count = int(arguments[1]) if len(arguments) > 1 else 200
    with tempfile.TemporaryDirectory() as folder:
        lists(many, Path(folder))
        files(count, Path(folder))


if __name__ == "__main__":
    main(sys.argv[1:])
