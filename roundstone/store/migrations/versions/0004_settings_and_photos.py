"""What is kept by name, and photographs of poured bars."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.create_table(
        "setting",
        sa.Column("name", sa.String(40), primary_key=True),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
    )
    op.create_table(
        "photo",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("pour_id", sa.String(36), sa.ForeignKey("pour.id"), nullable=False),
        sa.Column("days", sa.Double, nullable=False),
        sa.Column("note", sa.String(200), nullable=False),
        sa.Column("jpeg", sa.LargeBinary, nullable=False),
        sa.Column("removed", sa.DateTime),
    )
    op.create_index("ix_photo_pour_id", "photo", ["pour_id"])


def downgrade() -> None:
    op.drop_table("photo")
    op.drop_table("setting")
