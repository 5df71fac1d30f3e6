"""The store: what goes in comes out, nothing is lost between threads, old files are brought up to date."""

import shutil
import sqlite3
import tempfile
import threading
import unittest
from collections.abc import Mapping
from datetime import timedelta
from pathlib import Path
from typing import Any

from sqlalchemy.exc import IntegrityError

from noggin.store.engine import StoreTooNew
from noggin.store.setups import STEPS_KEPT, Kept, NoSuchSetUp, NoSuchStep, Step, Store
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
        kept = self.open().add(NOON, NOW)
        again = self.open().get(kept.id)
        self.assertEqual((again.document, again.entries, again.revision), (NOON, {}, 1))

    def test_latest_first(self) -> None:
        store = self.open()
        one, two = store.add(NOON, NOW), store.add(NOON, NOW)
        self.assertEqual([kept.id for kept in store.all()], [one.id, two.id])
        store.change(two.id, lambda kept: (kept.document, {"sync": "x"}), NOW + timedelta(minutes=1))
        self.assertEqual([kept.id for kept in store.all()], [two.id, one.id])
        latest = store.latest()
        assert latest is not None
        self.assertEqual((latest.id, latest.revision, latest.entries), (two.id, 2, {"sync": "x"}))

    def test_a_missing_set_up_is_refused_in_words(self) -> None:
        with self.assertRaisesRegex(NoSuchSetUp, "no set-up 7"):
            self.open().get(7)

    def test_what_is_not_json_does_not_come_in(self) -> None:
        self.open().add(NOON, NOW)
        with self.assertRaises(sqlite3.IntegrityError):
            self.sql("UPDATE setup SET document = 'half a docu'")

    def test_loading_happens_once_for_a_mark_and_anew_only_when_asked(self) -> None:
        store = self.open()
        two = [NOON, {**NOON, "name": "Second"}]
        loaded = [store.load_once("a", two, NOW), store.load_once("a", two, NOW)]
        self.assertEqual((loaded, len(store.all())), ([True, False], 2))
        self.assertEqual(store.all()[0].document, NOON)
        store.add(NOON, NOW)
        store.load_anew("a", two, NOW)
        self.assertEqual([kept.document for kept in store.all()], two)
        self.assertFalse(store.load_once("a", two, NOW))

    def test_half_a_load_is_no_load(self) -> None:
        store = self.open()
        kept = store.add(NOON, NOW)
        with self.assertRaises(TypeError):
            store.load_anew("a", [NOON, {"not": {"json"}}], NOW)
        self.assertEqual(store.all(), (kept,))

    def test_a_failing_change_leaves_everything_as_it_was(self) -> None:
        store = self.open()
        kept = store.add(NOON, NOW)

        def fail(_: Kept) -> tuple[Mapping[str, Any], Mapping[str, str]]:
            raise IntegrityError("in the middle", None, ValueError())

        with self.assertRaises(IntegrityError):
            store.change(kept.id, fail, NOW)
        self.assertEqual(store.get(kept.id), kept)

    def test_no_update_is_lost_between_threads(self) -> None:
        store = self.open()
        kept = store.add({"count": 0}, NOW)

        def count() -> None:
            for _ in range(25):
                store.change(kept.id, lambda k: ({"count": k.document["count"] + 1}, {}), NOW)

        threads = [threading.Thread(target=count) for _ in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(store.get(kept.id).document, {"count": 100})

    def test_a_copy_aside_is_whole(self) -> None:
        store = self.open()
        kept = store.add(NOON, NOW)
        aside = self.path.with_name("aside.sqlite3")
        store.copy_to(aside)
        store.load_anew("a", [], NOW)
        self.assertEqual(store.all(), ())
        copy = Store.on_file(aside)
        self.addCleanup(copy.close)
        self.assertEqual(copy.get(kept.id), kept)


class Steps(StoreCase):
    def test_only_so_many_steps_are_kept(self) -> None:
        store = self.open()
        kept = store.add({"count": 0}, NOW)
        for count in range(1, STEPS_KEPT + 11):
            store.change(kept.id, lambda _, count=count: ({"count": count}, {}), NOW, Step(str(count)))
        self.assertEqual(self.sql("SELECT count(*) FROM step"), [(STEPS_KEPT,)])
        for _ in range(STEPS_KEPT - 1):
            store.move(kept.id, -1, NOW)
        with self.assertRaises(NoSuchStep):
            store.move(kept.id, -1, NOW)
        self.assertEqual(store.get(kept.id).document, {"count": 11})

    def test_steps_go_with_their_set_up(self) -> None:
        store = self.open()
        store.add(NOON, NOW)
        store.load_anew("a", [NOON], NOW)
        self.assertEqual(self.sql("SELECT count(*) FROM step"), [(1,)])

    def test_a_set_up_laid_aside_is_not_there_until_it_is_brought_back(self) -> None:
        store = self.open()
        kept = store.add(NOON, NOW)
        store.remove(kept.id, NOW)
        self.assertEqual((store.all(), store.latest()), ((), None))
        with self.assertRaises(NoSuchSetUp):
            store.change(kept.id, lambda k: (k.document, {}), NOW)
        self.assertEqual([one.id for one in store.removed()], [kept.id])
        self.assertEqual(store.bring_back(kept.id, NOW).document, NOON)


class File(StoreCase):
    def test_write_ahead_log(self) -> None:
        self.open()
        self.assertEqual(self.sql("PRAGMA journal_mode"), [("wal",)])

    def test_a_file_of_the_first_version_is_brought_up_to_date(self) -> None:
        shutil.copy(DATA / "store-0001.sqlite3", self.path)
        (kept,) = self.open().all()
        self.assertEqual(kept.document["name"], "Kept by the first version")
        store = self.open()
        self.assertIsNone(store.get(kept.id).undo)
        store.change(kept.id, lambda _: (NOON, {}), NOW, Step("another name"))
        back = store.move(kept.id, -1, NOW)
        self.assertEqual((back.document, back.redo), (kept.document, Step("another name")))

    def test_a_file_from_a_newer_noggin_is_left_alone(self) -> None:
        self.open().add(NOON, NOW)
        self.sql("UPDATE alembic_version SET version_num = '9999'")
        with self.assertRaisesRegex(StoreTooNew, "newer Noggin"):
            Store.on_file(self.path)
        self.assertEqual(len(self.sql("SELECT * FROM setup")), 1)
