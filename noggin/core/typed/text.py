"""Typed text before anything is made of it: signs and spaces as they are usual, figures found in it."""

import re

from noggin.core.errors import Wanted, unlike

_SIGNS = str.maketrans({"−": "-", "–": "-", "—": "-", ",": ".", "’": "'", "′": "'", "″": '"', "”": '"'})


NUMBER = r"\d{1,9}(?:\.\d{0,9})?|\.\d{1,9}"


def tidied(text: str) -> str:
    return " ".join(text.translate(_SIGNS).lower().split())


def matched(pattern: str, text: str, wanted: Wanted) -> re.Match[str]:
    found = re.fullmatch(pattern.replace("NUM", f"(?:{NUMBER})"), tidied(text))
    if not found:
        raise unlike(text, wanted)
    return found
