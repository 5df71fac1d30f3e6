"""Answers to drills."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.create_table(
        "practice_answer",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("belief", sa.Text(), nullable=False),
        sa.Column("seed", sa.BigInteger(), nullable=False),
        sa.Column("document", sa.Text(), nullable=False),
        sa.CheckConstraint("json_valid(document)", name="practice_answer_is_json"),
    )
    op.create_index("practice_answer_once", "practice_answer", ["belief", "seed"], unique=True)


def downgrade() -> None:
    op.drop_table("practice_answer")
