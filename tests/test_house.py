"""The house in order: arrows one way, doctests that hold, current schemas, nothing from outside."""

import ast
import doctest
import importlib
import pkgutil
import re
import sys
import tomllib
import unittest
from collections import Counter
from dataclasses import dataclass
from functools import cache
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import noggin
from noggin.documents.formats import FORMATS
from tools import demo, schema

ROOT = Path(noggin.__file__).parent
DOCS = ROOT.parent / "docs"

ROOMS = {
    "core": {"core"},
    "documents": {"core", "documents"},
    "gazetteer": {"core", "gazetteer"},
    "forms": {"core", "documents", "gazetteer", "forms"},
    "store": {"core", "store"},
    "devices": {"core", "figures", "devices"},
    "figures": {"core", "figures"},
    "demo": {"core", "documents", "demo"},
    "services": {
        *("core", "documents", "gazetteer", "forms", "store"),
        *("devices", "demo", "photos", "figures", "services"),
    },
    "photos": {"core", "photos"},
    "web": {"services", "web", "web.drawings"},
    "web.drawings": {"core", "web.drawings"},
    "pocket": {"core", "services", "web", "pocket"},
    "cli": {"services", "web", "cli"},
}
"""Which rooms of the house each may take from. Drawings make geometry of core values."""

CORE_ROOMS = {
    "physics": set[str](),
    "daylight": {"physics"},
    "typed": {"physics"},
    "setup": {"physics", "daylight"},
    "planning": {"physics", "daylight", "setup", "layout"},
    "advice": {"physics", "daylight", "setup", "planning", "layout"},
    "shoot": {"physics", "daylight", "setup", "planning", "advice", "layout"},
    "gear": {"physics", "setup", "typed"},
    "practice": {"physics", "setup", "layout", "planning", "advice", "pops"},
    "pops": {"physics", "setup", "planning"},
    "layout": {"physics", "daylight", "setup"},
    "proof": {"physics", "daylight", "setup", "planning", "advice", "layout"},
}

SERVICE_ROOMS = {
    "keeping": set[str](),
    "gear": {"keeping"},
    "setups": {"keeping", "gear"},
    "day": {"keeping", "gear", "setups"},
    "frames": {"keeping", "gear", "setups", "day"},
    "practice": {"keeping", "setups", "frames"},
    "whole": {"keeping", "gear", "setups", "day", "frames", "practice"},
    "errors": {"keeping", "gear", "setups", "day"},
    "words": {"frames"},
}

WEB_ROOMS = {
    "shared": set[str](),
    "pages": {"shared"},
    "": {"shared", "pages"},
    "serving": {"shared", ""},
}


@dataclass(frozen=True)
class Inside:
    """The rooms inside one part of the house: which rooms each may take from, besides itself and the
    `ground`, which are modules that all of them may use. What stands in the part itself is room ""."""

    rooms: dict[str, set[str]]
    ground: frozenset[str] = frozenset()

    def room_of(self, module: str) -> str:
        """The room that a module is in; "ground" for what every room may use."""
        part = module.split(".")[1] if "." in module else ""
        return "ground" if part in self.ground else part

    def forbids(self, module: str, target: str) -> bool:
        """Whether an arrow between two modules of this part leads up."""
        own, other = self.room_of(module), self.room_of(target)
        return other not in {"ground", own, *self.rooms.get(own, set())}


INSIDE = {
    "core": Inside(CORE_ROOMS, frozenset({"units", "errors", "clock", "limits", "wording", "tables"})),
    "services": Inside(SERVICE_ROOMS, frozenset({"clock", "passphrase", "sessions"})),
    "web": Inside(WEB_ROOMS),
}
"""The parts of the house that have rooms of their own."""


CORE_LIBRARIES = {"astral", "dateparser", "dateutil", "numpy"}
"""What the core takes besides the standard library: the sun's place, months in many languages, sums on
columns."""


@cache
def imports(source: str) -> set[str]:
    """Full names of everything a module imports."""
    found = set()
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


def sources() -> dict[str, str]:
    """Every module of ours by its name after `noggin.`, sub-folders too."""
    found = {}
    for path in ROOT.rglob("*.py"):
        parts = list(path.relative_to(ROOT).with_suffix("").parts)
        if "migrations" in parts or parts == ["__init__"]:
            continue
        found[".".join(parts).removesuffix(".__init__")] = path.read_text(encoding="utf-8")
    return found


def room_of(module: str) -> str:
    """The room of the house that a module is in."""
    return "web.drawings" if module.startswith("web.drawings") else module.split(".")[0]


def wrong_arrows(modules: dict[str, str]) -> list[str]:
    """Every import that leads up, inside the parts of the house and between them, and every circle."""
    found, arrows = [], {}
    for module, source in modules.items():
        names = {name.removeprefix("noggin.") for name in imports(source) if name.startswith("noggin.")}
        taken = {target for name in names if (target := module_of(name, modules)) and target != module}
        arrows[module] = taken
        for target in taken:
            allowed = ROOMS.get(room_of(module), set())
            if room_of(target) not in allowed:
                found.append(f"{module} takes from {target}")
            inside = INSIDE.get(room_of(module)) if room_of(module) == room_of(target) else None
            if inside and inside.forbids(module, target):
                found.append(f"{module} takes from {target}")
    return sorted(found) + circles(arrows)


def module_of(name: str, modules: dict[str, str]) -> str:
    """The module that an imported name is or is in; empty for names of the package itself."""
    parts = name.split(".")
    for length in range(len(parts), 0, -1):
        if (module := ".".join(parts[:length])) in modules:
            return module
    return ""


def circles(arrows: dict[str, set[str]]) -> list[str]:
    """Modules that take from themselves in a circle, each circle once."""
    try:
        tuple(TopologicalSorter(arrows).static_order())
    except CycleError as error:
        return [" → ".join(error.args[1])]
    return []


def load_tests(_loader: unittest.TestLoader, tests: unittest.TestSuite, _: str) -> unittest.TestSuite:
    """Every worked example in a docstring is a test."""
    for module in pkgutil.walk_packages([str(ROOT)], "noggin."):
        if "migrations" not in module.name:
            tests.addTests(doctest.DocTestSuite(importlib.import_module(module.name)))
    return tests


class House(unittest.TestCase):
    def test_arrows_point_one_way_and_never_in_a_circle(self) -> None:
        modules = sources()
        self.assertGreater(len(modules), 100)
        self.assertEqual(wrong_arrows(modules), [])

    def test_a_planted_arrow_is_seen_wherever_it_leads_up(self) -> None:
        modules = sources()
        for module, planted in (
            ("core.physics.dials", "from noggin.core.planning import plan"),
            ("core.planning.candidates", "from noggin.core.advice.reasons import advice"),
            ("core.setup.light", "import noggin.core.gear.sheets"),
            ("core.units", "from noggin.core.physics import dials"),
            ("documents.setup", "from noggin.forms.entry import Entry"),
            ("services.keeping.kept", "from noggin.services.gear.kit import open_gear"),
            ("services.gear.kit", "from noggin.services.setups.setups import open_setup"),
            ("services.setups.reach", "from noggin.services.day import shoots"),
            ("services.day.live", "from noggin.services.frames.take import open_take"),
            ("services.frames.log", "import noggin.services.whole.files"),
            ("services.clock", "from noggin.services.keeping.form import Form"),
            ("services.frames.spot", "from noggin.services.errors import NotKept"),
            ("web.pages.bench", "from noggin.core.planning.plan import plan"),
            ("web.pages.bench", "from noggin.store.store import Store"),
            ("web.shared.wiring", "from noggin.web.pages import bench"),
            ("web.pages.bench", "from noggin.web.serving import server"),
            ("web.pages.bench", "from noggin.web import create_app"),
            ("cli", "from noggin.core.planning.plan import plan"),
        ):
            with self.subTest(module=module, planted=planted):
                self.assertTrue(wrong_arrows({**modules, module: f"{planted}\n{modules[module]}"}))
        circle = {**modules, "core.physics.power": "from noggin.core.physics import pulse\n"}
        circle["core.physics.pulse"] = "from noggin.core.physics.power import SCALES\n"
        self.assertTrue(wrong_arrows(circle))

    def test_core_needs_nothing_but_the_standard_library_and_what_it_declares(self) -> None:
        for module, source in sources().items():
            if room_of(module) == "core":
                outside = {name.split(".")[0] for name in imports(source)} - {"noggin"}
                with self.subTest(module=module):
                    self.assertEqual(outside - CORE_LIBRARIES - set(sys.stdlib_module_names), set())

    def test_every_package_says_what_it_is_for(self) -> None:
        project = tomllib.loads((ROOT.parent / "pyproject.toml").read_text(encoding="utf-8"))["project"]
        needed = {re.split(r"[<>=]", package)[0] for package in project["dependencies"]}
        listed = (DOCS / "packages.md").read_text(encoding="utf-8")
        self.assertEqual(needed, set(re.findall(r"^\| ([\w-]+) \| (?!what)", listed, re.M)))

    def test_one_class_name_has_one_meaning(self) -> None:
        names = Counter(
            node.name
            for source in sources().values()
            for node in ast.walk(ast.parse(source))
            if isinstance(node, ast.ClassDef)
        )
        self.assertEqual({name for name, often in names.items() if often > 1}, set())

    def test_nothing_but_the_table_of_methods_knows_how_many_there_are(self) -> None:
        counted = re.compile(r"\b(all |the )?five (ways|methods)\b", re.IGNORECASE)
        for module, source in sources().items():
            with self.subTest(module=module):
                self.assertNotRegex(source, counted)

    def test_the_demo_day_is_made_of_its_parts(self) -> None:
        self.assertEqual(demo.PATH.read_text(encoding="utf-8"), demo.text())

    def test_schemas_are_current(self) -> None:
        described = (DOCS / "formats.md").read_text(encoding="utf-8")
        for each in FORMATS:
            with self.subTest(schema=each.schema):
                written = (schema.FOLDER / each.schema).read_text(encoding="utf-8")
                self.assertEqual(written, schema.text(each))
                self.assertIn(f"(schema/{each.schema})", described)
        self.assertEqual({path.name for path in schema.FOLDER.iterdir()}, {each.schema for each in FORMATS})

    def test_pages_have_no_inline_style_or_script_and_ask_no_other_host(self) -> None:
        bad = re.compile(
            r'\sstyle="|<script>|hx-on:|(?:src|href)="(?:https?:)?//|url\(["\']?(?:https?:)?//'
        )
        own = [*(ROOT / "web" / "templates").rglob("*.html"), *(ROOT / "web" / "static").glob("*.*")]
        self.assertGreater(len(own), 15)
        for path in own:
            with self.subTest(path=path.name):
                self.assertNotRegex(path.read_text(encoding="utf-8"), bad)

    def test_vendored_files_are_listed_with_their_licence(self) -> None:
        vendor = ROOT / "web" / "static" / "vendor"
        listed = (vendor / "README.md").read_text(encoding="utf-8")
        for folder in (path for path in vendor.iterdir() if path.is_dir()):
            with self.subTest(folder=folder.name):
                self.assertIn(f"`{folder.name}/`", listed)
                self.assertTrue((folder / "LICENSE").is_file())
