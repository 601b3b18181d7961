"""Eases kept for all projects."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    # Earlier versions could die between the tables and their number: what is there already stays.
    op.create_table(
        "eases",
        sa.Column("name", sa.String(200), primary_key=True),
        sa.Column("knots", sa.Text, nullable=False),
        sa.Column("made_at", sa.Float, nullable=False),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("eases")
