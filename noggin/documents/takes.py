"""What was done at the spot, `noggin-takes` version 1, and the small pictures of frames, `noggin-pictures`
version 1: what goes along with everything besides plans and the log."""

from base64 import b64decode, b64encode
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, ValidationError

from noggin.documents.fields import InstantText, Part, added
from noggin.documents.json_input import check_kind
from noggin.documents.log import Note, ShortText
from noggin.documents.plan import WayKey
from noggin.documents.pops import LOOKS_MOST, LookDocument
from noggin.documents.problems import BadDocument, Problem, problems_of
from noggin.documents.setup import SetUpDocument, canonical
from noggin.documents.written import SetUpWritten

TAKES, PICTURES, VERSION = "noggin-takes", "noggin-pictures", 1

TAKES_MOST = 10_000
"""Takes that one document brings in."""

PICTURES_MOST = 200
"""Pictures of one document: some 8 MB of them."""

PICTURE_BYTES_MOST = 256 * 1024
"""Bytes of a small picture."""


class TakeDocument(Part):
    """One set-up being photographed: the set-up as it was then, the way, what of the list was ticked,
    which advice was left alone, what was learned, and the seed of a rehearsal. `of` is the name of the
    set-up that it is a take of, `frames` are the instants of its frames, which stand in the log; `looks`
    are its pictures beside the first, `look` the one that was taken last, `ended` those that were called
    done."""

    of: ShortText
    begun: InstantText
    setup: SetUpDocument
    way: WayKey
    ticked: Annotated[list[ShortText], Field(max_length=200)] = Field(default_factory=list)
    left_alone: Annotated[list[tuple[ShortText, int | None]], Field(max_length=1000)] = Field(
        default_factory=list
    )
    lesson: Note = ""
    looks: Annotated[list[LookDocument], Field(max_length=LOOKS_MOST)] = added([])
    look: ShortText = added("")
    ended: Annotated[list[ShortText], Field(max_length=LOOKS_MOST + 1)] = added([])
    frames: Annotated[list[InstantText], Field(max_length=10_000)] = Field(default_factory=list)
    rehearsal: Annotated[int, Field(ge=0, lt=2**63)] | None = None


class TakesDocument(Part):
    """Takes, in the order in which they were begun."""

    model_config = ConfigDict(title="noggin-takes, version 1")

    format: Literal["noggin-takes"]
    version: Literal[1]
    takes: Annotated[list[TakeDocument], Field(max_length=TAKES_MOST)]


class PictureDocument(Part):
    """A frame's small picture: the SHA-256 of the frame's file, and a JPEG in base64 (RFC 4648)."""

    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
    jpeg: Annotated[str, Field(max_length=4 * PICTURE_BYTES_MOST // 3 + 4)]


class PicturesDocument(Part):
    """Small pictures of frames of the log."""

    model_config = ConfigDict(title="noggin-pictures, version 1")

    format: Literal["noggin-pictures"]
    version: Literal[1]
    pictures: Annotated[list[PictureDocument], Field(max_length=PICTURES_MOST)]


def read_takes(found: dict[str, Any]) -> tuple[tuple[TakeDocument, SetUpWritten], ...]:
    """Takes of a parsed document, each with its set-up's canonical document. Raises BadDocument."""
    check_kind(found, TAKES, VERSION)
    try:
        takes = TakesDocument.model_validate(found).takes
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
    return tuple(
        (take, canonical(given["setup"])) for take, given in zip(takes, found["takes"], strict=True)
    )


def read_pictures(found: dict[str, Any]) -> tuple[tuple[str, bytes], ...]:
    """Pictures by the SHA-256 of their files. Raises BadDocument."""
    check_kind(found, PICTURES, VERSION)
    try:
        pictures = PicturesDocument.model_validate(found).pictures
        return tuple((each.sha256, b64decode(each.jpeg, validate=True)) for each in pictures)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
    except ValueError as error:
        raise BadDocument([Problem("pictures", f"a picture is not base64: {error}")]) from None


def takes_document(takes: list[dict[str, Any]]) -> dict[str, Any]:
    """Takes as a document."""
    return {"format": TAKES, "version": VERSION, "takes": takes}


def pictures_document(pictures: Mapping[str, bytes]) -> dict[str, Any]:
    """Pictures, by the SHA-256 of their files, as a document."""
    rows = [{"sha256": name, "jpeg": b64encode(jpeg).decode()} for name, jpeg in pictures.items()]
    return {"format": PICTURES, "version": VERSION, "pictures": rows}
