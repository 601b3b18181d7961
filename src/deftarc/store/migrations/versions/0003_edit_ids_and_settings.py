"""Edits that are sent twice are made once; settings of the folder."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "edit_ids",
        sa.Column("project", sa.String(24), sa.ForeignKey("projects.id"), primary_key=True),
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "settings",
        sa.Column("name", sa.String(40), primary_key=True),
        sa.Column("value", sa.String, nullable=False),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("settings")
    op.drop_table("edit_ids")
