"""The pocket edition as a static site."""

import gzip
import json
import re
import tempfile
from io import BytesIO
from pathlib import Path
from zipfile import ZipFile

from click.testing import CliRunner

from noggin.cli import main
from noggin.services.whole.pocket_site import PACKAGE, Site, for_a_phone, pocket_site, pocket_zip
from tests.support import AppCase

MOST_FETCHED = 14_000_000
"""Bytes, compressed as hosts do it (gzip, RFC 1952)."""


def listed(site: Site) -> list[str]:
    """The files that the service worker keeps."""
    found = re.search(r"^const FILES = (\[.*\]);$", site["service_worker.js"].decode(), re.MULTILINE)
    return list(json.loads(found[1])) if found else []


def version(site: Site) -> str:
    return site["service_worker.js"].decode().split("\n")[0]


class Sites(AppCase):
    database = "demo"

    def test_every_file_is_kept_and_all_of_it_is_small_enough(self) -> None:
        site = pocket_site()
        kept = {name or "index.html" for name in listed(site)}
        self.assertEqual(kept, set(site) - {"service_worker.js"})
        self.assertLess(sum(len(gzip.compress(content)) for content in site.values()), MOST_FETCHED)

    def test_what_its_page_names_is_there_and_nobody_else_is_asked(self) -> None:
        site = pocket_site()
        page = site["index.html"].decode()
        for name in re.findall(r'(?:src|href)="([^"]+)"', page):
            self.assertIn(name, site)
        for name in ("index.html", "shell.js", "python_host.js", "pocket.css", "service_worker.js"):
            self.assertNotRegex(site[name].decode(), r"https?://")
        for icon in json.loads(site["manifest.webmanifest"])["icons"]:
            self.assertIn(icon["src"], site)
        self.assertNotIn("unsafe-eval", page.replace("wasm-unsafe-eval", ""))

    def test_a_change_of_anything_is_another_version_and_none_is_none(self) -> None:
        given = list(for_a_phone(self.store, self.wiring.clock))
        self.assertEqual(version(pocket_site()), version(pocket_site()))
        self.assertNotEqual(version(pocket_site()), version(pocket_site(given)))

    def test_noggin_comes_whole_but_for_what_a_phone_cannot_run(self) -> None:
        inside = set(ZipFile(BytesIO(pocket_site()["noggin.zip"])).namelist())
        for path in (PACKAGE / "core").rglob("*.py"):
            self.assertIn(f"noggin/{path.relative_to(PACKAGE).as_posix()}", inside)
        for name in ("cli/server.py", "gazetteer/towns.sqlite3", "pocket/vendor/README.md"):
            self.assertNotIn(f"noggin/{name}", inside)

    def test_the_server_gives_it_with_a_policy_that_evaluates_nothing(self) -> None:
        page = self.client.get("/pocket/")
        policy = page.headers["Content-Security-Policy"]
        self.assertIn("script-src 'self' 'wasm-unsafe-eval';", policy)
        runtime = self.client.get("/pocket/vendor/pyodide.asm.wasm")
        self.assertEqual((runtime.status_code, runtime.mimetype), (200, "application/wasm"))
        known = {"If-None-Match": self.client.get("/pocket/shell.js").headers["ETag"]}
        self.assertEqual(self.client.get("/pocket/shell.js", headers=known).status_code, 304)
        self.assertEqual(self.client.get("/pocket/nothing.js").status_code, 404)
        self.assertIn('href="/pocket/"', self.client.get("/phone").text)

    def test_one_file_brings_along_what_is_kept_on_wish(self) -> None:
        kept = len(list(for_a_phone(self.store, self.wiring.clock)))
        for wish, brought in (("", 0), ("?with=everything", kept)):
            site = ZipFile(BytesIO(self.client.get(f"/pocket.zip{wish}").data))
            given = ZipFile(BytesIO(site.read("given.zip")))
            self.assertEqual(len(given.namelist()), brought)

    def test_the_command_writes_a_folder_or_one_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            into, packed = Path(folder) / "site", Path(folder) / "site.zip"
            wish = ["pocket", str(into), "--with-everything", "--database", str(self.path)]
            said = CliRunner().invoke(main, wish)
            self.assertEqual((said.exit_code, said.output.split(":")[0]), (0, str(into)))
            site = pocket_site(for_a_phone(self.store, self.wiring.clock))
            written = {str(one.relative_to(into)) for one in into.rglob("*") if one.is_file()}
            self.assertEqual(written, set(site))
            self.assertEqual((into / "given.zip").read_bytes(), site["given.zip"])
            self.assertEqual(CliRunner().invoke(main, ["pocket", str(packed)]).exit_code, 0)
            self.assertEqual(packed.read_bytes(), pocket_zip())
            self.assertNotEqual(CliRunner().invoke(main, ["pocket", str(into)]).exit_code, 0)
