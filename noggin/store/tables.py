"""Table models. They do not validate: what goes in has passed the documents first."""

from datetime import datetime

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    Text,
    UniqueConstraint,
    desc,
    text,
)
from sqlmodel import Field, SQLModel

OWN_NAMES = "removed_at IS NULL AND kind IN ('gear', 'bag', 'shoot')"
"""Documents of which no two have one name."""


class KeptRow(SQLModel, table=True):
    """One document of a kind as JSON text with its name, what was typed but could not be taken yet, the
    step it is at, a version pinned for comparison, when it was archived, and the revision that the last act
    made (0: none; an entry is no act)."""

    __tablename__ = "kept"
    __table_args__ = (
        CheckConstraint("json_valid(document)", name="setup_document_is_json"),
        CheckConstraint("json_valid(entries)", name="setup_entries_is_json"),
        Index("kept_in_order", "kind", "removed_at", desc("changed_at"), "id"),
        Index("kept_by_name", "kind", "removed_at", "name"),
        Index("kept_own_name", "kind", "name", unique=True, sqlite_where=text(OWN_NAMES)),
    )

    id: int | None = Field(default=None, primary_key=True)
    kind: str = Field(sa_type=Text)
    name: str = Field(sa_type=Text)
    document: str = Field(sa_type=Text)
    waiting: str = Field(sa_type=Text, sa_column_kwargs={"name": "entries", "key": "waiting"})
    revision: int
    changed_at: datetime = Field(sa_type=DateTime(timezone=True))
    step: int = 1
    acted: int = 0
    pinned: str | None = Field(default=None, sa_type=Text)
    removed_at: datetime | None = Field(default=None, sa_type=DateTime(timezone=True))


class UndoStepRow(SQLModel, table=True):
    """One state a document was in, by its number; `label` says in words what led to it, `figure` which
    figure was entered."""

    __tablename__ = "step"
    __table_args__ = (
        UniqueConstraint("kept_id", "number", name="step_once"),
        CheckConstraint("json_valid(document)", name="step_document_is_json"),
    )

    id: int | None = Field(default=None, primary_key=True)
    kept_id: int = Field(sa_column_args=[ForeignKey("kept.id", ondelete="CASCADE")], sa_type=Integer)
    number: int
    document: str = Field(sa_type=Text)
    figure: str = Field(sa_type=Text)
    label: str = Field(sa_type=Text)
    taken_at: datetime = Field(sa_type=DateTime(timezone=True))


class ResultRow(SQLModel, table=True):
    """What planning gave for a document, as JSON text: at which of its revisions, by which rules."""

    __tablename__ = "result"
    __table_args__ = (CheckConstraint("json_valid(result)", name="result_is_json"),)

    kept_id: int = Field(
        sa_column_args=[ForeignKey("kept.id", ondelete="CASCADE")], sa_type=Integer, primary_key=True
    )
    revision: int
    rules: int
    result: str = Field(sa_type=Text)


class MeasurementRow(SQLModel, table=True):
    """Readings of a piece of gear with what they said, as JSON text. Written once; never changed, and
    gone only with the gear itself."""

    __tablename__ = "measurement"
    __table_args__ = (
        CheckConstraint("json_valid(document)", name="measurement_document_is_json"),
        Index("measurement_once", "gear_id", "document", unique=True),
    )

    id: int | None = Field(default=None, primary_key=True)
    gear_id: int = Field(
        sa_column_args=[ForeignKey("kept.id", ondelete="CASCADE")], sa_type=Integer, index=True
    )
    document: str = Field(sa_type=Text)


class MarkRow(SQLModel, table=True):
    """Something that is done once for a database."""

    __tablename__ = "mark"

    name: str = Field(primary_key=True, sa_type=Text)


class TakeRow(SQLModel, table=True):
    """One picture as it is taken: the set-up as it was then, the way, and what was ticked and overruled, as
    JSON text. It goes with the set-up."""

    __tablename__ = "take"
    __table_args__ = (
        CheckConstraint("json_valid(document)", name="take_document_is_json"),
        Index("take_in_order", "setup_id", desc("begun_at")),
        Index("take_by_time", "begun_at"),
    )

    id: int | None = Field(default=None, primary_key=True)
    setup_id: int = Field(sa_column_args=[ForeignKey("kept.id", ondelete="CASCADE")], sa_type=Integer)
    begun_at: datetime = Field(sa_type=DateTime(timezone=True))
    document: str = Field(sa_type=Text)


class FrameRow(SQLModel, table=True):
    """One frame as JSON text: of a take, or of none yet. `place` is its place in the order of time,
    which no two share; `sha256` is that of its file, of which there is one frame."""

    __tablename__ = "frame"
    __table_args__ = (
        CheckConstraint("json_valid(document)", name="frame_document_is_json"),
        Index("frame_in_take", "take_id", "place"),
    )

    id: int | None = Field(default=None, primary_key=True)
    place: int = Field(sa_type=BigInteger, unique=True)
    take_id: int | None = Field(
        default=None, sa_column_args=[ForeignKey("take.id", ondelete="CASCADE")], sa_type=Integer
    )
    sha256: str | None = Field(default=None, sa_type=Text, unique=True)
    document: str = Field(sa_type=Text)


class FrameTagRow(SQLModel, table=True):
    """What a frame is found by: a light, a way, a verdict."""

    __tablename__ = "frame_tag"
    __table_args__ = (Index("frame_by_tag", "kind", "value", desc("place")),)

    frame_id: int = Field(
        sa_column_args=[ForeignKey("frame.id", ondelete="CASCADE")], sa_type=Integer, primary_key=True
    )
    kind: str = Field(sa_type=Text, primary_key=True)
    value: str = Field(sa_type=Text, primary_key=True)
    place: int = Field(sa_type=BigInteger)


class FramePictureRow(SQLModel, table=True):
    """A small picture of a frame's file, as JPEG."""

    __tablename__ = "frame_picture"

    frame_id: int = Field(
        sa_column_args=[ForeignKey("frame.id", ondelete="CASCADE")], sa_type=Integer, primary_key=True
    )
    jpeg: bytes = Field(sa_type=LargeBinary)


class PracticeAnswerRow(SQLModel, table=True):
    """An answer to a drill, as JSON text: one for each task. They are only ever added."""

    __tablename__ = "practice_answer"
    __table_args__ = (
        CheckConstraint("json_valid(document)", name="practice_answer_is_json"),
        Index("practice_answer_once", "drill", "seed", unique=True),
    )

    id: int | None = Field(default=None, primary_key=True)
    drill: str = Field(sa_type=Text)
    seed: int = Field(sa_type=BigInteger)
    document: str = Field(sa_type=Text)


class GuideRow(SQLModel, table=True):
    """How far somebody is led through a set-up: whether the guide lies over it, and which steps were said
    to be done, as JSON text. It goes with the set-up."""

    __tablename__ = "guide"
    __table_args__ = (CheckConstraint("json_valid(said)", name="guide_said_is_json"),)

    setup_id: int = Field(
        sa_column_args=[ForeignKey("kept.id", ondelete="CASCADE")], sa_type=Integer, primary_key=True
    )
    is_on: bool
    said: str = Field(sa_type=Text)


class PhotographRow(SQLModel, table=True):
    """A picture of a place, as JPEG, by its SHA-256; documents name it."""

    __tablename__ = "photograph"

    sha256: str = Field(primary_key=True, sa_type=Text)
    jpeg: bytes = Field(sa_type=LargeBinary)
