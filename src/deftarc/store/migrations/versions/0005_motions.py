"""Motions kept for all projects."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "motions",
        sa.Column("name", sa.String(200), primary_key=True),
        sa.Column("motion", sa.Text, nullable=False),
        sa.Column("made_at", sa.Float, nullable=False),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("motions")
