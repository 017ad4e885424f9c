"""A batch's number by the maker's own pattern."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.add_column("pour", sa.Column("batch", sa.String(40), nullable=True))
    op.create_index("pour_by_batch", "pour", ["batch"])


def downgrade() -> None:
    op.drop_index("pour_by_batch", "pour")
    op.drop_column("pour", "batch")
