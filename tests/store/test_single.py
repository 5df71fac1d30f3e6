"""Single things are single, whoever asks at once: the database itself holds to it."""

import json
import threading
from collections.abc import Callable

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.demo import demo_kit
from noggin.documents.kit import read_kit
from noggin.services.gear import bags
from noggin.services.gear.bags import BAGS
from noggin.services.gear.kit import GEAR
from noggin.services.gear.kit_document import kit_document
from noggin.services.keeping import kept
from noggin.store.store import Store
from tests.store.test_store import StoreCase
from tests.support import DATA, NOW


def at_once(*acts: Callable[[], object]) -> list[object]:
    """What acts gave that were begun together; an error in the place of an answer."""
    gate, found = threading.Barrier(len(acts)), [None] * len(acts)

    def run(place: int, act: Callable[[], object]) -> None:
        gate.wait()
        try:
            found[place] = act()  # type: ignore[call-overload]
        except Exception as error:
            found[place] = error  # type: ignore[call-overload]

    threads = [threading.Thread(target=run, args=each) for each in enumerate(acts)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return list(found)


class Single(StoreCase):
    def pack(self, store: Store, name: str) -> int:
        return bags.new_bag(store, lambda: NOW, name)

    def test_two_bags_of_one_name_packed_at_once(self) -> None:
        store = self.open()
        found = at_once(*[lambda: self.pack(store, "Portraits") for _ in range(6)])
        self.assertEqual(len([one for one in found if isinstance(one, int)]), 1, found)
        self.assertEqual(len([one for one in found if isinstance(one, Refused)]), 5, found)
        self.assertEqual(self.sql("SELECT count(*) FROM kept WHERE name = 'Portraits'"), [(1,)])

    def test_a_name_that_was_taken_meanwhile_is_not_brought_back_or_undone_to(self) -> None:
        store = self.open()
        first = self.pack(store, "Portraits")
        kept.archive(store, lambda: NOW, BAGS, first)
        second = self.pack(store, "Portraits")
        with self.assertRaisesRegex(Refused, "‘Portraits’ is taken"):
            kept.bring_back(store, lambda: NOW, BAGS, first)
        kept.enter(store, lambda: NOW, BAGS, second, "name", "Wedding")
        kept.bring_back(store, lambda: NOW, BAGS, first)
        with self.assertRaisesRegex(Refused, "‘Portraits’ is taken"):
            kept.move(store, lambda: NOW, BAGS, second, -1)
        self.assertEqual(store.bags.get(second).document["name"], "Wedding")

    def test_a_measurement_is_kept_once(self) -> None:
        store = self.open()
        number = kept.add(store, lambda: NOW, GEAR, dict(demo_kit()["gear"][6]["item"])).id
        document = {"sheet": "filter_density", "readings": "1/200 +0.0"}
        found = at_once(*[lambda: store.measurements.add(number, document) for _ in range(6)])
        self.assertEqual(len(set(found)), 1, found)
        self.assertEqual(len(store.measurements.of(number)), 1)

    def test_what_a_page_offers_once(self) -> None:
        store = self.open()

        def take() -> None:
            with kept.once(store, "import 123"):
                self.pack(store, f"{threading.get_ident()}")

        found = at_once(take, take, take)
        self.assertEqual([found.count(None), len(store.bags.all())], [1, 1])
        self.assertEqual(len([one for one in found if isinstance(one, kept.TooLate)]), 2)

    def test_what_was_doubled_in_an_older_file_is_numbered(self) -> None:
        self.path.write_bytes((DATA / "store-0003.sqlite3").read_bytes())
        before = self.sql("SELECT count(*) FROM kept")
        copied = "kind, document, entries, revision, changed_at, step"
        for _ in range(2):
            self.sql(f"INSERT INTO kept ({copied}) SELECT {copied} FROM kept WHERE kind = 'gear' LIMIT 1")
        gear = self.sql("SELECT id FROM kept WHERE kind = 'gear' LIMIT 1")[0][0]
        for _ in range(2):
            self.sql(f"INSERT INTO measurement (gear_id, document) VALUES ({gear}, '{{\"a\": 1}}')")
        store = self.open()
        names = [json.loads(text)["name"] for text in store.gear.texts().values()]
        self.assertEqual(len(set(names)), len(names))
        self.assertEqual(self.sql("SELECT count(*) FROM kept"), [(before[0][0] + 2,)])
        self.assertEqual(
            self.sql("""SELECT count(*) FROM measurement WHERE document = '{"a": 1}'"""), [(1,)]
        )
        self.assertEqual(GEAR.repository(store).named(names[0]) in store.gear.texts(), True)

    def test_what_goes_out_can_come_in_so_there_are_never_more_than_a_document_may_hold(self) -> None:
        store = self.open()
        for place in range(limits.BAGS_MOST):
            self.pack(store, f"Bag {place}")
        with self.assertRaisesRegex(Refused, f"there are {limits.BAGS_MOST} already"):
            self.pack(store, "One more")
        read_kit(kit_document(store))
