"""The application of a phone, run here: it keeps what it changes before it answers."""

import json
import tempfile
import unittest
from pathlib import Path
from urllib.parse import urlencode

from noggin.demo import demo_documents
from noggin.documents.archive import text_of, zipped
from noggin.pocket import slots
from noggin.pocket.phone import NOT_KEPT, Phone, PhoneAnswer

FORM = [("Content-Type", "application/x-www-form-urlencoded")]


class OnAPhone(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.kept = [b"", b""]
        self.is_full = False
        self.started = 0

    def keep(self, slot: int, content: bytes) -> None:
        if self.is_full:
            raise OSError(28, "No space left on device")
        self.kept[slot] = content

    def start(self) -> Phone:
        """Noggin as it starts on the phone: with nothing but what the slots keep."""
        self.started += 1
        database = self.folder / f"{self.started}" / "noggin.sqlite3"
        phone = Phone(
            database, "http://phone.example", "/pocket/app", self.keep, (self.kept[0], self.kept[1])
        )
        self.addCleanup(phone.close)
        return phone

    def with_a_setup(self) -> Phone:
        """The same, where it brings a set-up along."""
        phone = self.start()
        phone.begin_with(zipped([("a.json", text_of(demo_documents()[0]))]))
        return phone

    def enter_aperture(self, phone: Phone, text: str) -> PhoneAnswer:
        page = phone.answer("GET", "/setups/1", [], b"").body.decode()
        token = page.split('name="csrf_token" value="')[1].split('"')[0]
        sent = urlencode({"csrf_token": token, "text": text}).encode()
        return phone.answer("POST", "/setups/1/figures/aperture", FORM, sent)

    def document(self, phone: Phone) -> bytes:
        return phone.answer("GET", "/setups/1/setup.json", [], b"").body

    def names(self, phone: Phone) -> str:
        return phone.answer("GET", "/setups", [], b"").body.decode()

    def test_pages_stand_under_the_sites_own_address_and_may_stand_in_its_frame(self) -> None:
        answer = self.start().answer("GET", "/setups", [], b"")
        self.assertEqual(answer.status, 200)
        self.assertIn('href="/pocket/app/kit"', answer.body.decode())
        self.assertIn("frame-ancestors 'self'", dict(answer.headers)["Content-Security-Policy"])

    def test_what_the_site_brings_along_is_there_and_taken_once(self) -> None:
        setup = demo_documents()[1]
        brought = zipped([("setups/0001-wall.json", text_of(setup))])
        phone = self.start()
        phone.begin_with(brought)
        self.assertIn(str(setup["name"]), self.names(phone))
        again = self.start()
        again.begin_with(brought)
        self.assertEqual(self.names(again).count(f'class="setup-name">{setup["name"]}<'), 1)

    def test_what_is_changed_is_there_after_every_start(self) -> None:
        phone = self.with_a_setup()
        for text in ("f/4", "f/5.6"):
            self.assertLess(self.enter_aperture(phone, text).status, 400)
            phone = self.start()
            self.assertEqual(json.loads(self.document(phone))["intent"]["aperture"], float(text[2:]))

    def test_reading_writes_nothing(self) -> None:
        phone = self.with_a_setup()
        phone.answer("GET", "/setups/1", [], b"")
        before = [*self.kept]
        for path in ("/setups/1", "/setups", "/kit", "/log"):
            self.assertEqual(phone.answer("GET", path, [], b"").status, 200)
        self.assertEqual(self.kept, before)

    def test_where_there_is_no_room_it_is_said_and_taken_back(self) -> None:
        phone = self.with_a_setup()
        before = self.document(phone)
        self.is_full = True
        answer = self.enter_aperture(phone, "f/8")
        self.assertEqual(answer.status, NOT_KEPT)
        self.assertIn("No space left on device", answer.body.decode())
        self.is_full = False
        self.assertEqual(self.document(phone), before)
        self.enter_aperture(phone, "f/8")
        self.assertEqual(json.loads(self.document(self.start()))["intent"]["aperture"], 8)

    def test_what_draws_pictures_is_left_out_and_said(self) -> None:
        page = self.with_a_setup().answer("GET", "/setups/1", [], b"").body.decode()
        self.assertIn("The picture itself is drawn where Noggin's server runs", page)
        self.assertNotIn("/proofs/", page)

    def test_a_slot_that_was_torn_costs_no_more_than_its_own_change(self) -> None:
        self.with_a_setup()
        found = slots.newest(*self.kept)
        assert found is not None
        self.kept[(found.number + 1) % 2] = slots.written(found.number + 1, found.content)[:-9]
        self.assertIn(str(demo_documents()[0]["name"]), self.names(self.start()))
