"""The gate over the server that ships: what strangers may send, where it answers, and behind a proxy."""

import socket
import ssl
import subprocess
import threading
import time
from contextlib import suppress
from http.client import HTTPConnection, HTTPMessage, HTTPSConnection
from pathlib import Path
from shutil import which
from typing import Any
from urllib.parse import urlencode

from waitress.adjustments import Adjustments

from noggin.web.serving.server import Server, listen
from noggin.web.serving.strangers import BODY_MOST, CONNECTIONS_MOST, guarded
from tests.web.test_gate import WORDS, OnANetwork

ROOT = Path(__file__).parent.parent.parent


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
