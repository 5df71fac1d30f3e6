"""Odd input on every route of the URL map: forms with fields that nobody would fill in so, and documents
bent in one or two places. Nothing may be answered with a status of 500 or take over two seconds.

Run: python -m tools.fuzz [FORMS] [DOCUMENTS] [SEED]
"""

import json
import random
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from html.parser import HTMLParser
from io import BytesIO
from pathlib import Path
from typing import Any

from flask import Flask
from flask.testing import FlaskClient

from noggin.demo import demo_documents, demo_kit, demo_shoot
from noggin.services.clock import system_clock
from noggin.services.whole.demo import load_demo_once
from noggin.web import create_app

SLOW_S = 2.0

ODD = (
    "", " ", "0", "-1", "1", "12", "999999999", "-999999999999999999999", "9223372036854775807",
    "9223372036854775808", "1" * 400, "1e400", "-1e400", "nan", "inf", "1e-400", "0.0000001", "½", "٣",
    "1/0", "0/0", "1/1e400", "f/0", "f/1e9", "1/50O", "abc", "\x00", "a\x00b", "x" * 121, "x" * 8_001,
    "x" * 70_000, "é" * 300, "‮abc", "'; DROP TABLE kept; --", "<script>", "{{ 7*7 }}", "%s%n",
    "=1+1", "2027-06-19", "2011-12-30", "9999-12-31", "0001-01-01", "2027-02-30", "25:61", "24:00", "00:00",
    "Pacific/Apia", "Europe/Madrid", "../../etc/passwd", "42.46, 0.71", "91, 181", "1,000", "2,5", ",,,,",
    "true", "null", "[]", "{}", "ND" * 100, "1 2 3 4 5 6 7 8 9", "\r\n\r\n", "🙂" * 40, "fill", "rim",
    "key", "7.3", "1/128", "60%", "240 Ws", "hazy sun", "f/16 1/250 ISO 200, −2", "m", "ft", "accept",
)  # fmt: skip
"""Texts for a field."""

BENT: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, 10**400, -(10**30), 1e308, 5e-324, float("nan"), float("inf"), "", "abc",
    "x" * 121, "\x00", "1/0", "1/1" + "0" * 400, [], {}, [[]], {"": ""}, [1] * 3000, "2011-12-30",
    "9999-12-31", "Pacific/Apia", "key", 2**63, -(2**63) - 1, "9" * 400, 0.1, 1e-9, "🙂", "\ud800",
)  # fmt: skip
"""Values for a place in a document."""


@dataclass(frozen=True)
class Form:
    """A form as a page offers it: its address and the names of its fields."""

    action: str
    names: tuple[str, ...]


class _Forms(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.found: dict[str, list[str]] = {}
        self._names: list[str] | None = None

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = dict(attrs)
        if tag == "form":
            self._names = self.found.setdefault(given.get("action") or "/", [])
        elif (
            tag in ("input", "select", "textarea", "button")
            and self._names is not None
            and given.get("name")
        ):
            self._names.append(str(given["name"]))

    def handle_endtag(self, tag: str) -> None:
        if tag == "form":
            self._names = None


class Fuzz:
    """Odd input for one application with the demo in it."""

    def __init__(self, app: Flask, seed: int) -> None:
        app.config["WTF_CSRF_ENABLED"] = False
        app.config["PROPAGATE_EXCEPTIONS"] = False
        self.app, self.chance = app, random.Random(seed)  # noqa: S311 - repeatable, not secret
        self.client: FlaskClient = app.test_client()
        self.forms = list(self._all_forms())
        self.faults: list[str] = []
        self.statuses: Counter[int] = Counter()
        self.asked = 0

    def _all_forms(self) -> Iterator[Form]:
        pages = ["/", "/setups", "/kit", "/bags", "/shoots", "/keep", "/reach?setup=1", "/setups/import"]
        pages += [f"/setups/{number}" for number in range(1, 5)]
        pages += [f"/kit/{number}" for number in (9, 16, 21, 25, 27)]
        pages += ["/kit/21/measure/guide_number", "/bags/42", "/shoots/44", "/shoots/44/live?at=18:20"]
        found: dict[str, set[str]] = {}
        for page in pages:
            answer = self.client.get(page)
            parser = _Forms()
            parser.feed(answer.text)
            for action, names in parser.found.items():
                found.setdefault(action, set()).update(names)
        for rule in self.app.url_map.iter_rules():
            if "POST" in (rule.methods or ()):
                address = self._address(rule)
                found.setdefault(address, {"text", "by", "name", "file", "document"})
        for action, fields in sorted(found.items()):
            if action.endswith("/archive"):
                continue  # what is archived takes no more input
            yield Form(action, tuple(sorted(fields - {"csrf_token"})))

    def _address(self, rule: Any) -> str:
        values = {
            name: self.chance.choice(("1", "9", "21", "44", "9223372036854775807", "9223372036854775808"))
            if "int" in type(rule._converters[name]).__name__.lower()
            else self.chance.choice(("aperture", "nd", "closer", "reflectors", "x" * 300, "losses"))
            for name in rule.arguments
        }
        address = str(rule.rule)
        for value in values.values():
            start, end = address.index("<"), address.index(">")
            address = address[:start] + value + address[end + 1 :]
        return address

    def ask(self, method: str, address: str, **given: Any) -> None:
        """One request, and what is wrong with its answer."""
        began = time.thread_time()  # a busy machine is not this request's fault
        answer = self.client.open(address, method=method, **given)
        taken = time.thread_time() - began
        self.asked += 1
        self.statuses[answer.status_code] += 1
        if answer.status_code >= 500 or taken > SLOW_S:
            shown = {name: repr(value)[:300] for name, value in given.items() if name != "headers"}
            self.faults.append(f"{answer.status_code} in {taken:.1f} s: {method} {address} {shown}")

    def a_form(self) -> None:
        """Post one form with odd fields, or ask for a page with odd arguments."""
        form = self.chance.choice(self.forms)
        filled = {name: self.chance.choice(ODD) for name in form.names if self.chance.random() < 0.9}
        headers = {"HX-Request": "true"} if self.chance.random() < 0.5 else {}
        if self.chance.random() < 0.1:
            self.ask("GET", form.action.split("?")[0], query_string=filled, headers=headers)
        else:
            self.ask("POST", form.action, data=filled, headers=headers)

    def a_document(self) -> None:
        """Send one bent document to where it could be taken in."""
        address, raw = self.chance.choice(
            (
                ("/setups/import", _bytes(self._bent(self.chance.choice(demo_documents())))),
                ("/kit/import", _bytes(self._bent(demo_kit()))),
                ("/shoots/import", _bytes(self._bent(demo_shoot()))),
                ("/keep/import", _bytes(self._bent(self.chance.choice(demo_documents())))),
                ("/kit/import", self._csv()),
                ("/shoots/44/place", self._place()),
            )
        )
        if self.chance.random() < 0.2:
            at = self.chance.randrange(max(1, len(raw)))
            raw = raw[:at] + bytes([self.chance.randrange(256)]) + raw[at + self.chance.randrange(2) :]
        self.ask("POST", address, data={"file": (BytesIO(raw), "file")})

    def _bent(self, document: Any) -> Any:
        found = json.loads(json.dumps(document))
        for _ in range(self.chance.choice((1, 1, 1, 2))):
            owner = found
            while True:
                keys = list(owner) if isinstance(owner, dict) else range(len(owner))
                if not keys:
                    break
                key = self.chance.choice(list(keys))
                if isinstance(owner[key], dict | list) and owner[key] and self.chance.random() < 0.85:
                    owner = owner[key]
                    continue
                owner[key] = json.loads(json.dumps(self.chance.choice(BENT)))
                break
        return found

    def _csv(self) -> bytes:
        rows = [["gear", "sheet", "across_m", "sync_s", "droop", "reading"]]
        gear = ["Large head, 600 Ws class", "6-stop ND", "Full-frame body", "x"]
        for _ in range(self.chance.randrange(1, 5)):
            sheet = self.chance.choice(["guide_number", "power_scale", "sync", self.chance.choice(ODD)])
            rows.append([self.chance.choice(gear), sheet, *self.chance.choices(ODD, k=4)])
        ends = self.chance.choice(["\n", "\r", "\r\n"])
        quoted = (",".join(f'"{cell}"' for cell in row) for row in rows)
        return ends.join(quoted).encode(errors="replace")

    def _place(self) -> bytes:
        if self.chance.random() < 0.5:
            point: Any = {"type": "Point", "coordinates": [0.71, 42.46]}
            found: Any = {"type": "FeatureCollection", "features": [{"type": "Feature", "geometry": point}]}
            return _bytes(self._bent(found))
        lat, name = self.chance.choices(ODD, k=2)
        text = f'<gpx version="1.1"><wpt lat="{lat}" lon="0.7"><name>{name}</name></wpt></gpx>'
        return text.encode(errors="replace")


def _bytes(document: Any) -> bytes:
    return json.dumps(document).encode(errors="surrogatepass")


DEFAULTS = (10_000, 5_000, 1)
"""Forms, documents, and the seed of chance."""


def main(arguments: list[str]) -> int:
    """Print what was answered wrongly; 1 where anything was."""
    forms, documents, seed = [*map(int, arguments), *DEFAULTS[len(arguments) :]]
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "noggin.sqlite3"})
        store = app.extensions["noggin"].store
        load_demo_once(store, system_clock)
        fuzz = Fuzz(app, seed)
        began = time.monotonic()
        for _ in range(forms):
            fuzz.a_form()
        for _ in range(documents):
            fuzz.a_document()
        print(f"{fuzz.asked} requests over {len(fuzz.forms)} forms in {time.monotonic() - began:.0f} s")
        print(", ".join(f"{status}: {times}" for status, times in sorted(fuzz.statuses.items())))
        store.close()
    for fault in fuzz.faults:
        print(fault)
    print(f"{len(fuzz.faults)} answered with 500 or after {SLOW_S} s")
    return 1 if fuzz.faults else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
