"""The application as it runs on a phone: requests in, answers out, and what was changed kept before it is
answered."""

import sqlite3
from collections.abc import Callable, Iterable
from contextlib import closing
from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import NamedTuple
from urllib.parse import urlsplit

from werkzeug.test import Client

from noggin.pocket import slots
from noggin.services.whole.safekeeping import bring_zip
from noggin.web import create_app

Keep = Callable[[int, bytes], None]
"""Writes a slot (0 or 1) to its end and sees it safe. Raises OSError where there is no room."""

NOT_KEPT = 507
"""Insufficient Storage. Source: RFC 4918, section 11.5."""


class PhoneAnswer(NamedTuple):
    """What a request is answered with."""

    status: int
    headers: list[tuple[str, str]]
    body: bytes


class Phone:
    """Noggin on a database that is held in memory, at `root` of the site that a phone has it from.

    `kept` are the two slots as they are found (empty: never written). Raises what opening a
    database raises.
    """

    def __init__(
        self, database: Path, origin: str, root: str, keep: Keep, kept: tuple[bytes, bytes] = (b"", b"")
    ) -> None:
        found = slots.newest(*kept)
        self._keep, self._number = keep, found.number if found else 0
        database.parent.mkdir(parents=True, exist_ok=True)
        if found:
            database.write_bytes(found.content)
        parts = urlsplit(origin)
        host = parts.netloc.removesuffix(f":{parts.port}")
        self._app = create_app({"DATABASE": database, "HOSTS": (host,), "POCKET": True})
        self._client = Client(self._app)
        self._base = f"{origin}{root}"
        # A connection of its own sees by this number that another has written.
        self._watch = sqlite3.connect(database)
        self._is_new = found is None
        self._version = self._data_version()
        self._content = self._watch.serialize()

    def close(self) -> None:
        """Let go of the database."""
        self._watch.close()
        self._app.extensions["noggin"].store.close()

    def begin_with(self, archive: bytes) -> None:
        """Take what the site brings along, where nothing was ever kept here. Raises BadDocument,
        OSError."""
        if self._is_new:
            wired = self._app.extensions["noggin"]
            bring_zip(wired.store, wired.clock, archive)
            self._keep_what_changed()

    def answer(
        self, method: str, path: str, headers: Iterable[tuple[str, str]], body: bytes
    ) -> PhoneAnswer:
        """The answer to a request; `path` is under the root, with its query. What the request changed is
        kept first; where that fails it is taken back, and the answer says so."""
        given = self._client.open(path, self._base, method=method, headers=list(headers), data=body)
        answer = PhoneAnswer(given.status_code, list(given.headers), given.get_data())
        given.close()
        try:
            self._keep_what_changed()
        except OSError as error:
            self._take_back()
            return PhoneAnswer(NOT_KEPT, [("Content-Type", "text/html; charset=utf-8")], _full(error))
        return answer

    def _keep_what_changed(self) -> None:
        version = self._data_version()
        if version == self._version:
            return
        content = self._watch.serialize()
        number = self._number + 1
        self._keep(number % 2, slots.written(number, content))
        self._number, self._content, self._version = number, content, version

    def _take_back(self) -> None:
        """What was kept last, over what was changed since."""
        with NamedTemporaryFile(suffix=".sqlite3") as file:
            Path(file.name).write_bytes(self._content)
            with closing(sqlite3.connect(file.name)) as before:
                before.backup(self._watch)
        self._version = self._data_version()

    def _data_version(self) -> int:
        return int(self._watch.execute("PRAGMA data_version").fetchone()[0])


def _full(error: OSError) -> bytes:
    return (
        "<!DOCTYPE html><title>Not kept</title><h1>Not kept</h1><p>This phone has no room for it"
        f" ({error.strerror or error}). Nothing of this was kept. Make room, then do it again.</p>"
    ).encode()
