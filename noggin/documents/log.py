"""The log, `noggin-log` version 1: frames as they were taken, newest first."""

from collections.abc import Iterable, Iterator
from math import inf
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, ConfigDict, Field, ValidationError

from noggin.core import limits
from noggin.core.typed.parse_quantities import as_fraction
from noggin.documents.fields import ClockText, Part, Within, added, own_words, with_offset
from noggin.documents.json_input import check_kind
from noggin.documents.pops import DialledDocument, FaultKey, FrameDocument, SeenDocument
from noggin.documents.problems import BadDocument, problems_of

FORMAT = "noggin-log"
VERSION = 1

FRAMES_MOST = 100_000
"""Frames that one document brings in."""

NOTE_LENGTH = 2_000

By = Literal["words", "jpeg", "jpeg_fitted", "raw", "meter", "histogram"]


def _plain(text: str) -> str:
    if any(not character.isprintable() and character != "\n" for character in text):
        raise own_words("holds signs that cannot be printed")
    return text


EXIF_FIGURES = ("shutter_s", "aperture", "iso", "focal_mm")
"""What the log keeps of a file's settings as positive numbers."""


def _settings(found: dict[str, Any]) -> dict[str, Any]:
    for name in EXIF_FIGURES:
        value = found.get(name, 1)
        if type(value) not in (int, float) or not 0 < value < inf:
            raise own_words(f"{name} is not a positive number")
    return found


Note = Annotated[str, Field(max_length=NOTE_LENGTH), AfterValidator(_plain)]
ShortText = Annotated[str, Field(max_length=260), AfterValidator(_plain)]
Finite = Annotated[float, Field(allow_inf_nan=False)]


class SeenLevel(Part):
    """A zone's level in stops from mid-tone, its ±, and what it was read off."""

    value: Finite
    uncertainty: Finite
    by: By


class WhereTaken(Part):
    """Where, only where that was asked for."""

    lat: Annotated[float, Within(limits.LATITUDE)]
    lon: Annotated[float, Within(limits.LONGITUDE)]


class FrameEntry(Part):
    """One frame of the log. `verdict` is `right`, `off`, `daylight` (taken without flash) or `fault`;
    `sun_deg` is the sun's height; `lights` are those that were on, with what was before each; `patches` are
    where tones were read (left, top, width, height as parts of the frame), `histogram` the parts of the
    frame from -8 stops to full, in equal steps of stops; `look` is the picture of its take that it is of,
    and `wanted` are levels of zones that were right as they came out."""

    model_config = ConfigDict(title="noggin-log, one frame")

    taken: Annotated[ClockText, AfterValidator(with_offset)]
    file: ShortText | None = None
    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")] | None = None
    shoot: ShortText | None = None
    setup: ShortText | None = None
    way: ShortText | None = None
    flash: bool = True
    dialled: DialledDocument | None = None
    exif: Annotated[dict[str, Any], AfterValidator(_settings)] = Field(default_factory=dict)
    levels: dict[str, SeenLevel] = Field(default_factory=dict)
    meant: dict[str, Finite] = Field(default_factory=dict)
    planned: dict[str, Finite] = Field(default_factory=dict)
    verdict: Literal["right", "off", "daylight", "fault"] | None = None
    note: Note = ""
    lesson: Note = added("")
    seen: list[SeenDocument] = added([])
    fault: FaultKey | None = added(None)
    not_faults: list[FaultKey] = added([])
    lights: list[ShortText] = added([])
    modifiers: list[ShortText] = added([])
    sun_deg: Annotated[float, Field(ge=-90, le=90)] | None = added(None)
    place: WhereTaken | None = added(None)
    patches: dict[str, list[Finite]] = added({})
    histogram: Annotated[list[Annotated[float, Field(ge=0, le=1)]], Field(max_length=256)] = added([])
    simulated: bool = added(False)
    look: ShortText | None = added(None)
    wanted: dict[Literal["background", "subject"], Finite] = added({})

    def frame(self, minute: float) -> FrameDocument | None:
        """As a frame of a picture, minutes after its first one; None where nobody knows what was dialled,
        or nobody looked at it: a file that was taken in for the log alone."""
        if self.dialled is None or (self.file and not self.seen):
            return None
        return FrameDocument(
            minute=minute,
            flash=self.flash,
            dialled=self.dialled,
            seen=self.seen,
            fault=self.fault,
            not_faults=self.not_faults,
            wanted=list(self.wanted),
        )


class LogDocument(Part):
    """Every frame that was asked for, newest first."""

    model_config = ConfigDict(title="noggin-log, version 1")

    format: Literal["noggin-log"]
    version: Literal[1]
    frames: Annotated[list[FrameEntry], Field(max_length=FRAMES_MOST)]


def read_entry(found: Any) -> FrameEntry:
    """A frame as it is kept. Raises BadDocument."""
    try:
        return FrameEntry.model_validate(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None


def written_entry(entry: FrameEntry) -> dict[str, Any]:
    """A frame as it is kept and given out."""
    found: dict[str, Any] = entry.model_dump(mode="json")
    if entry.dialled is not None:
        shutter = entry.dialled.shutter
        found["dialled"]["shutter"] = as_fraction(shutter) or shutter
    return found


def read_log(found: dict[str, Any]) -> tuple[FrameEntry, ...]:
    """Frames of a parsed document. Raises BadDocument."""
    check_kind(found, FORMAT, VERSION)
    try:
        return tuple(LogDocument.model_validate(found).frames)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None


def streamed(entries: Iterable[str]) -> Iterator[str]:
    """A document piece by piece, from frames that are written already."""
    yield f'{{"format": "{FORMAT}", "version": {VERSION}, "frames": ['
    for index, entry in enumerate(entries):
        yield f"{',' if index else ''}\n{entry}"
    yield "\n]}\n"
