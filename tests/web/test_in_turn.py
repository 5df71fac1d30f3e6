"""Who answers which request: one after another in the server's process, reads and imports beside it."""

import io
import json
import os
import shutil
import signal
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from threading import Thread, Timer
from typing import ClassVar
from unittest.mock import patch

from flask import Flask
from werkzeug.test import Client

from noggin.documents.setup import canonical
from noggin.store.store import Store
from noggin.web import create_app
from noggin.web.serving import in_turn
from noggin.web.serving.in_turn import BY_THE_SERVER, IMPORTS, InTurn
from tests.support import NOON, ready_database


class Crew(unittest.TestCase):
    """One server with one process beside it, for all tests: whoever ends a process waits for the next."""

    app: ClassVar[Flask]
    store: ClassVar[Store]
    crew: ClassVar[InTurn]

    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        path = Path(folder.name) / "noggin.sqlite3"
        shutil.copy(ready_database("demo"), path)
        cls.app = create_app({"DATABASE": path, "TESTING": True, "WTF_CSRF_ENABLED": False})
        cls.store = cls.app.extensions["noggin"].store
        cls.addClassCleanup(cls.store.close)
        cls.crew = InTurn(cls.app, readers=1)
        cls.addClassCleanup(cls.crew.stop)

    def setUp(self) -> None:
        self.wait_until(lambda: self.crew.processes() == 2)
        self.client = Client(self.crew)

    def wait_until(self, so: Callable[[], bool]) -> None:
        """As long as it takes: a process that never comes is the runner's to notice."""
        while not so():
            time.sleep(0.02)

    def bring_in(self) -> tuple[int, str]:
        """Import a set-up; status and text of the answer."""
        document = io.BytesIO(json.dumps(canonical(NOON)).encode())
        answer = self.client.post("/setups/import", data={"file": (document, "noon.json")})
        return answer.status_code, answer.text

    def count(self) -> int:
        return len(self.store.setups.texts())

    def pids(self) -> list[int]:
        return [reader._process.pid or 0 for reader in self.crew._known]

    def test_pages_are_read_beside_a_change_that_takes_long(self) -> None:
        self.assertIsNone(self.crew._free_one(own=True, beside=False))  # somebody changes something
        try:
            page = self.client.get("/setups/1")
            asked = Thread(target=self.client.get, args=("/alive",))
            asked.start()
            asked.join(0.2)
            self.assertTrue(asked.is_alive())  # goes by this process alone, and waits
        finally:
            self.crew._give_back(None)
        asked.join()
        self.assertIn("Methods, best first", page.text)
        self.assertEqual(page.status_code, 200)

    def test_a_change_is_seen_by_every_process(self) -> None:
        self.client.post("/setups/1/figures/aperture", data={"text": "4"})
        self.assertIsNone(self.crew._free_one(own=True, beside=False))
        try:
            self.assertIn('value="f/4"', self.client.get("/setups/1").text)
        finally:
            self.crew._give_back(None)

    def test_an_import_is_done_by_another_process(self) -> None:
        before, pids = self.count(), self.pids()
        with patch.object(self.app, "wsgi_app", side_effect=AssertionError("here")):
            status, _ = self.bring_in()
        self.assertEqual((status, self.count()), (303, before + 1))
        self.assertEqual(self.pids(), pids)

    def test_an_import_that_takes_too_long_is_stopped_said_and_not_kept(self) -> None:
        before, pids = self.count(), self.pids()
        with patch.object(in_turn, "IMPORT_S", 0.0):
            status, text = self.bring_in()
        self.assertEqual(status, 503)
        self.assertIn("took too long and was stopped. Nothing of it was kept", text)
        self.wait_until(lambda: self.crew.processes() == 2)  # another process has taken its place
        self.assertNotEqual(self.pids(), pids)
        self.assertEqual(self.count(), before)
        self.assertEqual(self.bring_in()[0], 303)
        self.assertEqual(self.count(), before + 1)

    def test_files_that_take_too_long_are_said_to_be_in_as_far_as_they_are(self) -> None:
        with patch.object(in_turn, "IMPORT_S", 0.0):
            answer = self.client.post("/log/frames", data={"frames": (io.BytesIO(b"x"), "a.jpg")})
        self.assertEqual(answer.status_code, 503)
        self.assertIn("What had come in by then is kept", answer.text)
        self.assertNotIn("Nothing of it was kept", answer.text)

    def test_a_process_that_ends_is_no_loss(self) -> None:
        (pid,) = self.pids()
        os.kill(pid, signal.SIGKILL)
        self.assertIsNone(self.crew._free_one(own=True, beside=False))
        later = Timer(0.3, self.crew._give_back, (None,))
        later.start()
        self.assertEqual(self.client.get("/kit").status_code, 200)
        later.join()
        self.wait_until(lambda: self.crew.processes() == 2)

    def test_the_first_import_after_a_process_ended_is_answered(self) -> None:
        (pid,), before = self.pids(), self.count()
        os.kill(pid, signal.SIGKILL)
        self.wait_until(lambda: not any(reader.is_alive() for reader in self.crew._known))
        with patch.object(self.app, "wsgi_app", side_effect=AssertionError("here")):
            status, _ = self.bring_in()
        self.assertEqual((status, self.count()), (303, before + 1))

    def test_what_each_process_holds_is_known(self) -> None:
        (beside,) = self.crew.memory()["readers_mb"]
        self.assertGreater(beside, 20)

    def test_a_process_that_holds_too_much_answers_and_another_takes_its_place(self) -> None:
        pids = self.pids()
        self.assertIsNone(self.crew._free_one(own=True, beside=False))
        try:
            with patch.object(in_turn, "READER_MOST_MB", 1):
                self.assertEqual(self.client.get("/kit").status_code, 200)
            self.wait_until(lambda: self.crew.processes() == 2 and self.pids() != pids)
        finally:
            self.crew._give_back(None)

    def test_this_process_lets_go_where_it_holds_too_much_and_not_over_and_over(self) -> None:
        relieved: list[float] = []
        crew = InTurn(self.app, relieve=lambda: relieved.append(1))
        with patch.object(in_turn, "SERVER_MOST_MB", 1):
            for _ in range(3):
                Client(crew).get("/alive")
        self.assertEqual(len(relieved), 1)  # what it needs it needs
        Client(crew).get("/alive")
        self.assertEqual(len(relieved), 1)

    def test_stopping_ends_every_process(self) -> None:
        crew = InTurn(self.app, readers=1)
        self.wait_until(lambda: crew.processes() == 2)
        (pid,) = [reader._process.pid or 0 for reader in crew._known]
        crew.stop()
        self.assertRaises(ProcessLookupError, os.kill, pid, 0)
        self.client = Client(crew)
        self.assertEqual(self.bring_in()[0], 303)  # whatever still comes is answered here


class Routes(unittest.TestCase):
    def test_every_import_is_known_and_everything_known_is_there(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            app = create_app({"DATABASE": Path(folder) / "n.sqlite3"})
            app.extensions["noggin"].store.close()
        endpoints = {rule.endpoint for rule in app.url_map.iter_rules()}
        self.assertLessEqual({name for name in endpoints if name.endswith(".bring_in")}, set(IMPORTS))
        self.assertLessEqual({*IMPORTS, *BY_THE_SERVER}, endpoints)
