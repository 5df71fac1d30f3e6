"""Who may come in where Noggin is on a network. OWASP, Authentication Cheat Sheet: tries are limited,
answers say nothing of what is kept, sessions end; CWE-601: no address leads anywhere else."""

import re
import socket
import ssl
import subprocess
import tempfile
import threading
import time
import unittest
from contextlib import closing, suppress
from datetime import datetime, timedelta
from http.client import HTTPConnection, HTTPMessage, HTTPSConnection
from pathlib import Path
from shutil import which
from typing import Any
from urllib.parse import urlencode

from flask import Flask
from flask.testing import FlaskClient
from waitress.adjustments import Adjustments

from noggin.services.errors import Refused
from noggin.services.passphrase import NoPassPhrase, PassPhrase
from noggin.services.sessions import SESSIONS_MOST, Sessions
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
from noggin.web.serving.server import Server, listen
from noggin.web.serving.strangers import BODY_MOST, CONNECTIONS_MOST, guarded
from noggin.web.shared.secret import LENGTH, NotAKey, kept_secret
from noggin.web.shared.wiring import STAMP_HEADER
from tests.support import NOW, SETTINGS

WORDS = "four plain words here"

ROOT = Path(__file__).parent.parent.parent


class OnANetwork(unittest.TestCase):
    more: dict[str, Any] = {}  # noqa: RUF012 - replaced, never changed

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.database = Path(folder.name) / "noggin.sqlite3"
        self.now = NOW
        PassPhrase(self.database).set(WORDS)
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
        PassPhrase(self.database).set("other plain words here")
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
        PassPhrase(self.database).set("other plain words here")
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
        numbers = [sessions.begin(0, 100 + turn, phone=True) for turn in range(SESSIONS_MOST + 1)]
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
        PassPhrase(self.database).set("other plain words here")
        self.assertEqual(self.client.post(f"/pair/{code}").status_code, 410)
        self.assertLessEqual(CODE_GOOD_FOR, timedelta(minutes=15))

    def test_host_names_are_checked(self) -> None:
        self.assertEqual(self.client.get("/sign-in", headers={"Host": "evil.example"}).status_code, 400)

    def test_nothing_is_typed_into_addresses_or_told_of_what_is_kept(self) -> None:
        answer = self.client.get("/setups/1?look=nd")
        self.assertEqual(answer.location, "/sign-in?to=/setups/1?look%3Dnd")
        self.assertEqual(self.client.get("/setups/777").status_code, 302)


class OnAServer(OnANetwork):
    """The same over the server that ships."""

    def served(self, host: str = "127.0.0.1") -> Server:
        server = listen(self.app, host, 0)
        runs = threading.Thread(target=server.run, daemon=True)
        runs.start()
        self.addCleanup(runs.join)
        self.addCleanup(server.close)
        return server

    def ask(self, server: Server, method: str, path: str, **more: Any) -> tuple[int, HTTPMessage]:
        line = HTTPConnection(server.host, server.effective_port, timeout=60)
        self.addCleanup(line.close)
        line.request(method, path, **more)
        answer = line.getresponse()
        answer.read()
        return answer.status, answer.headers


class Served(OnAServer):
    """What strangers may send, and where it answers."""

    def raw(self, server: Server, request: bytes) -> bytes:
        with socket.create_connection(("127.0.0.1", server.effective_port), timeout=60) as line:
            line.sendall(request)
            return line.recv(65536)

    def test_a_strangers_long_request_is_refused_and_an_owners_is_read(self) -> None:
        server = self.served()
        where = f"Host: 127.0.0.1:{server.effective_port}\r\nContent-Length: {BODY_MOST + 1}\r\n"
        long = f"POST /setups/import HTTP/1.1\r\n{where}"
        self.assertIn(b" 413 ", self.raw(server, f"{long}\r\n".encode() + b"x" * 1000))
        self.sign_in()
        cookie = self.client.get_cookie(self.app.config["SESSION_COOKIE_NAME"])
        assert cookie
        for value, known in ((cookie.value, True), (cookie.value[:-3] + "abc", False)):
            sent = f"{long}Cookie: {cookie.key}={value}\r\nConnection: close\r\n\r\n".encode()
            answer = self.raw(server, sent + b"x" * (BODY_MOST + 1))
            self.assertEqual(b" 413 " in answer, not known)

    def test_one_address_has_so_many_connections(self) -> None:
        class Of:
            def __init__(self, address: str) -> None:
                self.addr = (address, 1)
                self.active_channels = dict.fromkeys(range(CONNECTIONS_MOST), self)

        for address, taken in (("192.0.2.66", False), ("127.0.0.1", True)):
            line, far = socket.socketpair()
            self.addCleanup(far.close)
            self.addCleanup(line.close)
            made = guarded(lambda _: False)(Of(address), line, (address, 2), Adjustments(), map={})
            self.assertEqual(made is not None, taken)

    def test_an_address_of_six_is_served(self) -> None:
        if not socket.has_ipv6:
            self.skipTest("this machine has no IPv6")
        self.app.config["HOSTS"] = ("[::1]",)
        try:
            server = self.served("::1")
        except OSError:
            self.skipTest("this machine has no IPv6")
        for path, status in (("/sign-in", 200), ("/kit", 302)):
            self.assertEqual(self.ask(server, "GET", path)[0], status)


class BehindAProxy(OnAServer):
    more = {"BEHIND_PROXY": True, "HOSTS": ("noggin.example",)}  # noqa: RUF012

    def test_cookies_are_for_tls_only_and_tries_are_counted_by_who_made_them(self) -> None:
        server = self.served()

        def sign_in(client_address: str, words: str) -> tuple[int, HTTPMessage]:
            headers = {
                "Host": "127.0.0.1",
                "Content-Type": "application/x-www-form-urlencoded",
                "X-Forwarded-For": client_address,
                "X-Forwarded-Proto": "https",
                "X-Forwarded-Host": "noggin.example",
            }
            return self.ask(
                server, "POST", "/sign-in", body=urlencode({"passphrase": words}), headers=headers
            )

        statuses = [sign_in("192.0.2.66", "wrong")[0] for _ in range(6)]
        self.assertEqual(statuses, [422] * 5 + [429])
        status, headers = sign_in("192.0.2.8", WORDS)
        self.assertEqual(status, 303, "one stranger locks nobody else out")
        self.assertIn("max-age", headers["Strict-Transport-Security"])
        for part in ("Secure", "HttpOnly", "SameSite=Strict"):
            self.assertIn(part, headers["Set-Cookie"])

    def test_behind_the_proxy_of_the_docs(self) -> None:
        """nginx itself, with docs/nginx.conf but for its ports, its certificate and where Noggin is."""
        nginx = which("nginx", path="/usr/sbin:/usr/bin")
        if nginx is None:
            self.skipTest("nginx is not there: tools/nginx.sh puts it there")
        server, folder = self.served(), self.database.parent
        certificate, key = folder / "tls.pem", folder / "tls.key"
        subprocess.run(
            [
                *("openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2"),
                *("-subj", "/CN=noggin.example", "-keyout", str(key), "-out", str(certificate)),
            ],
            check=True,
            capture_output=True,
        )
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        site = (ROOT / "docs" / "nginx.conf").read_text()
        for before, after in (
            ("listen 443 ssl", f"listen 127.0.0.1:{port} ssl"),
            ("listen 80;", f"listen unix:{folder}/plain.sock;"),
            ("/etc/ssl/noggin.example.pem", str(certificate)),
            ("/etc/ssl/noggin.example.key", str(key)),
            ("127.0.0.1:8750", f"127.0.0.1:{server.effective_port}"),
        ):
            self.assertIn(before, site)
            site = site.replace(before, after)
        temporary = "".join(
            f"{kind}_temp_path {folder}/{kind};"
            for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
        )
        config = folder / "nginx.conf"
        config.write_text(
            f"daemon off; pid {folder}/pid; error_log {folder}/error.log; events {{}}"
            f"http {{ access_log off; {temporary} {site} }}"
        )
        process = subprocess.Popen([nginx, "-p", str(folder), "-c", str(config)], stderr=subprocess.DEVNULL)
        self.addCleanup(process.wait)
        self.addCleanup(process.terminate)
        trusted = ssl.create_default_context(cafile=str(certificate))
        trusted.check_hostname = False

        def sign_in(words: str) -> tuple[int, HTTPMessage]:
            line = HTTPSConnection("127.0.0.1", port, context=trusted, timeout=60)
            self.addCleanup(line.close)
            headers = {"Host": "noggin.example", "Content-Type": "application/x-www-form-urlencoded"}
            # What a stranger says of where they are counts for nothing.
            headers["X-Forwarded-For"] = "192.0.2.99"
            line.request("POST", "/sign-in", urlencode({"passphrase": words}), headers)
            answer = line.getresponse()
            answer.read()
            return answer.status, answer.headers

        while True:
            with suppress(ConnectionRefusedError):
                status, headers = sign_in(WORDS)
                break
            self.assertIsNone(process.poll(), "nginx ended")
            time.sleep(0.05)
        self.assertEqual(status, 303)
        self.assertIn("max-age", headers["Strict-Transport-Security"])
        self.assertIn("Secure", headers["Set-Cookie"])
        self.assertEqual([sign_in("wrong")[0] for _ in range(5)], [422] * 4 + [429])


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
