"""What was undone and overwritten is kept beside the history, and states can be named."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.create_table(
        "left_steps",
        sa.Column("project", sa.String(24), sa.ForeignKey("projects.id"), primary_key=True),
        sa.Column("revision", sa.Integer, primary_key=True),
        sa.Column("parent", sa.Integer, nullable=False),
        sa.Column("root", sa.String(20), sa.ForeignKey("parts.hash"), nullable=False),
        sa.Column("label", sa.String(400), nullable=False),
        sa.Column("edit", sa.String, nullable=False),
        sa.Column("made_at", sa.Float, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "named_states",
        sa.Column("project", sa.String(24), sa.ForeignKey("projects.id"), primary_key=True),
        sa.Column("revision", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(200), nullable=False),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("named_states")
    op.drop_table("left_steps")
