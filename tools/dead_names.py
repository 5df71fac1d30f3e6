"""Names that nothing uses, by vulture; names in templates count as used.

Run as `python -m tools.dead_names`. What stands in EXCEPTIONS is used in a way that no reading of the code
shows.
"""

import re
import sys
from pathlib import Path

from vulture import Vulture
from vulture.core import Item

ROOT = Path(__file__).parent.parent

EXCEPTIONS = {
    "pydantic reads it": ("model_config",),
    "a field of a document": (
        "sun_height_deg",
        "sun_azimuth_deg",
        "light_class",
        "for_gear",
        "white_dress",
        "dark_suit",
    ),
    "JavaScript asks for it": ("byte_code",),
    "a library reads it": (
        "compress_type",
        "external_attr",
        "isolation_level",
        "text_factory",
        "undefined",
        "lstrip_blocks",
        "trim_blocks",
        "bytecode_cache",
        "session_protection",
        "permanent",
        "max_content_length",
        "content_type",
        "direct_passthrough",
        "protocol_version",
        "test_client_class",
        "unraisablehook",
        "failfast",
        "MAX_IMAGE_PIXELS",
        "channel_class",
        "parser_class",
        "max_request_body_size",
    ),
    "compared with all else of its tuple": ("made_of",),
    "a library calls it": (
        "load_tests",
        "handle_starttag",
        "handle_endtag",
        "visit_JoinedStr",
        "find_spec",
        "create_module",
        "exec_module",
    ),
}
"""Names that stay, by why."""

KEPT = {name for names in EXCEPTIONS.values() for name in names}

DECORATORS = ["@pages.*", "@app.*", "@field_validator", "@model_validator", "@model_serializer", "@event.*"]
"""What is called by a library that it was handed to."""


def main() -> int:
    """0 where every name is used, else 1 with each that is not on a line."""
    vulture = Vulture(ignore_decorators=DECORATORS)
    folders = ("noggin", "tests", "tools", "benchmarks")
    vulture.scavenge([str(ROOT / folder) for folder in folders], exclude=["*/migrations/versions/*"])
    in_templates = _words_of_templates()
    unused = [
        item
        for item in vulture.get_unused_code(min_confidence=60)
        if item.name not in in_templates and item.name not in KEPT and not _is_test(item)
    ]
    for item in unused:
        print(f"{Path(item.filename).relative_to(ROOT)}:{item.first_lineno}: {item.message}")
    return bool(unused)


def _is_test(item: Item) -> bool:
    """Whether unittest finds it by its name or its base."""
    return "tests" in Path(item.filename).relative_to(ROOT).parts and item.typ == "class"


def _words_of_templates() -> set[str]:
    folder = ROOT / "noggin" / "web" / "templates"
    texts = (path.read_text(encoding="utf-8") for path in folder.rglob("*.*"))
    return {word for text in texts for word in re.findall(r"\w+", text)}


if __name__ == "__main__":
    sys.exit(main())
