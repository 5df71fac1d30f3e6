"""The book: its chapters are read, found and lead where they say."""

import re
from html import unescape
from pathlib import Path
from urllib.parse import urlsplit

import noggin
from noggin.services.practice import book
from noggin.web.shared.hints import HINTS
from tests.support import AppCase

ROOT = Path(noggin.__file__).parent


def links(text: str) -> list[str]:
    """Where a chapter's links lead."""
    return re.findall(r"\]\(([^)]+)\)", text)


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
        glossary = book.chapter("glossary").text.casefold()
        for key in HINTS:
            if key not in ("price", "right-with"):
                self.assertIn(f"**{key}**", glossary)
