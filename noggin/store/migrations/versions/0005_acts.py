"""Which revision the last act on a document made, so that an act offered before it is not done twice."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("kept", sa.Column("acted", sa.Integer, nullable=False, server_default="0"))


def downgrade() -> None:
    op.drop_column("kept", "acted")
