"""Table models. They do not validate: what goes in has passed the documents first."""

from datetime import datetime

from sqlalchemy import (
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    Integer,
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
    entries: str = Field(sa_type=Text)
    revision: int
    changed_at: datetime = Field(sa_type=DateTime(timezone=True))
    step: int = 1
    acted: int = 0
    pinned: str | None = Field(default=None, sa_type=Text)
    removed_at: datetime | None = Field(default=None, sa_type=DateTime(timezone=True))


class StepRow(SQLModel, table=True):
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
