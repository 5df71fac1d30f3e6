"""Table models. They do not validate: what goes in has passed the documents first."""

from datetime import datetime

from sqlalchemy import CheckConstraint, DateTime, Text
from sqlmodel import Field, SQLModel


class SetUpRow(SQLModel, table=True):
    """One set-up: its document as JSON text, and what was typed but could not be taken yet."""

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


class MarkRow(SQLModel, table=True):
    """Something that is done once for a database."""

    __tablename__ = "mark"

    name: str = Field(primary_key=True, sa_type=Text)
