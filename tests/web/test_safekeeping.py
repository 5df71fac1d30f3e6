"""Backups and everything as documents, by page; and what a page says when the database cannot be used."""

import io
import json
import logging
import shutil
import sqlite3
import tempfile
import unittest
import zipfile
from contextlib import closing
from functools import partial
from pathlib import Path
from unittest.mock import patch

from werkzeug.test import Client

from noggin.services.setups.setups import new_setup
from noggin.services.whole import safekeeping
from noggin.store import database_file
from noggin.web import create_app
from noggin.web.serving.in_turn import InTurn
from noggin.web.serving.request_log import Logged
from tests.support import NOW, SETTINGS, AppCase, ready_database

PART = {"HX-Request": "true"}


class Pages(AppCase):
    database = "demo"

    def send(self, address: str, content: bytes, name: str = "file") -> tuple[int, str]:
        answer = self.client.post(address, data={"file": (io.BytesIO(content), name)})
        return answer.status_code, answer.text

    def test_a_backup_goes_out_and_is_put_back(self) -> None:
        content = self.client.get("/keep/backup.sqlite3").data
        number = new_setup(self.store, lambda: NOW)
        status, text = self.send("/keep/restore", content)
        self.assertEqual(status, 200)
        self.assertIn("Everything is as it was in the backup.", text)
        self.assertEqual(self.client.get(f"/setups/{number}").status_code, 404)
        (aside,) = database_file.copies(self.path)
        self.assertIn(aside.name, text)
        with closing(sqlite3.connect(aside)) as there:
            self.assertEqual(
                there.execute("SELECT count(*) FROM kept WHERE id = ?", (number,)).fetchone(), (1,)
            )
        self.assertEqual(self.client.post("/setups/1/figures/aperture", data={"by": "1"}).status_code, 303)

    def test_what_is_no_backup_is_said_beside_it(self) -> None:
        before = safekeeping.backup_bytes(self.store)
        status, text = self.send("/keep/restore", b"not a database " * 100)
        self.assertEqual(status, 422)
        self.assertIn("The file is not a database", text)
        self.assertEqual(self.send("/keep/restore", b"")[0], 422)
        self.assertEqual(safekeeping.backup_bytes(self.store), before)

    def test_everything_goes_out_and_comes_in_once(self) -> None:
        content = self.client.get("/keep/everything.zip").data
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            self.assertIn("kit.json", archive.namelist())
        status, text = self.send("/keep/import", content)
        self.assertEqual(status, 200)
        self.assertRegex(text, r"0 new,\s+0 changed,\s+48 there already")

    def test_more_than_a_document_may_come_in_here_and_nowhere_else(self) -> None:
        large = b"{" + b" " * (3 * 1024 * 1024) + b"}"
        self.assertIn("is none of", self.send("/keep/import", large)[1])
        self.assertEqual(self.send("/setups/import", large)[0], 413)

    def test_what_is_no_archive_is_said_beside_it(self) -> None:
        status, text = self.send("/keep/import", b"PK\x03\x04 and no more")
        self.assertEqual((status, "this is not a ZIP that can be read" in text), (422, True))

    def test_health_names_nothing_that_is_kept(self) -> None:
        answer = self.client.get("/health")
        found = json.loads(answer.text)
        self.assertEqual(found["database"], "ok")
        self.assertGreater(found["free_bytes"], 0)
        self.assertEqual(set(found), {"version", "database", "database_bytes", "free_bytes", "last_copy"})

    def test_health_says_what_the_server_holds_where_there_is_one(self) -> None:
        crew = InTurn(self.app)
        self.wiring.memory = crew.memory
        found = json.loads(self.client.get("/health").text)
        self.assertEqual((found["server_most_mb"], found["reader_most_mb"]), (400, 300))
        self.assertGreater(found["server_mb"], 30)
        self.assertEqual(found["readers_mb"], [])


class CannotBeUsed(AppCase):
    database = "demo"

    def test_a_full_disk_is_one_sentence_and_what_was_typed_stays(self) -> None:
        with self.store.read_transaction() as session:
            session.connection().exec_driver_sql("PRAGMA max_page_count = 1")
        while self.client.post("/setups/1/copy").status_code == 303:
            pass
        answer = self.client.post("/setups/1/copy", headers=PART)
        self.assertEqual(answer.status_code, 503)
        self.assertIn("The disk is full. Nothing of this was kept", answer.text)
        self.assertEqual(answer.headers["HX-Retarget"], "#trouble")
        self.assertNotIn("<form", answer.text)
        self.assertEqual(self.client.get("/setups/1").status_code, 200)

    def test_a_database_that_was_removed_is_one_sentence_on_every_page(self) -> None:
        Path(self.path).rename(self.path.with_name("elsewhere"))
        for address in ("/", "/setups", "/setups/1", "/kit", "/health", "/alive"):
            with self.subTest(address=address):
                answer = self.client.get(address)
                self.assertEqual(answer.status_code, 503)
                self.assertIn("was removed while Noggin runs", answer.text)
        with self.client.get("/static/noggin.css") as style:
            self.assertEqual(style.status_code, 200)

    def test_a_damaged_page_of_it_is_one_sentence(self) -> None:
        self.store.close()
        with self.path.open("r+b") as file:
            file.seek(8192)
            file.write(b"\xff" * (self.path.stat().st_size - 3 * 8192))
        answer = self.client.get("/setups/1")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("noggin salvage", answer.text)


class Watched(unittest.TestCase):
    def test_requests_are_noted_without_names_numbers_or_what_was_typed(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            log = Path(folder) / "noggin.log"
            app = create_app({**SETTINGS, "DATABASE": Path(folder) / "noggin.sqlite3", "REQUEST_LOG": log})
            self.addCleanup(app.extensions["noggin"].store.close)
            client = Client(Logged(app, app, log))
            client.get("/setups/4711?look=secret")
            client.post("/bags", data={"name": "Secret bag"})
            client.get("/secret-page")
            client.get("/static/noggin.css").close()
            lines = log.read_text().splitlines()
            self.assertEqual(log.stat().st_mode & 0o777, 0o600)
            for handler in logging.getLogger(f"noggin.requests.{log}").handlers:
                handler.close()
        self.assertEqual(len(lines), 3)
        self.assertRegex(lines[0], r"^\S+ \S+ GET /setups/<int:setup_id> 404 \d+ ms$")
        self.assertIn("POST /bags 303", lines[1])
        self.assertNotRegex("\n".join(lines), "(?i)secret|4711")


PLACES = {"setup": "setups", "gear": "kit", "bag": "bags", "shoot": "shoots"}


class OneBadRow(AppCase):
    database = "demo"

    def test_it_is_shown_as_such_and_takes_no_list_with_it(self) -> None:
        for kind, number in (("setup", 2), ("gear", 16), ("bag", 42), ("shoot", 44)):
            with self.subTest(kind=kind):
                path = self.path.with_name(f"{kind}.sqlite3")
                shutil.copy(ready_database("demo"), path)
                with closing(sqlite3.connect(path)) as other, other:
                    spoilt = """UPDATE kept SET document = '{"name": "Spoilt"}', name = 'Spoilt',
                        revision = revision + 1 WHERE id = ?"""
                    other.execute(spoilt, (number,))
                app = create_app({**SETTINGS, "DATABASE": path})
                self.addCleanup(app.extensions["noggin"].store.close)
                client = app.test_client()
                for address in ("/", "/setups", "/setups/1", "/kit", "/bags", "/shoots", "/reach"):
                    self.assertEqual(client.get(address).status_code, 200, address)
                self.assertEqual(client.get(f"/{PLACES[kind]}/{number}").status_code, 404)
                self.assertIn("1 document cannot be read", client.get("/").text)
                self.assertIn(f"Spoilt ({kind} {number}): ", client.get("/keep").text)
                self.assertEqual(client.get("/keep/everything.zip").status_code, 200)

    def test_one_that_is_spoilt_while_noggin_runs(self) -> None:
        lists = {"setup": "/shoots/44", "gear": "/kit", "bag": "/bags", "shoot": "/shoots"}
        for kind, number in (("setup", 2), ("gear", 16), ("bag", 42), ("shoot", 44)):
            with self.subTest(kind=kind), closing(sqlite3.connect(self.path)) as other:
                with other:
                    spoilt = """UPDATE kept SET document = '{"name": "Spoilt"}', revision = revision + 1
                        WHERE id = ?"""
                    other.execute(spoilt, (number,))
                answer = self.client.get(lists[kind], follow_redirects=True)
                self.assertEqual(answer.status_code, 200)
                self.assertIn(f"({kind} {number}): ", self.client.get("/keep").text)

    def test_a_change_that_meets_one_is_not_made_and_can_be_done_again(self) -> None:
        with closing(sqlite3.connect(self.path)) as other, other:
            other.execute("""UPDATE kept SET document = '{"name": "Spoilt"}' WHERE id = 16""")
        press = partial(self.client.post, "/setups/1/figures/aperture", data={"text": "4"})
        first = press()
        self.assertEqual(first.status_code, 503)
        self.assertIn("Do that again", first.text)
        self.assertEqual(press().status_code, 303)

    def test_a_fault_of_noggin_itself_stays_one(self) -> None:
        with (
            patch("noggin.web.pages.kit.compatibility_table", side_effect=ZeroDivisionError),
            self.assertRaises(ZeroDivisionError),
        ):
            self.client.get("/kit")

    def test_it_comes_back_when_it_can_be_read_again(self) -> None:
        with closing(sqlite3.connect(self.path)) as other, other:
            other.execute("UPDATE kept SET kind = 'unreadable/gear' WHERE id = 16")
        app = create_app({**SETTINGS, "DATABASE": self.path})
        self.addCleanup(app.extensions["noggin"].store.close)
        self.assertEqual(app.test_client().get("/kit/16").status_code, 200)

    def test_it_stays_aside_where_its_name_was_taken_meanwhile(self) -> None:
        with closing(sqlite3.connect(self.path)) as other, other:
            other.execute("UPDATE kept SET kind = 'unreadable/bag' WHERE id = 42")
            other.execute("UPDATE kept SET name = (SELECT name FROM kept WHERE id = 42) WHERE id = 43")
        app = create_app({**SETTINGS, "DATABASE": self.path})
        self.addCleanup(app.extensions["noggin"].store.close)
        self.assertIn("its name is taken by another one", app.test_client().get("/keep").text)

    def test_one_in_a_backup_that_is_put_back(self) -> None:
        backup = self.path.with_name("backup.sqlite3")
        self.store.copy_to(backup)
        with closing(sqlite3.connect(backup)) as other, other:
            other.execute("""UPDATE kept SET document = '{"name": "?"}', revision = 99 WHERE id = 2""")
        answer = self.client.post("/keep/restore", data={"file": (io.BytesIO(backup.read_bytes()), "b")})
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(self.client.get("/setups").status_code, 200)
