"""The file says whose it is: the letters N, o, g, g (PRAGMA application_id)."""

from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.execute("PRAGMA application_id = 1315923815")


def downgrade() -> None:
    op.execute("PRAGMA application_id = 0")
