"""Brands that are shared by a link, and copies that know where they came from."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    op.add_column("brands", sa.Column("token", sa.String(64)))
    op.add_column("brands", sa.Column("source_token", sa.String(64)))
    op.add_column("brands", sa.Column("source_version", sa.Integer(), nullable=False, server_default="0"))
    op.create_index("ux_brands_token", "brands", ["token"], unique=True)


def downgrade() -> None:
    op.drop_index("ux_brands_token", "brands")
    for name in ("source_version", "source_token", "token"):
        op.drop_column("brands", name)
