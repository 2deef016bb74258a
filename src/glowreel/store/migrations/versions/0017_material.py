"""Files that come in piece by piece, links by which they come from telephones, and how the Shelf is kept in order."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0017"
down_revision = "0016"


def _time(name: str, nullable: bool = False) -> "sa.Column[Any]":
    return sa.Column(name, sa.DateTime(timezone=True), nullable=nullable)


def upgrade() -> None:
    op.create_table(
        "upload_links",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("team_id", sa.String(40), sa.ForeignKey("teams.id"), nullable=False, index=True),
        sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id"), nullable=False),
        sa.Column("promo_id", sa.String(40), sa.ForeignKey("promos.id", ondelete="CASCADE"), nullable=True),
        sa.Column("token", sa.String(64), nullable=False, unique=True),
        sa.Column("most", sa.Integer(), nullable=False),
        sa.Column("taken", sa.Integer(), nullable=False),
        _time("until"),
        _time("ended_at", nullable=True),
        _time("created_at"),
    )
    op.create_table(
        "uploads",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("team_id", sa.String(40), sa.ForeignKey("teams.id"), nullable=False, index=True),
        sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id"), nullable=True),
        sa.Column(
            "link_id", sa.String(40), sa.ForeignKey("upload_links.id", ondelete="CASCADE"), nullable=True, index=True
        ),
        sa.Column("promo_id", sa.String(40), sa.ForeignKey("promos.id", ondelete="SET NULL"), nullable=True),
        sa.Column("name", sa.String(255), nullable=False),
        sa.Column("size", sa.BigInteger(), nullable=False),
        sa.Column("media_id", sa.String(40), nullable=True),
        sa.Column("known", sa.Boolean(), nullable=False),
        sa.Column("url", sa.String(2000), nullable=False),
        sa.Column("error", sa.String(400), nullable=False),
        _time("seen_at"),
        _time("until"),
        _time("created_at"),
    )

    op.add_column("media", sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id"), nullable=True))
    op.add_column("media", sa.Column("folder", sa.String(80), nullable=False, server_default=""))
    op.add_column("media", sa.Column("tags", JSONB(), nullable=False, server_default="[]"))


def downgrade() -> None:
    for name in ("tags", "folder", "user_id"):
        op.drop_column("media", name)
    op.drop_table("uploads")
    op.drop_table("upload_links")
