"""Writes the JSON Schemas of the open documents into docs/schema/."""

import json
from pathlib import Path

from noggin.documents.daylight import LightOfDay
from noggin.documents.kit import KitDocument
from noggin.documents.log import LogDocument
from noggin.documents.plan import PlanDocument
from noggin.documents.pops import PopsAnswer, PopsDocument
from noggin.documents.setup import SetUpDocument
from noggin.documents.shoot import ShootDocument

FOLDER = Path(__file__).parent.parent / "docs" / "schema"
SCHEMAS = {
    "noggin-setup-1.json": SetUpDocument,
    "noggin-plan-1.json": PlanDocument,
    "noggin-pops-1.json": PopsDocument,
    "noggin-pops-answer-1.json": PopsAnswer,
    "noggin-light-1.json": LightOfDay,
    "noggin-kit-1.json": KitDocument,
    "noggin-log-1.json": LogDocument,
    "noggin-shoot-1.json": ShootDocument,
}


def text(name: str) -> str:
    """The schema file as it should stand."""
    schema = SCHEMAS[name].model_json_schema(mode="validation")
    return json.dumps(schema, indent=2, ensure_ascii=False, sort_keys=True) + "\n"


def main() -> None:
    """Write every schema."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name in SCHEMAS:
        (FOLDER / name).write_text(text(name), encoding="utf-8")


if __name__ == "__main__":
    main()
