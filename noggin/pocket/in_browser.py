"""The seam to the browser: what JavaScript hands over as Python values, and answers as it can read them.

It runs inside the browser's Python alone, and nothing but this module knows of JavaScript.
"""

import os
from collections.abc import Callable
from io import BytesIO
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import noggin
from noggin.pocket.absent import all_loaded
from noggin.pocket.phone import Phone

DATABASE = Path("/home/noggin/noggin.sqlite3")

OWN_CODE = Path(noggin.__file__).parent

Ask = Callable[[str, str, list[list[str]], Any], tuple[int, list[list[str]], bytes]]
"""A request (method, path, headers, body) and its answer (status, headers, body)."""


def start(given: Any) -> Ask:
    """Opens Noggin on what the browser kept, and gives what answers requests from now on."""

    def keep(slot: int, content: bytes) -> None:
        try:
            given.keep(slot, content)
        except Exception as error:  # what JavaScript throws has no type outside the browser
            raise OSError(28, str(error)) from error

    kept = given.first.to_bytes(), given.second.to_bytes()
    phone = Phone(DATABASE, given.origin, given.root, keep, kept)
    all_loaded()
    phone.begin_with(given.documents.to_bytes())

    def ask(method: str, path: str, headers: list[list[str]], body: Any) -> Any:
        pairs = [(name, value) for name, value in headers]
        answer = phone.answer(method, path, pairs, bytes(body))
        return answer.status, [list(pair) for pair in answer.headers], answer.body

    return ask


def byte_code() -> bytes:
    """What Python compiled of Noggin's own code while it started, to be put back before the next start. It
    is of the sources it lies beside, by their length and date, and the same sources have the same date."""
    packed = BytesIO()
    with ZipFile(packed, "w") as archive:
        for path in OWN_CODE.rglob("*.pyc"):
            archive.write(path, os.path.relpath(path, OWN_CODE.parent))
    return packed.getvalue()
