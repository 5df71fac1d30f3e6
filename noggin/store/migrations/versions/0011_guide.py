"""How far somebody is led through a set-up."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.create_table(
        "guide",
        sa.Column("setup_id", sa.Integer(), sa.ForeignKey("kept.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("is_on", sa.Boolean(), nullable=False),
        sa.Column("said", sa.Text(), nullable=False),
        sa.CheckConstraint("json_valid(said)", name="guide_said_is_json"),
    )


def downgrade() -> None:
    op.drop_table("guide")
