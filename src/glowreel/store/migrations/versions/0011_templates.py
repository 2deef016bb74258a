"""Promos that are templates, and those that are retired."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.add_column("promos", sa.Column("kind", sa.String(12), nullable=False, server_default="promo"))
    op.add_column("promos", sa.Column("retired_at", sa.DateTime(timezone=True)))


def downgrade() -> None:
    op.drop_column("promos", "retired_at")
    op.drop_column("promos", "kind")
