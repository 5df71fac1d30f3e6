"""A restore that fails at any step leaves everything as it was: disk full, read-only, killed."""

import re
import resource
import shutil
import sqlite3
import tempfile
import unittest
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime, timedelta
from pathlib import Path
from unittest.mock import patch

from noggin.documents.setup import canonical
from noggin.services.keeping import kept
from noggin.services.setups.setups import SETUPS, new_setup
from noggin.services.whole import safekeeping
from noggin.store import database_file
from noggin.store import salvage as salvage_rows
from noggin.store.errors import StoreFailed, StoreUnreadable, StoreUnusable
from noggin.store.own_schema import foreign_parts
from noggin.store.store import Store
from tests.support import DATA, NOON, NOW, ready_database


class Killed(BaseException):
    """Whatever ends a program in the middle of a step."""


@contextmanager
def full_disk(least: int) -> Iterator[None]:
    """No file may grow past so many bytes, as on a disk that is full."""
    before = resource.getrlimit(resource.RLIMIT_FSIZE)
    resource.setrlimit(resource.RLIMIT_FSIZE, (least, before[1]))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, before)


class Restoring(unittest.TestCase):
    def setUp(self) -> None:
        self.now = NOW
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path, self.source = self.folder / "n.sqlite3", self.folder / "elsewhere" / "backup.sqlite3"
        self.source.parent.mkdir()
        shutil.copy(ready_database("demo"), self.source)
        shutil.copy(ready_database("empty"), self.path)
        with self.opened() as store:
            self.number = new_setup(store, lambda: NOW)

    @contextmanager
    def opened(self) -> Iterator[Store]:
        store = Store.on_file(self.path)
        try:
            yield store
        finally:
            store.close()

    def clock(self) -> datetime:
        """Each copy has an instant of its own."""
        self.now += timedelta(seconds=1)
        return self.now

    def restore(self) -> Path | None:
        return safekeeping.restore(self.path, self.source, self.clock)

    def as_it_was(self) -> None:
        self.assertEqual(list(database_file.problems(self.path)), [])
        with self.opened() as store:
            self.assertEqual(list(store.setups.texts()), [self.number])
        self.assertEqual(list(self.folder.glob(".*restoring*")), [])

    def test_what_is_put_back_is_there_and_what_was_there_is_aside(self) -> None:
        aside = self.restore()
        assert aside is not None
        with self.opened() as store:
            self.assertGreaterEqual(len(store.setups.texts()), 8)
        self.assertEqual(list(database_file.problems(aside)), [])
        self.assertIn("before-restore", aside.name)

    def test_a_full_disk_is_said_and_touches_nothing(self) -> None:
        for least in (4 * 1024, 64 * 1024):
            with self.subTest(least=least), full_disk(least), self.assertRaises((StoreFailed, OSError)):
                self.restore()
            self.as_it_was()

    def test_a_step_that_fails_touches_nothing(self) -> None:
        full = StoreFailed("The disk is full")
        for step in ("copy", "keep_copy", "put_back"):
            for wrong in (full, PermissionError(13, "read-only"), Killed()):
                with self.subTest(step=step, wrong=type(wrong).__name__):
                    with (
                        patch.object(database_file, step, side_effect=wrong),
                        self.assertRaises(type(wrong)),
                    ):
                        self.restore()
                    self.as_it_was()

    def test_a_full_disk_never_makes_a_whole_file_unreadable(self) -> None:
        with patch.object(database_file, "keep_copy", side_effect=StoreFailed("The disk is full")):
            self.assertRaises(StoreFailed, self.restore)
        self.assertEqual(list((self.folder / "copies").glob("*unreadable*")), [])

    def test_one_that_cannot_be_read_is_kept_aside_and_there_is_always_a_file(self) -> None:
        spoilt = b"not a database at all " * 500
        for step in ("keep_aside", "take_place"):
            self.path.write_bytes(spoilt)
            with patch.object(database_file, step, side_effect=Killed()), self.assertRaises(Killed):
                self.restore()
            self.assertEqual(self.path.read_bytes(), spoilt, step)
        for old in (self.folder / "copies").glob("*"):
            old.unlink()
        aside = self.restore()
        assert aside is not None
        self.assertEqual(aside.read_bytes(), spoilt)
        with self.opened() as store:
            self.assertTrue(kept.archived(store, SETUPS) == () and store.setups.texts())


if __name__ == "__main__":
    unittest.main()


class NotOurs(unittest.TestCase):
    """A backup whose schema somebody changed: its documents come out by salvage, nothing else of it."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path, self.source = self.folder / "n.sqlite3", self.folder / "backup.sqlite3"
        shutil.copy(ready_database("empty"), self.path)
        shutil.copy(ready_database("demo"), self.source)

    def change(self, *statements: str) -> None:
        with closing(sqlite3.connect(self.source)) as connection, connection:
            for statement in statements:
                connection.execute(statement)

    def refused(self, said: str) -> None:
        before = self.path.read_bytes()
        with self.assertRaisesRegex(StoreUnreadable, f"{said}.*noggin salvage"):
            safekeeping.restore(self.path, self.source, lambda: NOW)
        self.assertEqual(self.path.read_bytes(), before)
        self.assertTrue(any(re.search(said, line) for line in safekeeping.problems(self.source)))

    def test_what_noggin_did_not_make_is_refused_by_name(self) -> None:
        self.change("CREATE TRIGGER sweep AFTER UPDATE ON kept BEGIN DELETE FROM kept; END")
        self.refused("trigger ‘sweep’, which is not Noggin's")
        self.change("DROP TRIGGER sweep", "CREATE TABLE more (id INTEGER)")
        self.refused("table ‘more’, which is not Noggin's")
        self.change("DROP TABLE more", "ALTER TABLE mark ADD COLUMN more TEXT")
        self.refused("table ‘mark’ is not as Noggin makes it")

    def test_a_view_without_end_in_a_tables_place_is_refused_and_salvage_ends(self) -> None:
        self.change(
            "ALTER TABLE frame RENAME TO other",
            "CREATE VIEW frame AS WITH RECURSIVE n(id) AS (VALUES(1) UNION ALL SELECT id + 1 FROM n)"
            " SELECT id, '' AS document FROM n",
        )
        self.refused("‘frame’")
        saved = safekeeping.salvage(self.source, self.folder / "saved", lambda: NOW)
        self.assertGreaterEqual(saved.documents, 10)

    def test_a_missing_search_table_is_refused(self) -> None:
        with closing(sqlite3.connect(self.source)) as connection:
            (name,) = connection.execute(
                "SELECT name FROM sqlite_master WHERE sql LIKE 'CREATE VIRTUAL%'"
            ).fetchone()
        self.change(f"DROP TABLE {name}")
        self.refused(f"table ‘{name}’ is missing")

    def test_what_every_older_noggin_made_is_ours(self) -> None:
        for path in sorted(DATA.glob("store-*.sqlite3")):
            shutil.copy(path, self.source)  # to look into one with a log leaves files beside it
            self.assertEqual(foreign_parts(self.source), [], path.name)


class Salvaging(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "kept" / "n.sqlite3"
        self.path.parent.mkdir()
        shutil.copy(ready_database("empty"), self.path)

    def add(self, count: int) -> None:
        store = Store.on_file(self.path)
        for _ in range(count):
            kept.add(store, lambda: NOW, SETUPS, canonical(NOON))
        store.close()

    def test_a_gap_of_any_width_ends_nothing(self) -> None:
        self.add(30)
        with closing(sqlite3.connect(self.path)) as connection, connection:
            connection.execute("UPDATE kept SET id = id + 100000 WHERE id > 15")
        rows = list(salvage_rows.documents(self.path))
        self.assertEqual(len(rows), 30)
        self.assertGreater(rows[-1].id, 100_000)

    def test_rows_beyond_broken_pages_come_from_the_other_end(self) -> None:
        self.add(400)
        with closing(sqlite3.connect(self.path)) as connection:
            connection.execute("PRAGMA foreign_keys=OFF")
            connection.execute("UPDATE kept SET id = id + 50000 WHERE id > 200")
            connection.commit()
            connection.execute("VACUUM")
        size = self.path.stat().st_size
        with self.path.open("r+b") as file:
            file.seek(size // 2 // 4096 * 4096)
            file.write(b"\xff" * 4096 * 3)
        numbers = [row.id for row in salvage_rows.documents(self.path)]
        self.assertEqual(len(numbers), len(set(numbers)))
        self.assertGreater(len(numbers), 300)
        self.assertEqual(max(numbers), 50_400)

    def test_a_folder_that_cannot_be_written_to_and_a_log_beside_the_file(self) -> None:
        away = self.folder / "away"
        away.mkdir()
        store = Store.on_file(self.path)
        for _ in range(3):
            kept.add(store, lambda: NOW, SETUPS, canonical(NOON))
        for ending in ("", "-wal"):  # what was added lies in the log, for somebody has the file open
            shutil.copy(f"{self.path}{ending}", away)
        store.close()
        away.chmod(0o500)
        self.addCleanup(away.chmod, 0o700)
        safekeeping.salvage(away / "n.sqlite3", self.folder / "saved", lambda: NOW)
        self.assertEqual(len(list((self.folder / "saved" / "setups").glob("*.json"))), 3)

    def test_what_is_no_database_is_said_and_not_called_empty(self) -> None:
        self.path.write_bytes(b"nothing of the kind" * 1000)
        with self.assertRaises(StoreUnusable):
            safekeeping.salvage(self.path, self.folder / "saved", lambda: NOW)
