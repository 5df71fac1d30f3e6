"""Names of places as they are compared: without accents, capitals and signs."""

import re
import unicodedata

_LETTERS = str.maketrans(
    {"ß": "ss", "ø": "o", "ł": "l", "đ": "d", "ð": "d", "þ": "th", "æ": "ae", "œ": "oe", "ı": "i"}
)
"""Letters that have no accent to take off."""

_SIGNS = re.compile(r"[\W_]+")


def folded(name: str) -> str:
    """A name in small letters without accents and signs.

    >>> folded("Saint-Jean-de-Luz"), folded("Łódź"), folded("  MÁLAGA ")
    ('saint jean de luz', 'lodz', 'malaga')
    """
    apart = unicodedata.normalize("NFKD", name.casefold().translate(_LETTERS))
    letters = "".join(letter for letter in apart if not unicodedata.combining(letter))
    return _SIGNS.sub(" ", letters).strip()
