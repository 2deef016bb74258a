"""Revisions are kept as differences from a whole one, and typing that goes on is one step."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.add_column("revisions", sa.Column("base_id", sa.BigInteger(), nullable=True))
    op.create_index("ix_revisions_base_id", "revisions", ["base_id"])
    op.add_column("revisions", sa.Column("typing", sa.String(length=200), nullable=True))


def downgrade() -> None:
    op.drop_column("revisions", "typing")
    op.drop_index("ix_revisions_base_id", "revisions")
    op.drop_column("revisions", "base_id")
