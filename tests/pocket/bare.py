"""Noggin where nothing can be imported that a phone has no build of: asks for pages, and prints a line of
JSON for each, with the status that it is answered with. Run as `python -m tests.pocket.bare ARCHIVE PATH…`;
`SHOOT` in a path is the number of the first day of what the archive brings along, `SETUP3` that of its
fourth set-up."""

import json
import re
import sys
import tempfile
from pathlib import Path

from noggin.pocket import absent

HERE_TOO = {"fcntl", "resource", "multiprocessing"}
"""Of this machine's own Python, which asks for them itself."""


def main() -> None:
    """Takes in what is brought along, then asks."""
    absent.ABSENT.difference_update(HERE_TOO)
    sys.meta_path.insert(0, absent._Finder())  # before what is installed here
    sys.modules["dateparser"] = None  # type: ignore[assignment]  # is not fetched for a phone
    from noggin.pocket.phone import Phone
    from noggin.services.day.shoots import listed_shoots

    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "noggin.sqlite3"
        phone = Phone(database, "http://phone.example", "/app", lambda *_: None)
        absent.all_loaded()
        phone.begin_with(Path(sys.argv[1]).read_bytes())
        wired = phone._app.extensions["noggin"]
        shoot = str(listed_shoots(wired.store)[0][0].id)
        setups = sorted(wired.store.setups.texts())
        for path in sys.argv[2:]:
            asked = re.sub(r"SETUP(\d)", lambda found: str(setups[int(found[1])]), path)
            answer = phone.answer("GET", asked.replace("SHOOT", shoot), [], b"")
            print(json.dumps([path, answer.status]))
        phone.close()


if __name__ == "__main__":
    main()
