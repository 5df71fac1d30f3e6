"""Words of the craft, and Noggin's own, that explain themselves where they stand: on hover and on tap."""

from hashlib import sha256
from json import dumps

from noggin.services.practice import book

PLAIN = frozenset(
    {
        *("aperture", "background", "bare", "brochure", "compensation", "fill", "flare", "gel", "grid"),
        *("histogram", "incident", "intention", "key", "level", "look", "modifier", "reach", "recycle"),
        *("sandbag", "school", "short", "split", "stop", "take", "trigger", "wall", "zone"),
    }
)
"""Terms that are plain words too: they explain themselves when they are tapped, and are not underlined."""


def _hint(term: str) -> str:
    means = book.terms()[term]
    return means[:1].upper() + means[1:]


HINTS = {
    **{term.casefold(): _hint(term) for term in ("Reserve", "Toll", "Share", "Spill")},
    "right-with": "From all frames of this take: how sure it is that face and background are within a third"
    " of a stop of what you meant. Below 90% one more look pays.",
    "price": "What a method that works costs besides: light in the finder, movement that smears, depth,"
    " power.",
}
"""What each word means that is a button, by its key."""

WORDS = dumps(
    [
        {"term": term, "means": means, "plain": term.casefold() in PLAIN}
        for term, means in sorted(book.terms().items(), key=lambda row: -len(row[0]))
    ]
)
"""Every term of the glossary for the script that explains them, the longest first."""

WORDS_NAME = sha256(WORDS.encode()).hexdigest()[:10]
"""A name of their content."""
