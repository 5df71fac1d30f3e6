"""How somebody stands, `noggin-practice` version 1: answers to drills, the oldest first."""

from collections.abc import Iterable, Mapping
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, ConfigDict, Field, ValidationError

from noggin.core.practice.beliefs import BY_KEY
from noggin.core.practice.drills import SEEDS
from noggin.documents.fields import InstantText, Part, own_words
from noggin.documents.json_input import check_kind
from noggin.documents.problems import BadDocument, problems_of

FORMAT = "noggin-practice"
VERSION = 1

ANSWERS_MOST = 100_000
"""Answers that one document brings in."""


def _known(belief: str) -> str:
    if belief not in BY_KEY:
        raise own_words(f"is none of {', '.join(BY_KEY)}")
    return belief


class AnswerDocument(Part):
    """One answer: the drill's belief and the seed of its task, when it was given, whether it was right,
    whether it is what the belief says, and by how many stops it was off (null where it is no matter of
    stops)."""

    belief: Annotated[str, AfterValidator(_known)]
    seed: Annotated[int, Field(ge=0, lt=SEEDS)]
    at: InstantText
    right: bool
    believed: bool
    off: Annotated[float, Field(ge=0, le=100)] | None = None


class PracticeDocument(Part):
    """Answers to drills."""

    model_config = ConfigDict(title="Noggin practice")

    format: Literal["noggin-practice"]
    version: Literal[1]
    answers: Annotated[list[AnswerDocument], Field(max_length=ANSWERS_MOST)]


def practice_document(answers: Iterable[Mapping[str, Any]]) -> dict[str, Any]:
    """Answers as a document."""
    return {"format": FORMAT, "version": VERSION, "answers": [dict(one) for one in answers]}


def read_practice(found: Mapping[str, Any]) -> list[AnswerDocument]:
    """The answers of a parsed document. Raises BadDocument."""
    check_kind(dict(found), FORMAT, VERSION)
    try:
        return PracticeDocument.model_validate(found).answers
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
