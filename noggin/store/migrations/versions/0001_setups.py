"""Set-ups, and marks for what is done once."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "setup",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("entries", sa.Text, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("changed_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("json_valid(document)", name="setup_document_is_json"),
        sa.CheckConstraint("json_valid(entries)", name="setup_entries_is_json"),
    )
    op.create_table("mark", sa.Column("name", sa.Text, primary_key=True))


def downgrade() -> None:
    op.drop_table("mark")
    op.drop_table("setup")
