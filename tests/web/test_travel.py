"""How pages travel: small and compressed, static files kept for a year under the name of their content."""

import re
import shutil
from base64 import b64encode
from hashlib import sha256
from pathlib import Path

from backports import zstd

from noggin.web import create_app
from noggin.web.pages import bench
from noggin.web.shared.assets import STATIC, TOGETHER, fingerprint
from tests.support import AppCase, ready_database
from tools import cut_bootstrap

FIRST_VISIT, LATER_VISIT, CHANGE = 220_000, 25_000, 20_000
"""Bytes over the wire that the Bench may take."""

BROWSER = {"Accept-Encoding": "gzip, deflate, br"}


class Travel(AppCase):
    database = "demo"

    def test_every_static_file_of_a_page_is_kept_for_a_year_under_its_fingerprint(self) -> None:
        page = self.client.get("/setups/1").get_data(as_text=True)
        addresses = re.findall(r'(?:href|src)="(/static/[^"]+)"', page)
        self.assertGreater(len(addresses), 5)
        for address in addresses:
            with self.client.get(address) as answer:
                self.assertEqual(
                    answer.headers["Cache-Control"], "public, max-age=31536000, immutable", address
                )

    def test_another_fingerprint_is_asked_for_anew_each_time(self) -> None:
        for address in ("/static/noggin.css", "/static/noggin.css?v=0123456789"):
            with self.client.get(address) as answer:
                self.assertEqual(answer.headers["Cache-Control"], "no-cache")

    def test_no_style_looks_into_the_whole_page(self) -> None:
        """`body:has(…)`, or `:has(…)` of anything: every change anywhere would cost the styles of it all
        (Selectors Level 4; as Chromium invalidates them, seen in its traces)."""
        wide = re.compile(r"(?:^|[,{}\s>+~])(?:html|body|main|\*|:root)?:has\(", re.MULTILINE)
        self.assertTrue(wide.search(":has(.card) :target {}"))
        self.assertTrue(wide.search("a, body:has(.card) {}"))
        self.assertFalse(wide.search(".field:has(select) {}"))
        for sheet in STATIC.glob("*.css"):
            if sheet.name != "paper.css":  # on paper nothing changes
                self.assertIsNone(wide.search(sheet.read_text()), sheet.name)

    def test_one_sheet_and_one_script_hold_every_part_in_order(self) -> None:
        for name, parts in TOGETHER.items():
            with self.client.get(f"/static/{name}") as answer:
                held = answer.data
            places = [held.index((STATIC / part).read_bytes()) for part in parts]
            self.assertEqual(places, sorted(places))
        named = {part for parts in TOGETHER.values() for part in parts}
        sheets = {sheet.name for sheet in STATIC.glob("*.css")}
        self.assertLessEqual(sheets, named)

    def test_the_font_in_the_style_sheet_goes_by_its_fingerprint(self) -> None:
        sheet = (STATIC / "noggin.css").read_text()
        (font, version) = re.findall(r'url\("([^"?]+)\?v=(\w+)"\)', sheet)[0]
        self.assertEqual(version, fingerprint(font))

    def test_what_a_visit_takes_over_the_wire(self) -> None:
        first = self.client.get("/setups/1", headers=BROWSER)
        self.assertIn(first.headers["Content-Encoding"], ("br", "gzip"))
        page = self.client.get("/setups/1").get_data(as_text=True)
        total = len(first.data)
        for address in set(re.findall(r'(?:href|src)="(/static/[^"]+)"', page)):
            with self.client.get(address, headers=BROWSER) as answer:
                total += len(answer.data)
        self.assertLess(len(first.data), LATER_VISIT)
        self.assertLess(total, FIRST_VISIT)
        for address in ("/setups/1/figures/aperture", "/setups/1/figures/aperture?settled=1"):
            change = self.client.post(
                address, data={"text": "4"}, headers={**BROWSER, "HX-Request": "true"}
            )
            self.assertLess(len(change.data), CHANGE, address)

    def test_a_browser_that_holds_the_sample_page_is_sent_what_is_new(self) -> None:
        """RFC 9842: named by a link, held by its hash, and undone by who knows nothing but that page."""
        page = self.client.get("/setups/1", headers=BROWSER)
        link = re.fullmatch(r'<(/dictionary/\w+)>; rel="compression-dictionary"', page.headers["Link"])
        assert link
        sample = self.client.get(link[1])
        self.assertEqual(sample.headers["Use-As-Dictionary"], 'match="/setups/*"')
        self.assertIn("immutable", sample.headers["Cache-Control"])
        held = f":{b64encode(sha256(sample.data).digest()).decode()}:"
        knows = {"Accept-Encoding": "gzip, br, zstd, dcb, dcz", "Available-Dictionary": held}
        why = "/setups/1/why/nd/power"
        plain = self.client.get(why).data
        new = self.client.get(why, headers=knows)
        self.assertEqual(new.headers["Content-Encoding"], "dcz")
        self.assertIn("available-dictionary", new.headers["Vary"].lower())
        magic, digest, text = new.data[:8], new.data[8:40], new.data[40:]
        self.assertEqual(magic.hex(), "5e2a4d1820000000")
        self.assertEqual(digest, sha256(sample.data).digest())
        undone = zstd.decompress(text, zstd_dict=zstd.ZstdDict(sample.data, is_raw=True))
        self.assertEqual(re.sub(rb"[\w.-]{60,}", b"", undone), re.sub(rb"[\w.-]{60,}", b"", plain))
        rest, part = "/setups/1/rest?steps=1", {"HX-Request": "true"}
        few, many = (self.client.get(rest, headers={**said, **part}).data for said in (knows, BROWSER))
        self.assertLess(2.5 * len(few), len(many))
        other = {**knows, "Available-Dictionary": f":{b64encode(bytes(32)).decode()}:"}
        self.assertEqual(self.client.get("/setups/1", headers=other).headers["Content-Encoding"], "br")
        self.assertEqual(self.client.get("/dictionary/0").status_code, 404)

    def test_the_sample_page_holds_nothing_of_anybodys_and_is_the_same_everywhere(self) -> None:
        found = set()
        for database, cookie in (("demo", "order=flash"), ("empty", "")):
            path = self.path.with_name(f"{database}.sqlite3")
            shutil.copy(ready_database(database), path)
            app = create_app({"DATABASE": path})
            with app.test_request_context("/setups/2?look=hss", headers={"Cookie": cookie}):
                found.add(bench.sample())
        self.assertEqual(len(found), 1)
        self.assertNotIn("observatory", found.pop().lower())

    def test_without_brotli_pages_go_as_gzip(self) -> None:
        answer = self.client.get("/setups", headers={"Accept-Encoding": "gzip"})
        self.assertEqual(answer.headers["Content-Encoding"], "gzip")
        self.assertLess(
            len(self.client.get("/setups/1", headers={"Accept-Encoding": "gzip"}).data), LATER_VISIT
        )

    def test_bootstrap_is_cut_to_what_the_pages_name(self) -> None:
        whole = Path(cut_bootstrap.WHOLE).read_text()
        self.assertEqual(cut_bootstrap.cut(whole, cut_bootstrap.named()), cut_bootstrap.CUT.read_text())

    def test_a_change_has_another_stamp_and_a_look_has_not(self) -> None:
        before = self.client.get("/alive")
        self.assertEqual((before.status_code, before.data), (204, b""))
        again = self.client.get("/setups/1")
        self.assertEqual(again.headers["Noggin-Stamp"], before.headers["Noggin-Stamp"])
        change = self.client.post("/setups/1/figures/aperture", data={"text": "4"})
        self.assertNotEqual(change.headers["Noggin-Stamp"], before.headers["Noggin-Stamp"])
        after = self.client.get("/alive")
        self.assertEqual(after.headers["Noggin-Stamp"], change.headers["Noggin-Stamp"])
