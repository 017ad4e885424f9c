"""A poured version keeps the sheet it was weighed by, and an id of its own content that holds in other files too."""

import json

import sqlalchemy as sa
from alembic import op

from roundstone.store.identity import version_uid

revision = "0009"
down_revision = "0008"

# A sheet is kept once, and then nothing of a version ever changes.
KEPT_ONCE = (
    "CREATE TRIGGER version_no_update BEFORE UPDATE ON version WHEN OLD.sheet IS NOT NULL OR NEW.doc IS NOT OLD.doc "
    "OR NEW.id IS NOT OLD.id OR NEW.recipe_id IS NOT OLD.recipe_id OR NEW.number IS NOT OLD.number "
    "OR NEW.made IS NOT OLD.made OR NEW.uid IS NOT OLD.uid "
    "BEGIN SELECT RAISE(ABORT, 'a poured version is immutable'); END"
)
NEVER = (
    "CREATE TRIGGER version_no_update BEFORE UPDATE ON version "
    "BEGIN SELECT RAISE(ABORT, 'a poured version is immutable'); END"
)


def upgrade() -> None:
    op.execute("DROP TRIGGER version_no_update")
    op.add_column("version", sa.Column("uid", sa.String(32)))
    op.add_column("version", sa.Column("sheet", sa.JSON))
    connection = op.get_bind()
    rows = connection.execute(sa.text("SELECT id, recipe_id, number, doc FROM version")).all()
    for row, recipe_id, number, doc in rows:
        uid = version_uid(recipe_id, number, json.loads(doc))
        connection.execute(sa.text("UPDATE version SET uid = :uid WHERE id = :id"), {"uid": uid, "id": row})
    op.create_index("version_by_uid", "version", ["uid"], unique=True)
    op.execute(KEPT_ONCE)


def downgrade() -> None:
    op.execute("DROP TRIGGER version_no_update")
    op.drop_index("version_by_uid", "version")
    for column in ("sheet", "uid"):
        op.drop_column("version", column)
    op.execute(NEVER)
