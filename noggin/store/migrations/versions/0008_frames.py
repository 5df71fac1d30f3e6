"""Pictures as they are taken, their frames, what these are found by, and their small pictures."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "take",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("setup_id", sa.Integer(), sa.ForeignKey("kept.id", ondelete="CASCADE"), nullable=False),
        sa.Column("begun_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("document", sa.Text(), nullable=False),
        sa.CheckConstraint("json_valid(document)", name="take_document_is_json"),
    )
    op.create_index("take_in_order", "take", ["setup_id", sa.text("begun_at DESC")])
    op.create_index("take_by_time", "take", ["begun_at"])
    op.create_table(
        "frame",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("place", sa.BigInteger(), nullable=False, unique=True),
        sa.Column("take_id", sa.Integer(), sa.ForeignKey("take.id", ondelete="CASCADE")),
        sa.Column("sha256", sa.Text(), unique=True),
        sa.Column("document", sa.Text(), nullable=False),
        sa.CheckConstraint("json_valid(document)", name="frame_document_is_json"),
    )
    op.create_index("frame_in_take", "frame", ["take_id", "place"])
    op.create_table(
        "frame_tag",
        sa.Column("frame_id", sa.Integer(), of_frame(), primary_key=True),
        sa.Column("kind", sa.Text(), primary_key=True),
        sa.Column("value", sa.Text(), primary_key=True),
        sa.Column("place", sa.BigInteger(), nullable=False),
    )
    op.create_index("frame_by_tag", "frame_tag", ["kind", "value", sa.text("place DESC")])
    op.create_table(
        "frame_picture",
        sa.Column("frame_id", sa.Integer(), of_frame(), primary_key=True),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
    )
    # A text is found by its frame's place, so that what is found comes in the order of time by itself.
    op.execute(
        "CREATE VIRTUAL TABLE frame_text USING fts5(words, tokenize='unicode61 remove_diacritics 2')"
    )
    op.execute(
        "CREATE TRIGGER frame_text_gone AFTER DELETE ON frame"
        " BEGIN DELETE FROM frame_text WHERE rowid = old.place; END"
    )


def of_frame() -> sa.ForeignKey:
    return sa.ForeignKey("frame.id", ondelete="CASCADE")


def downgrade() -> None:
    op.execute("DROP TRIGGER frame_text_gone")
    for table in ("frame_text", "frame_picture", "frame_tag", "frame", "take"):
        op.drop_table(table)
