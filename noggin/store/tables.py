"""Table models. They do not validate: what goes in has passed the documents first."""

from datetime import datetime

from sqlalchemy import CheckConstraint, DateTime, ForeignKey, Integer, Text, UniqueConstraint
from sqlmodel import Field, SQLModel


class KeptRow(SQLModel, table=True):
    """One document of a kind as JSON text, what was typed but could not be taken yet, the step it stands
    at, a version pinned for comparison, and when it was laid aside."""

    __tablename__ = "kept"
    __table_args__ = (
        CheckConstraint("json_valid(document)", name="setup_document_is_json"),
        CheckConstraint("json_valid(entries)", name="setup_entries_is_json"),
    )

    id: int | None = Field(default=None, primary_key=True)
    kind: str = Field(sa_type=Text, index=True)
    document: str = Field(sa_type=Text)
    entries: str = Field(sa_type=Text)
    revision: int
    changed_at: datetime = Field(sa_type=DateTime(timezone=True))
    step: int = 1
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


class MeasurementRow(SQLModel, table=True):
    """Readings of a piece of gear with what they said, as JSON text. Written once; never changed, and
    gone only with the gear itself."""

    __tablename__ = "measurement"
    __table_args__ = (CheckConstraint("json_valid(document)", name="measurement_document_is_json"),)

    id: int | None = Field(default=None, primary_key=True)
    gear_id: int = Field(
        sa_column_args=[ForeignKey("kept.id", ondelete="CASCADE")], sa_type=Integer, index=True
    )
    document: str = Field(sa_type=Text)


class MarkRow(SQLModel, table=True):
    """Something that is done once for a database."""

    __tablename__ = "mark"

    name: str = Field(primary_key=True, sa_type=Text)
