"""How pages travel: small and compressed, static files kept for a year under the name of their content."""

import re
from pathlib import Path

from noggin.web.shared.assets import STATIC, fingerprint
from tests.support import AppCase
from tools import cut_bootstrap

FIRST_VISIT, LATER_VISIT, CHANGE = 220_000, 25_000, 20_000
"""Bytes over the wire that the Bench may take."""

BROWSER = {"Accept-Encoding": "gzip, deflate, br"}


class Travel(AppCase):
    database = "demo"

    def test_every_static_file_of_a_page_is_kept_for_a_year_under_its_fingerprint(self) -> None:
        page = self.client.get("/setups/1").get_data(as_text=True)
        addresses = re.findall(r'(?:href|src)="(/static/[^"]+)"', page)
        self.assertGreater(len(addresses), 8)
        for address in addresses:
            with self.client.get(address) as answer:
                self.assertEqual(
                    answer.headers["Cache-Control"], "public, max-age=31536000, immutable", address
                )

    def test_another_fingerprint_is_asked_for_anew_each_time(self) -> None:
        for address in ("/static/noggin.css", "/static/noggin.css?v=0123456789"):
            with self.client.get(address) as answer:
                self.assertEqual(answer.headers["Cache-Control"], "no-cache")

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
