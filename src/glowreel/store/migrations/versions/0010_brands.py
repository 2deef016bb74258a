"""Brands of teams."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "brands",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("team_id", sa.String(40), sa.ForeignKey("teams.id"), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("book", postgresql.JSONB(), nullable=False),
        sa.Column("past", postgresql.JSONB(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("usual", sa.Boolean(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True)),
    )
    op.create_index("ix_brands_team_id", "brands", ["team_id"])


def downgrade() -> None:
    op.drop_table("brands")
