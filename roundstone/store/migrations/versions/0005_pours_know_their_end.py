"""A pour knows its end and how much was logged of it, so that neither is looked for in events; lots have revisions.

What was learned is kept beside the log it was learned from.
"""

import json

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("pour", sa.Column("ended", sa.Double))
    op.add_column("pour", sa.Column("taps", sa.Integer, nullable=False, server_default="0"))
    op.add_column("lot", sa.Column("revision", sa.Integer, nullable=False, server_default="1"))
    op.create_table(
        "learned",
        sa.Column("name", sa.String(40), primary_key=True),
        sa.Column("stamp", sa.String(200), nullable=False),
        sa.Column("doc", sa.JSON, nullable=False),
    )
    connection = op.get_bind()
    logged: dict[str, list[dict[str, object]]] = {}
    for pour, doc in connection.execute(sa.text("SELECT pour_id, doc FROM event ORDER BY seq")):
        logged.setdefault(pour, []).append(json.loads(doc))
    for pour, events in logged.items():
        undone = {e["target"] for e in events if e["kind"] == "undo"}
        ends = [e["minute"] for e in events if e["kind"] == "ended" and e["id"] not in undone]
        connection.execute(
            sa.text("UPDATE pour SET ended = :ended, taps = :taps WHERE id = :id"),
            {"ended": ends[0] if ends else None, "taps": len(events), "id": pour},
        )
    op.create_index("pour_by_end", "pour", ["ended"])
    op.create_index("pour_by_start", "pour", ["started", "id"])
    op.create_index("recipe_by_change", "recipe", ["removed", "changed", "id"])


def downgrade() -> None:
    for name, table in (("recipe_by_change", "recipe"), ("pour_by_start", "pour"), ("pour_by_end", "pour")):
        op.drop_index(name, table)
    op.drop_table("learned")
    op.drop_column("lot", "revision")
    op.drop_column("pour", "taps")
    op.drop_column("pour", "ended")
