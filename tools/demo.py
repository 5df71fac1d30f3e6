"""Writes the demo's shoot document from its day and its set-ups: `noggin/demo/shoot.json` is an open
document like anybody's, and says nothing that `day.json` and `setups/` do not."""

import json

from noggin.demo import FOLDER
from noggin.documents.json_input import read_object
from noggin.documents.setup import canonical

PATH = FOLDER / "shoot.json"


def text() -> str:
    """The shoot document as it should stand."""
    found = read_object((FOLDER / "day.json").read_bytes())
    for slot in found["slots"]:
        slot["setup"] = canonical(read_object((FOLDER / "setups" / f"{slot['setup']}.json").read_bytes()))
    return json.dumps(found, indent=2, ensure_ascii=False) + "\n"


def main() -> None:
    """Write it."""
    PATH.write_text(text(), encoding="utf-8")  # type: ignore[attr-defined]


if __name__ == "__main__":
    main()
