"""What the list of set-ups costs with few and with many kept: the first page, a page far down, and a
search.

Both databases are asked in turns in one run, so that a busy machine slows them alike. Run: make benchmark
"""

import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from itertools import cycle, islice
from pathlib import Path
from statistics import median
from time import perf_counter

from flask.testing import FlaskClient

from noggin.demo import demo_documents
from noggin.services.keeping.results import PAGE_SIZE, bring_up_to_date
from noggin.store.store import Store
from noggin.web import create_app

FEW, MANY = 50, 5_000
ROUNDS = 40
MOST = 1.5
"""What the list with many may cost at most, as a ratio to that with few."""


def fill(store: Store, count: int) -> None:
    """So many set-ups with their results, of the kinds that the demo has."""
    now = datetime.now(UTC)
    with store.write_transaction():
        for number, document in enumerate(islice(cycle(demo_documents()), count)):
            store.setups.add({**document, "name": f"{document['name']} {number}"}, now)
    bring_up_to_date(store)


def seconds(client: FlaskClient, address: str) -> float:
    """How long a page takes."""
    start = perf_counter()
    status = client.get(address).status_code
    taken = perf_counter() - start
    if status != 200:
        raise RuntimeError(f"{address} was answered with {status}")
    return taken


def main() -> None:
    """Print the medians and their ratios."""
    with tempfile.TemporaryDirectory() as folder:
        apps = [create_app({"DATABASE": Path(folder) / f"{count}" / "n.sqlite3"}) for count in (FEW, MANY)]
        stores = [app.extensions["noggin"].store for app in apps]
        for store, count in zip(stores, (FEW, MANY), strict=True):
            fill(store, count)
        few, many = (app.test_client() for app in apps)
        _compare("the first page", lambda: seconds(few, "/setups"), lambda: seconds(many, "/setups"))
        far = f"/setups?from={MANY - PAGE_SIZE}"
        _compare("the last page", lambda: seconds(few, "/setups"), lambda: seconds(many, far))
        found = "/setups?find=no+such+name"
        _compare("a search that finds nothing", lambda: seconds(few, found), lambda: seconds(many, found))
        for store in stores:
            store.close()


def _compare(what: str, few: Callable[[], float], many: Callable[[], float]) -> None:
    few(), many()
    times = [(few(), many()) for _ in range(ROUNDS)]
    with_few, with_many = (1000 * median(column) for column in zip(*times, strict=True))
    ratio = with_many / with_few
    kept = "" if what != "the first page" else f" (at most {MOST})"
    print(f"{what}: {FEW} set-ups {with_few:.1f} ms, {MANY} {with_many:.1f} ms, ratio {ratio:.2f}{kept}")


if __name__ == "__main__":
    main()
