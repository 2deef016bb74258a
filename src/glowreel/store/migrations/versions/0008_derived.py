"""What is made from files on demand, kept for all who use them."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "derived",
        sa.Column("id", sa.BigInteger(), primary_key=True, autoincrement=True),
        sa.Column("hash", sa.String(length=64), nullable=False),
        sa.Column("media_id", sa.String(length=40), nullable=False),
        sa.Column("team_id", sa.String(length=40), sa.ForeignKey("teams.id"), nullable=False),
        sa.Column("maker", sa.String(length=40), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(length=20), nullable=False),
        sa.Column("settings", postgresql.JSONB(), nullable=True),
        sa.Column("state", sa.String(length=12), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("error", sa.String(length=400), nullable=False),
        sa.Column("facts", postgresql.JSONB(), nullable=True),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("lease_until", sa.DateTime(timezone=True), nullable=True),
        sa.Column("sent_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("used_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("hash", "maker", "key", name="ux_derived_once"),
    )
    op.create_index("ix_derived_team_id", "derived", ["team_id"])


def downgrade() -> None:
    op.drop_table("derived")
