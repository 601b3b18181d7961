"""The first tables: projects, parts, steps, assets, jobs."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    # Earlier versions could die between the tables and their number: what is there already stays.
    op.create_table(
        "projects",
        sa.Column("id", sa.String(24), primary_key=True),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("created_at", sa.Float, nullable=False),
        sa.Column("changed_at", sa.Float, nullable=False),
        sa.Column("deleted_at", sa.Float),
        sa.Column("cursor", sa.Integer, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "parts",
        sa.Column("hash", sa.String(20), primary_key=True),
        sa.Column("body", sa.LargeBinary, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "steps",
        sa.Column("project", sa.String(24), sa.ForeignKey("projects.id"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("root", sa.String(20), sa.ForeignKey("parts.hash"), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("label", sa.String(400), nullable=False),
        sa.Column("edit", sa.String, nullable=False),
        sa.Column("made_at", sa.Float, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "assets",
        sa.Column("hash", sa.String(64), primary_key=True),
        sa.Column("media", sa.String(80), nullable=False),
        sa.Column("body", sa.LargeBinary, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "jobs",
        sa.Column("id", sa.String(24), primary_key=True),
        sa.Column("project", sa.String(24), sa.ForeignKey("projects.id"), nullable=False),
        sa.Column("title", sa.String(300), nullable=False),
        sa.Column("state", sa.String(20), nullable=False),
        sa.Column("done", sa.Integer, nullable=False),
        sa.Column("total", sa.Integer, nullable=False),
        sa.Column("message", sa.String, nullable=False),
        sa.Column("file", sa.String, nullable=False),
        sa.Column("made_at", sa.Float, nullable=False),
        if_not_exists=True,
    )
    op.create_index("jobs_by_project", "jobs", ["project", "made_at"], if_not_exists=True)


def downgrade() -> None:
    for table in ("jobs", "assets", "steps", "parts", "projects"):
        op.drop_table(table)
