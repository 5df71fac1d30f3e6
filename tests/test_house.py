"""The house in order: arrows one way, doctests that hold, current schemas, nothing from outside."""

import ast
import doctest
import importlib
import pkgutil
import re
import sys
import unittest
from pathlib import Path

import noggin
from tools import schema

ROOT = Path(noggin.__file__).parent

ALLOWED = {
    "core": {"core"},
    "documents": {"core", "documents"},
    "store": {"core", "store"},
    "devices": {"core", "devices"},
    "demo": {"core", "documents", "demo"},
    "services": {"core", "documents", "store", "devices", "demo", "services"},
    "web": {"core", "documents", "store", "services", "web"},
    "cli": {"core", "documents", "store", "services", "web", "cli"},
}
"""Which rooms of the house each room may take from."""


CORE_LIBRARIES = {"astral", "numpy"}
"""What the core takes besides the standard library: the sun's place, and sums on columns."""


def imports(path: Path) -> set[str]:
    """Full names of everything a module imports."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


def load_tests(_loader: unittest.TestLoader, tests: unittest.TestSuite, _: str) -> unittest.TestSuite:
    """Every worked example in a docstring is a test."""
    for module in pkgutil.walk_packages([str(ROOT)], "noggin."):
        if "migrations" not in module.name:
            tests.addTests(doctest.DocTestSuite(importlib.import_module(module.name)))
    return tests


class House(unittest.TestCase):
    def test_arrows_point_one_way(self) -> None:
        for path in ROOT.rglob("*.py"):
            room = path.relative_to(ROOT).parts[0].removesuffix(".py")
            if room == "__init__":
                continue
            taken = {name.split(".")[1] for name in imports(path) if name.startswith("noggin.")}
            with self.subTest(path=path.name):
                self.assertLessEqual(taken - {"__version__"}, ALLOWED[room])

    def test_core_needs_nothing_but_the_standard_library_and_what_it_declares(self) -> None:
        for path in (ROOT / "core").glob("*.py"):
            outside = {name.split(".")[0] for name in imports(path)} - {"noggin"}
            with self.subTest(path=path.name):
                self.assertEqual(outside - CORE_LIBRARIES - set(sys.stdlib_module_names), set())

    def test_schemas_are_current(self) -> None:
        for name in schema.SCHEMAS:
            with self.subTest(schema=name):
                self.assertEqual((schema.FOLDER / name).read_text(encoding="utf-8"), schema.text(name))

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
