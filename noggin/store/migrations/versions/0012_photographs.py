"""Pictures of places."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.create_table(
        "photograph",
        sa.Column("sha256", sa.Text(), primary_key=True),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("photograph")
