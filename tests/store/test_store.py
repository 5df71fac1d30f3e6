"""The store: what goes in comes out, nothing is lost between threads, old files are brought up to date."""

import shutil
import sqlite3
import tempfile
import threading
import unittest
from collections.abc import Mapping
from datetime import timedelta
from functools import partial
from pathlib import Path
from typing import Any

from sqlalchemy.exc import IntegrityError

from noggin.core.planning.plan import plan
from noggin.demo import demo_documents
from noggin.documents.setup import setup_of
from noggin.services.day import shoots
from noggin.services.keeping import results
from noggin.store.errors import StoreTooNew
from noggin.store.repository import STEPS_KEPT, KeptDocument, NothingToUndo, NotKept, UndoStep
from noggin.store.store import Store
from tests.support import DATA, NOON, NOW


class StoreCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "noggin.sqlite3"

    def open(self) -> Store:
        store = Store.on_file(self.path)
        self.addCleanup(store.close)
        return store

    def sql(self, statement: str) -> list[Any]:
        connection = sqlite3.connect(self.path)
        with connection:
            found = connection.execute(statement).fetchall()
        connection.close()
        return found


class Keeping(StoreCase):
    def test_what_goes_in_comes_out_after_opening_again(self) -> None:
        kept = self.open().setups.add(NOON, NOW)
        again = self.open().setups.get(kept.id)
        self.assertEqual((again.document, again.waiting, again.revision), (NOON, {}, 1))

    def test_texts_read_twice_in_a_transaction_follow_what_is_written_between(self) -> None:
        store = self.open()
        with store.write_transaction():
            first = store.setups.add(NOON, NOW).id
            self.assertEqual(set(store.setups.texts()), {first})
            second = store.setups.add(NOON, NOW).id
            self.assertEqual(set(store.setups.texts()), {first, second})
            store.setups.archive(first, NOW)
            self.assertEqual(set(store.setups.texts()), {second})
            store.clear()
            self.assertEqual(store.setups.texts(), {})

    def test_latest_first(self) -> None:
        store = self.open()
        first, second = store.setups.add(NOON, NOW), store.setups.add(NOON, NOW)
        self.assertEqual([kept.id for kept in store.setups.all()], [first.id, second.id])
        store.setups.change(
            second.id, lambda kept: (kept.document, {"sync": "x"}), NOW + timedelta(minutes=1)
        )
        self.assertEqual([kept.id for kept in store.setups.all()], [second.id, first.id])
        self.assertEqual(store.setups.latest(), second.id)
        latest = store.setups.get(second.id)
        self.assertEqual((latest.revision, latest.waiting), (2, {"sync": "x"}))

    def test_a_missing_set_up_is_refused_in_words(self) -> None:
        with self.assertRaisesRegex(NotKept, "no set-up 7"):
            self.open().setups.get(7)

    def test_what_is_not_json_does_not_come_in(self) -> None:
        self.open().setups.add(NOON, NOW)
        with self.assertRaises(sqlite3.IntegrityError):
            self.sql("UPDATE kept SET document = 'half a docu'")

    def test_a_mark_stays_until_everything_is_cleared(self) -> None:
        store = self.open()
        self.assertFalse(store.marked("a"))
        store.mark("a")
        store.mark("a")
        self.assertTrue(self.open().marked("a"))
        store.setups.add(NOON, NOW)
        store.clear()
        self.assertEqual((store.marked("a"), store.setups.all()), (False, ()))

    def test_half_a_change_is_no_change(self) -> None:
        store = self.open()
        kept = store.setups.add(NOON, NOW)
        with self.assertRaises(TypeError), store.write_transaction():
            store.clear()
            store.setups.add(NOON, NOW)
            store.setups.add({"not": {"json"}}, NOW)
        self.assertEqual(store.setups.all(), (kept,))

    def test_numbers_beyond_those_of_a_row_are_not_there(self) -> None:
        store = self.open()
        for number in (0, -1, 2**63 - 1, 2**63, 10**30):
            with self.subTest(number=number), self.assertRaises(NotKept):
                store.setups.get(number)

    def test_a_failing_change_leaves_everything_as_it_was(self) -> None:
        store = self.open()
        kept = store.setups.add(NOON, NOW)

        def fail(_: KeptDocument) -> tuple[Mapping[str, Any], Mapping[str, str]]:
            raise IntegrityError("in the middle", None, ValueError())

        with self.assertRaises(IntegrityError):
            store.setups.change(kept.id, fail, NOW)
        self.assertEqual(store.setups.get(kept.id), kept)

    def test_no_update_is_lost_between_threads(self) -> None:
        store = self.open()
        kept = store.setups.add({"count": 0}, NOW)

        def count() -> None:
            for _ in range(25):
                store.setups.change(kept.id, lambda k: ({"count": k.document["count"] + 1}, {}), NOW)

        threads = [threading.Thread(target=count) for _ in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(store.setups.get(kept.id).document, {"count": 100})

    def test_a_copy_aside_is_whole(self) -> None:
        store = self.open()
        kept = store.setups.add(NOON, NOW)
        aside = self.path.with_name("aside.sqlite3")
        store.copy_to(aside)
        store.clear()
        self.assertEqual(store.setups.all(), ())
        copy = Store.on_file(aside)
        self.addCleanup(copy.close)
        self.assertEqual(copy.setups.get(kept.id), kept)


class Kinds(StoreCase):
    def test_kinds_do_not_mix(self) -> None:
        store = self.open()
        gear, bag = store.gear.add({"name": "Stand"}, NOW), store.bags.add({"name": "Bag"}, NOW)
        self.assertEqual([item.id for item in store.gear.all()], [gear.id])
        with self.assertRaisesRegex(NotKept, f"no piece of gear {bag.id}"):
            store.gear.get(bag.id)
        self.assertIsNone(store.setups.latest())

    def test_readings_stay_whatever_is_undone(self) -> None:
        store = self.open()
        gear = store.gear.add({"gn": 60}, NOW)
        first = store.measurements.add(gear.id, {"readings": "2 m, 1/1, f/28"})
        store.gear.change(gear.id, lambda _: ({"gn": 56}, {}), NOW, UndoStep("measured"))
        store.gear.move(gear.id, -1, NOW)
        store.gear.archive(gear.id, NOW)
        self.assertEqual(store.measurements.of(gear.id), ((first, {"readings": "2 m, 1/1, f/28"}),))


def written_anew(document: dict[str, int], _: object) -> tuple[dict[str, int], dict[str, str]]:
    """A change that puts another document there."""
    return document, {}


class Steps(StoreCase):
    def test_only_so_many_steps_are_kept(self) -> None:
        store = self.open()
        kept = store.setups.add({"count": 0}, NOW)
        for count in range(1, STEPS_KEPT + 11):
            document = {"count": count}
            store.setups.change(kept.id, partial(written_anew, document), NOW, UndoStep(str(count)))
        self.assertEqual(self.sql("SELECT count(*) FROM step"), [(STEPS_KEPT,)])
        for _ in range(STEPS_KEPT - 1):
            store.setups.move(kept.id, -1, NOW)
        with self.assertRaises(NothingToUndo):
            store.setups.move(kept.id, -1, NOW)
        self.assertEqual(store.setups.get(kept.id).document, {"count": 11})

    def test_steps_go_with_their_set_up(self) -> None:
        store = self.open()
        store.setups.add(NOON, NOW)
        store.clear()
        store.setups.add(NOON, NOW)
        self.assertEqual(self.sql("SELECT count(*) FROM step"), [(1,)])

    def test_an_archived_set_up_is_not_there_until_it_is_brought_back(self) -> None:
        store = self.open()
        kept = store.setups.add(NOON, NOW)
        store.setups.archive(kept.id, NOW)
        self.assertEqual((store.setups.all(), store.setups.latest()), ((), None))
        with self.assertRaises(NotKept):
            store.setups.change(kept.id, lambda k: (k.document, {}), NOW)
        self.assertEqual([row.id for row in store.setups.archived()], [kept.id])
        self.assertEqual(store.setups.bring_back(kept.id, NOW).document, NOON)


class File(StoreCase):
    def test_write_ahead_log(self) -> None:
        self.open()
        self.assertEqual(self.sql("PRAGMA journal_mode"), [("wal",)])

    def test_a_file_of_the_first_version_is_brought_up_to_date(self) -> None:
        shutil.copy(DATA / "store-0001.sqlite3", self.path)
        (kept,) = self.open().setups.all()
        self.assertEqual(kept.document["name"], "Kept by the first version")
        store = self.open()
        self.assertIsNone(store.setups.get(kept.id).undo)
        store.setups.change(kept.id, lambda _: (NOON, {}), NOW, UndoStep("another name"))
        back = store.setups.move(kept.id, -1, NOW)
        self.assertEqual((back.document, back.redo), (kept.document, UndoStep("another name")))

    def test_a_file_of_the_second_version_keeps_its_steps(self) -> None:
        shutil.copy(DATA / "store-0002.sqlite3", self.path)
        store = self.open()
        (kept,) = store.setups.all()
        self.assertEqual(store.setups.get(kept.id).undo, UndoStep("Called"))
        back = store.setups.move(kept.id, -1, NOW)
        self.assertEqual(back.document["name"], "Kept by the second version")
        self.assertEqual(store.gear.all(), ())

    def test_a_file_of_the_release_before_opens_with_everything_in_it(self) -> None:
        shutil.copy(DATA / "store-0003.sqlite3", self.path)
        store = self.open()
        names = [document["name"] for document in demo_documents()]
        self.assertEqual(store.setups.names(), set(names))
        self.assertEqual([row.name for row in store.setups.page(50).rows], names)
        self.assertEqual(
            (len(store.gear.all()), len(store.bags.all()), len(store.shoots.all())), (26, 2, 1)
        )
        rows, more = results.listed(store)
        self.assertEqual((len(rows), more), (8, None))
        for row in rows:
            with self.subTest(name=row.name):
                worked_out = plan(setup_of(dict(store.setups.get(row.id).document)))
                self.assertEqual(row.result, results.result_of(worked_out))
        (kept,) = store.shoots.all()
        self.assertEqual(len(shoots.open_shoot(store, lambda: NOW, kept.id).slots), 8)

    def test_a_file_from_before_photographs_keeps_its_guide_and_takes_pictures(self) -> None:
        shutil.copy(DATA / "store-0011.sqlite3", self.path)
        store = self.open()
        (kept,) = store.setups.all()
        self.assertTrue(store.guides.of(kept.id).is_on)
        self.assertEqual(store.photographs.names(), frozenset())
        name = store.photographs.put(b"a picture")
        self.assertEqual(store.photographs.get(name), b"a picture")

    def test_a_file_from_a_newer_noggin_is_left_alone(self) -> None:
        self.open().setups.add(NOON, NOW)
        self.sql("UPDATE alembic_version SET version_num = '9999'")
        with self.assertRaisesRegex(StoreTooNew, "newer Noggin"):
            Store.on_file(self.path)
        self.assertEqual(len(self.sql("SELECT * FROM kept")), 1)
