"""A pour's columns say what they hold: the minute it ended, how many events it has, its verdict."""

from alembic import op

revision = "0010"
down_revision = "0009"

NAMES = {"ended": "ended_minute", "taps": "event_count", "came": "verdict"}


def upgrade() -> None:
    for was, name in NAMES.items():
        op.alter_column("pour", was, new_column_name=name)


def downgrade() -> None:
    for was, name in NAMES.items():
        op.alter_column("pour", name, new_column_name=was)
