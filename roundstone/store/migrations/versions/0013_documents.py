"""Certificates of lots, as files."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    op.create_table(
        "document",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("lot_id", sa.String(36), sa.ForeignKey("lot.id"), nullable=False),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("media", sa.String(40), nullable=False),
        sa.Column("body", sa.LargeBinary(), nullable=False),
        sa.Column("removed", sa.DateTime(), nullable=True),
    )
    op.create_index("ix_document_lot_id", "document", ["lot_id"])


def downgrade() -> None:
    op.drop_table("document")
