"""What is wrong with a document: one fault for each field, by its path, in plain words."""

import json
from collections.abc import Container, Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from noggin.core.errors import NogginError, Refused
from noggin.documents.paths import path_of, printable

_SHOWN = 40


@dataclass(frozen=True)
class Problem:
    """One thing wrong: the field's path ("" for the whole document) and the problem."""

    path: str
    problem: str

    def __str__(self) -> str:
        return f"{self.path}: {self.problem}" if self.path else self.problem


class BadDocument(NogginError, ValueError):
    """A document that is refused, with every fault found."""

    def __init__(self, problems: Iterable[Problem]) -> None:
        self.problems = tuple(problems)
        super().__init__("; ".join(map(str, self.problems)))


def refused(refusal: Refused, owner: str = "") -> Problem:
    """A core refusal as a fault, under the part of the document it came from."""
    return Problem(f"{owner}.{refusal.name}" if owner else refusal.name, refusal.problem)


def problems_of(error: ValidationError, tags: Container[str] = ()) -> Iterable[Problem]:
    """A pydantic error as faults. `tags` are kinds that a part may be of: pydantic names them on the way to
    the field, where a reader of the document finds none."""
    for detail in error.errors(include_url=False):
        steps = [
            step
            for index, step in enumerate(detail["loc"])
            if step not in tags or (index and detail["loc"][index - 1] not in TAGGED)
        ]
        if detail["type"] in ("union_tag_invalid", "union_tag_not_found"):
            steps.append(detail["ctx"]["discriminator"].strip("'"))
        yield Problem(path_of(steps), _problem(detail))


def shown(value: Any) -> str:
    """A value as it stood in the document, cut short."""
    text = json.dumps(value, ensure_ascii=False, default=str)
    return printable(text if len(text) <= _SHOWN else f"{text[:_SHOWN]}…")


OWN_WORDS = "noggin"
"""Type of the errors that our own validators raise; their context holds the problem in words."""

TAGGED = ("item",)
"""Parts that are of one of several kinds."""

_WORDS = {
    "missing": "is missing",
    "union_tag_not_found": "is missing",
    "string_too_short": "is empty",
    "too_short": "is empty",
    "extra_forbidden": "is not a field of this document",
    "float_type": "{} is not a number",
    "int_type": "{} is not a whole number",
    "int_from_float": "{} is not a whole number",
    "bool_type": "{} is not true or false",
    "string_type": "{} is not text",
    "string_unicode": "holds half a character",
    "list_type": "{} is not a list",
    "tuple_type": "{} is not a list",
    "model_type": "{} is not an object",
    "model_attributes_type": "{} is not an object",
    "string_too_long": "is longer than {max_length} characters",
    "string_pattern_mismatch": "holds control characters",
}


def _problem(detail: Any) -> str:
    kind, value, context = detail["type"], detail["input"], detail.get("ctx", {})
    if kind == OWN_WORDS:
        return str(context["problem"])
    if kind in _WORDS:
        words = _WORDS[kind].replace("{max_length}", str(context.get("max_length")))
        return words.replace("{}", shown(value))
    if kind == "union_tag_invalid":
        expected = context["expected_tags"].replace("'", "")
        return f"{shown(context['tag'])} is not one of {expected}"
    if kind == "literal_error":
        choices = context["expected"].replace("'", "").replace(" or ", ", ")
        return f"{shown(value)} is not one of {choices}"
    if kind == "too_long":
        return f"holds more than {context['max_length']}"
    return f"{shown(value)}: {detail['msg'][:1].lower()}{detail['msg'][1:]}"
