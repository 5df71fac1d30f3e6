"""Which server has a database: two do no harm, but whoever starts a second one should know."""

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def claimed(database: Path) -> Iterator[int | None]:
    """Claim a database while inside; the number of the process that has claimed it already, or None. The
    system lets go of a claim when its process ends in whatever way."""
    path = database.with_name(f"{database.name}.server")
    path.parent.mkdir(parents=True, exist_ok=True)
    handle = os.open(path, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            yield int(os.read(handle, 20) or b"0")
            return
        os.truncate(handle, 0)
        os.write(handle, str(os.getpid()).encode())
        yield None
    finally:
        os.close(handle)
