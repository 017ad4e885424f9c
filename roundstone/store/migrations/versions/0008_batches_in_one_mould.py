"""Batches that went into one mould are found by their own index."""

from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.execute(
        "CREATE INDEX event_by_join ON event (json_extract(doc, '$.other')) WHERE json_extract(doc, '$.kind') = 'join'"
    )


def downgrade() -> None:
    op.drop_index("event_by_join", "event")
