"""Renders that can go on after a restart: what is to be made, of which revision, in which order; and how outputs were
chosen last.
"""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def columns() -> list[sa.Column[Any]]:
    return [
        sa.Column("scene", sa.String(60), nullable=False, server_default=""),
        sa.Column("output", sa.String(40), nullable=False, server_default=""),
        sa.Column("options", sa.Text, nullable=False, server_default="{}"),
        sa.Column("revision", sa.Integer, nullable=False, server_default="0"),
        sa.Column("place", sa.Float, nullable=False, server_default="0"),
        sa.Column("wish", sa.String(20), nullable=False, server_default=""),
    ]


def upgrade() -> None:
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("jobs")}
    for column in columns():
        if column.name not in there:
            op.add_column("jobs", column)
    op.execute("UPDATE jobs SET place = made_at WHERE place = 0")
    if not sa.inspect(op.get_bind()).has_table("choices"):
        op.create_table(
            "choices",
            sa.Column("project", sa.String(24), sa.ForeignKey("projects.id"), primary_key=True),
            sa.Column("output", sa.String(40), primary_key=True),
            sa.Column("options", sa.Text, nullable=False),
            sa.Column("used_at", sa.Float, nullable=False),
        )


def downgrade() -> None:
    op.drop_table("choices")
    for column in columns():
        op.drop_column("jobs", column.name)
