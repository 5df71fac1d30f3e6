"""Table models. They do not validate: what goes in has passed the documents first."""

from datetime import datetime

from sqlalchemy import CheckConstraint, DateTime, ForeignKey, Integer, Text, UniqueConstraint
from sqlmodel import Field, SQLModel


class SetUpRow(SQLModel, table=True):
    """One set-up: its document as JSON text, what was typed but could not be taken yet, the step it
    stands at, a version pinned for comparison, and when it was laid aside."""

    __tablename__ = "setup"
    __table_args__ = (
        CheckConstraint("json_valid(document)", name="setup_document_is_json"),
        CheckConstraint("json_valid(entries)", name="setup_entries_is_json"),
    )

    id: int | None = Field(default=None, primary_key=True)
    document: str = Field(sa_type=Text)
    entries: str = Field(sa_type=Text)
    revision: int
    changed_at: datetime = Field(sa_type=DateTime(timezone=True))
    step: int = 1
    pinned: str | None = Field(default=None, sa_type=Text)
    removed_at: datetime | None = Field(default=None, sa_type=DateTime(timezone=True))


class StepRow(SQLModel, table=True):
    """One state a set-up was in, by its number; `label` says in words what led to it, `figure` which
    figure was entered."""

    __tablename__ = "step"
    __table_args__ = (
        UniqueConstraint("setup_id", "number", name="step_once"),
        CheckConstraint("json_valid(document)", name="step_document_is_json"),
    )

    id: int | None = Field(default=None, primary_key=True)
    setup_id: int = Field(sa_column_args=[ForeignKey("setup.id", ondelete="CASCADE")], sa_type=Integer)
    number: int
    document: str = Field(sa_type=Text)
    figure: str = Field(sa_type=Text)
    label: str = Field(sa_type=Text)
    taken_at: datetime = Field(sa_type=DateTime(timezone=True))


class MarkRow(SQLModel, table=True):
    """Something that is done once for a database."""

    __tablename__ = "mark"

    name: str = Field(primary_key=True, sa_type=Text)
