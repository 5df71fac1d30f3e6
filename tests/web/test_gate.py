"""Who may come in where Noggin is on a network. OWASP, Authentication Cheat Sheet: tries are limited,
answers say nothing of what is kept, sessions end; CWE-601: no address leads anywhere else."""

import re
import tempfile
import unittest
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from flask import Flask
from flask.testing import FlaskClient

from noggin.services.errors import Refused
from noggin.services.passphrase import NoPassPhrase, PassPhrase
from noggin.services.sessions import Sessions
from noggin.services.setups.setups import new_setup
from noggin.web import create_app
from noggin.web.pages.gate import (
    CODE_GOOD_FOR,
    FORGET_HEADER,
    OPEN,
    PAIRED_FOR,
    SIGNED_IN_FOR,
    by_phone,
    inner,
    limiter,
)
from noggin.web.serving.reachable import is_loopback
from noggin.web.shared.secret import LENGTH, NotAKey, kept_secret
from noggin.web.shared.wiring import STAMP_HEADER
from tests.support import CHEAP, NOW, SETTINGS

WORDS = "four plain words here"


class OnANetwork(unittest.TestCase):
    more: dict[str, Any] = {}  # noqa: RUF012 - replaced, never changed

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.database = Path(folder.name) / "noggin.sqlite3"
        self.now = NOW
        PassPhrase(self.database, CHEAP).set(WORDS)
        self.app = self.made()
        self.client = self.app.test_client()

    def made(self) -> Flask:
        app = create_app(
            {
                **SETTINGS,
                "CLOCK": self.clock,
                "DATABASE": self.database,
                "ADDRESSES": ("http://192.0.2.7:8750",),
                **self.more,
            }
        )
        self.addCleanup(app.extensions["noggin"].store.close)
        limiter.reset()
        return app

    def clock(self) -> datetime:
        return self.now

    def sign_in(self, words: str = WORDS, client: FlaskClient | None = None, **environ: str) -> Any:
        return (client or self.client).post(
            "/sign-in", data={"passphrase": words, "to": "/kit"}, environ_base=environ
        )


class Gate(OnANetwork):
    def test_every_route_asks_first(self) -> None:
        new_setup(self.app.extensions["noggin"].store, self.clock)
        open_to_all = {"/sign-in", "/favicon.ico", "/worker.js"}
        for rule in self.app.url_map.iter_rules():
            address = re.sub(r"<any[^>]*>", "losses", str(rule.rule))
            address = re.sub(r"<(int:)?[^>]*>", "1", address)
            if address in open_to_all or rule.endpoint in ("static", "gate.pair_page", "gate.pair"):
                continue
            for method in sorted({"GET", "POST"} & (rule.methods or set())):
                with self.subTest(method=method, address=address):
                    answer = self.client.open(address, method=method)
                    if method == "GET":
                        self.assertEqual(answer.status_code, 302)
                        self.assertTrue(answer.location.startswith("/sign-in?to="))
                    else:
                        self.assertEqual(answer.status_code, 401)
        part = self.client.get("/setups/1", headers={"HX-Request": "true"})
        self.assertEqual(part.status_code, 401)

    def test_the_pass_phrase_lets_in_until_the_session_ends(self) -> None:
        self.assertEqual(self.sign_in().location, "/kit")
        self.assertEqual(self.client.get("/kit").status_code, 200)
        self.now += SIGNED_IN_FOR - timedelta(minutes=1)
        self.assertEqual(self.client.get("/kit").status_code, 200)
        self.now += timedelta(minutes=2)
        self.assertEqual(self.client.get("/kit").status_code, 302)

    def test_a_wrong_one_does_not(self) -> None:
        for words in ("", "four plain words", WORDS.upper(), "x" * 100_000):
            answer = self.sign_in(words)
            self.assertEqual(answer.status_code, 422)
            self.assertIn("That is not the pass-phrase.", answer.text)
        self.assertEqual(self.client.get("/kit").status_code, 302)

    def test_signing_out_and_a_new_pass_phrase_end_sessions(self) -> None:
        self.sign_in()
        self.client.post("/sign-out")
        self.assertEqual(self.client.get("/kit").status_code, 302)
        self.sign_in()
        PassPhrase(self.database, CHEAP).set("other plain words here")
        self.assertEqual(self.client.get("/kit").status_code, 302)

    def test_hundreds_of_wrong_tries_are_slowed_to_a_crawl_and_lock_nobody_else_out(self) -> None:
        statuses = [
            self.sign_in(f"guess {turn}", REMOTE_ADDR="192.0.2.66").status_code for turn in range(300)
        ]
        self.assertEqual((statuses.count(422), statuses.count(429)), (5, 295))
        answer = self.sign_in(REMOTE_ADDR="192.0.2.66")
        self.assertIn("too many tries from your address", answer.text)
        self.assertEqual(self.sign_in(REMOTE_ADDR="192.0.2.8").status_code, 303)

    def test_a_phone_is_paired_for_a_day_by_a_code_that_is_good_once(self) -> None:
        self.sign_in()
        page = self.client.get("/phone").text
        link = re.search(r'href="http://192\.0\.2\.7:8750(/pair/[^"]+)"', page)
        assert link
        self.assertIn("data:image/svg+xml", page)
        phone, other = self.app.test_client(), self.app.test_client()
        self.assertIn("Pair this phone", phone.get(link[1]).text)
        self.assertEqual(phone.get("/kit").status_code, 302, "looking at it pairs nothing")
        self.assertEqual(phone.post(link[1]).status_code, 303)
        self.assertEqual(phone.get("/kit").status_code, 200)
        self.assertEqual(other.post(link[1]).status_code, 410)
        self.now += PAIRED_FOR - timedelta(minutes=1)
        self.assertEqual(phone.get("/kit").status_code, 200)
        self.now += timedelta(minutes=2)
        self.assertEqual(phone.get("/kit").status_code, 302)

    def paired(self) -> FlaskClient:
        """A phone that was let in by a code."""
        with self.app.test_request_context():
            code = self.app.extensions["noggin_gate"].code()
        phone = self.app.test_client()
        self.assertEqual(phone.post(f"/pair/{code}").status_code, 303)
        return phone

    def test_a_paired_phone_takes_the_pocket_edition_but_not_what_is_kept_along_with_it(self) -> None:
        phone = self.paired()
        self.assertEqual(phone.get("/pocket/").status_code, 200)
        for path in ("/pocket.zip?with=everything", "/keep/everything.zip"):
            self.assertEqual(phone.get(path).status_code, 302, path)

    def test_a_used_code_stays_used_and_a_session_ends_on_the_server_whoever_starts_again(self) -> None:
        with self.app.test_request_context():
            code = self.app.extensions["noggin_gate"].code()
        self.client.post(f"/pair/{code}")
        cookie = self.client.get_cookie(self.app.config["SESSION_COOKIE_NAME"])
        assert cookie
        again = self.made()
        self.assertEqual(again.test_client().post(f"/pair/{code}").status_code, 410)
        thief = again.test_client()
        thief.set_cookie(cookie.key, cookie.value)
        self.assertEqual(thief.get("/setups").status_code, 200)
        self.client.post("/sign-out")
        self.assertEqual(thief.get("/setups").status_code, 302)

    def test_a_paired_phone_does_what_is_done_at_the_spot_and_no_more(self) -> None:
        new_setup(self.app.extensions["noggin"].store, self.clock)
        phone = self.paired()
        alone = set()
        for rule in self.app.url_map.iter_rules():
            address = re.sub(r"<any[^>]*>", "losses", re.sub(r"<(int:)?(?!any)[^>]*>", "1", str(rule.rule)))
            if rule.endpoint in OPEN or rule.endpoint == "gate.sign_out":
                continue
            for method in sorted({"GET", "POST"} & (rule.methods or set())):
                answer = phone.open(address, method=method)
                asked = answer.status_code == 401 or (answer.location or "").startswith("/sign-in?to=")
                self.assertEqual(asked, not by_phone(rule.endpoint, reads=method == "GET"), rule.endpoint)
                alone |= {rule.endpoint} if asked else set()
        for endpoint in (
            *(
                "safekeeping.backup",
                "safekeeping.restore",
                "safekeeping.bring_in",
                "safekeeping.everything",
            ),
            *("gate.phone", "log.bring_in", "log.bring_in_log", "kit.bring_in", "setups.bring_in"),
            *("shoots.bring_in", "kit.figure", "log.remove"),
        ):
            self.assertIn(endpoint, alone)
        for endpoint in (
            "spot.pop",
            "spot.pop_file",
            "bench.figure",
            "live.read",
            "shoots.read",
            "log.note",
        ):
            self.assertNotIn(endpoint, alone)

    def test_a_phone_that_types_the_pass_phrase_may_do_the_rest(self) -> None:
        phone = self.paired()
        self.assertIn("may do what is done at the spot", phone.get("/keep", follow_redirects=True).text)
        self.assertEqual(self.sign_in(client=phone).status_code, 303)
        self.assertEqual(phone.get("/keep").status_code, 200)
        self.now += SIGNED_IN_FOR + timedelta(minutes=1)
        self.assertEqual(phone.get("/keep").status_code, 302)

    def test_after_a_new_pass_phrase_a_browser_throws_away_what_it_kept(self) -> None:
        self.sign_in()
        self.now += SIGNED_IN_FOR + timedelta(minutes=1)
        # Only the time is over.
        self.assertNotIn(FORGET_HEADER, self.client.get("/kit", follow_redirects=True).headers)
        PassPhrase(self.database, CHEAP).set("other plain words here")
        self.assertEqual(self.client.get("/kit", follow_redirects=True).headers[FORGET_HEADER], "pages")
        self.assertNotIn(FORGET_HEADER, self.app.test_client().get("/sign-in").headers)

    def test_strangers_learn_nothing_by_headers(self) -> None:
        for address in ("/sign-in", "/kit", "/static/noggin.css", "/nowhere", "/alive"):
            with closing(self.client.get(address)) as answer:
                self.assertNotIn(STAMP_HEADER, answer.headers, address)
        self.sign_in()
        self.assertIn(STAMP_HEADER, self.client.get("/alive").headers)

    def test_so_many_sessions_are_known_and_a_broken_file_lets_nobody_in(self) -> None:
        sessions = Sessions(self.database)
        with patch("noggin.services.sessions.SESSIONS_MOST", 5):
            numbers = [sessions.begin(0, 100 + turn, phone=True) for turn in range(6)]
        self.assertIsNone(sessions.known(numbers[0], 50))
        self.assertIsNotNone(sessions.known(numbers[1], 50))
        self.assertIsNone(sessions.known(numbers[1], 101))
        file = self.database.with_name(f"{self.database.name}.sessions")
        self.assertEqual(file.stat().st_mode & 0o777, 0o600)
        self.assertNotIn(numbers[1], file.read_text())
        file.write_text('{"sessions": [1]}')
        self.assertIsNone(sessions.known(numbers[1], 50))

    def test_a_code_that_was_made_up_or_is_old_pairs_nothing(self) -> None:
        with self.app.test_request_context():
            code = self.app.extensions["noggin_gate"].code()
        self.assertEqual(self.client.post(f"/pair/{code[:-2]}xx").status_code, 410)
        PassPhrase(self.database, CHEAP).set("other plain words here")
        self.assertEqual(self.client.post(f"/pair/{code}").status_code, 410)
        self.assertLessEqual(CODE_GOOD_FOR, timedelta(minutes=15))

    def test_host_names_are_checked(self) -> None:
        self.assertEqual(self.client.get("/sign-in", headers={"Host": "evil.example"}).status_code, 400)

    def test_nothing_is_typed_into_addresses_or_told_of_what_is_kept(self) -> None:
        answer = self.client.get("/setups/1?look=nd")
        self.assertEqual(answer.location, "/sign-in?to=/setups/1?look%3Dnd")
        self.assertEqual(self.client.get("/setups/777").status_code, 302)


class Alone(unittest.TestCase):
    def test_on_this_machine_nobody_is_asked(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            app = create_app({**SETTINGS, "DATABASE": Path(folder) / "noggin.sqlite3"})
            self.addCleanup(app.extensions["noggin"].store.close)
            client = app.test_client()
            self.assertEqual(client.get("/kit").status_code, 200)
            self.assertIn("noggin serve --lan", client.get("/phone").text)
            self.assertEqual(client.get("/sign-in?to=/kit").location, "/kit")
            for _ in range(30):
                self.assertEqual(client.post("/sign-in").status_code, 303)

    def test_what_is_this_machine_alone(self) -> None:
        for host in ("127.0.0.1", "127.0.0.2", "::1", "[::1]", "localhost"):
            self.assertTrue(is_loopback(host), host)
        for host in ("0.0.0.0", "::", "192.0.2.1", "noggin.local"):  # noqa: S104 - only asked about
            self.assertFalse(is_loopback(host), host)

    def test_no_address_leads_anywhere_else(self) -> None:
        for address in (
            "//evil.example",
            "/\\evil.example",
            "https://evil.example",
            "javascript:x",
            "/\t/e",
            "",
        ):
            self.assertEqual(inner(address), "/", address)
        self.assertEqual(inner("/setups/1?look=nd"), "/setups/1?look=nd")

    def test_databases_have_cookies_of_their_own(self) -> None:
        names = set()
        for _ in range(2):
            with tempfile.TemporaryDirectory() as folder:
                app = create_app({**SETTINGS, "DATABASE": Path(folder) / "noggin.sqlite3"})
                app.extensions["noggin"].store.close()
                names.add(app.config["SESSION_COOKIE_NAME"])
        self.assertEqual(len(names), 2)


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_the_pass_phrase_is_kept_as_a_hash_for_its_owner_alone(self) -> None:
        phrase = PassPhrase(self.folder / "noggin.sqlite3")
        with self.assertRaisesRegex(NoPassPhrase, "noggin passphrase"):
            phrase.mark()
        self.assertFalse(phrase.matches(""))
        for text in ("short", "x" * 1001):
            with self.assertRaises(Refused):
                phrase.set(text)
        phrase.set(WORDS)
        (file,) = self.folder.iterdir()
        self.assertEqual(file.stat().st_mode & 0o777, 0o600)
        self.assertTrue(file.read_text().startswith("$argon2id$"))
        self.assertTrue(phrase.matches(WORDS))

    def test_a_broken_key_is_told_in_a_sentence(self) -> None:
        key = kept_secret(self.folder)
        self.assertEqual((len(key), kept_secret(self.folder)), (LENGTH, key))
        (self.folder / "secret_key").write_bytes(b"")
        with self.assertRaisesRegex(NotAKey, "Remove it"):
            kept_secret(self.folder)
