"""The steps a set-up took, a version pinned for comparison, and set-ups laid aside."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.add_column("setup", sa.Column("step", sa.Integer, nullable=False, server_default="1"))
    op.add_column("setup", sa.Column("pinned", sa.Text))
    op.add_column("setup", sa.Column("removed_at", sa.DateTime(timezone=True)))
    op.create_table(
        "step",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column(
            "setup_id",
            sa.Integer,
            sa.ForeignKey("setup.id", ondelete="CASCADE"),
            nullable=False,
        ),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("figure", sa.Text, nullable=False),
        sa.Column("label", sa.Text, nullable=False),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("setup_id", "number", name="step_once"),
        sa.CheckConstraint("json_valid(document)", name="step_document_is_json"),
    )
    op.execute(
        "INSERT INTO step (setup_id, number, document, figure, label, taken_at)"
        " SELECT id, 1, document, '', 'as it was', changed_at FROM setup"
    )


def downgrade() -> None:
    op.drop_table("step")
    for column in ("removed_at", "pinned", "step"):
        op.drop_column("setup", column)
