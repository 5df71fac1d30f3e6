"""Noggin where nothing can be imported that a phone has no build of: asks for pages, and prints a line of
JSON for each, with the status that it is answered with. Run as `python -m tests.pocket.bare PATH…`; `SHOOT`
in a path is the number of the demo's day."""

import json
import sys
import tempfile
from pathlib import Path

from noggin.pocket import absent

HERE_TOO = {"fcntl", "resource", "multiprocessing"}
"""Of this machine's own Python, which asks for them itself."""


def main() -> None:
    """Loads the demo, then asks."""
    absent.ABSENT.difference_update(HERE_TOO)
    sys.meta_path.insert(0, absent._Finder())  # before what is installed here
    sys.modules["dateparser"] = None  # type: ignore[assignment]  # is not fetched for a phone
    from noggin.pocket.phone import Phone
    from noggin.services.day.shoots import listed_shoots
    from noggin.services.whole.demo import load_demo_once

    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "noggin.sqlite3"
        phone = Phone(database, "http://phone.example", "/app", lambda *_: None)
        wired = phone._app.extensions["noggin"]
        load_demo_once(wired.store, wired.clock)
        absent.all_loaded()
        shoot = str(listed_shoots(wired.store)[0][0].id)
        for path in sys.argv[1:]:
            answer = phone.answer("GET", path.replace("SHOOT", shoot), [], b"")
            print(json.dumps([path, answer.status]))
        phone.close()


if __name__ == "__main__":
    main()
