"""Folders of promos."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.add_column("promos", sa.Column("folder", sa.String(80), nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("promos", "folder")
