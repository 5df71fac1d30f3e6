"""Names beside the documents, so that lists and searches read no document; what planning gave, kept with
the revision and the rules that it came from."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.add_column("kept", sa.Column("name", sa.Text, nullable=False, server_default=""))
    op.execute("UPDATE kept SET name = coalesce(json_extract(document, '$.name'), '')")
    op.drop_index("kept_by_kind", "kept")
    op.create_index("kept_in_order", "kept", ["kind", "removed_at", sa.text("changed_at DESC"), "id"])
    op.create_index("kept_by_name", "kept", ["kind", "removed_at", "name"])
    op.create_table(
        "result",
        sa.Column("kept_id", sa.Integer, sa.ForeignKey("kept.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("rules", sa.Integer, nullable=False),
        sa.Column("result", sa.Text, nullable=False),
        sa.CheckConstraint("json_valid(result)", name="result_is_json"),
    )


def downgrade() -> None:
    op.drop_table("result")
    op.drop_index("kept_by_name", "kept")
    op.drop_index("kept_in_order", "kept")
    op.create_index("kept_by_kind", "kept", ["kind"])
    op.drop_column("kept", "name")
