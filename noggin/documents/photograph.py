"""A picture that was made at the place, in a set-up document: what its file said, and what was read off
it."""

from base64 import b64decode, b64encode
from hashlib import sha256
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, ConfigDict, Field, ValidationError

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.setup import photograph
from noggin.documents.fields import Ev, Level, Part, UncertaintyField, Within, added, own_words, with_offset
from noggin.documents.json_input import check_kind
from noggin.documents.problems import BadDocument, Problem, problems_of


def _in_the_picture(box: list[float]) -> list[float]:
    x, y, width, height = box
    try:
        photograph.check_box("box", (x, y, width, height))
    except Refused as refusal:
        raise own_words(refusal.problem) from None
    return box


Box = Annotated[list[float], Field(min_length=4, max_length=4), AfterValidator(_in_the_picture)]
Instant = Annotated[str, AfterValidator(with_offset)]


class PhotographZoneDocument(Part):
    """One zone as it was read: where on the picture (None: on another one), on which surface, and EV100."""

    box: Box | None = None
    surface: str = added("")
    ev100: Ev
    uncertainty: UncertaintyField = "measured"


class PhotographZonesDocument(Part):
    background: PhotographZoneDocument
    subject: PhotographZoneDocument | None = added(None)
    sky: PhotographZoneDocument | None = added(None)
    rim: PhotographZoneDocument | None = added(None)


class PhotographDocument(Part):
    """The place on a picture. `sha256` names the copy that is kept beside the documents, `settings_ev100`
    is what its settings place at mid-tone, `shift` what its tones are off by (stops)."""

    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
    field_deg: Annotated[float, Within(limits.FIELD_ACROSS)]
    horizon: Annotated[float, Within(limits.HORIZON)] = 0.5
    settings_ev100: Ev
    shift: Level = 0.0
    by: Literal["jpeg", "jpeg_fitted", "raw"] = "jpeg"
    body: str = added("")
    taken: Instant | None = added(None)
    zones: PhotographZonesDocument

    def core(self) -> photograph.Photograph:
        box = self.zones.background.box or [0.0, 0.0, 1.0, 1.0]
        return photograph.Photograph(
            self.sha256, self.field_deg, self.horizon, (box[0], box[1], box[2], box[3])
        )


PLACES = "noggin-places"
VERSION = 1

PLACE_BYTES_MOST = 8 * 1024 * 1024
"""Bytes of a kept copy: at its 2,000 pixels it takes a tenth of that."""


class PlacePictureDocument(Part):
    """A kept copy: its SHA-256, by which set-ups name it, and the JPEG in base64 (RFC 4648)."""

    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
    jpeg: Annotated[str, Field(max_length=4 * PLACE_BYTES_MOST // 3 + 4)]


class PlacesDocument(Part):
    """Pictures of places."""

    model_config = ConfigDict(title="noggin-places, version 1")

    format: Literal["noggin-places"]
    version: Literal[1]
    pictures: Annotated[list[PlacePictureDocument], Field(max_length=20)]


def places_document(jpegs: list[bytes]) -> dict[str, Any]:
    """Copies as a document."""
    rows = [{"sha256": sha256(jpeg).hexdigest(), "jpeg": b64encode(jpeg).decode()} for jpeg in jpegs]
    return {"format": PLACES, "version": VERSION, "pictures": rows}


def read_places(found: dict[str, Any]) -> list[bytes]:
    """Copies of a parsed document, each of which is what its name says. Raises BadDocument."""
    check_kind(found, PLACES, VERSION)
    try:
        rows = PlacesDocument.model_validate(found).pictures
        jpegs = [b64decode(row.jpeg, validate=True) for row in rows]
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
    except ValueError as error:
        raise BadDocument([Problem("pictures", f"a picture is not base64: {error}")]) from None
    for row, jpeg in zip(rows, jpegs, strict=True):
        if sha256(jpeg).hexdigest() != row.sha256:
            raise BadDocument([Problem(row.sha256, "is the name of another picture than comes with it")])
    return jpegs
