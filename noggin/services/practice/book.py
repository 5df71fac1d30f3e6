"""The book: chapters in `docs/guide/`, the same text as lies in the repository, read and searched."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from markdown_it import MarkdownIt

import noggin

FOLDER = Path(noggin.__file__).parent.parent / "docs" / "guide"

CHAPTERS = (
    "first-shoot",
    "when-which",
    "the-figures",
    "measure-a-light",
    "forecast-wrong",
    "frames-and-clock",
    "the-phone",
    "glossary",
)
"""Every chapter, in the order of reading."""

EXCERPTS = 12
"""Passages that a search shows."""


class NoChapter(LookupError):
    """No chapter has this name."""


@dataclass(frozen=True)
class Chapter:
    """One chapter: its name in addresses, its title, and its text as Markdown without the title."""

    name: str
    title: str
    text: str

    @property
    def passages(self) -> tuple[str, ...]:
        """Its paragraphs, headings and rows, without their signs."""
        text = re.sub(r"^\|[-|]+\|$", "", self.text, flags=re.MULTILINE)
        parts = re.split(r"\n\s*\n", text)
        plain = (re.sub(r"!?\[([^\]]+)\]\([^)]*\)", r"\1", part) for part in parts)
        return tuple(re.sub(r"[*#|`]|^\d+\. ", "", " ".join(part.split())) for part in plain)


@dataclass(frozen=True)
class Passage:
    """A passage that has the words that were looked for."""

    chapter: Chapter
    text: str


@cache
def chapters() -> tuple[Chapter, ...]:
    """All chapters."""
    return tuple(_read(name) for name in CHAPTERS)


def _read(name: str) -> Chapter:
    title, _, text = (FOLDER / f"{name}.md").read_text(encoding="utf-8").partition("\n")
    return Chapter(name, title.removeprefix("# "), text)


def chapter(name: str) -> Chapter:
    """One chapter. Raises NoChapter."""
    found = next((one for one in chapters() if one.name == name), None)
    if found is None:
        raise NoChapter(name)
    return found


def picture(name: str) -> bytes:
    """A picture of the book, by the name of its file. Raises NoChapter."""
    path = FOLDER / "pictures" / f"{name}.webp"
    if not re.fullmatch(r"[a-z-]+", name) or not path.is_file():
        raise NoChapter(name)
    return path.read_bytes()


def as_html(found: Chapter) -> str:
    """A chapter as HTML: signs of HTML in its text are text, links to chapters lead to their pages."""
    rendered: str = MarkdownIt("commonmark", {"html": False}).enable("table").render(found.text)
    return re.sub(r'href="([a-z-]+)\.md"', r'href="\1"', rendered)


@cache
def terms() -> Mapping[str, str]:
    """What each term of the glossary means, by the term; one that has several names stands under each."""
    found = re.findall(r"^\*\*([^*]+)\*\*[^:\n]*: (.+)$", chapter("glossary").text, re.MULTILINE)
    return {name: means for names, means in found for name in names.split(", ")}


def search(words: str) -> tuple[Passage, ...]:
    """Passages that have all the words, the first few."""
    wanted = words.casefold().split()
    found = (
        Passage(one, text)
        for one in chapters()
        for text in (one.title, *one.passages)
        if wanted and all(word in text.casefold() for word in wanted)
    )
    return tuple(passage for passage, _ in zip(found, range(EXCERPTS), strict=False))
