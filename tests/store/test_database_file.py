"""The file that everything is kept in: whose it is, whether it is whole, its copies, and what is said when
it cannot be used. Meaning of result codes: sqlite.org, Result and Error Codes.
"""

import os
import sqlite3
import stat
import threading
from contextlib import closing
from datetime import timedelta
from pathlib import Path

from noggin.services.whole.safekeeping import copy_if_due
from noggin.store import database_file
from noggin.store.errors import StoreDamaged, StoreFailed, StoreTooNew, StoreUnreadable
from noggin.store.store import Store
from tests.store.test_store import StoreCase
from tests.support import DATA, NOON, NOW


class Whose(StoreCase):
    def test_our_file_is_marked(self) -> None:
        self.open().close()
        self.assertEqual(self.sql("PRAGMA application_id"), [(int.from_bytes(b"Nogg"),)])

    def test_another_programs_database_is_left_alone(self) -> None:
        for statements in (
            ("CREATE TABLE songs (title TEXT)",),
            ("CREATE TABLE alembic_version (version_num TEXT)", "PRAGMA application_id = 1234"),
        ):
            with self.subTest(statements=statements):
                self.path.unlink(missing_ok=True)
                for statement in statements:
                    self.sql(statement)
                before = self.path.read_bytes()
                with self.assertRaisesRegex(StoreUnreadable, "another program"):
                    Store.on_file(self.path)
                self.assertEqual(self.path.read_bytes(), before)

    def test_what_is_no_database_is_said_to_be_none(self) -> None:
        self.path.write_bytes(b"not a database at all, but long enough to have a header of one" * 10)
        with self.assertRaisesRegex(StoreUnreadable, "is not a database"):
            Store.on_file(self.path)

    def test_a_newer_file_is_not_copied_either(self) -> None:
        self.open().close()
        self.sql("UPDATE alembic_version SET version_num = '9999'")
        with self.assertRaises(StoreTooNew):
            Store.on_file(self.path)
        self.assertEqual(database_file.copies(self.path), [])

    def test_only_the_owner_may_read_it(self) -> None:
        self.open().setups.add(NOON, NOW)
        for file in self.path.parent.iterdir():
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file)
        self.path.chmod(0o644)
        self.open()
        self.assertEqual(stat.S_IMODE(self.path.stat().st_mode), 0o600)

    def test_a_damaged_file_is_told_with_what_can_be_done(self) -> None:
        store = self.open()
        for _ in range(200):
            store.setups.add(NOON, NOW)
        store.close()
        size = self.path.stat().st_size
        with self.path.open("r+b") as file:
            file.seek(size // 2)
            file.write(b"\xff" * (size // 4))
        with self.assertRaisesRegex(StoreDamaged, "noggin salvage.*noggin restore"):
            Store.on_file(self.path)
        self.assertTrue(database_file.problems(self.path))


class Whole(StoreCase):
    def test_a_closed_store_is_one_file(self) -> None:
        store = self.open()
        store.setups.add(NOON, NOW)
        store.close()
        self.assertEqual([file.name for file in self.path.parent.iterdir()], [self.path.name])
        alone = self.path.with_name("alone.sqlite3")
        alone.write_bytes(self.path.read_bytes())
        with closing(sqlite3.connect(alone)) as connection:
            self.assertEqual(connection.execute("SELECT count(*) FROM kept").fetchone(), (1,))

    def test_a_whole_file_has_no_problems(self) -> None:
        self.open().setups.add(NOON, NOW)
        self.assertEqual(database_file.problems(self.path), [])

    def test_rows_without_their_owner_are_a_problem(self) -> None:
        self.open().setups.add(NOON, NOW)
        self.sql("INSERT INTO result VALUES (77, 1, 1, '{}')")
        (problem,) = database_file.problems(self.path)
        self.assertIn("kept", problem)

    def test_what_was_acknowledged_outlasts_a_power_cut(self) -> None:
        """PRAGMA synchronous = 2 is FULL (sqlite.org): the log is on the disk before a commit returns."""
        with self.open().read_transaction() as session:
            connection = session.connection()
            self.assertEqual(connection.exec_driver_sql("PRAGMA synchronous").scalar(), 2)
            self.assertEqual(connection.exec_driver_sql("PRAGMA journal_mode").scalar(), "wal")


class Copies(StoreCase):
    def test_an_older_file_is_copied_before_it_is_brought_up_to_date(self) -> None:
        before = (DATA / "store-0003.sqlite3").read_bytes()
        self.path.write_bytes(before)
        Store.on_file(self.path, NOW).close()
        (copy,) = database_file.copies(self.path)
        with closing(sqlite3.connect(copy)) as kept:
            self.assertEqual(kept.execute("SELECT version_num FROM alembic_version").fetchone(), ("0003",))
        self.open().close()
        self.assertEqual(len(database_file.copies(self.path)), 1)

    def test_the_last_fourteen_are_kept(self) -> None:
        store = self.open()
        made = [store.keep_copy(NOW + timedelta(days=day), "daily") for day in range(16)]
        self.assertEqual(database_file.copies(self.path), made[:1:-1])

    def test_another_databases_copies_are_its_own(self) -> None:
        store = self.open()
        other = self.path.with_name(f"{self.path.stem}-2{self.path.suffix}")
        theirs = [database_file.copy_name(other, NOW + timedelta(days=day), "daily") for day in range(16)]
        theirs[0].parent.mkdir(exist_ok=True)
        for copy in theirs:
            copy.touch()
        mine = store.keep_copy(NOW, "daily")
        self.assertEqual(database_file.copies(self.path), [mine])
        self.assertTrue(all(copy.exists() for copy in theirs))

    def test_a_copy_from_the_future_holds_up_none_of_today(self) -> None:
        store = self.open()
        ahead = store.keep_copy(NOW + timedelta(days=900), "daily")
        os.utime(ahead, (NOW.timestamp() + 900 * 86400,) * 2)
        self.assertIsNotNone(copy_if_due(store, lambda: NOW + timedelta(days=2)))

    def test_a_copy_under_load_holds_what_was_acknowledged_before_it_began(self) -> None:
        store = self.open()
        acknowledged: list[int] = []
        stop = threading.Event()

        def write() -> None:
            while not stop.is_set():
                acknowledged.append(store.setups.add(NOON, NOW).id)

        writers = [threading.Thread(target=write) for _ in range(3)]
        for writer in writers:
            writer.start()
        try:
            for turn in range(5):
                known = set(acknowledged)
                target = self.path.with_name(f"copy-{turn}.sqlite3")
                store.copy_to(target)
                self.assertEqual(database_file.problems(target), [])
                with closing(sqlite3.connect(target)) as kept:
                    there = {number for (number,) in kept.execute("SELECT id FROM kept")}
                self.assertLessEqual(known, there)
        finally:
            stop.set()
            for writer in writers:
                writer.join()

    def test_a_copy_never_overwrites(self) -> None:
        store, target = self.open(), self.path.with_name("there")
        target.write_text("mine")
        with self.assertRaises(FileExistsError):
            store.copy_to(target)
        self.assertEqual(target.read_text(), "mine")

    def test_a_copy_is_there_whole_or_not_at_all(self) -> None:
        store = self.open()
        store.setups.add(NOON, NOW)
        store.close()
        os.truncate(self.path, 4096 * 2 + 100)
        target = self.path.with_name("copy")
        with self.assertRaises(StoreUnreadable):
            database_file.copy(self.path, target)
        self.assertEqual([file.name for file in self.path.parent.iterdir() if "copy" in file.name], [])

    def test_what_is_put_back_is_seen_by_who_has_it_open(self) -> None:
        store = self.open()
        first = store.setups.add(NOON, NOW)
        target = self.path.with_name("copy")
        store.copy_to(target)
        store.setups.add(NOON, NOW)
        before = store.stamp()
        database_file.put_back(target, self.path)
        self.assertEqual([kept.id for kept in store.setups.all()], [first.id])
        self.assertNotEqual(store.stamp(), before)
        store.setups.add(NOON, NOW)
        self.assertEqual(database_file.problems(self.path), [])


class CannotBeUsed(StoreCase):
    def test_a_full_disk_keeps_nothing_and_says_so(self) -> None:
        store = self.open()
        kept = store.setups.add(NOON, NOW)
        with store.read_transaction() as session:
            # The same answer as a full disk gives: SQLite may not make the file longer.
            session.connection().exec_driver_sql("PRAGMA max_page_count = 1")
        with self.assertRaisesRegex(StoreFailed, "disk is full. Nothing of this was kept"):
            for _ in range(200):
                store.setups.add(NOON, NOW)
        self.assertEqual(store.setups.get(kept.id).document, NOON)
        self.assertEqual(database_file.problems(self.path), [])

    def test_a_database_that_may_not_be_written_says_so(self) -> None:
        store = self.open()
        with store.read_transaction() as session:
            session.connection().exec_driver_sql("PRAGMA query_only = ON")
        with self.assertRaisesRegex(StoreFailed, "may not be written"):
            store.setups.add(NOON, NOW)

    def test_another_program_that_holds_it_is_waited_for_and_then_told(self) -> None:
        store = self.open()
        with store.read_transaction() as session:
            session.connection().exec_driver_sql("PRAGMA busy_timeout = 10")
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            with self.assertRaisesRegex(StoreFailed, "Another program"):
                store.setups.add(NOON, NOW)

    def test_a_file_that_was_removed_or_replaced_is_noticed(self) -> None:
        store = self.open()
        aside = self.path.with_name("aside")
        self.path.rename(aside)
        with self.assertRaisesRegex(StoreFailed, "removed while Noggin runs"):
            store.stamp()
        Path(self.path).write_bytes(aside.read_bytes())
        with self.assertRaisesRegex(StoreFailed, "replaced while Noggin runs"):
            store.stamp()
