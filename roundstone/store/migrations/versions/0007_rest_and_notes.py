"""A pour knows how it came out, what it waits for and what was foretold of it; notes are found by their kind."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.add_column("pour", sa.Column("came", sa.String(20)))
    op.add_column("pour", sa.Column("phase", sa.String(10), nullable=False, server_default="poured"))
    op.add_column("pour", sa.Column("foretold", sa.JSON))
    connection = op.get_bind()
    connection.execute(sa.text("UPDATE pour SET phase = 'rests' WHERE ended IS NOT NULL"))
    told: dict[str, list[dict[str, str]]] = {}
    wanted = "SELECT pour_id, doc FROM event WHERE json_extract(doc, '$.kind') IN ('verdict', 'undo') ORDER BY seq"
    for pour, doc in connection.execute(sa.text(wanted)):
        told.setdefault(pour, []).append(json.loads(doc))
    for pour, events in told.items():
        undone = {e["target"] for e in events if e["kind"] == "undo"}
        came = [e["came"] for e in events if e["kind"] == "verdict" and e["id"] not in undone]
        if came:
            phase = "done" if came[-1] == "lost" else "rests"
            change = sa.text("UPDATE pour SET came = :came, phase = :phase WHERE id = :id")
            connection.execute(change, {"came": came[-1], "phase": phase, "id": pour})
    op.execute(
        "CREATE INDEX event_by_note ON event (json_extract(doc, '$.kind')) "
        "WHERE json_extract(doc, '$.kind') IN ('next', 'heed', 'undo')"
    )
    op.create_index("pour_by_phase", "pour", ["phase", "started"])


def downgrade() -> None:
    op.drop_index("pour_by_phase", "pour")
    op.drop_index("event_by_note", "event")
    for column in ("foretold", "phase", "came"):
        op.drop_column("pour", column)
