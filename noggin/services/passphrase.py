"""The pass-phrase that opens Noggin on a network: kept as an Argon2id hash (RFC 9106, by `argon2-cffi`'s
defaults) in a file beside the database that its owner alone may read."""

import hashlib
import os
from contextlib import suppress
from pathlib import Path

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError

from noggin.core.errors import NogginError, Refused

LEAST = 10
"""Characters of a pass-phrase (NIST SP 800-63B asks for eight or more)."""

MOST = 1000


class NoPassPhrase(NogginError):
    """No pass-phrase was set."""


class PassPhrase:
    """The pass-phrase of one database. A kept hash says itself how dear it is to try one; `hasher` says it
    for a new one."""

    def __init__(self, database: Path, hasher: PasswordHasher | None = None) -> None:
        self._path = database.with_name(f"{database.name}.passphrase")
        self._hasher = hasher or PasswordHasher()

    def set(self, text: str) -> None:
        """Keep a new one; who is signed in with the old one is so no longer. Raises Refused, OSError."""
        if not LEAST <= len(text) <= MOST:
            raise Refused(
                "pass-phrase", f"must have {LEAST} to {MOST} characters. Four plain words are good"
            )
        write_private(self._path, self._hasher.hash(text).encode())

    def is_set(self) -> bool:
        """Whether there is one."""
        return self._path.exists()

    def matches(self, text: str) -> bool:
        """Whether this is it. Takes its time, whatever is typed."""
        try:
            return self._hasher.verify(self._path.read_text(), text[:MOST])
        except (Argon2Error, InvalidHashError, OSError):
            return False

    def mark(self) -> str:
        """Names the present one without giving it away; sessions carry it, and end when it changes."""
        try:
            return hashlib.sha256(self._path.read_bytes()).hexdigest()[:16]
        except OSError:
            raise NoPassPhrase("Set a pass-phrase first: noggin passphrase") from None


def write_private(path: Path, content: bytes) -> None:
    """Write a file that its owner alone may read, whole or not at all. Raises OSError."""
    path.parent.mkdir(parents=True, exist_ok=True)
    partly = path.with_name(f".{path.name}.{os.getpid()}")
    with suppress(FileNotFoundError):
        partly.unlink()
    handle = os.open(partly, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(handle, "wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    partly.rename(path)
