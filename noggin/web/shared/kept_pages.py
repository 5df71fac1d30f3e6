"""Pages that stay readable without the server once they were looked at: a row each. The service worker is
told of them as one pattern, when it is handed out."""

import json
import re
from pathlib import Path

from flask import Flask

KEPT_PAGES = (
    "today.page",
    "bench.page",
    "spot.page",
    "shoots.shoot",
    "live.page",
    "bags.bag",
    "kit.page",
)
"""Their endpoints."""


def pattern(app: Flask) -> str:
    """What addresses of kept pages look like, as a regular expression of JavaScript."""
    rules = [rule for rule in app.url_map.iter_rules() if rule.endpoint in KEPT_PAGES]
    return "^(" + "|".join(sorted(_as_pattern(rule.rule) for rule in rules)) + ")$"


def _as_pattern(rule: str) -> str:
    return re.sub(r"<int:\w+>", r"\\d+", rule)


def service_worker(app: Flask, script: Path) -> str:
    """The script of the service worker, with the pages that it keeps."""
    kept = f"const KEPT = new RegExp({json.dumps(pattern(app))});\n"
    return kept + script.read_text(encoding="utf-8")
