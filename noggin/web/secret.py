"""The key that signs sessions: made once, kept beside the database, readable by its owner only."""

import os
import secrets
from pathlib import Path


def kept_secret(folder: Path) -> bytes:
    """The key in `folder`, made on first use."""
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / "secret_key"
    try:
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return path.read_bytes()
    with os.fdopen(handle, "wb") as file:
        key = secrets.token_bytes(32)
        file.write(key)
    return key
