"""Answers go by their drill: several drills ask about one belief."""

from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.execute("ALTER TABLE practice_answer RENAME COLUMN belief TO drill")


def downgrade() -> None:
    op.execute("ALTER TABLE practice_answer RENAME COLUMN drill TO belief")
