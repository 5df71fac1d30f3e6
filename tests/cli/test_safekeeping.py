"""Backups, everything as documents, damaged files: on the command line, where a stopped server is met."""

import io
import json
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import unittest
import urllib.error
import urllib.request
import zipfile
from collections.abc import Iterator, Mapping
from contextlib import closing, contextmanager
from functools import partial
from pathlib import Path

from PIL import Image

from noggin.documents.setup import canonical
from noggin.documents.takes import pictures_document, takes_document
from noggin.services.frames.spot import blank_take
from noggin.services.keeping import kept
from noggin.services.setups.setups import SETUPS, new_setup
from noggin.services.whole import interchange, safekeeping
from noggin.services.whole.opening import Store, open_store
from noggin.store import database_file
from noggin.store.repository import Repository
from tests.cli.test_documents import Answer, run
from tests.support import NOON, NOW, ready_database


class Kept(unittest.TestCase):
    """A folder with the demo's database in it."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database = self.folder / "noggin.sqlite3"
        shutil.copy(ready_database("demo"), self.database)

    def noggin(self, *arguments: object, database: Path | None = None) -> Answer:
        return run(*map(str, arguments), "--database", str(database or self.database))

    def done(self, *arguments: object, database: Path | None = None) -> str:
        answer = self.noggin(*arguments, database=database)
        self.assertEqual((answer.returncode, answer.stderr), (0, b""))
        return answer.stdout.decode()

    def open(self, database: Path | None = None) -> Store:
        store = open_store(database or self.database, lambda: NOW)
        self.addCleanup(store.close)
        return store

    def files(self, folder: Path) -> dict[str, bytes]:
        return {
            str(path.relative_to(folder)): path.read_bytes() for path in folder.rglob("*") if path.is_file()
        }


class Backups(Kept):
    def test_a_backup_is_put_back_and_what_was_there_is_kept_aside(self) -> None:
        self.done("backup", self.folder / "evening")
        store = self.open()
        number = new_setup(store, lambda: NOW)
        said = self.done("restore", self.folder / "evening")
        self.assertNotIn(number, store.setups.texts())
        self.assertEqual(len(store.setups.texts()), 8)
        (aside,) = database_file.copies(self.database)
        self.assertIn(str(aside), said)
        self.assertIn(number, self.open(aside).setups.texts())

    def test_a_backup_of_an_older_noggin_is_brought_up_to_date_first(self) -> None:
        self.done("restore", Path(__file__).parents[1] / "data" / "store-0002.sqlite3")
        self.assertEqual(safekeeping.problems(self.database), ())
        self.assertTrue(self.open().setups.texts())

    def test_what_is_no_backup_is_refused_and_changes_nothing(self) -> None:
        before = self.database.read_bytes()
        other, junk = self.folder / "songs.sqlite3", self.folder / "junk"
        with closing(sqlite3.connect(other)) as connection:
            connection.execute("CREATE TABLE song (title TEXT)")
        junk.write_text("nothing like it " * 100)
        (self.folder / "nothing").touch()
        for source, words in (
            (other, "another program"),
            (junk, "not a database"),
            (self.folder / "nothing", "is empty"),
            (self.folder / "elsewhere", "There is no file"),
        ):
            with self.subTest(source=source):
                answer = self.noggin("restore", source)
                self.assertEqual((answer.returncode, answer.stdout), (1, b""))
                self.assertIn(words, answer.stderr.decode())
                self.assertEqual(len(answer.stderr.decode().splitlines()), 1)
        self.assertEqual(self.database.read_bytes(), before)

    def test_no_backup_overwrites_anything_or_comes_of_nothing(self) -> None:
        there = self.folder / "there"
        there.write_text("mine")
        for arguments, database in ((("backup", there), None), (("backup", "new"), self.folder / "gone")):
            answer = self.noggin(*arguments, database=database)
            self.assertEqual((answer.returncode, len(answer.stderr.splitlines())), (1, 1), arguments)
        self.assertEqual(there.read_text(), "mine")
        self.assertFalse((self.folder / "gone").exists())

    def test_a_copy_a_day_where_something_changed(self) -> None:
        store = self.open()
        now = NOW

        def looked() -> Path | None:
            """A copy if one is due."""
            made = safekeeping.copy_if_due(store, lambda: now)
            if made:
                os.utime(made, (now.timestamp(), now.timestamp()))
            return made

        os.utime(self.database, (NOW.timestamp() - 60,) * 2)
        first = looked()
        self.assertIsNotNone(first)
        self.assertIsNone(looked())
        now = NOW + 2 * safekeeping.EVERY
        self.assertIsNone(looked(), "nothing changed")
        new_setup(store, lambda: NOW)
        os.utime(f"{self.database}-wal", (now.timestamp() - 60,) * 2)
        self.assertIsNotNone(looked())


class Everything(Kept):
    def test_out_and_into_an_empty_database_gives_the_same_bytes(self) -> None:
        store = self.open()
        kept.add(store, lambda: NOW, SETUPS, canonical(NOON))
        kept.add(store, lambda: NOW, SETUPS, canonical(NOON))  # two that are alike stay two
        store.close()
        self.done("export", self.folder / "first")
        self.done("import", self.folder / "first", database=self.folder / "new.sqlite3")
        self.done("export", self.folder / "second", database=self.folder / "new.sqlite3")
        first = self.files(self.folder / "first")
        # Kit, set-ups, the two, the place, the day, the takes, the log, its pictures.
        self.assertEqual(len(first), 1 + 8 + 2 + 1 + 1 + 1 + 1 + 1)
        self.alike(self.files(self.folder / "second"), first)
        before, after = self.open(), self.open(self.folder / "new.sqlite3")
        for store in (before, after):
            takes = [len(store.frames.of_take(take.id)) for take in store.takes.all()]
            self.assertEqual(takes, [len(before.frames.of_take(take.id)) for take in before.takes.all()])
            self.assertGreater(sum(takes), 3)
            self.assertGreater(sum(len(some) for some in store.frames.pictures(50)), 3)

    def alike(self, some: Mapping[str, bytes], others: Mapping[str, bytes]) -> None:
        """The same files; only names are told, for pictures are long."""
        self.assertEqual(sorted(some), sorted(others))
        self.assertEqual([name for name in some if some[name] != others[name]], [])

    def test_a_zip_holds_the_same_documents(self) -> None:
        self.done("export", self.folder / "all")
        self.done("export", self.folder / "all.zip")
        with zipfile.ZipFile(self.folder / "all.zip") as archive:
            zipped = {name: archive.read(name) for name in archive.namelist()}
        self.alike(zipped, self.files(self.folder / "all"))
        self.done("import", self.folder / "all.zip", database=self.folder / "new.sqlite3")
        self.alike(
            dict(interchange.everything(self.open(self.folder / "new.sqlite3"), lambda: NOW)), zipped
        )

    def test_taking_in_twice_takes_nothing_twice(self) -> None:
        self.done("export", self.folder / "all")
        before = dict(interchange.everything(self.open(), lambda: NOW))
        said = self.done("import", self.folder / "all")
        self.assertRegex(said, "^0 new, 0 changed")
        self.alike(dict(interchange.everything(self.open(), lambda: NOW)), before)

    def test_all_of_it_or_nothing(self) -> None:
        self.done("export", self.folder / "all")
        shoot = next((self.folder / "all" / "shoots").iterdir())
        found = json.loads(shoot.read_text())
        found["place"]["lat"] = 91
        shoot.write_text(json.dumps(found))
        new = self.folder / "new.sqlite3"
        answer = self.noggin("import", self.folder / "all", database=new)
        self.assertEqual(answer.returncode, 2)
        self.assertRegex(answer.stderr.decode(), r"^shoots/0001-[a-z-]+\.json: place\.lat: 91 is outside")
        self.assertEqual([len(store.all()) for store in self.kinds(new)], [0, 0, 0, 0])

    def kinds(self, database: Path) -> list[Repository]:
        store = self.open(database)
        return [store.setups, store.gear, store.bags, store.shoots]

    def test_what_is_no_archive_is_refused_by_name(self) -> None:
        small, bomb = io.BytesIO(), io.BytesIO()
        Image.new("L", (30, 20)).save(small, "JPEG")
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("setups/0001-big.json", b" " * (70 * 1024 * 1024))
        broken = self.folder / "broken.zip"
        cases: dict[str, tuple[bytes, str]] = {
            "bomb.zip": (bomb.getvalue(), "setups/0001-big.json: is larger than 64 MiB"),
            "broken.zip": (bomb.getvalue()[:400], "is not JSON|not UTF-8"),
            "song.json": (b'{"format": "song", "version": 1}', "song.json: is none of noggin-kit"),
            "picture.json": (
                json.dumps(pictures_document({"0" * 64: b"GIF89a"})).encode(),
                "picture.json: 0{64}: is no small JPEG",
            ),
            "log.json": (
                json.dumps(pictures_document({"0" * 64: small.getvalue()})).encode(),
                "log.json: 0{64}: no frame of the log has this file",
            ),
            "takes.json": (
                json.dumps(
                    takes_document(
                        [interchange.take_out(blank_take(canonical(NOON), "nd"), "Moon", NOW, [])]
                    )
                ).encode(),
                "takes.json: takes: no set-up is called ‘Moon’",
            ),
            "twice.json": (b'{"format": "a", "format": "b"}', "appears twice"),
        }
        for name, (content, words) in cases.items():
            with self.subTest(name=name):
                broken = self.folder / name
                broken.write_bytes(content)
                answer = self.noggin("import", broken)
                self.assertEqual((answer.returncode, answer.stdout), (2, b""))
                self.assertRegex(answer.stderr.decode(), words)


class Damaged(Kept):
    def test_a_whole_one_is_said_to_be_whole(self) -> None:
        self.assertIn("is whole", self.done("check"))

    def test_a_row_that_cannot_be_read_is_named_and_takes_no_other_with_it(self) -> None:
        with closing(sqlite3.connect(self.database)) as connection, connection:
            connection.execute("""UPDATE kept SET document = '{"name": "?"}' WHERE id = 2""")
        answer = self.noggin("check")
        self.assertEqual(answer.returncode, 1)
        self.assertRegex(answer.stderr.decode(), "(?m)^setup 2: ")
        answer = self.noggin("salvage", self.folder / "saved")
        self.assertIn("setup-2.txt cannot be read", answer.stderr.decode())
        self.done("import", self.folder / "saved", database=self.folder / "new.sqlite3")
        # The shoot's own copy of the set-up is not there either: its other seven are.
        saved = self.open(self.folder / "new.sqlite3")
        self.assertEqual(len(saved.setups.texts()), 7)
        whole = self.open()
        self.assertEqual(saved.frames.count(), whole.frames.count(), "and the log")
        in_takes = sum(len(saved.frames.of_take(take.id)) for take in saved.takes.all())
        self.assertGreater(in_takes, 10)
        pictures = [len(some) for store in (saved, whole) for some in store.frames.pictures(1000)]
        self.assertEqual(pictures[0], pictures[1])

    def test_pages_that_are_broken_cost_what_is_on_them_only(self) -> None:
        store = self.open()
        for _ in range(120):
            kept.add(store, lambda: NOW, SETUPS, canonical(NOON))
        whole = len(store.setups.texts())
        store.close()
        with self.database.open("r+b") as file:
            size = self.database.stat().st_size
            for part in range(3, 10):
                file.seek(size // 10 * part)
                file.write(b"\xff" * 4096)
        answer = self.noggin("check")
        self.assertEqual(answer.returncode, 1)
        self.noggin("salvage", self.folder / "saved")
        self.done("import", self.folder / "saved", database=self.folder / "new.sqlite3")
        saved = len(self.open(self.folder / "new.sqlite3").setups.texts())
        self.assertGreater(saved, whole // 2)
        self.assertLessEqual(saved, whole)
        # A damaged one is kept aside as it is, when a backup takes its place.
        self.done("export", self.folder / "x.zip", database=self.folder / "new.sqlite3")
        said = self.done("restore", self.folder / "new.sqlite3")
        self.assertIn("unreadable", said)
        self.assertIn("is whole", self.done("check"))


@contextmanager
def running(command: list[str]) -> Iterator[subprocess.Popen[bytes]]:
    """A program that is killed at the end, whatever became of the test, and that Ctrl-C reaches also where
    the tests run in the background of a shell."""
    heeding = partial(signal.signal, signal.SIGINT, signal.SIG_DFL)
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, preexec_fn=heeding
    ) as program:
        try:
            yield program
        finally:
            program.kill()


class Stopped(Kept):
    def test_a_server_that_is_stopped_leaves_one_whole_file(self) -> None:
        for how in (signal.SIGTERM, signal.SIGINT):
            with self.subTest(how=how):
                with socket.socket() as free:
                    free.bind(("127.0.0.1", 0))
                    port = free.getsockname()[1]
                command = [sys.executable, "-m", "noggin.cli", "serve", "--port", str(port)]
                command += ["--database", str(self.database)]
                with running(command) as server:
                    assert server.stdout is not None
                    self.assertIn(b"Noggin is at", server.stdout.readline())  # it listens by then
                    self.answers(port)
                    with closing(sqlite3.connect(self.database)) as other, other:
                        other.execute("UPDATE kept SET revision = revision + 1")
                    self.answers(port)
                    server.send_signal(how)
                    said = server.communicate()
                self.assertEqual((server.returncode, said[1]), (0, b""))
                self.assertFalse(Path(f"{self.database}-wal").exists())
                self.assertEqual(safekeeping.problems(self.database), ())

    def answers(self, port: int) -> None:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/setups") as answer:
            self.assertEqual(answer.status, 200)

    def test_a_proxy_needs_a_name_and_a_network_a_pass_phrase(self) -> None:
        for arguments, words in ((("--proxy",), "--proxy needs --name"), (("--lan",), "noggin passphrase")):
            answer = self.noggin("serve", *arguments)
            self.assertNotEqual(answer.returncode, 0)
            self.assertIn(words, answer.stderr.decode())
