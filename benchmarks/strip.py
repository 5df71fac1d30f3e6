"""A day with forty set-ups of their own: its page on the server, cold and warm, and after one was moved.

The ratio is to the bare page: the same template with a day that has no set-up. Run: make benchmark
"""

import tempfile
from collections.abc import Callable
from copy import deepcopy
from datetime import UTC, datetime
from pathlib import Path
from statistics import median
from time import perf_counter
from typing import Any

from flask.testing import FlaskClient

from noggin.core.daylight import forecast, sun
from noggin.core.shoot import timeline
from noggin.demo import demo_kit, demo_shoot
from noggin.documents.setup import canonical
from noggin.services.day import shoots, slot_detail
from noggin.services.day.shoot_document import import_shoot
from noggin.services.gear.kit_document import import_kit
from noggin.store.store import Store
from noggin.web import create_app

SET_UPS = 40
ROUNDS = 15
CACHES: tuple[Any, ...] = (
    timeline.verdict_at,
    timeline.timeline,
    timeline.planned,
    timeline.best_span,
    forecast.forecast,
    forecast._light,
    forecast._ground,
    sun.sun_at,
    slot_detail._ladder,
    slot_detail._by_clock,
)


def now() -> datetime:
    """The clock."""
    return datetime.now(UTC)


def forty(store: Store) -> int:
    """A day of forty set-ups, no two alike, every quarter of an hour from nine; its number."""
    document = deepcopy(demo_shoot())
    patterns = [slot["setup"] for slot in document["slots"]]
    document["slots"] = []
    for index in range(SET_UPS):
        setup = deepcopy(patterns[index % len(patterns)])
        setup["name"] = f"Set-up {index + 1}"
        setup["lights"][0]["distance_m"] += index / 100
        start = 9 * 60 + index * 15
        slot = {"setup": canonical(setup), "start": f"{start // 60:02}:{start % 60:02}", "minutes": 10}
        document["slots"].append({**slot, "facing_deg": 9.0 * index})
    number, _ = import_shoot(store, now, document)
    return number


def timed(act: Callable[[], object]) -> float:
    """Milliseconds of it."""
    start = perf_counter()
    act()
    return 1000 * (perf_counter() - start)


def cold(act: Callable[[], object]) -> float:
    """Milliseconds of it with nothing worked out before."""
    for cache in CACHES:
        cache.cache_clear()
    return timed(act)


def main() -> None:
    """Print the medians and their ratio to the bare page."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "noggin.sqlite3", "WTF_CSRF_ENABLED": False})
        store = app.extensions["noggin"].store
        import_kit(store, now, demo_kit())
        number = forty(store)
        new = {"name": "bare", "date": "2027-06-19", "place": "42.46, 0.71", "tz": "Europe/Madrid"}
        empty = shoots.new_shoot(store, now, new)
        client = app.test_client()
        _run(client, number, empty)
        store.close()


def _run(client: FlaskClient, number: int, empty: int) -> None:
    def page(of: int) -> Callable[[], object]:
        return lambda: client.get(f"/shoots/{of}", headers={"HX-Request": "true"})

    def moved(turn: int) -> Callable[[], object]:
        text = f"{9 + turn % 12:02}:{turn * 7 % 60:02}"
        return lambda: client.post(
            f"/shoots/{number}/figures/start-7", data={"text": text}, headers={"HX-Request": "true"}
        )

    page(number)()
    page(empty)()
    bare = median(timed(page(empty)) for _ in range(ROUNDS))
    first = median(cold(page(number)) for _ in range(5))
    warm = median(timed(page(number)) for _ in range(ROUNDS))
    after = median(timed(moved(turn)) for turn in range(ROUNDS))
    print(f"{SET_UPS} set-ups on one day, milliseconds on the server (medians):")
    print(f"the bare page {bare:.0f}, cold {first:.0f}, warm {warm:.0f}, one set-up moved {after:.0f}")
    print(
        f"ratio to the bare page: cold {first / bare:.0f}, warm {warm / bare:.1f}, moved {after / bare:.1f}"
    )


if __name__ == "__main__":
    main()
