"""How somebody stands, `noggin-practice` version 1: answers to drills, the oldest first."""

from collections.abc import Iterable, Mapping
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, ConfigDict, Field, ValidationError

from noggin.core.practice.assignments import CAMERA_DRILLS
from noggin.core.practice.beliefs import BY_KEY
from noggin.core.practice.drills import DRILLS
from noggin.core.practice.task import SEEDS
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


def _drill(drill: str) -> str:
    if drill and drill not in DRILLS and drill not in CAMERA_DRILLS:
        raise own_words(f"is none of {', '.join((*DRILLS, *CAMERA_DRILLS))}")
    return drill


BeliefKey = Annotated[str, AfterValidator(_known)]


class AnswerDocument(Part):
    """One answer: the drill and the seed of its task, the belief that it counts for, when it was given,
    whether it was right, whether it is what that belief says, by how many stops it was off (null where it
    is no matter of stops), how many frames it took (null where no camera was in it), and the beliefs that
    it speaks against where it is right. A drill that is left out is the belief's own, and beliefs that
    are left out are that one."""

    drill: Annotated[str, AfterValidator(_drill)] = ""
    belief: BeliefKey
    seed: Annotated[int, Field(ge=0, lt=SEEDS)]
    at: InstantText
    right: bool
    believed: bool
    off: Annotated[float, Field(ge=0, le=100)] | None = None
    frames: Annotated[int, Field(ge=1, le=1000)] | None = None
    against: Annotated[list[BeliefKey], Field(max_length=len(BY_KEY), default_factory=list)]

    @property
    def drill_key(self) -> str:
        """Its drill."""
        return self.drill or self.belief

    @property
    def speaks_against(self) -> tuple[str, ...]:
        """The beliefs that it speaks against where it is right."""
        return tuple(self.against) or (self.belief,)


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
