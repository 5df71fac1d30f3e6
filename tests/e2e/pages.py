"""Every page of the application, found by its URL map: what is built later is in it by itself."""

import json
import os
from contextlib import closing
from pathlib import Path
from typing import Any

from flask import Flask
from flask.testing import FlaskClient
from werkzeug.routing import Rule

from noggin.services.day import shoots
from noggin.services.gear import bags, kit, measuring
from noggin.store.frames import Wanted
from noggin.store.store import Store
from tests.support import NOW, SCRATCH

QUERIES = {"reach.page": "?setup=2", "live.page": "?at=18:20&thirds=-1", "bench.page": "?look=hss"}
"""What a page is asked for besides, so that all of it shows."""


OF_ITS_OWN: dict[str, dict[str, Any]] = {"practice.chapter": {"name": "when-which"}}
"""What a page is about where no other page's name would do."""

ELSEWHERE = {"pocket.file"}
"""A site of its own, whose pages are these."""

ALSO = ("/practice/drill/fewest_frames/7?frames=9.4.6.0.9",)
"""Pages that share their rule with another."""

KNOWN = Path(SCRATCH.name) / "pages.json"
"""What was found, for every worker: the demo's numbers are the same in every test."""


def pages(app: Flask, client: FlaskClient, store: Store) -> list[str]:
    """The address of each page, its numbers taken from the demo."""
    if not KNOWN.exists():
        partly = KNOWN.with_suffix(f".{os.getpid()}")
        partly.write_text(json.dumps(_found(app, client, store)))
        partly.rename(KNOWN)
    found: list[str] = json.loads(KNOWN.read_text())
    return found


def _found(app: Flask, client: FlaskClient, store: Store) -> list[str]:
    numbers = {
        "setup_id": 1,
        "gear_id": kit.gear_named(store, "Large head, 600 Ws class"),
        "bag_id": bags.all_bags(store)[0].id,
        "shoot_id": shoots.listed_shoots(store)[0][0].id,
        "frame_id": store.frames.page(1, Wanted())[0].id,
    }
    on_day = shoots.open_shoot(store, lambda: NOW, shoots.listed_shoots(store)[0][0].id)
    index = next(placed.index for placed in on_day.slots if placed.setup_id == 1)
    sheet = measuring.sheets_of(kit.open_gear(store, numbers["gear_id"]))[0][0]
    words = {
        "index": index,
        "row": "reserve",
        "name": "0",
        "code": "old",
        "drill": "in_high_speed",
        "seed": 7,
    }
    found = []
    for rule in app.url_map.iter_rules():
        if "GET" not in (rule.methods or ()) or rule.endpoint == "static" or "." in rule.rule:
            continue  # what has an ending is a file
        if rule.endpoint in ELSEWHERE:
            continue
        known = numbers | words | {"key": sheet if rule.endpoint.startswith("kit") else "hss"}
        known |= OF_ITS_OWN.get(rule.endpoint, {})
        address = _address(app, rule, known) + QUERIES.get(rule.endpoint, "")
        with closing(client.get(address)) as answer:
            is_page = answer.mimetype == "text/html" and "Content-Disposition" not in answer.headers
            if answer.status_code == 200 and is_page and "<html" in answer.text:
                found.append(address)
    return [*found, *ALSO]


def _address(app: Flask, rule: Rule, known: dict[str, Any]) -> str:
    with app.test_request_context():
        built: str = app.url_for(rule.endpoint, **{name: known[name] for name in rule.arguments})
        return built
