"""What CONTRIBUTING promises: a sixth way, a modifier, a format, a shortcut, a page that is kept and a
caution are each one row, and everything follows."""

import json
import re
import unittest
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from unittest.mock import patch

from noggin.core.advice import cautions as caution_rules
from noggin.core.advice.caution_rule import HABIT, Rule
from noggin.core.advice.cautions import weighed
from noggin.core.advice.price import price
from noggin.core.advice.remedies import remedies
from noggin.core.physics.dials import aperture_stops
from noggin.core.planning.candidates import Candidates, every
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way, WayKind
from noggin.core.planning.ways import WAYS
from noggin.core.planning.ways.prices import closing
from noggin.core.planning.ways.shared import nothing_lacking
from noggin.core.setup.setup import SetUp
from noggin.documents.plan import plan_document, read_plan
from noggin.documents.setup import canonical, setup_of
from noggin.forms import choices
from noggin.forms.choices import BY_CLASS
from noggin.forms.class_figures import MODIFIERS, ModifierClass
from noggin.forms.gear_classes import gear_by_class
from noggin.forms.setup_entries import entries_of
from noggin.services.clock import Clock
from noggin.services.keeping.kept import Brought
from noggin.services.setups import setups
from noggin.services.whole import interchange
from noggin.services.whole.interchange import CARRIED, GoesAlong, Named
from noggin.store.store import Store
from noggin.web.shared import kept_pages, shortcuts
from noggin.web.shared.shortcuts import SHORTCUTS, Shortcut
from tests.support import NOON, AppCase, noon

ROOT = Path(__file__).parent.parent


def _two_stops_down(setup: SetUp) -> Candidates:
    wanted = setup.wanted_aperture.stops + 2
    return every(
        setup, (min(setup.apertures, key=lambda step: abs(step.stops - wanted)),), (setup.camera.sync,)
    )


def _says(_: SetUp, __: Way) -> Iterator[str]:
    yield "It was added by a test."


SIXTH = WayKind(
    "two_down",
    "Two stops down",
    "two stops down at sync speed",
    "the aperture closes by two stops",
    "more is sharp",
    speed_rank=5,
    candidates=_two_stops_down,
    lacks=nothing_lacking,
    reasons=_says,
    price=closing,
)


class SixthWay(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.enterContext(patch.dict(WAYS, {SIXTH.key: SIXTH}))

    def test_it_is_planned_worded_priced_and_written(self) -> None:
        setup = noon()
        made = plan(setup)
        way = made.way("two_down")
        self.assertEqual(len(made.ways), 6)
        self.assertAlmostEqual(way.settings.aperture.stops, aperture_stops(2.0) + 2)
        self.assertIn("f/4", price(setup, way))
        document = plan_document(made, remedies(made)).model_dump(mode="json")
        self.assertEqual(len(read_plan(document).ways), 6)
        (written,) = (each for each in document["ways"] if each["way"] == "two_down")
        self.assertIn("It was added by a test.", written["reasons"])

    def test_the_bench_shows_it(self) -> None:
        # Another name, so that nothing remembers its plan from before.
        number = setups.import_setup(self.store, self.wiring.clock, {**NOON, "name": "With a sixth way"})
        for address in (f"/setups/{number}", f"/setups/{number}?look=two_down"):
            page = self.client.get(address)
            self.assertEqual(page.status_code, 200)
            self.assertIn("Two stops down", page.text)
        self.assertEqual(self.client.get(f"/setups/{number}/why/two_down/reserve").status_code, 200)


NET = ModifierClass(label="net, 1 m", loss=0.9, narrow=1.1, radius_m=0.5, shape="softbox", weight_kg=0.35)


class AnotherModifier(unittest.TestCase):
    def test_one_row_is_offered_weighed_and_planned_with(self) -> None:
        more = {"net": choices.Choice("net, 1 m", choices._class_modifier(NET))}
        offered = replace(BY_CLASS, modifiers={**BY_CLASS.modifiers, **more})
        document = canonical(NOON)
        changed = canonical(entries_of(document, offered)["modifier-0"].put(document, "net"))
        light = setup_of(changed).lights[0]
        self.assertEqual((light.loss, light.radius_m), (0.9, 0.5))
        self.assertEqual(len(plan(setup_of(changed)).ways), len(WAYS))

    def test_every_row_has_its_weight_and_shape_in_the_kit(self) -> None:
        for key, row in MODIFIERS.items():
            with self.subTest(key=key):
                item = gear_by_class("modifier", key, "")
                self.assertEqual((item["weight_kg"], item["shape"]), (row["weight_kg"], row["shape"]))


class AnotherFormat(AppCase):
    def test_one_row_goes_out_and_comes_in_with_everything(self) -> None:
        came: list[str] = []

        def files(_: Store, __: Clock) -> Iterator[tuple[str, bytes]]:
            yield "notes.json", b'{"format": "noggin-notes", "version": 1, "text": "bring the ladder"}'

        def bring(_: Store, __: Clock, documents: list[Named]) -> Iterator[Brought]:
            for name, document in documents:
                came.append(document["text"])
                yield Brought(new=(name,))

        row = GoesAlong("noggin-notes", files, bring)  # type: ignore[arg-type]
        with patch.object(interchange, "CARRIED", (*CARRIED, row)):
            out = dict(interchange.everything(self.store, self.wiring.clock))
            documents = [(name, json.loads(raw)) for name, raw in out.items()]
            brought = interchange.bring_everything(self.store, self.wiring.clock, documents)
        self.assertEqual((came, brought.new), (["bring the ladder"], ("notes.json",)))


class AnotherCaution(unittest.TestCase):
    def test_one_row_is_said(self) -> None:
        row = Rule("ladder", HABIT, "always", lambda *_: True, lambda *_: "Bring the ladder.")
        with patch.object(caution_rules, "RULES", (*caution_rules.RULES, row)):
            said = [caution.text for caution in weighed(noon(), plan(noon()).shown)]
        self.assertIn("Bring the ladder.", said)


class AnotherKey(AppCase):
    def test_one_row_is_listed_and_listened_for(self) -> None:
        row = Shortcut("g", "go to the scale", "g", "#scale")
        with patch.object(shortcuts, "SHORTCUTS", (*SHORTCUTS, row)):
            keys = json.loads(shortcuts.shortcut_keys())
        self.assertEqual(keys["g"], "#scale")
        number = setups.import_setup(self.store, self.wiring.clock, NOON)
        page = self.client.get(f"/setups/{number}").text
        for shortcut in SHORTCUTS:
            self.assertIn(shortcut.does, page)


class AnotherKeptPage(AppCase):
    def test_one_row_is_kept_by_the_service_worker(self) -> None:
        with patch.object(kept_pages, "KEPT_PAGES", (*kept_pages.KEPT_PAGES, "log.frame")):
            self.assertIsNotNone(re.match(kept_pages.pattern(self.app), "/log/7"))
        self.assertIsNone(re.match(kept_pages.pattern(self.app), "/log/7"))
        for address in (
            "/",
            "/setups/3",
            "/setups/3/shoot",
            "/shoots/1",
            "/shoots/1/live",
            "/bags/2",
            "/kit",
        ):
            with self.subTest(address=address):
                self.assertIsNotNone(re.match(kept_pages.pattern(self.app), address))
        self.assertTrue(self.client.get("/worker.js").text.startswith("const KEPT = new RegExp("))

    def test_every_row_is_a_page(self) -> None:
        known = {rule.endpoint for rule in self.app.url_map.iter_rules()}
        self.assertEqual(set(kept_pages.KEPT_PAGES) - known, set())


class Contributing(unittest.TestCase):
    """Its table of changes and where each begins."""

    def rows(self) -> list[tuple[str, str]]:
        text = (ROOT / "CONTRIBUTING.md").read_text(encoding="utf-8")
        table = text.split("## Where to start")[1].split("##")[0]
        found = re.findall(r"^\| (.+?) \| (.+?) \|$", table, re.MULTILINE)
        return [row for row in found if row[0] not in ("to change", "---")]

    def test_paths_exist_and_the_rows_that_are_named_are_there(self) -> None:
        rows = self.rows()
        self.assertGreaterEqual(len(rows), 20)
        for change, begins in rows:
            with self.subTest(change=change):
                quoted = re.findall(r"`([^`]+)`", begins)
                paths = [ROOT / word for word in quoted if "/" in word]
                self.assertTrue(paths, "names no file")
                for path in paths:
                    self.assertTrue(path.exists(), path)
                texts = "".join(path.read_text(encoding="utf-8") for path in paths if path.is_file())
                for word in quoted:
                    if "/" not in word and " " not in word:
                        self.assertRegex(texts, rf"\b{re.escape(word)}\b")


if __name__ == "__main__":
    unittest.main()
