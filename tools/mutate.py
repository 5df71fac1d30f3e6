"""Changes constants and comparisons of the core one at a time, and says which changes no test notices.

    python -m tools.mutate [--count 100] [--seed 1] [--only noggin/core/advice]

A mutant is one small change: a number a tenth larger (or one more, for a whole one), a comparison that
takes its edge in or leaves it out, the other way round, `and` for `or`, plus for minus. For each the tests
of the core are run until the first that fails. Mutants are drawn evenly over the files by their number of
places. What is left alive is printed with its place; 1 is the exit status when fewer than nine in ten were
caught.
"""

import argparse
import ast
import multiprocessing
import os
import random
import sys
import unittest
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass
from importlib.abc import Loader, MetaPathFinder
from importlib.machinery import ModuleSpec
from pathlib import Path
from types import ModuleType

ROOT = Path(__file__).parent.parent
CORE = ROOT / "noggin" / "core"

NEEDED = 0.9
"""The part of the mutants that must be caught."""

LONGEST_S = 240
"""After so long a mutant counts as caught: it no longer comes to an end."""

TESTS = (
    "tests.core",
    "tests.documents",
    "tests.forms",
    "tests.web.test_drawings",
    "tests.test_house",
)
"""What is run: modules, and packages with all of theirs."""

COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
}
ADDED: dict[type[ast.operator], type[ast.operator]] = {ast.Add: ast.Sub, ast.Sub: ast.Add}


@dataclass(frozen=True)
class Mutant:
    """One change: the file, which of its places, the line, and the change in words."""

    path: Path
    place: int
    line: int
    words: str

    def __str__(self) -> str:
        return f"{self.path.relative_to(ROOT)}:{self.line}: {self.words}"


class Changing(ast.NodeTransformer):
    """Walks over every place of a file where something can be changed, and changes one of them (or
    none)."""

    def __init__(self, wanted: int | None = None) -> None:
        self.wanted, self.found = wanted, list[tuple[int, str]]()

    def _here(self, node: ast.AST, words: str) -> bool:
        self.found.append((getattr(node, "lineno", 0), words))
        return len(self.found) - 1 == self.wanted

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        """The body and the defaults: the sizes of caches, in decorators, change no answer."""
        node.args = self.visit(node.args)
        node.body = [self.visit(line) for line in node.body]
        return node

    def visit_JoinedStr(self, node: ast.JoinedStr) -> ast.AST:
        return node  # words are not what is tried here

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        value = node.value
        if isinstance(value, bool) or not isinstance(value, int | float) or value in (0, 1, -1):
            return node
        changed = value + 1 if isinstance(value, int) else value * 1.1
        return (
            ast.copy_location(ast.Constant(changed), node)
            if self._here(node, f"{value} is {changed}")
            else node
        )

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        for index, compared in enumerate(node.ops):
            other = COMPARED.get(type(compared))
            if other and self._here(
                node, f"{type(compared).__name__} is {other.__name__} in {ast.unparse(node)}"
            ):
                node.ops[index] = other()
        return node

    def visit_BoolOp(self, node: ast.BoolOp) -> ast.AST:
        self.generic_visit(node)
        other = ast.Or if isinstance(node.op, ast.And) else ast.And
        if self._here(node, f"{other.__name__} in {ast.unparse(node)}"):
            node.op = other()
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        other = ADDED.get(type(node.op))
        if other and self._here(node, f"{other.__name__} in {ast.unparse(node)}"):
            node.op = other()
        return node


def mutants(only: str) -> Iterator[Mutant]:
    """Every change of the core that can be made below a folder or file."""
    for path in sorted(CORE.rglob("*.py")):
        if str(path.relative_to(ROOT)).startswith(only):
            walk = Changing()
            walk.visit(ast.parse(path.read_text()))
            for place, (line, words) in enumerate(walk.found):
                yield Mutant(path, place, line, words)


def caught(mutant: Mutant) -> bool:
    """Whether a test notices; in a process of its own, in which the changed module stands in for the one on
    disk."""
    context = multiprocessing.get_context("fork")
    process = context.Process(target=_run_with, args=(mutant,))
    process.start()
    process.join(LONGEST_S)
    if process.is_alive():
        process.kill()
        return True
    return process.exitcode != 0


def _run_with(mutant: Mutant) -> None:
    """Exit with 0 where every test passes."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), 2)
    sys.meta_path.insert(0, _Changed(mutant))
    loader = unittest.defaultTestLoader
    for name in TESTS:
        folder = ROOT / Path(*name.split("."))
        try:
            found = (
                loader.discover(str(folder), top_level_dir=str(ROOT))
                if folder.is_dir()
                else loader.loadTestsFromName(name)
            )
            result = unittest.TestResult()
            result.failfast = True
            found.run(result)
        except Exception:
            os._exit(1)
        if not result.wasSuccessful():
            os._exit(1)
    os._exit(0)


class _Changed(MetaPathFinder, Loader):
    """An importer that gives one module with its change."""

    def __init__(self, mutant: Mutant) -> None:
        self._mutant = mutant
        self._name = ".".join(mutant.path.relative_to(ROOT).with_suffix("").parts)

    def find_spec(self, name: str, _path: object, _target: object = None) -> ModuleSpec | None:
        """The changed module by its name; nothing for others."""
        if name != self._name:
            return None
        from importlib.util import spec_from_loader

        return spec_from_loader(name, self, origin=str(self._mutant.path))

    def create_module(self, _: object) -> None:
        """As usual."""

    def exec_module(self, module: ModuleType) -> None:
        """Run the changed source as the module."""
        tree = Changing(self._mutant.place).visit(ast.parse(self._mutant.path.read_text()))
        module.__file__ = str(self._mutant.path)
        exec(compile(ast.fix_missing_locations(tree), module.__file__, "exec"), module.__dict__)  # noqa: S102 - our own


def main() -> int:
    """0 when enough were caught."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--count", type=int, default=100)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", default="noggin/core")
    asked = parser.parse_args()
    every = list(mutants(asked.only))
    drawn = random.Random(asked.seed).sample(every, min(asked.count, len(every)))  # noqa: S311 - a draw to repeat
    alive = []
    with ProcessPoolExecutor(os.cpu_count(), multiprocessing.get_context("fork")) as pool:
        futures = {pool.submit(caught, mutant): mutant for mutant in drawn}
        for done, future in enumerate(as_completed(futures), start=1):
            print(f"\r{done} of {len(drawn)}", end="", file=sys.stderr, flush=True)
            if not future.result():
                alive.append(futures[future])
                print(f"\ralive: {futures[future]}", flush=True)
    print(
        f"{len(drawn) - len(alive)} of {len(drawn)} caught, drawn from {len(every)} with seed {asked.seed}"
    )
    return 0 if len(drawn) - len(alive) >= NEEDED * len(drawn) else 1


if __name__ == "__main__":
    sys.exit(main())
