"""No two pieces of gear, bags or shoots in a list have one name, and no measurement is kept twice: what was
doubled before is numbered, or once."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"

OWN_NAMES = "removed_at IS NULL AND kind IN ('gear', 'bag', 'shoot')"


RENAME = sa.text("UPDATE kept SET name = :name, document = :document WHERE id = :id")
RENAME_STEP = sa.text("UPDATE step SET document = :document WHERE kept_id = :id AND number = :step")


def upgrade() -> None:
    number_doubled_names()
    op.create_index("kept_own_name", "kept", ["kind", "name"], unique=True, sqlite_where=sa.text(OWN_NAMES))
    firsts = "SELECT min(id) FROM measurement GROUP BY gear_id, document"
    op.execute(f"DELETE FROM measurement WHERE id NOT IN ({firsts})")  # noqa: S608 - no value in it
    op.create_index("measurement_once", "measurement", ["gear_id", "document"], unique=True)


def number_doubled_names() -> None:
    database = op.get_bind()
    wanted = f"SELECT id, kind, name, document, step FROM kept WHERE {OWN_NAMES} ORDER BY id"  # noqa: S608
    rows = database.execute(sa.text(wanted)).all()
    taken = {(kind, name) for _, kind, name, _, _ in rows}
    seen = set()
    for number, kind, name, document, step in rows:
        if (kind, name) in seen:
            place = 2
            while (kind, f"{name} {place}") in taken:
                place += 1
            new = f"{name} {place}"
            taken.add((kind, new))
            text = json.dumps({**json.loads(document), "name": new})
            database.execute(RENAME, {"name": new, "document": text, "id": number})
            database.execute(RENAME_STEP, {"document": text, "id": number, "step": step})
        seen.add((kind, name))


def downgrade() -> None:
    op.drop_index("measurement_once", "measurement")
    op.drop_index("kept_own_name", "kept")
