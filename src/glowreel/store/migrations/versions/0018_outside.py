"""Where files came from, and what people connected outside."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0018"
down_revision = "0017"


def upgrade() -> None:
    for table in ("media", "uploads"):
        op.add_column(table, sa.Column("origin", JSONB(), nullable=True))
    op.create_table(
        "connections",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("team_id", sa.String(40), sa.ForeignKey("teams.id"), nullable=False, index=True),
        sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id"), nullable=False),
        sa.Column("service", sa.String(40), nullable=False),
        sa.Column("account", sa.String(200), nullable=False),
        sa.Column("token", sa.String(400), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("user_id", "team_id", "service", name="ux_connection_once"),
    )


def downgrade() -> None:
    op.drop_table("connections")
    for table in ("uploads", "media"):
        op.drop_column(table, "origin")
