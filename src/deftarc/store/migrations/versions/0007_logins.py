"""Who has shown the token and may come in; and no address of a farm, which is named at the start alone."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    if not sa.inspect(op.get_bind()).has_table("logins"):
        op.create_table(
            "logins",
            sa.Column("key", sa.String(64), primary_key=True),
            sa.Column("used_at", sa.Float, nullable=False),
        )
    op.execute("DELETE FROM settings WHERE name = 'farm'")


def downgrade() -> None:
    op.drop_table("logins")
