"""Documents of every kind in one table, with their steps; measurements of gear."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.rename_table("setup", "kept")
    op.add_column("kept", sa.Column("kind", sa.Text, nullable=False, server_default="setup"))
    op.create_index("kept_by_kind", "kept", ["kind"])
    op.execute("ALTER TABLE step RENAME COLUMN setup_id TO kept_id")
    op.create_table(
        "measurement",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("gear_id", sa.Integer, sa.ForeignKey("kept.id", ondelete="CASCADE"), nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.CheckConstraint("json_valid(document)", name="measurement_document_is_json"),
    )
    op.create_index("measurement_by_gear", "measurement", ["gear_id"])


def downgrade() -> None:
    op.drop_table("measurement")
    op.execute("DELETE FROM kept WHERE kind <> 'setup'")
    op.execute("ALTER TABLE step RENAME COLUMN kept_id TO setup_id")
    op.drop_index("kept_by_kind", "kept")
    op.drop_column("kept", "kind")
    op.rename_table("kept", "setup")
