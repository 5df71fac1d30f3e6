"""The book: its chapters are read, found and lead where they say."""

import json
import re
from html import unescape
from pathlib import Path
from urllib.parse import urlsplit

import noggin
from noggin.services.practice import book
from noggin.web.shared.hints import HINTS
from tests.support import AppCase
from tools import book_pictures

ROOT = Path(noggin.__file__).parent


def links(text: str) -> list[str]:
    """Where a chapter's links lead."""
    return re.findall(r"\]\(([^)]+)\)", text)


class Pictures(AppCase):
    def test_each_is_made_of_what_its_document_gives_today(self) -> None:
        """`make book-pictures` makes them anew where this fails."""
        made = json.loads(book_pictures.MADE.read_text(encoding="utf-8"))
        self.assertEqual(set(made), set(book_pictures.PICTURES))
        numbers = book_pictures.with_documents(self.app)
        for name, row in book_pictures.PICTURES.items():
            page = ""
            if isinstance(row, book_pictures.Drawing):
                page = self.client.get(row.address.format(setup=numbers[row.document])).text
            with self.subTest(picture=name):
                self.assertEqual(book_pictures.made_of(name, page), made[name])
                self.assertTrue(book_pictures.file_of(name).is_file())

    def test_every_picture_is_shown_somewhere(self) -> None:
        text = " ".join(one.text for one in book.chapters())
        for name in book_pictures.PICTURES:
            self.assertIn(f"(pictures/{name}.webp)", text)


class Book(AppCase):
    database = "demo"

    def test_every_file_is_a_chapter_and_every_chapter_a_page(self) -> None:
        self.assertEqual({path.stem for path in book.FOLDER.glob("*.md")}, set(book.CHAPTERS))
        contents = unescape(self.client.get("/practice/book").text)
        for one in book.chapters():
            page = self.client.get(f"/practice/book/{one.name}")
            self.assertEqual(page.status_code, 200)
            self.assertIn(one.title, unescape(page.text))
            self.assertIn(one.title, contents)
        self.assertEqual(self.client.get("/practice/book/magic").status_code, 404)

    def test_every_link_leads_somewhere(self) -> None:
        seen = 0
        for one in book.chapters():
            for link in links(one.text):
                seen += 1
                with self.subTest(chapter=one.name, link=link):
                    if link.endswith(".md"):
                        self.assertIn(link.removesuffix(".md"), book.CHAPTERS)
                    elif link.startswith("pictures/"):
                        found = self.client.get(f"/practice/book/{link}")
                        self.assertEqual((found.status_code, found.mimetype), (200, "image/webp"))
                    else:
                        self.assertTrue(urlsplit(link).path.startswith("/"), "no page asks another host")
                        self.assertEqual(self.client.get(link).status_code, 200)
        self.assertGreater(seen, 10)

    def test_what_is_found_has_all_the_words(self) -> None:
        found = book.search("toll stop")
        self.assertGreater(len(found), 1)
        for passage in found:
            self.assertTrue(
                {"toll", "stop"} <= set(re.findall(r"[a-z]+?(?=s?\b)", passage.text.casefold()))
            )
        page = self.client.get("/practice/book?find=brochure").text
        self.assertIn("Measure a light in twenty minutes", page)
        self.assertIn("Nothing in the book has", self.client.get("/practice/book?find=zzz").text)
        self.assertEqual(book.search("  "), ())

    def test_signs_of_html_are_text(self) -> None:
        found = book.as_html(book.Chapter("any", "Any", "a <b>bold</b> & [toll](the-figures.md)"))
        self.assertEqual(found, '<p>a &lt;b&gt;bold&lt;/b&gt; &amp; <a href="the-figures">toll</a></p>\n')

    def test_every_term_of_the_glossary_is_met_and_every_hint_is_in_it(self) -> None:
        terms = re.findall(r"^\*\*([^*]+)\*\*", book.chapter("glossary").text, re.M)
        self.assertEqual(terms, sorted(terms, key=str.casefold))
        said = " ".join(
            path.read_text(encoding="utf-8").casefold()
            for folder in ("core", "forms", "services", "web/templates", "web/shared", "web/pages")
            for path in (ROOT / folder).rglob("*.*")
            if path.suffix in (".py", ".html", ".svg")
        )
        for term in terms:
            for word in term.split(", "):
                self.assertTrue(word.casefold() in said, word)
        known = {term.casefold() for term in book.terms()}
        self.assertEqual(known, {word.casefold() for term in terms for word in term.split(", ")})
        self.assertLessEqual({*HINTS} - {"price", "right-with"}, known)

    def test_special_words_of_the_screens_are_in_the_glossary(self) -> None:
        """Words of the trade, listed here by hand; those that no screen says are left aside."""
        known = {term.casefold() for term in book.terms()}
        met = " ".join(self.text(address) for address in SCREENS).casefold()
        found = {
            word for word in OF_THE_TRADE if re.search(rf"(?<![\w-]){re.escape(word)}s?(?![\w-])", met)
        }
        self.assertGreater(len(found), 20)
        self.assertEqual(found - known, set())

    def text(self, address: str) -> str:
        """What can be read on a page."""
        page = self.client.get(address, follow_redirects=True).text
        return unescape(re.sub(r"<(script|style).*?</\1>|<[^>]+>", " ", page, flags=re.DOTALL))

    def test_terms_go_out_for_the_script_under_a_name_of_their_content(self) -> None:
        head = self.client.get("/practice").text
        address = re.search(r'<meta name="terms"\s+content="([^"]+)"', head)
        assert address
        answer = self.client.get(address[1])
        self.assertIn("immutable", answer.headers["Cache-Control"])
        self.assertEqual({row["term"] for row in answer.json or []}, {*book.terms()})
        self.assertEqual(self.client.get("/practice/book/pictures/nothing.webp").status_code, 404)


SCREENS = (
    *("/", "/setups", "/setups/1", "/setups/2", "/setups/8", "/setups/1/plan", "/setups/1/shoot", "/kit"),
    *("/kit/lights", "/reach", "/bags", "/shoots", "/log", "/practice", "/practice/shutter"),
    *("/practice/drill/how_soft/1", "/practice/drill/short_or_broad/1", "/practice/drill/auto_knows/1"),
)

OF_THE_TRADE = (
    *(
        "ambient",
        "aperture",
        "ballast",
        "bare",
        "broad",
        "brochure",
        "catchlight",
        "class default",
        "clips",
    ),
    *(
        "compensation",
        "cto",
        "curtain",
        "droop",
        "ev",
        "fall-off",
        "feathered",
        "fill",
        "flare",
        "gel",
        "grid",
    ),
    *(
        "guide number",
        "high-speed sync",
        "histogram",
        "incident",
        "ladder",
        "leaf shutter",
        "loop",
        "mid-tone",
    ),
    *("mired", "modifier", "nd", "pop", "reach", "recycle", "reserve", "rim", "sandbag", "scrim", "share"),
    *(
        "short",
        "spill",
        "split",
        "stop",
        "surplus",
        "sync speed",
        "t0.1",
        "t0.5",
        "toll",
        "trigger",
        "triangle",
    ),
)
