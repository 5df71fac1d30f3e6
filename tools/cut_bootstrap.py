"""Cuts Bootstrap down to what the pages use: rules for plain elements, and for classes that a template or
a script names. Run: python -m tools.cut_bootstrap
"""

import re
from collections.abc import Iterable, Iterator
from pathlib import Path

import tinycss2
from tinycss2.ast import AtRule, Node, QualifiedRule

ROOT = Path(__file__).parent.parent
WHOLE = ROOT / "tools" / "bootstrap" / "bootstrap.min.css"
CUT = ROOT / "noggin" / "web" / "static" / "vendor" / "bootstrap" / "bootstrap.cut.css"
WEB = ROOT / "noggin" / "web"

CLASS = re.compile(r"\.(-?[A-Za-z_][\w-]*)")
BESIDE_ANY = re.compile(r"[+~]\s*\*")
"""Whatever stands beside something: one such rule has a browser style the whole page anew at every swap."""

VARIABLE = re.compile(r"--[\w-]+")


def main() -> None:
    """Write the cut sheet."""
    CUT.write_text(cut(WHOLE.read_text(), named()))
    print(f"{WHOLE.stat().st_size:,} bytes cut to {CUT.stat().st_size:,}")


def named() -> set[str]:
    """Every class that a template names: whole words within `class="…"`."""
    pages = [path.read_text() for path in (WEB / "templates").rglob("*.html")]
    given = (words for page in pages for words in re.findall(r'class="([^"]*)"', page))
    return {word for words in given for word in re.findall(r"[A-Za-z_][\w-]*", words)}


def cut(sheet: str, classes: set[str]) -> str:
    """The rules of a sheet that can apply where only these classes are used, without the custom properties
    that none of them reads."""
    banner = sheet[: sheet.index("*/") + 2]
    kept = list(_kept(tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True), classes))
    read = _read_variables(kept)
    return "\n".join([banner, *(line for rule in kept if (line := _written(rule, read)))]) + "\n"


def _kept(rules: Iterable[Node], classes: set[str]) -> Iterator[tuple[str, str]]:
    """Selector and declarations of each rule that stays; an at-rule is one of its own."""
    for rule in rules:
        if isinstance(rule, QualifiedRule):
            selectors = tinycss2.serialize(rule.prelude).split(",")
            stay = [
                one
                for one in selectors
                if set(CLASS.findall(one)) <= classes and not BESIDE_ANY.search(one)
            ]
            if stay:
                yield ",".join(stay), tinycss2.serialize(rule.content)
        elif isinstance(rule, AtRule) and rule.at_keyword == "media":
            within = tinycss2.parse_rule_list(rule.content, skip_comments=True, skip_whitespace=True)
            inside = "".join(f"{selector}{{{body}}}" for selector, body in _kept(within, classes))
            if inside:
                yield f"@media {tinycss2.serialize(rule.prelude).strip()}", inside


def _read_variables(kept: Iterable[tuple[str, str]]) -> set[str]:
    """Custom properties that are read, by a rule or by another property that is."""
    reads: dict[str, set[str]] = {"": set()}
    for _, body in kept:
        for name, value in _declarations(body):
            reader = name if name.startswith("--") else ""
            reads.setdefault(reader, set()).update(VARIABLE.findall(value))
    found, ahead = set[str](), [""]
    while ahead:
        for variable in reads.get(ahead.pop(), set()) - found:
            found.add(variable)
            ahead.append(variable)
    return found


def _declarations(body: str) -> list[tuple[str, str]]:
    parts = re.split(r";(?![^(]*\))", body.rsplit("{", 1)[-1].replace("}", ""))
    return [(name.strip(), value) for part in parts if part for name, _, value in [part.partition(":")]]


def _written(rule: tuple[str, str], read: set[str]) -> str:
    selector, body = rule
    if selector.startswith("@media"):
        return f"{selector}{{{body}}}"
    stay = [f"{name}:{value}" for name, value in _declarations(body) if name[:2] != "--" or name in read]
    return f"{selector}{{{';'.join(stay)}}}" if stay else ""


if __name__ == "__main__":
    main()
