"""Typed text before anything is made of it: signs and spaces as they are usual, figures found in it."""

import re

from noggin.core.errors import Wanted, unlike

_SIGNS = str.maketrans({"−": "-", "–": "-", "—": "-", ",": ".", "’": "'", "′": "'", "″": '"', "”": '"'})


NUMBER = r"\d{1,9}(?:\.\d{0,9})?|\.\d{1,9}"


_THOUSANDS = re.compile(r"(?<![\d.,])[1-9]\d{0,2}(?:,\d{3})+(?![\d.,]*\d)")
"""Figures in groups of three, as in `1,000` and `1/8,000`; `0,125` and `2,5` have a decimal comma."""


def without_thousands(text: str) -> str:
    """Without the commas that part thousands.

    >>> without_thousands("1/8,000 ISO 1,600, −2")
    '1/8000 ISO 1600, −2'
    """
    return _THOUSANDS.sub(lambda found: found[0].replace(",", ""), text)


def tidied(text: str) -> str:
    """Small letters, plain signs and single spaces; a comma is a decimal point unless it parts thousands.

    >>> tidied("1/8,000"), tidied("2,5 m"), tidied("0,125"), tidied("10,000")
    ('1/8000', '2.5 m', '0.125', '10000')
    """
    return " ".join(without_thousands(text).translate(_SIGNS).lower().split())


def matched(pattern: str, text: str, wanted: Wanted) -> re.Match[str]:
    found = re.fullmatch(pattern.replace("NUM", f"(?:{NUMBER})"), tidied(text))
    if not found:
        raise unlike(text, wanted)
    return found
