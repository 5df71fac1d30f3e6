"""Writes the JSON Schemas of the open documents to `docs/schema/`. Run after a model changes."""

import json
from pathlib import Path

from noggin.documents.formats import FORMATS, Format

FOLDER = Path(__file__).parent.parent / "docs" / "schema"


def text(of: Format) -> str:
    """The schema file as it should stand."""
    schema = of.model.model_json_schema(mode="validation")
    return json.dumps(schema, indent=2, ensure_ascii=False, sort_keys=True) + "\n"


def main() -> None:
    """Write every schema."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    for each in FORMATS:
        (FOLDER / each.schema).write_text(text(each), encoding="utf-8")


if __name__ == "__main__":
    main()
