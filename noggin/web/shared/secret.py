"""The key that signs sessions: made once, kept beside the database, readable by its owner only."""

import secrets
from pathlib import Path

from noggin.services.errors import NogginError
from noggin.services.passphrase import write_private

LENGTH = 32


class NotAKey(NogginError):
    """What is kept as the key is none."""


def kept_secret(folder: Path) -> bytes:
    """The key in `folder`, made on first use. Raises NotAKey, OSError."""
    path = folder / "secret_key"
    if not path.exists():
        write_private(path, secrets.token_bytes(LENGTH))
    key = path.read_bytes()
    if len(key) != LENGTH:
        raise NotAKey(
            f"{path} is not a key. Remove it; Noggin makes a new one, and open pages must be reloaded"
        )
    return key
