"""Promos made from the rows of a table."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0023"
down_revision = "0022"

MOMENT = sa.DateTime(timezone=True)
JSON = postgresql.JSONB()


def _must(name: str, kind: Any, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, kind, nullable=False, **more)


def upgrade() -> None:
    op.create_table(
        "batches", _must("id", sa.String(40), primary_key=True), _must("team_id", sa.String(40), index=True),
        _must("user_id", sa.String(40)), _must("name", sa.String(120)), _must("template", sa.String(60)),
        _must("columns", JSON), _must("matching", JSON), _must("pattern", sa.String(160)), _must("formats", JSON),
        _must("short_side", sa.Integer()), _must("wanted", sa.Integer()), _must("exports", sa.Boolean()),
        _must("attempts", sa.Integer()), _must("state", sa.String(12)), _must("error", sa.String(400)),
        sa.Column("lease_until", MOMENT), _must("sent_at", MOMENT), _must("created_at", MOMENT),
        sa.Column("removed_at", MOMENT), sa.ForeignKeyConstraint(["team_id"], ["teams.id"]),
        sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
    )  # fmt: skip
    op.create_table(
        "batch_rows", _must("batch_id", sa.String(40), primary_key=True),
        _must("number", sa.Integer(), primary_key=True),
        _must("cells", JSON), _must("state", sa.String(12)), _must("error", sa.String(400)),
        _must("digest", sa.String(40)), _must("uploads", JSON), sa.Column("promo_id", sa.String(40), index=True),
        sa.Column("export_id", sa.String(40), index=True),
        sa.ForeignKeyConstraint(["batch_id"], ["batches.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["promo_id"], ["promos.id"], ondelete="SET NULL"),
        sa.ForeignKeyConstraint(["export_id"], ["exports.id"], ondelete="SET NULL"),
    )  # fmt: skip


def downgrade() -> None:
    op.drop_table("batch_rows")
    op.drop_table("batches")
