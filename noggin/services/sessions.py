"""Who is signed in, and which codes were used: kept in a file beside the database that its owner alone may
read, so that what ended stays ended, whichever process is asked and however often a server starts again."""

import json
import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path
from typing import Any

from noggin.core.units import Seconds
from noggin.services.passphrase import write_private

SESSIONS_MOST = 500
"""So many are known at once; the one that ends first goes when another begins."""


@dataclass(frozen=True)
class SignedIn:
    """One browser: until when (seconds since 1970), and whether it is a phone that was paired."""

    until: Seconds
    phone: bool


class Sessions:
    """The sessions of one database. Times are seconds since 1970."""

    def __init__(self, database: Path) -> None:
        self._path = database.with_name(f"{database.name}.sessions")

    def begin(self, now: Seconds, until: Seconds, *, phone: bool) -> str:
        """Let a browser in; its session's number, which cannot be guessed. Raises OSError."""
        number = secrets.token_urlsafe(18)
        known, codes = self._read()
        known = {key: one for key, one in known.items() if one.until > now}
        too_many = max(len(known) + 1 - SESSIONS_MOST, 0)
        for key in sorted(known, key=lambda key: known[key].until)[:too_many]:
            del known[key]
        known[_mark(number)] = SignedIn(until, phone)
        self._write(known, codes)
        return number

    def known(self, number: str, now: Seconds) -> SignedIn | None:
        """The session of this number, unless it has ended."""
        found = self._read()[0].get(_mark(number))
        return found if found and found.until > now else None

    def end(self, number: str) -> None:
        """End one session. Raises OSError."""
        known, codes = self._read()
        if known.pop(_mark(number), None):
            self._write(known, codes)

    def is_used(self, code: str) -> bool:
        """Whether a code was used up."""
        return _mark(code) in self._read()[1]

    def use_up(self, code: str, now: Seconds, until: Seconds) -> None:
        """Remember a code as used until it would not be good any more. Raises OSError."""
        known, codes = self._read()
        codes = {mark: end for mark, end in codes.items() if end > now}
        self._write(known, {**codes, _mark(code): until})

    def _read(self) -> tuple[dict[str, SignedIn], dict[str, Seconds]]:
        try:
            found: Mapping[str, Any] = json.loads(self._path.read_bytes())
            known = {key: SignedIn(**one) for key, one in found["sessions"].items()}
            return known, {str(mark): float(end) for mark, end in found["codes"].items()}
        except FileNotFoundError:
            return {}, {}
        except (ValueError, TypeError, KeyError, AttributeError):
            return {}, {}  # what cannot be read lets nobody in

    def _write(self, known: Mapping[str, SignedIn], codes: Mapping[str, Seconds]) -> None:
        content = {"sessions": {key: vars(one) for key, one in known.items()}, "codes": dict(codes)}
        write_private(self._path, json.dumps(content).encode())


def _mark(secret: str) -> str:
    """What is kept of a number or a code: who reads the file cannot come in with it."""
    return sha256(secret.encode()).hexdigest()
