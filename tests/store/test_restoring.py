"""A restore that fails at any step leaves everything as it was: disk full, read-only, killed."""

import resource
import shutil
import tempfile
import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta
from pathlib import Path
from unittest.mock import patch

from noggin.services.keeping import kept
from noggin.services.setups.setups import SETUPS, new_setup
from noggin.services.whole import safekeeping
from noggin.store import database_file
from noggin.store.errors import StoreFailed
from noggin.store.store import Store
from tests.support import NOW, ready_database


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
